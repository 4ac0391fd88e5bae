import { ActionIcon, Button, Menu, Select, TextInput, UnstyledButton } from '@mantine/core';
import { IconDotsVertical, IconPlus } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { SET_PURPOSES, type SetPurpose, type SetRecord } from '#core/records';
import { type ShelfEntry, shelved } from '#core/shelf';
import { partChosen, type ShelfPart } from '../../../app/shelf-slice.ts';
import { selectIsReading, selectPart, useAppDispatch, useAppSelector } from '../../../app/store.ts';
import { renameRecord } from '../../../store/library-actions.ts';
import { addSet, endSet } from '../../../store/shelf-actions.ts';
import { saveShelf } from '../../../store/shelf-file-actions.ts';

/** The parts of the Shelf: all, the master shelf, and sets of jobs and machines, each with how much is in it. */
export function SetsList({
  sets,
  entries,
  onBring,
}: {
  sets: readonly SetRecord[];
  entries: readonly ShelfEntry[];
  onBring: (ids: readonly string[]) => void;
}) {
  const isReading = useAppSelector(selectIsReading);
  const [isNew, setNew] = useState(false);
  const counts = useMemo(() => {
    const of = new Map<string | null, number>();
    for (const { set } of entries) of.set(set, (of.get(set) ?? 0) + 1);
    return of;
  }, [entries]);
  return (
    <section aria-labelledby="sets-title" className="rail-block">
      <div className="rail-title">
        <h2 id="sets-title">Sets</h2>
        <ActionIcon variant="subtle" color="gray" size="sm" aria-label="New set" title="New set" disabled={isReading} onClick={() => setNew(true)}>
          <IconPlus size={16} />
        </ActionIcon>
      </div>
      <PartButton part="all" name="Everything" count={entries.length} />
      <PartButton part="master" name="Master shelf" count={counts.get(null) ?? 0} />
      {SET_PURPOSES.map((purpose) => {
        const of = sets.filter((s) => s.purpose === purpose);
        if (of.length === 0) return null;
        return (
          <div key={purpose}>
            <p className="rail-purpose">{purpose === 'job' ? 'of jobs' : 'of machines'}</p>
            {of.map((s) => (
              <SetLine key={s.id} set={s} count={counts.get(s.id) ?? 0} onBring={onBring} />
            ))}
          </div>
        );
      })}
      {isNew && <NewSet onDone={() => setNew(false)} />}
    </section>
  );
}

function PartButton({ part, name, count }: { part: ShelfPart; name: string; count: number }) {
  const dispatch = useAppDispatch();
  const isOn = useAppSelector((s) => selectPart(s) === part);
  return (
    <UnstyledButton className={isOn ? 'rail-choice on' : 'rail-choice'} aria-pressed={isOn} onClick={() => dispatch(partChosen(part))}>
      <span className="rail-choice-name">{name}</span>
      <span className="number">{count.toLocaleString('en')}</span>
    </UnstyledButton>
  );
}

function SetLine({ set, count, onBring }: { set: SetRecord; count: number; onBring: (ids: readonly string[]) => void }) {
  const records = useAppSelector((s) => s.library.records);
  const dispatch = useAppDispatch();
  const [isRenaming, setRenaming] = useState(false);
  const isReading = useAppSelector(selectIsReading);
  const inside = () => shelved(records).flatMap((r) => (r.shelf.set === set.id ? [r.id] : []));
  const end = (what: Parameters<typeof endSet>[1]) => {
    dispatch(partChosen('all'));
    void endSet(set.id, what);
  };
  if (isRenaming)
    return (
      <TextInput
        size="xs"
        aria-label={`New name of the set ${set.name}`}
        defaultValue={set.name}
        autoFocus
        onBlur={(e) => {
          renameRecord(set, e.currentTarget.value);
          setRenaming(false);
        }}
        onKeyDown={(e) => {
          if (e.key === 'Enter') e.currentTarget.blur();
          if (e.key === 'Escape') setRenaming(false);
        }}
      />
    );
  return (
    <div className="rail-set">
      <PartButton part={set.id} name={set.name} count={count} />
      <Menu position="right-start" returnFocus={false}>
        <Menu.Target>
          <ActionIcon variant="subtle" color="gray" size="sm" disabled={isReading} aria-label={`What to do with the set ${set.name}`}>
            <IconDotsVertical size={15} />
          </ActionIcon>
        </Menu.Target>
        <Menu.Dropdown>
          <Menu.Item onClick={() => setRenaming(true)}>Rename</Menu.Item>
          <Menu.Item disabled={count === 0} onClick={() => onBring(inside())}>
            Bring all of it over
          </Menu.Item>
          <Menu.Item disabled={count === 0} onClick={() => void saveShelf(set.name, inside())}>
            Write it as a file
          </Menu.Item>
          <Menu.Item onClick={() => end('to the master shelf')}>Take it apart: all to the master shelf</Menu.Item>
          <Menu.Item color="brick" onClick={() => end('with all in it')}>
            Delete it with all in it
          </Menu.Item>
        </Menu.Dropdown>
      </Menu>
    </div>
  );
}

function NewSet({ onDone }: { onDone: () => void }) {
  const dispatch = useAppDispatch();
  const [name, setName] = useState('');
  const [purpose, setPurpose] = useState<SetPurpose>('job');
  const add = () => {
    if (name.trim() === '') return;
    dispatch(partChosen(addSet(name, purpose)));
    onDone();
  };
  return (
    <div className="new-set">
      <TextInput
        size="xs"
        placeholder="Hub shell 32, run 2"
        aria-label="Name of the new set"
        autoFocus
        value={name}
        maxLength={120}
        onChange={(e) => setName(e.currentTarget.value)}
        onKeyDown={(e) => {
          if (e.key === 'Enter') add();
          if (e.key === 'Escape') onDone();
        }}
      />
      <Select
        size="xs"
        aria-label="What the new set is for"
        data={[
          { value: 'job', label: 'of a job' },
          { value: 'machine', label: 'of a machine' },
        ]}
        value={purpose}
        allowDeselect={false}
        onChange={(p) => setPurpose(p as SetPurpose)}
      />
      <div className="button-row">
        <Button size="compact-xs" disabled={name.trim() === ''} onClick={add}>
          Make it
        </Button>
        <Button size="compact-xs" variant="subtle" color="gray" onClick={onDone}>
          Leave it
        </Button>
      </div>
    </div>
  );
}
