import { ActionIcon } from '@mantine/core';
import { IconTrash } from '@tabler/icons-react';
import { namesIn, sayConstraint, type SketchConstraint } from '#core/sketch';
import type { LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import { type SketchEditing, wordsFor } from '../sketch/use-sketch-editing.ts';

/** What is said of an outline that is changed by hand: each with its number, to be changed or taken back. */
export function SaidEntries({ editing, unit }: { editing: SketchEditing; unit: LengthUnit }) {
  const { constraints } = editing.now.sketch;
  if (!editing.isOn && constraints.length === 0) return null;
  const { freedoms, redundant } = editing;
  return (
    <LedgerEntry
      title="What is said of it"
      state={redundant.length > 0 ? 'warn' : 'set'}
      waits={editing.isOn}
      value={constraints.length === 0 ? 'nothing yet' : freedoms === 0 ? 'all of it' : `${constraints.length}`}
      note={editing.isOn ? undefined : 'press “Change the outline” on the sheet to change it'}
    >
      {constraints.map((c) => (
        <Said key={c.id} constraint={c} editing={editing} unit={unit} isRedundant={redundant.includes(c.id)} />
      ))}
      {editing.isOn && constraints.length === 0 && <p className="ledger-hint">Choose a corner or a piece on the sheet, and say what is to be true of it.</p>}
    </LedgerEntry>
  );
}

function Said({ constraint, editing, unit, isRedundant }: { constraint: SketchConstraint; editing: SketchEditing; unit: LengthUnit; isRedundant: boolean }) {
  const isCorner = constraint.kind === 'diameter' || constraint.kind === 'fixed' || constraint.kind === 'along' || constraint.kind === 'across';
  const look = () => {
    editing.choose(null);
    for (const [k, name] of namesIn(constraint).entries()) editing.choose({ kind: isCorner ? 'corner' : 'piece', name }, k > 0);
  };
  const name = wordsFor(constraint.kind, editing.isTurned);
  return (
    <div className="said-row">
      <button type="button" className="text-button said-name" onClick={look} title={sayConstraint(constraint)} disabled={!editing.isOn}>
        {name}
      </button>
      {isRedundant && <span className="ledger-hint warn">says nothing new</span>}
      {'value' in constraint &&
        (constraint.kind === 'angle' ? (
          <NumberField
            kind="angle"
            aria-label={`${name} said`}
            w={96}
            value={constraint.value}
            onCommit={(v) => editing.changeValue(constraint.id, v)}
            disabled={!editing.isOn}
          />
        ) : (
          <NumberField
            kind="length"
            unit={unit}
            aria-label={`${name} said`}
            w={106}
            min={0}
            value={constraint.value}
            onCommit={(v) => editing.changeValue(constraint.id, v)}
            disabled={!editing.isOn}
          />
        ))}
      <ActionIcon
        variant="subtle"
        color="gray"
        size="sm"
        aria-label={`Take back: ${sayConstraint(constraint)}`}
        disabled={!editing.isOn}
        onClick={() => editing.removeConstraint(constraint.id)}
      >
        <IconTrash size={15} />
      </ActionIcon>
    </div>
  );
}
