import { Button, Modal, Select } from '@mantine/core';
import { useMemo, useState } from 'react';
import type { SetRecord } from '#core/records';
import { type Bringing, CLASH_CHOICES, type ClashChoice, planBringing } from '#core/shelf';
import { showDone } from '../../../app/notify.tsx';
import { partChosen, selectionChanged } from '../../../app/shelf-slice.ts';
import { useAppDispatch, useAppSelector } from '../../../app/store.ts';
import { bringOverTo } from '../../../store/shelf-actions.ts';

const MASTER = 'master';
const CHOICE_WORDS: Readonly<Record<ClashChoice, string>> = { use: 'use the one there', beside: 'have both', replace: 'put it in its place' };
const WHY: Readonly<Record<NonNullable<Bringing['why']>, string>> = {
  name: 'another one of this name is there',
  copy: 'it was brought over before, and one of the two has changed',
  original: 'it comes from there, and one of the two has changed',
};

interface BringOverDialogProps {
  readonly ids: readonly string[];
  readonly sets: readonly SetRecord[];
  readonly onClose: () => void;
}

/** Brings records over to a set or back to the master shelf: what comes along, what is there already and what clashes is shown before. */
export function BringOverDialog({ ids, sets, onClose }: BringOverDialogProps) {
  const dispatch = useAppDispatch();
  const records = useAppSelector((s) => s.library.records);
  const places = useMemo(() => [{ value: MASTER, label: 'the master shelf' }, ...sets.map((s) => ({ value: s.id, label: s.name }))], [sets]);
  // Where most of them are not yet.
  const [first] = places.filter((p) => ids.some((id) => placeOfRecord(records[id]) !== p.value));
  const [to, setTo] = useState(first?.value ?? MASTER);
  const [choices, setChoices] = useState<Record<string, ClashChoice>>({});
  const set = to === MASTER ? null : to;
  const plan = useMemo(() => planBringing(records, ids, set), [records, ids, set]);
  const clashes = plan.filter((b) => b.state === 'clash');
  const fresh = plan.filter((b) => b.state === 'new').length;
  const there = plan.filter((b) => b.state === 'there').length;
  const bring = async () => {
    const count = await bringOverTo(plan, set, choices);
    dispatch(selectionChanged([]));
    if (count > 0) dispatch(partChosen(to));
    showDone(count > 0 ? `${count} brought over. Ctrl+Z takes them back.` : 'All of it is there already.');
    onClose();
  };
  const parts = plan.length - ids.length;
  return (
    <Modal opened onClose={onClose} closeButtonProps={{ 'aria-label': 'Close' }} title="Bring over to a set" size="lg">
      {sets.length === 0 && <p className="ledger-hint">There is no set yet: make one at the left of the Shelf, for a job or a machine.</p>}
      <Select label="To" size="xs" data={places} value={to} allowDeselect={false} onChange={(v) => v !== null && setTo(v)} />
      <p className="bring-sum" role="status">
        {fresh} new
        {parts > 0 ? `, ${parts} of the ${plan.length} because others are made of them` : ''}
        {there > 0 ? `, ${there} there already` : ''}
        {clashes.length > 0 ? `, ${clashes.length} to be decided` : ''}.
      </p>
      {clashes.length > 1 && (
        <div className="button-row">
          <span className="ledger-hint">All of them:</span>
          {CLASH_CHOICES.map((c) => (
            <Button key={c} size="compact-xs" variant="default" onClick={() => setChoices(Object.fromEntries(clashes.map((b) => [b.record.id, c])))}>
              {CHOICE_WORDS[c]}
            </Button>
          ))}
        </div>
      )}
      <ul className="bring-list">
        {clashes.map((b) => (
          <li key={b.record.id}>
            <span>
              <b>{b.record.name}</b> <span className="ledger-hint">{b.why && WHY[b.why]}</span>
            </span>
            <Select
              size="xs"
              w={170}
              aria-label={`What to do with ${b.record.name}`}
              data={CLASH_CHOICES.map((c) => ({ value: c, label: CHOICE_WORDS[c] }))}
              value={choices[b.record.id] ?? 'beside'}
              allowDeselect={false}
              onChange={(c) => setChoices({ ...choices, [b.record.id]: c as ClashChoice })}
            />
          </li>
        ))}
      </ul>
      <div className="button-row">
        <Button size="xs" disabled={fresh + clashes.length === 0} onClick={() => void bring()}>
          Bring {fresh + clashes.length} over
        </Button>
        <Button size="xs" variant="default" onClick={onClose}>
          Leave it
        </Button>
      </div>
    </Modal>
  );
}

const placeOfRecord = (r: { readonly kind: string; readonly shelf?: { readonly set: string | null } } | undefined): string => r?.shelf?.set ?? MASTER;
