import { Button, Modal, Select } from '@mantine/core';
import { useMemo, useState } from 'react';
import { say, sayFew } from '#core/issues';
import { MERGE_CHOICES, MERGE_STATES, type MergeChoice, type MergeState, planMerge, USUAL_CHOICE } from '#core/shelf';
import { useAppSelector } from '../../../app/store.ts';
import { offerMerge, type OfferedShelf, useOfferedShelf } from '../../../store/open-merge.ts';
import { bringIn } from '../../../store/shelf-file-actions.ts';

const STATE_WORDS: Readonly<Record<MergeState, string>> = {
  new: 'are not here yet',
  newer: 'were changed there later than here',
  older: 'were changed here later than there',
  'same name': 'have the name of another one here',
  same: 'are here already, the same',
};
// Names that are listed of a row.
const FEW = 8;

/** Another Shelf's file that was opened, or an earlier copy: what bringing it in would change, with a choice for each kind of change. */
export function MergeDialog() {
  const shelf = useOfferedShelf();
  return shelf ? <MergeWork key={shelf.from} shelf={shelf} /> : null;
}

function MergeWork({ shelf }: { shelf: OfferedShelf }) {
  const mine = useAppSelector((s) => s.library.records);
  const plan = useMemo(() => planMerge(mine, shelf.records), [mine, shelf]);
  const [choices, setChoices] = useState<Partial<Record<MergeState, MergeChoice>>>({});
  const close = () => offerMerge(null);
  const rows = MERGE_STATES.map((state) => ({ state, of: plan.filter((m) => m.state === state) })).filter((r) => r.of.length > 0);
  const changes = rows.filter((r) => r.state === 'new' || (choices[r.state] ?? USUAL_CHOICE[r.state]) !== 'keep mine').reduce((n, r) => n + r.of.length, 0);
  return (
    <Modal opened onClose={close} closeButtonProps={{ 'aria-label': 'Close' }} title={`Bring in ${shelf.from}`} size="lg">
      <p className="bring-sum" role="status">
        {plan.length} records. Nothing is changed before you say so, and one undo takes it back.
      </p>
      <ul className="bring-list merge-list">
        {rows.map(({ state, of }) => (
          <li key={state}>
            <span>
              <b>
                {of.length} {STATE_WORDS[state]}
              </b>
              <span className="ledger-hint merge-names">
                {sayFew(
                  of.map((m) => m.theirs.name),
                  FEW,
                )}
              </span>
            </span>
            {state === 'new' || state === 'same' ? (
              <span className="ledger-hint">{state === 'new' ? 'are taken' : 'nothing to do'}</span>
            ) : (
              <Select
                size="xs"
                w={130}
                aria-label={`Those that ${STATE_WORDS[state]}`}
                data={[...MERGE_CHOICES]}
                value={choices[state] ?? USUAL_CHOICE[state]}
                allowDeselect={false}
                onChange={(c) => setChoices({ ...choices, [state]: c as MergeChoice })}
              />
            )}
          </li>
        ))}
      </ul>
      {shelf.faults.slice(0, FEW).map((f) => (
        <p key={say(f)} className="ledger-hint warn">
          {say(f)}
        </p>
      ))}
      {shelf.faults.length > FEW && <p className="ledger-hint warn">and {shelf.faults.length - FEW} more</p>}
      <div className="button-row">
        <Button
          size="xs"
          disabled={changes === 0}
          onClick={() => {
            close();
            void bringIn(shelf, choices);
          }}
        >
          {changes === 0 ? 'Nothing to bring in' : `Bring in ${changes}`}
        </Button>
        <Button size="xs" variant="default" onClick={close}>
          Leave it
        </Button>
      </div>
    </Modal>
  );
}
