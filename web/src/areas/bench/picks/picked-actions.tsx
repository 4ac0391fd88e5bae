import { Button, ColorPicker, Group, Popover } from '@mantine/core';
import { useMemo } from 'react';
import { locate } from '#core/assembly';
import { type BodyGeometry, type Model, neighbourFaces, smoothNeighbours, withoutRim } from '#core/mesh';
import { cutAroundFaces } from '#core/reading';
import { type ComponentRecord, withCuts } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { newId } from '../../../common/new-id.ts';
import { type PickRef, samePick } from '../../../scene/picks.ts';
import { reworkComponent } from '../../../store/library-actions.ts';
import { setFaceColour } from '../bench-actions.ts';
import { SWATCHES } from '../bodies/bodies-panel.tsx';
import { bringTogether, firstCorner } from '../bodies/body-moves.ts';
import { pairingOf } from './pairing.ts';

interface ActionProps {
  readonly record: ComponentRecord;
  readonly model: Model;
  readonly picks: readonly PickRef[];
  readonly setPicks: (picks: readonly PickRef[]) => void;
}

/** What can be done with picked faces: colour them, add or take neighbours, cut them off. */
export function FaceActions({ record, model, picks, setPicks }: ActionProps) {
  const faces = useMemo(() => picks.filter((p) => p.kind === 'face'), [picks]);
  const place = useMemo(() => placeOfCut(record, model, faces), [record, model, faces]);
  if (faces.length === 0) return null;
  const paint = (colour: string | undefined) => {
    for (const body of new Set(faces.map((f) => f.body)))
      setFaceColour(
        record.id,
        body,
        faces.filter((f) => f.body === body).map((f) => f.index),
        colour,
      );
    setPicks([]);
  };
  return (
    <Group gap={6} align="center">
      <Popover position="top-start" withArrow shadow="md">
        <Popover.Target>
          <Button size="compact-xs" variant="default">
            Colour {faces.length === 1 ? 'this face' : `these ${faces.length} faces`}
          </Button>
        </Popover.Target>
        <Popover.Dropdown>
          <ColorPicker size="xs" swatches={SWATCHES} onChangeEnd={paint} />
          <button type="button" className="text-button" onClick={() => paint(undefined)}>
            no colour of their own
          </button>
        </Popover.Dropdown>
      </Popover>
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => setPicks(withNeighbours(model, faces))}
        title="Adds the faces that run smoothly into the picked ones"
      >
        Add smooth neighbours
      </Button>
      <Button
        size="compact-xs"
        variant="default"
        onClick={() => setPicks(perBody(model, faces, (body, own) => [...own, ...neighbourFaces(body, own)]))}
        title="Adds every face that has an edge with a picked one"
      >
        Add neighbours
      </Button>
      {faces.length > 1 && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => setPicks(perBody(model, faces, withoutRim))}
          title="Lets the outermost of the picked faces go"
        >
          Take off the rim
        </Button>
      )}
      {place && (
        <Button
          size="compact-xs"
          variant="light"
          title="The picked faces, and the material between them, become a body of their own"
          onClick={() => {
            const cut = { id: newId(), note: `around ${faces.length === 1 ? 'a face' : `${faces.length} faces`}`, ...place };
            void reworkComponent(record.id, `Cut: ${cut.note}`, (r) => withCuts(r, [...r.cuts, cut]));
          }}
        >
          Cut off around {faces.length === 1 ? 'it' : 'them'}
        </Button>
      )}
    </Group>
  );
}

/** Picks on two bodies, by turns: the body of the first one is brought to the other. */
export function BringTogether({ record, model, picks, unit }: Omit<ActionProps, 'setPicks'> & { unit: LengthUnit }) {
  const pairing = useMemo(() => pairingOf(model, picks), [model, picks]);
  const left = useMemo(() => pairing && locate(pairing.pairs).left, [pairing]);
  if (!pairing || !left) return null;
  const name = record.bodies.find((b) => b.id === pairing.body)?.name ?? pairing.body;
  const gap = Math.max(...left.map((l) => l.gap));
  const angle = Math.max(...left.map((l) => l.angleDeg));
  return (
    <>
      <Button size="compact-xs" variant="light" onClick={() => void bringTogether(record, model, pairing.body, pairing.pairs)}>
        Bring {name} to the other {pairing.pairs.length === 1 ? 'one' : `${pairing.pairs.length}`}
      </Button>
      {(gap > 1e-3 || angle > 0.01) && (
        <p className="ledger-hint warn">
          The pairs do not fit: {formatLength(gap, unit)} and {angle.toFixed(2)}° are left. The first one holds.
        </p>
      )}
    </>
  );
}

// Around faces of one body of the tool that is no insert by itself; seen along the rake face's normal where a tip is marked on the body.
function placeOfCut(record: ComponentRecord, model: Model, faces: readonly PickRef[]) {
  const body = model.bodies.find((b) => b.id === faces[0]?.body);
  if (!body || faces.some((f) => f.body !== body.id) || record.cuts.length > 0) return undefined;
  if (record.bodies.find((b) => b.id === body.id)?.role !== 'tool body' || faces.length === body.faces.length) return undefined;
  const corner = firstCorner(record, model);
  return cutAroundFaces(
    body,
    faces.map((f) => f.index),
    corner?.body === body ? corner.rake : undefined,
  );
}

function perBody(model: Model, faces: readonly PickRef[], change: (body: BodyGeometry, faces: readonly number[]) => number[]): PickRef[] {
  return [...new Set(faces.map((f) => f.body))].flatMap((id) => {
    const body = model.bodies.find((b) => b.id === id);
    const own = faces.filter((f) => f.body === id);
    return body
      ? change(
          body,
          own.map((f) => f.index),
        ).map((index): PickRef => ({ ...own[0], index }))
      : [];
  });
}

/** Picked faces and the faces that run smoothly into them: a band. */
function withNeighbours(model: Model, faces: readonly PickRef[]): PickRef[] {
  const out = [...faces];
  for (const f of faces) {
    const body = model.bodies.find((b) => b.id === f.body);
    if (!body) continue;
    for (const n of smoothNeighbours(body, f.index)) {
      const ref: PickRef = { ...f, index: n };
      if (!out.some((o) => samePick(o, ref))) out.push(ref);
    }
  }
  return out;
}
