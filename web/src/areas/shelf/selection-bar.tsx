import { Button, Popover, TagsInput, TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { isShelved } from '#core/records';
import { type ShelfEntry, shelved, writeShelfTable } from '#core/shelf';
import { selectionChanged } from '../../app/shelf-slice.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { saveFile } from '../../common/save-file.ts';
import { deleteMany, sayOfMany } from '../../store/shelf-actions.ts';
import { saveShelf } from '../../store/shelf-file-actions.ts';
import { makeGeometryOf } from './make-many.ts';

/** What can be done with all that is selected. */
export function SelectionBar({ found, onBring }: { found: readonly ShelfEntry[]; onBring: (ids: readonly string[]) => void }) {
  const dispatch = useAppDispatch();
  const records = useAppSelector((s) => s.library.records);
  const selected = useAppSelector((s) => s.shelf.selected);
  const ids = useMemo(() => selected.filter((id) => records[id] !== undefined), [selected, records]);
  const hidden = useMemo(() => {
    const shown = new Set(found.map((e) => e.id));
    return ids.filter((id) => !shown.has(id)).length;
  }, [ids, found]);
  if (ids.length === 0) return null;
  const clear = () => dispatch(selectionChanged([]));
  const table = () => {
    const chosen = shelved(Object.fromEntries(ids.map((id) => [id, records[id]])));
    saveFile('tools.csv', new TextEncoder().encode(writeShelfTable(chosen)), 'text/csv');
  };
  return (
    <div className="selection-bar" role="region" aria-label="Selected">
      <b>{ids.length.toLocaleString('en')} selected</b>
      {hidden > 0 && <span className="warn">{hidden.toLocaleString('en')} of them not among those found</span>}
      <Button size="compact-sm" variant="default" onClick={() => onBring(ids)}>
        Bring over to a set
      </Button>
      <TagsButton ids={ids} />
      <MakerButton ids={ids} />
      <Button size="compact-sm" variant="default" onClick={() => void makeGeometryOf(ids)}>
        Make geometry
      </Button>
      <Button size="compact-sm" variant="default" onClick={() => void saveShelf('selection', ids)}>
        Write as a file
      </Button>
      <Button size="compact-sm" variant="default" onClick={table}>
        Write as a table
      </Button>
      <Button
        size="compact-sm"
        variant="default"
        color="brick"
        onClick={() => {
          void deleteMany(ids);
          clear();
        }}
      >
        Delete
      </Button>
      <Button size="compact-sm" variant="subtle" color="gray" onClick={clear}>
        Select none
      </Button>
    </div>
  );
}

function TagsButton({ ids }: { ids: readonly string[] }) {
  const records = useAppSelector((s) => s.library.records);
  const all = useMemo(() => [...new Set(shelved(records).flatMap((r) => r.shelf.tags))].sort(), [records]);
  const shared = useMemo(() => {
    const lists = ids.flatMap((id) => {
      const r = records[id];
      return isShelved(r) ? [r.shelf.tags] : [];
    });
    return (lists[0] ?? []).filter((t) => lists.every((l) => l.includes(t)));
  }, [ids, records]);
  const [tags, setTags] = useState<string[] | null>(null);
  const take = () => {
    const wished = tags ?? shared;
    const add = wished.filter((t) => !shared.includes(t));
    const drop = shared.filter((t) => !wished.includes(t));
    if (add.length + drop.length > 0) void sayOfMany(ids, { add, drop });
    setTags(null);
  };
  return (
    <Popover position="top" width={300} trapFocus opened={tags !== null} onChange={(o) => !o && setTags(null)}>
      <Popover.Target>
        <Button size="compact-sm" variant="default" onClick={() => setTags(tags === null ? shared : null)}>
          Tags
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <TagsInput
          size="xs"
          label="Tags that all of them have"
          data={all}
          value={tags ?? shared}
          maxLength={40}
          maxTags={20}
          onChange={setTags}
          comboboxProps={{ withinPortal: false }}
        />
        <Button size="xs" mt="xs" onClick={take}>
          Take these
        </Button>
      </Popover.Dropdown>
    </Popover>
  );
}

function MakerButton({ ids }: { ids: readonly string[] }) {
  const [maker, setMaker] = useState<string | null>(null);
  const take = () => {
    void sayOfMany(ids, { maker: (maker ?? '').trim() });
    setMaker(null);
  };
  return (
    <Popover position="top" width={260} trapFocus opened={maker !== null} onChange={(o) => !o && setMaker(null)}>
      <Popover.Target>
        <Button size="compact-sm" variant="default" onClick={() => setMaker(maker === null ? '' : null)}>
          Maker
        </Button>
      </Popover.Target>
      <Popover.Dropdown>
        <TextInput
          size="xs"
          label="Who made them"
          value={maker ?? ''}
          maxLength={100}
          onChange={(e) => setMaker(e.currentTarget.value)}
          onKeyDown={(e) => e.key === 'Enter' && take()}
        />
        <Button size="xs" mt="xs" onClick={take}>
          Take this
        </Button>
      </Popover.Dropdown>
    </Popover>
  );
}
