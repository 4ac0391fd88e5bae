import { ActionIcon, Button, Menu, MultiSelect, Popover, SegmentedControl, Select, TextInput, Tooltip } from '@mantine/core';
import { IconBookmark, IconColumns3, IconSearch, IconTrash, IconX } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { VALUES } from '#core/components';
import { type Found, type QueryFault, type ShelfEntry, valuesIn } from '#core/shelf';
import { GROUPINGS, type Grouping, searchCleared, SORTS, viewChanged } from '../../app/shelf-slice.ts';
import { useAppDispatch, useAppSelector } from '../../app/store.ts';
import { columnChoices, columnTitle } from './list/table-row.tsx';

/** What is looked for, in words and numbers, and how what is found is shown. */
export function SearchBar({ found, entries, faults }: { found: Found; entries: readonly ShelfEntry[]; faults: readonly QueryFault[] }) {
  const dispatch = useAppDispatch();
  const { text, chosen, view, grouping, sort, isDown, columns } = useAppSelector((s) => s.shelf);
  const isNarrowed = text.trim() !== '' || Object.values(chosen).some((c) => c.length > 0);
  const names = useMemo(() => valuesIn(entries), [entries]);
  const sorts = [...SORTS, ...names].map((s) => ({ value: s, label: columnTitle(s) }));
  return (
    <div className="search-bar">
      <div className="search-line">
        <TextInput
          leftSection={<IconSearch size={16} />}
          placeholder="Words, or DC=8..10 mount=“PSC 63” tag=roughing"
          aria-label="Search"
          size="xs"
          value={text}
          maxLength={300}
          onChange={(e) => dispatch(viewChanged({ text: e.currentTarget.value }))}
          onKeyDown={(e) => e.key === 'Escape' && dispatch(searchCleared())}
          rightSection={
            isNarrowed && (
              <ActionIcon variant="subtle" color="gray" size="sm" aria-label="Show all again" onClick={() => dispatch(searchCleared())}>
                <IconX size={15} />
              </ActionIcon>
            )
          }
        />
        <SavedSearches isNarrowed={isNarrowed} />
        <span className="search-count" role="status">
          {found.entries.length.toLocaleString('en')} found
        </span>
        <Select
          size="xs"
          w={130}
          aria-label="Under headings by"
          data={GROUPINGS.map((g) => ({ value: g, label: g === 'nothing' ? 'no headings' : `by ${g}` }))}
          value={grouping}
          allowDeselect={false}
          onChange={(g) => dispatch(viewChanged({ grouping: g as Grouping }))}
        />
        {view === 'pictures' && (
          <Select
            size="xs"
            w={150}
            aria-label="Sorted by"
            searchable
            data={sorts}
            value={sorts.some((s) => s.value === sort) ? sort : 'name'}
            allowDeselect={false}
            onChange={(s) => s !== null && dispatch(viewChanged({ sort: s, isDown: s === sort ? !isDown : false }))}
          />
        )}
        <SegmentedControl
          size="xs"
          aria-label="How it is shown"
          data={[
            { value: 'pictures', label: 'Pictures' },
            { value: 'table', label: 'Table' },
          ]}
          value={view}
          onChange={(v) => dispatch(viewChanged({ view: v }))}
        />
        {view === 'table' && (
          <Popover position="bottom-end" width={360} withinPortal trapFocus>
            <Popover.Target>
              <Tooltip label="Columns">
                <ActionIcon variant="default" size={30} aria-label="Columns of the table">
                  <IconColumns3 size={17} />
                </ActionIcon>
              </Tooltip>
            </Popover.Target>
            <Popover.Dropdown>
              <MultiSelect
                size="xs"
                label="Columns beside the name"
                searchable
                data={columnChoices(names).map((c) => ({ value: c, label: c in VALUES ? columnTitle(c) : c }))}
                value={[...columns]}
                onChange={(c) => dispatch(viewChanged({ columns: c }))}
                comboboxProps={{ withinPortal: false }}
              />
            </Popover.Dropdown>
          </Popover>
        )}
      </div>
      {faults.map((f) => (
        <p key={f.at} className="ledger-hint warn" role="alert">
          “{f.text}”: {f.why}
        </p>
      ))}
    </div>
  );
}

function SavedSearches({ isNarrowed }: { isNarrowed: boolean }) {
  const dispatch = useAppDispatch();
  const { saved, text, chosen } = useAppSelector((s) => s.shelf);
  const [name, setName] = useState('');
  const keep = () => {
    const called = name.trim() || text.trim();
    if (called === '') return;
    dispatch(viewChanged({ saved: [...saved.filter((s) => s.name !== called), { name: called, text, chosen }] }));
    setName('');
  };
  return (
    <Menu position="bottom-start" width={260} closeOnItemClick={false}>
      <Menu.Target>
        <Tooltip label="Kept filters">
          <ActionIcon variant="default" size={30} aria-label="Kept filters">
            <IconBookmark size={17} />
          </ActionIcon>
        </Tooltip>
      </Menu.Target>
      <Menu.Dropdown>
        {saved.map((s) => (
          <div key={s.name} className="saved-search">
            <Menu.Item closeMenuOnClick onClick={() => dispatch(viewChanged({ text: s.text, chosen: s.chosen }))}>
              {s.name}
            </Menu.Item>
            <ActionIcon
              variant="subtle"
              color="gray"
              size="sm"
              aria-label={`Forget the search ${s.name}`}
              onClick={() => dispatch(viewChanged({ saved: saved.filter((o) => o.name !== s.name) }))}
            >
              <IconTrash size={14} />
            </ActionIcon>
          </div>
        ))}
        {saved.length === 0 && !isNarrowed && <p className="menu-note">None yet. Search for something, then keep it here.</p>}
        {isNarrowed && (
          <div className="saved-search-new">
            <TextInput
              size="xs"
              placeholder={text.trim() || 'a name for it'}
              aria-label="Name of this search"
              value={name}
              maxLength={60}
              onChange={(e) => setName(e.currentTarget.value)}
              onKeyDown={(e) => {
                e.stopPropagation();
                if (e.key === 'Enter') keep();
              }}
            />
            <Button size="xs" variant="default" disabled={(name.trim() || text.trim()) === ''} onClick={keep}>
              Keep
            </Button>
          </div>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
