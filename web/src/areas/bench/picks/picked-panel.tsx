import { Button, CloseButton, Group, Paper, Select } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import { type Frame, move, type Motion, scale, turn, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import type { ComponentRecord, FactOrigin } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { describePick } from '../../../scene/describe.ts';
import { type PickRef, samePick } from '../../../scene/picks.ts';
import { addTip, alignTo, moveBy, pickedAs, placeConnection, radialHint, rotateAbout } from '../bench-actions.ts';
import { BringTogether, FaceActions } from './picked-actions.tsx';
import { directionsFrom, frameAt, nosesFrom, type Nose, pointsFrom } from './constructions.ts';
import type { Arm } from '../ledger/entry-parts.tsx';
import { guessConnection, tidyAcross } from './pick-frames.ts';
import { SIGNED_AXES } from '../marks/signed-axes.ts';

/** What would come of the picks, drawn before it is taken; in the model's coordinates. */
export interface Preview {
  readonly point?: Vec3;
  readonly direction?: Vec3;
  readonly frame?: Frame;
  readonly nose?: Nose;
}

interface PickedProps {
  readonly record: ComponentRecord;
  readonly model: Model;
  readonly picks: readonly PickRef[];
  readonly setPicks: (picks: readonly PickRef[]) => void;
  readonly posed: Motion;
  /** The mount's frame, or the one that serves for it. */
  readonly axes: Frame;
  readonly unit: LengthUnit;
  readonly arm: Arm;
  readonly setArm: (arm: Arm) => void;
  readonly onPreview: (preview: Preview | null) => void;
}

/** What was picked, the points and directions that can be made of it, and what to do with them. */
export function PickedPanel(props: PickedProps) {
  const { model, picks, setPicks, posed, unit, arm } = props;
  if (picks.length === 0 && !arm) return null;
  return (
    <Paper className="picked-panel" withBorder shadow="xs" role="group" aria-label="Picked">
      {arm && <p className="picked-arm">{armText(arm)}</p>}
      {picks.map((p) => {
        const body = model.bodies.find((b) => b.id === p.body);
        return (
          <div key={`${p.body} ${p.kind} ${p.index}`} className="picked-row">
            <span>{body ? describePick(body, p, posed, unit) : ''}</span>
            <CloseButton size="xs" aria-label="Let this pick go" onClick={() => setPicks(picks.filter((q) => !samePick(p, q)))} />
          </div>
        );
      })}
      {picks.length > 0 && (arm === 'tip' ? <NoseChoice {...props} /> : <PlaceChoice key={`${arm} ${picks.length}`} {...props} />)}
    </Paper>
  );
}

const armText = (arm: Exclude<Arm, null>): string =>
  arm === 'tip'
    ? 'Click the rounded edge or face of the cutting corner. Shift-click gathers corners or edges: three points, or two edges and a radius.'
    : `Click a circle or a flat face for the ${arm}, or a cylinder and the face where it ends. Shift-click gathers picks for another construction.`;

function PlaceChoice({ record, model, picks, setPicks, posed, axes, unit, arm, setArm, onPreview }: PickedProps) {
  const { id } = record;
  const points = useMemo(() => pointsFrom(model, picks, axes), [model, picks, axes]);
  const directions = useMemo(() => directionsFrom(model, picks), [model, picks]);
  const [pointName, setPointName] = useState<string | null>(null);
  const [directionName, setDirectionName] = useState<string | null>(null);
  const [flip, setFlip] = useState(false);
  const [angle, setAngle] = useState(90);
  const [target, setTarget] = useState('+Z');
  const point = points.find((p) => p.name === pointName) ?? points[0];
  const along = directions.find((d) => d.name === directionName) ?? directions[0];
  const frame = useMemo(
    () =>
      arm !== null && arm !== 'tip' && point && along
        ? frameAt(model, point.point, along.direction, pickedAs(arm), flip, radialHint(record.tips) ?? tidyAcross(along.direction))
        : undefined,
    [arm, point, along, model, flip, record.tips],
  );
  useEffect(() => {
    onPreview({ point: point?.point, direction: frame ? undefined : along && scale(along.direction, flip ? -1 : 1), frame });
    return () => onPreview(null);
  }, [point, along, flip, frame, onPreview]);
  const done = () => {
    setPicks([]);
    setArm(null);
  };
  const origin: FactOrigin = { from: 'picked', evidence: [point?.name, along?.name].filter(Boolean).join('; ') };
  const at = (p: Vec3) =>
    move(posed, p)
      .map((v) => formatLength(v, unit))
      .join(', ');
  const stageDirection = along && scale(turn(posed, along.direction), flip ? -1 : 1);
  return (
    <div className="picked-make">
      {points.length > 0 && (
        <Select
          size="xs"
          label="Point"
          data={[...new Set(points.map((p) => p.name))]}
          value={point?.name ?? null}
          allowDeselect={false}
          description={point && <span className="number">{at(point.point)}</span>}
          inputWrapperOrder={['label', 'input', 'description']}
          onChange={setPointName}
        />
      )}
      {directions.length > 0 && (
        <Group gap={6} wrap="nowrap" align="end">
          <Select
            size="xs"
            flex={1}
            label="Direction"
            data={[...new Set(directions.map((d) => d.name))]}
            value={along?.name ?? null}
            allowDeselect={false}
            onChange={setDirectionName}
          />
          <Button size="xs" variant="default" aria-pressed={flip} onClick={() => setFlip(!flip)}>
            Reverse
          </Button>
        </Group>
      )}
      {frame && arm !== null && arm !== 'tip' && (
        <Button
          size="xs"
          onClick={() => {
            placeConnection(record, arm, frame, guessConnection(model, picks), origin);
            done();
          }}
        >
          Put the {arm} here
        </Button>
      )}
      {arm === null && point && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => {
            const p = move(posed, point.point);
            moveBy(id, scale(p, -1), `Moved to the origin: ${point.name}`);
            setPicks([]);
          }}
        >
          Move the point to the origin
        </Button>
      )}
      {arm === null && <FaceActions {...{ record, model, picks, setPicks }} />}
      {arm === null && <BringTogether {...{ record, model, picks, unit }} />}
      {arm === null && along && stageDirection && (
        <>
          <Group gap={6} wrap="nowrap">
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => {
                rotateAbout(id, move(posed, along.through), stageDirection, angle, `Turned about: ${along.name}`);
                setPicks([]);
              }}
            >
              Turn about it
            </Button>
            <NumberField kind="angle" aria-label="Turn about it by" value={angle} onCommit={setAngle} w={84} />
          </Group>
          <Group gap={6} wrap="nowrap">
            <Button
              size="compact-xs"
              variant="default"
              onClick={() => {
                alignTo(id, move(posed, along.through), stageDirection, SIGNED_AXES[target], `Made ${along.name} point to ${target}`);
                setPicks([]);
              }}
            >
              Make it point to
            </Button>
            <Select
              size="xs"
              w={84}
              aria-label="Make it point to"
              data={Object.keys(SIGNED_AXES)}
              value={target}
              allowDeselect={false}
              onChange={(t) => t && setTarget(t)}
            />
          </Group>
        </>
      )}
    </div>
  );
}

function NoseChoice({ record, model, picks, setPicks, unit, setArm, onPreview }: PickedProps) {
  const [radius, setRadius] = useState(0.4);
  const [name, setName] = useState<string | null>(null);
  const noses = useMemo(() => nosesFrom(model, picks, radius), [model, picks, radius]);
  const nose = noses.find((n) => n.name === name) ?? noses[0];
  const needsRadius = noses.some((n) => n.name.startsWith('between')) || picks.length === 2;
  useEffect(() => {
    onPreview(nose ? { nose } : null);
    return () => onPreview(null);
  }, [nose, onPreview]);
  return (
    <div className="picked-make">
      {needsRadius && <NumberField kind="length" unit={unit} label="Nose radius" min={0} max={50} value={radius} onCommit={setRadius} w={130} />}
      {noses.length > 1 && (
        <Select size="xs" label="Nose" data={noses.map((n) => n.name)} value={nose?.name ?? null} allowDeselect={false} onChange={setName} />
      )}
      {nose ? (
        <Button
          size="xs"
          onClick={() => {
            addTip(record.id, nose, { from: 'picked', evidence: nose.name });
            setPicks([]);
            setArm(null);
          }}
        >
          Take the nose, radius {formatLength(nose.noseRadius, unit)}
        </Button>
      ) : (
        <p className="ledger-hint">These picks make no nose yet.</p>
      )}
    </div>
  );
}
