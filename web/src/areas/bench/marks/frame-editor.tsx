import { Button, Group, Select } from '@mantine/core';
import { useState } from 'react';
import { addScaled, dot, cross, flipZ, type Frame, fromZAndX, invert, type Motion, moveFrame, radFromDeg, rotationAbout, turn, type Vec3 } from '#core/math';
import { type Connection, type FactOrigin, posedFromFile, type PoseStep } from '#core/records';
import { CONNECTION_STANDARDS, type ConnectionStandard, USUAL_SIZES } from '#core/standards';
import type { LengthUnit } from '#core/units';
import { NameField } from '../../../common/name-field.tsx';
import { NumberField } from '../../../common/number-field.tsx';
import { WholeField } from '../../../common/whole-field.tsx';
import { SizeField } from '../../../common/size-field.tsx';
import { axisName, SIGNED_AXES } from './signed-axes.ts';
import { addSeatsLike, type Connecting, editConnection } from '../bench-actions.ts';

// The standard is typed now; where the frame came from is still worth knowing.
const typedOver = (origin: FactOrigin): FactOrigin =>
  origin.from === 'typed' ? origin : { from: 'typed', evidence: `frame ${origin.from}: ${origin.evidence}`.slice(0, 400) };

/** Standard, size and frame of a connection, typed; coordinates are those of the stage. */
export function ConnectionEditor({
  componentId,
  what,
  connection,
  pose,
  unit,
}: {
  componentId: string;
  what: Connecting;
  connection: Connection;
  pose: readonly PoseStep[];
  unit: LengthUnit;
}) {
  const posed: Motion = posedFromFile(pose);
  const seatId = what === 'mount' ? null : connection.id;
  const onStage = moveFrame(posed, connection.frame);
  const label = seatId === null ? 'the mount' : connection.name;
  const setFrame = (frame: Frame, what: string) =>
    editConnection(componentId, seatId, `${what} of ${label}`, () => ({ frame: moveFrame(invert(posed), frame) }));
  const { standard, size } = connection.connection;
  const setConnection = (next: { standard: ConnectionStandard; size: number | string }) =>
    editConnection(componentId, seatId, `Connection of ${label}`, (c) => ({ connection: next, origin: typedOver(c.origin) }));
  const turnX = (deg: number) => setFrame({ ...onStage, x: turn(rotationAbout([0, 0, 0], onStage.z, radFromDeg(deg)), onStage.x) }, 'X');
  return (
    <div className="frame-editor">
      {seatId !== null && (
        <NameField
          aria-label={`Name of the ${what}`}
          value={connection.name}
          onCommit={(name) => editConnection(componentId, seatId, `Renamed ${label}`, (c) => ({ name, origin: c.origin }))}
        />
      )}
      <Group gap={6} wrap="nowrap">
        <Select
          size="xs"
          aria-label={`Standard of ${label}`}
          data={[...CONNECTION_STANDARDS]}
          value={standard}
          allowDeselect={false}
          onChange={(s) =>
            s &&
            s !== standard &&
            setConnection({
              standard: s,
              size: USUAL_SIZES[s].includes(size) ? size : (USUAL_SIZES[s][0] ?? ''),
            })
          }
        />
        <SizeField label={`Size of ${label}`} standard={standard} size={size} onCommit={(s) => setConnection({ standard, size: s })} />
      </Group>
      {what === 'seat' && standard === 'cylindrical' && <Clamping {...{ componentId, seatId: connection.id, connection, unit }} />}
      <div className="triple">
        {(['X', 'Y', 'Z'] as const).map((name, k) => (
          <NumberField
            key={name}
            kind="length"
            unit={unit}
            label={name}
            value={onStage.origin[k]}
            onCommit={(v) => setFrame({ ...onStage, origin: onStage.origin.map((o, i) => (i === k ? v : o)) as unknown as Vec3 }, 'Origin')}
          />
        ))}
      </div>
      <Group gap={6} wrap="nowrap" align="end">
        <Select
          size="xs"
          label="Towards work"
          aria-label={`Z of ${label}`}
          data={Object.keys(SIGNED_AXES)}
          placeholder="askew"
          value={axisName(onStage.z)}
          onChange={(a) => a && setFrame(fromZAndX(onStage.origin, SIGNED_AXES[a], onStage.x), 'Z')}
        />
        <Select
          size="xs"
          label="Radial"
          aria-label={`X of ${label}`}
          data={Object.keys(SIGNED_AXES).filter((a) => Math.abs(dot(SIGNED_AXES[a], onStage.z)) < 0.999)}
          placeholder="askew"
          value={axisName(onStage.x)}
          onChange={(a) => a && setFrame(fromZAndX(onStage.origin, onStage.z, SIGNED_AXES[a]), 'X')}
        />
      </Group>
      <Nudge
        unit={unit}
        label={label}
        onMove={(along, by) => setFrame({ ...onStage, origin: addScaled(onStage.origin, axesOf(onStage)[along], by) }, 'Nudge')}
        onTurn={(about, deg) => {
          const turned = rotationAbout([0, 0, 0], axesOf(onStage)[about], radFromDeg(deg));
          setFrame({ ...onStage, z: turn(turned, onStage.z), x: turn(turned, onStage.x) }, 'Turn');
        }}
      />
      <Group gap={6}>
        <Button size="compact-xs" variant="default" onClick={() => setFrame(flipZ(onStage), 'Z')}>
          Flip Z
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => turnX(90)}>
          Turn X by 90°
        </Button>
        <Button size="compact-xs" variant="default" onClick={() => setFrame({ ...onStage, x: cross(onStage.x, onStage.z) }, 'X')}>
          Turn X by -90°
        </Button>
      </Group>
      {what === 'seat' && <MoreSeats componentId={componentId} seatId={connection.id} label={label} />}
    </div>
  );
}

// The same seat on the other side of the mount, or again about its axis.
function MoreSeats({ componentId, seatId, label }: { componentId: string; seatId: string; label: string }) {
  const [count, setCount] = useState(4);
  return (
    <Group gap={6} align="end" wrap="nowrap">
      <Button size="compact-xs" variant="default" onClick={() => addSeatsLike(componentId, seatId, 'mirrored')}>
        Mirror to the other side
      </Button>
      <WholeField w={52} aria-label={`Places of ${label} about the mount`} min={2} max={60} value={count} onCommit={setCount} />
      <Button size="compact-xs" variant="default" onClick={() => addSeatsLike(componentId, seatId, { about: count })}>
        Repeat about the mount
      </Button>
    </Group>
  );
}

// What a round seat holds: from which diameter on, where it closes on its shank, and how much of it at least.
function Clamping({ componentId, seatId, connection, unit }: { componentId: string; seatId: string; connection: Connection; unit: LengthUnit }) {
  const { standard, size, clamps } = connection.connection;
  const bore = Number(size);
  const edit = (what: string, change: Partial<Connection>) =>
    editConnection(componentId, seatId, `${what} of ${connection.name}`, (c) => ({ origin: typedOver(c.origin), ...change }));
  return (
    <div className="triple">
      <NumberField
        kind="length"
        unit={unit}
        label="clamps from"
        title="The smallest shank that it closes on; its own size where it does not close"
        value={clamps?.[0] ?? bore}
        min={0}
        max={bore}
        onCommit={(from) => edit('Clamping range', { connection: { standard, size, ...(from < bore ? { clamps: [from, bore] } : {}) } })}
      />
      <NumberField
        kind="length"
        unit={unit}
        label="holds at least"
        title="How much of a shank it wants to hold; twice the shank where nothing is said"
        value={connection.leastIn}
        min={0}
        onCommit={(leastIn) => edit('Least clamping', { leastIn: leastIn > 0 ? leastIn : undefined })}
      />
    </div>
  );
}

const axesOf = (f: Frame): Record<'X' | 'Y' | 'Z', Vec3> => ({ X: f.x, Y: cross(f.z, f.x), Z: f.z });
type AxisName = 'X' | 'Y' | 'Z';

// Moves the frame along, or turns it about, one of its own axes by a typed amount.
function Nudge({
  unit,
  label,
  onMove,
  onTurn,
}: {
  unit: LengthUnit;
  label: string;
  onMove: (along: AxisName, by: number) => void;
  onTurn: (about: AxisName, deg: number) => void;
}) {
  const [axis, setAxis] = useState<AxisName>('Z');
  const [by, setBy] = useState(1);
  const [deg, setDeg] = useState(5);
  return (
    <Group gap={4} align="end" wrap="nowrap">
      <Select
        size="xs"
        w={58}
        label="Its own"
        aria-label={`Axis to nudge ${label} along`}
        data={['X', 'Y', 'Z']}
        value={axis}
        allowDeselect={false}
        onChange={(a) => a && setAxis(a)}
      />
      <div className="nudges">
        <NumberField kind="length" unit={unit} aria-label={`Nudge ${label} by`} value={by} onCommit={setBy} />
        <Button size="compact-xs" variant="default" onClick={() => onMove(axis, by)}>
          Nudge
        </Button>
        <NumberField kind="angle" aria-label={`Turn ${label} by`} value={deg} onCommit={setDeg} />
        <Button size="compact-xs" variant="default" onClick={() => onTurn(axis, deg)}>
          Turn
        </Button>
      </div>
    </Group>
  );
}
