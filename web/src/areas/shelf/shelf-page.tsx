import { Button, FileButton, Menu } from '@mantine/core';
import { IconChevronDown } from '@tabler/icons-react';
import { useCallback, useMemo, useState } from 'react';
import { Link } from 'react-router';
import type { SetRecord } from '#core/records';
import { compareNames } from '#core/shelf';
import { AreaHeader } from '../../app/area-header.tsx';
import { searchCleared } from '../../app/shelf-slice.ts';
import { selectIsReading, selectPart, useAppDispatch, useAppSelector } from '../../app/store.ts';
import { bringBackDemo } from '../../store/demo.ts';
import { openFiles } from '../../store/library-actions.ts';
import { outdatedIn, takeOverMany } from '../../store/shelf-actions.ts';
import { saveShelf } from '../../store/shelf-file-actions.ts';
import { OpenButton } from '../empty-area.tsx';
import { BringOverDialog } from './dialogs/bring-over-dialog.tsx';
import { MergeDialog } from './dialogs/merge-dialog.tsx';
import { ShelfList } from './list/shelf-list.tsx';
import { FacetList } from './rail/facet-list.tsx';
import { SetsList } from './rail/sets-list.tsx';
import { SearchBar } from './search-bar.tsx';
import { SelectionBar } from './selection-bar.tsx';
import { StorageLine } from './storage-line.tsx';
import { TypeLine } from './type-line.tsx';
import { useEntries, useFound } from './use-found.ts';

/** All that this browser keeps: the master shelf and sets of jobs and machines, found by words, numbers and what it is. */
export default function ShelfPage() {
  const { records, listed } = useAppSelector((s) => s.library);
  const part = useAppSelector(selectPart);
  const isReading = useAppSelector(selectIsReading);
  const entries = useEntries();
  const found = useFound(entries);
  const [bringing, setBringing] = useState<readonly string[] | null>(null);
  const sets = useMemo(
    () => (listed?.sets ?? Object.values(records)).filter((r): r is SetRecord => r.kind === 'set').sort((a, b) => compareNames(a.name, b.name)),
    [records, listed],
  );
  const setName = useCallback((id: string | null) => (id === null ? 'Master shelf' : (sets.find((s) => s.id === id)?.name ?? 'a set that is gone')), [sets]);
  return (
    <div className="area">
      <AreaHeader title="Shelf" note={`${entries.length.toLocaleString('en')} kept in this browser${isReading ? ', being read…' : ''}`}>
        <Button size="xs" variant="default" component={Link} to="/shelf/table" disabled={isReading}>
          Tools of a table
        </Button>
        <FileMenu isReading={isReading} />
        <OpenButton size="xs" />
      </AreaHeader>
      <TypeLine />
      <div className="shelf-work">
        <aside className="shelf-rail" aria-label="Sets and filters">
          <SetsList sets={sets} entries={entries} onBring={setBringing} />
          <FacetList counts={found.counts} />
        </aside>
        <div className="shelf-found">
          <SearchBar found={found} entries={entries} faults={found.faults} />
          {part !== 'all' && part !== 'master' && <Outdated set={part} />}
          {found.entries.length === 0 ? (
            <NothingFound isEmpty={entries.length === 0} part={part} />
          ) : (
            <ShelfList entries={found.entries} setName={setName} onBring={setBringing} />
          )}
          <SelectionBar found={found.entries} onBring={setBringing} />
          <StorageLine />
        </div>
      </div>
      {bringing && <BringOverDialog ids={bringing} sets={sets} onClose={() => setBringing(null)} />}
      <MergeDialog />
    </div>
  );
}

function FileMenu({ isReading }: { isReading: boolean }) {
  return (
    <Menu position="bottom-end" keepMounted>
      <Menu.Target>
        <Button size="xs" variant="default" disabled={isReading} rightSection={<IconChevronDown size={14} />}>
          Whole Shelf
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        <Menu.Item onClick={() => void saveShelf('shelf')}>Write all of it as one file</Menu.Item>
        <FileButton accept=".zip" inputProps={{ 'aria-label': 'Shelf’s file to bring in' }} onChange={(file) => file && void openFiles([file])}>
          {(props) => <Menu.Item {...props}>Bring in a Shelf’s file</Menu.Item>}
        </FileButton>
        <Menu.Item onClick={() => void bringBackDemo()}>Bring back the demo data</Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}

// Of a set: what has changed at the originals of what is in it.
function Outdated({ set }: { set: string }) {
  const records = useAppSelector((s) => s.library.records);
  const outdated = useMemo(() => outdatedIn(records, set), [records, set]);
  if (outdated.length === 0) return null;
  return (
    <p className="outdated" role="status">
      {outdated.length === 1 ? `The original of ${outdated[0].name} has changed.` : `The originals of ${outdated.length} have changed.`}
      <Button size="compact-xs" onClick={() => void takeOverMany(outdated.map((r) => r.id))}>
        Take {outdated.length === 1 ? 'it' : 'all'} over
      </Button>
    </p>
  );
}

function NothingFound({ isEmpty, part }: { isEmpty: boolean; part: string }) {
  const dispatch = useAppDispatch();
  const { text, chosen } = useAppSelector((s) => s.shelf);
  const isNarrowed = text.trim() !== '' || Object.values(chosen).some((c) => c.length > 0);
  return (
    <div className="empty-area">
      <p>
        {isEmpty
          ? 'The Shelf is empty. Type a tool above, drop a vendor’s STEP file anywhere on this window, or bring back the demo data.'
          : isNarrowed
            ? 'Nothing matches. Fewer words and choices find more.'
            : part === 'master'
              ? 'The master shelf is empty.'
              : 'Nothing is in this set yet. Type a tool above, or select some on the master shelf and bring them over.'}
      </p>
      {isNarrowed && (
        <Button size="xs" variant="default" onClick={() => dispatch(searchCleared())}>
          Show all again
        </Button>
      )}
    </div>
  );
}
