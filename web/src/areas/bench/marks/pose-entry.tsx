import { ActionIcon, Button, Group, Select } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconTrash } from '@tabler/icons-react';
import { useState } from 'react';
import { type Motion, roundTo, type Vec3 } from '#core/math';
import { type ComponentRecord, posedFromFile, type PoseStep } from '#core/records';
import { formatAngleDeg, formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { editStep, moveBy, moveStep, removeStep, rotateAbout } from '../bench-actions.ts';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import { axisName, SIGNED_AXES } from './signed-axes.ts';

const AXES: Record<string, Vec3> = { X: [1, 0, 0], Y: [0, 1, 0], Z: [0, 0, 1] };
const DIAGONAL: Vec3 = [Math.sqrt(1 / 3), Math.sqrt(1 / 3), Math.sqrt(1 / 3)];

/** The list of pose steps, each editable; and typed turns and moves. The vendor file stays as it came. */
export function PoseEntry({ record, unit }: { record: ComponentRecord; unit: LengthUnit }) {
  const [axis, setAxis] = useState('Z');
  const [angle, setAngle] = useState(90);
  const [by, setBy] = useState<Vec3>([0, 0, 0]);
  const { id, pose } = record;
  return (
    <LedgerEntry
      title="Pose"
      state="set"
      value={pose.length === 0 ? (record.source.kind === 'file' ? 'as filed' : 'as drawn') : `${pose.length} step${pose.length > 1 ? 's' : ''}`}
      note={pose.length === 0 ? 'the file’s own coordinates' : `origin of the file now at ${sayPoint(posedFromFile(pose), unit)}`}
    >
      {pose.map((step, i) => (
        <div key={step.id} className="pose-step">
          <span className="pose-note">
            {i + 1}. {step.note}
          </span>
          <Group gap={4} wrap="nowrap" align="center">
            <StepFields id={id} step={step} unit={unit} />
            <ActionIcon
              size="sm"
              variant="subtle"
              color="gray"
              aria-label={`Move step ${i + 1} up`}
              disabled={i === 0}
              onClick={() => moveStep(id, step.id, -1)}
            >
              <IconArrowUp size={14} />
            </ActionIcon>
            <ActionIcon
              size="sm"
              variant="subtle"
              color="gray"
              aria-label={`Move step ${i + 1} down`}
              disabled={i === pose.length - 1}
              onClick={() => moveStep(id, step.id, 1)}
            >
              <IconArrowDown size={14} />
            </ActionIcon>
            <ActionIcon size="sm" variant="subtle" color="gray" aria-label={`Remove step ${i + 1}`} onClick={() => removeStep(id, step.id)}>
              <IconTrash size={14} />
            </ActionIcon>
          </Group>
        </div>
      ))}
      <Group gap={6} wrap="nowrap" align="end">
        <Select
          size="xs"
          w={64}
          label="Turn about"
          aria-label="Turn about"
          data={Object.keys(AXES)}
          value={axis}
          allowDeselect={false}
          onChange={(a) => a && setAxis(a)}
        />
        <NumberField kind="angle" aria-label="Angle" value={angle} onCommit={setAngle} w={90} />
        <Button size="xs" variant="default" onClick={() => rotateAbout(id, [0, 0, 0], AXES[axis], angle, `Turned about ${axis}`)}>
          Turn
        </Button>
      </Group>
      <Group gap={6}>
        <Button size="compact-xs" variant="default" onClick={() => rotateAbout(id, [0, 0, 0], [1, 0, 0], 180, 'Flipped over')}>
          Flip over
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          title="X becomes Y, Y becomes Z, Z becomes X"
          onClick={() => rotateAbout(id, [0, 0, 0], DIAGONAL, 120, 'Swapped the axes')}
        >
          Swap axes
        </Button>
        <span className="ledger-hint">or pick on the model</span>
      </Group>
      <div className="triple with-button">
        {[0, 1, 2].map((k) => (
          <NumberField
            key={k}
            kind="length"
            unit={unit}
            label={'XYZ'[k]}
            aria-label={`Move along ${'XYZ'[k]}`}
            value={by[k]}
            onCommit={(v) => setBy(by.map((b, i) => (i === k ? v : b)) as unknown as Vec3)}
          />
        ))}
        <Button size="xs" variant="default" disabled={by.every((v) => v === 0)} onClick={() => moveBy(id, by)}>
          Move
        </Button>
      </div>
    </LedgerEntry>
  );
}

function StepFields({ id, step, unit }: { id: string; step: PoseStep; unit: LengthUnit }) {
  if (step.kind === 'rotate')
    return (
      <NumberField kind="angle" aria-label="Angle of the step" value={step.angleDeg} onCommit={(angleDeg) => editStep(id, step.id, { angleDeg })} w={96} />
    );
  if (step.kind === 'move')
    return (
      <>
        {[0, 1, 2].map((k) => (
          <NumberField
            key={k}
            kind="length"
            unit={unit}
            aria-label={`Step along ${'XYZ'[k]}`}
            value={step.by[k]}
            onCommit={(v) => editStep(id, step.id, { by: step.by.map((b, i) => (i === k ? v : b)) as unknown as Vec3 })}
          />
        ))}
      </>
    );
  return (
    <>
      <Select
        size="xs"
        w={70}
        aria-label="Where the step makes it point"
        data={Object.keys(SIGNED_AXES)}
        value={axisName(step.to)}
        placeholder="askew"
        allowDeselect={false}
        onChange={(t) => t && editStep(id, step.id, { to: SIGNED_AXES[t] })}
      />
      <span className="number pose-align">{sayTurn(step)}</span>
    </>
  );
}

const sayPoint = (m: Motion, unit: LengthUnit) => m.t.map((v) => formatLength(v, unit)).join(', ');
const sayTurn = (step: PoseStep & { kind: 'align' }): string => {
  const dot = step.from[0] * step.to[0] + step.from[1] * step.to[1] + step.from[2] * step.to[2];
  return `by ${formatAngleDeg(roundTo((Math.acos(Math.min(1, Math.max(-1, dot))) * 180) / Math.PI, 3))}`;
};
