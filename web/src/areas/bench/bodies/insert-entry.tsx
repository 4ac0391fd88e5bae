import { Button, Group, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { sayWhat } from '#core/issues';
import { degFromRad, angleBetweenRad, length, roundTo } from '#core/math';
import type { Model } from '#core/mesh';
import type { BodyMove, ComponentRecord } from '#core/records';
import { cornerAngleOf, nominalInsertOf } from '#core/standards';
import type { LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { editMove, firstCorner, type InsertNudge, nudgeInsert, removeInsert, removeMove, replaceInsert } from './body-moves.ts';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';

const NUDGES = [
  { key: 'raise', kind: 'length', label: 'Raise' },
  { key: 'turnDeg', kind: 'angle', label: 'Turn' },
  { key: 'tiltDeg', kind: 'angle', label: 'Tilt' },
] as const;
const STILL: InsertNudge = { raise: 0, turnDeg: 0, tiltDeg: 0 };

/** The insert in its pocket: moved by typed amounts or by pairs of picks, or replaced by the nominal one of a designation. */
export function InsertEntry({ record, model, unit }: { record: ComponentRecord; model: Model; unit: LengthUnit }) {
  const [nudge, setNudge] = useState(STILL);
  const corner = useMemo(() => firstCorner(record, model), [record, model]);
  const isSeparate = corner !== undefined && record.bodies.find((b) => b.id === corner.body.id)?.role === 'cutting' && model.bodies.length > 1;
  const { moves, inserts } = record;
  if (!isSeparate && moves.length === 0 && inserts.length === 0) return null;
  const stands = inserts.length > 0 ? inserts.map((n) => n.designation).join(', ') : moves.length > 0 ? 'moved' : 'as in the file';
  return (
    <LedgerEntry
      title="Insert"
      state="set"
      value={stands}
      note={
        moves.length > 0
          ? `${moves.length} ${moves.length === 1 ? 'step' : 'steps'} from where the file has it`
          : 'if it does not sit in its pocket: Shift-click its face, then the pocket’s'
      }
    >
      {moves.map((m) => (
        <MoveLine key={m.id} {...{ record, model, unit }} entry={m} />
      ))}
      {inserts.map((n) => (
        <Group key={n.id} justify="space-between" wrap="nowrap" gap={6}>
          <span className="sub-name">nominal {n.designation}</span>
          <Button
            size="compact-xs"
            variant="subtle"
            color="gray"
            aria-label={`Remove the nominal ${n.designation}`}
            onClick={() => void removeInsert(record, model, n.id)}
          >
            Remove
          </Button>
        </Group>
      ))}
      {isSeparate && (
        <div className="triple with-button">
          {NUDGES.map(({ key, kind, label }) => (
            <NumberField
              key={key}
              kind={kind}
              unit={unit}
              label={label}
              aria-label={`${label} the insert by`}
              value={nudge[key]}
              onCommit={(v) => setNudge({ ...nudge, [key]: v })}
            />
          ))}
          <Button
            size="xs"
            variant="default"
            disabled={NUDGES.every(({ key }) => nudge[key] === 0)}
            title="Up out of its rake face; about its normal; about the leading edge"
            onClick={() => void nudgeInsert(record, model, corner, nudge).then((ok) => ok && setNudge(STILL))}
          >
            Apply
          </Button>
        </div>
      )}
      {isSeparate && inserts.length === 0 && <Replace record={record} model={model} />}
    </LedgerEntry>
  );
}

function MoveLine({ record, model, unit, entry }: { record: ComponentRecord; model: Model; unit: LengthUnit; entry: BodyMove }) {
  const { step, id } = entry;
  const name = record.bodies.find((b) => b.id === entry.body)?.name ?? entry.body;
  return (
    <Group justify="space-between" wrap="nowrap" gap={6}>
      <span className="sub-name" title={name}>
        {step.note}
      </span>
      <Group gap={2} wrap="nowrap">
        {step.kind === 'rotate' && (
          <NumberField
            kind="angle"
            aria-label={`Angle: ${step.note}`}
            value={roundTo(step.angleDeg, 6)}
            w={88}
            onCommit={(v) => void editMove(record, model, id, v)}
          />
        )}
        {step.kind === 'move' && (
          <NumberField
            kind="length"
            unit={unit}
            aria-label={`Length: ${step.note}`}
            value={roundTo(length(step.by), 6)}
            w={88}
            onCommit={(v) => void editMove(record, model, id, v)}
          />
        )}
        {step.kind === 'align' && <span className="number">{roundTo(degFromRad(angleBetweenRad(step.from, step.to)), 3)}°</span>}
        <Button size="compact-xs" variant="subtle" color="gray" aria-label={`Remove: ${step.note}`} onClick={() => void removeMove(record, model, id)}>
          Remove
        </Button>
      </Group>
    </Group>
  );
}

// A nominal insert in the place of the vendor's: by its designation of ISO 1832.
function Replace({ record, model }: { record: ComponentRecord; model: Model }) {
  const [text, setText] = useState(() => (nominalInsertOf(record.designation).ok ? record.designation : ''));
  const [fault, setFault] = useState<string>();
  const corner = useMemo(() => firstCorner(record, model), [record, model]);
  // A pocket is made for one form of insert.
  const read = nominalInsertOf(text);
  const angle = read.ok && corner ? cornerAngleOf(read.value) : undefined;
  const misfit =
    angle !== undefined && corner && Math.abs(angle - corner.includedDeg) > 1.5
      ? `Its corner has ${angle}°, the one in the pocket ${roundTo(corner.includedDeg, 1)}°.`
      : undefined;
  const put = () => {
    if (!read.ok) setFault(sayWhat(read.issues[0]));
    else if (corner) void replaceInsert(record, corner, read.value);
  };
  return (
    <Group gap={6} wrap="nowrap" align="end">
      <TextInput
        size="xs"
        flex={1}
        label="Nominal insert of ISO 1832"
        placeholder="CCMT 060204"
        value={text}
        error={fault}
        description={misfit}
        inputWrapperOrder={['label', 'input', 'description', 'error']}
        onChange={(e) => {
          setText(e.currentTarget.value);
          setFault(undefined);
        }}
        onKeyDown={(e) => e.key === 'Enter' && put()}
      />
      <Button
        size="xs"
        variant="default"
        disabled={!text.trim()}
        onClick={put}
        title="Its middle and rake face where the vendor’s are; no hole and no chip groove"
      >
        Put in
      </Button>
    </Group>
  );
}
