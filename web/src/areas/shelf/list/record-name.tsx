import { Menu, TextInput } from '@mantine/core';
import { IconArrowRight, IconCopy, IconDotsVertical, IconPencil, IconTrash } from '@tabler/icons-react';
import { useState } from 'react';
import { Link } from 'react-router';
import type { ShelvedRecord } from '#core/records';
import type { ShelfEntry } from '#core/shelf';
import { showDone } from '../../../app/notify.tsx';
import { placeOf } from '../../../common/place-of.ts';
import { deleteRecord, duplicateRecord, renameRecord } from '../../../store/library-actions.ts';

/** The name of a record as the way to it, with what can be done with it. */
export function RecordName({ entry, record, onBring }: { entry: ShelfEntry; record: ShelvedRecord | undefined; onBring: (ids: readonly string[]) => void }) {
  const [isRenaming, setRenaming] = useState(false);
  return (
    <>
      {isRenaming && record ? (
        <TextInput
          size="xs"
          aria-label="New name"
          defaultValue={record.name}
          autoFocus
          onFocus={(e) => e.currentTarget.select()}
          onBlur={(e) => {
            renameRecord(record, e.currentTarget.value);
            setRenaming(false);
          }}
          onKeyDown={(e) => {
            if (e.key === 'Enter') e.currentTarget.blur();
            if (e.key === 'Escape') setRenaming(false);
          }}
        />
      ) : (
        <Link to={placeOf({ kind: entry.of, id: entry.id })} className="card-name" title={entry.name}>
          {entry.name}
        </Link>
      )}
      {record && <RecordMenu record={record} onRename={() => setRenaming(true)} onBring={onBring} />}
    </>
  );
}

// A menu is mounted when it is asked for first: a list has one in every row.
function RecordMenu({ record, onRename, onBring }: { record: ShelvedRecord; onRename: () => void; onBring: (ids: readonly string[]) => void }) {
  const [isOpen, setOpen] = useState<boolean | null>(null);
  const button = (
    <button type="button" className="record-dots" aria-label={`What to do with ${record.name}`} aria-haspopup="menu" onClick={() => setOpen(true)}>
      <IconDotsVertical size={16} />
    </button>
  );
  if (isOpen === null) return button;
  return (
    // The focus must not come back: it would end renaming as soon as it begins.
    <Menu position="bottom-end" returnFocus={false} opened={isOpen} onChange={setOpen}>
      <Menu.Target>{button}</Menu.Target>
      <Menu.Dropdown>
        <Menu.Item leftSection={<IconPencil size={15} />} onClick={onRename}>
          Rename
        </Menu.Item>
        <Menu.Item leftSection={<IconCopy size={15} />} onClick={() => duplicateRecord(record)}>
          Duplicate
        </Menu.Item>
        <Menu.Item leftSection={<IconArrowRight size={15} />} onClick={() => onBring([record.id])}>
          Bring over to a set
        </Menu.Item>
        <Menu.Item
          leftSection={<IconTrash size={15} />}
          color="brick"
          onClick={() => {
            if (deleteRecord(record)) showDone(`${record.name} is deleted. Ctrl+Z brings it back.`);
          }}
        >
          Delete
        </Menu.Item>
      </Menu.Dropdown>
    </Menu>
  );
}
