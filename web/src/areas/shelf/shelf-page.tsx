import { ActionIcon, Button, Group, Menu, Select, TextInput } from '@mantine/core';
import { IconCopy, IconDotsVertical, IconPencil, IconSearch, IconTrash } from '@tabler/icons-react';
import { useEffect, useMemo, useState } from 'react';
import { Link } from 'react-router';
import { type AnyRecord, type AssemblyRecord, COMPONENT_KINDS, type ComponentRecord } from '#core/records';
import { sayConnection } from '#core/standards';
import { AreaHeader } from '../../app/area-header.tsx';
import { showDone } from '../../app/notify.tsx';
import { selectComponentsById, useAppSelector } from '../../app/store.ts';
import { bringBackDemo } from '../../store/demo.ts';
import { deleteRecord, duplicateRecord, renameRecord } from '../../store/library-actions.ts';
import { placeOf } from '../../common/place-of.ts';
import { OpenButton } from '../empty-area.tsx';
import { OutlinePicture } from './outline-picture.tsx';
import { TypeLine } from './type-line.tsx';

/** All components and assemblies of this browser: found by text and kind, renamed, duplicated, deleted. */
export default function ShelfPage() {
  const records = useAppSelector((s) => s.library.records);
  const [text, setText] = useState('');
  const [kind, setKind] = useState<string | null>(null);
  const shown = useMemo(() => {
    const needles = text.toLowerCase().split(/\s+/).filter(Boolean);
    return Object.values(records)
      .filter((r) => (!kind || kindOf(r) === kind) && needles.every((n) => searchText(r).includes(n)))
      .sort((a, b) => a.name.localeCompare(b.name, 'en', { numeric: true }));
  }, [records, text, kind]);
  const assemblies = shown.filter((r) => r.kind === 'assembly');
  const components = shown.filter((r) => r.kind === 'component');
  const outlines = shown.filter((r) => r.kind === 'outline');
  const total = Object.keys(records).length;
  return (
    <div className="area">
      <AreaHeader title="Shelf" note={`${total} kept in this browser`}>
        <Button size="xs" variant="default" component={Link} to="/shelf/table">
          Tools of a table
        </Button>
        <Button size="xs" variant="default" onClick={() => void bringBackDemo()}>
          Bring back demo data
        </Button>
        <OpenButton size="xs" />
      </AreaHeader>
      <div className="shelf">
        <TypeLine />
        <Group gap="sm" className="shelf-filter">
          <TextInput
            leftSection={<IconSearch size={16} />}
            placeholder="Name, connection, file…"
            aria-label="Search"
            value={text}
            onChange={(e) => setText(e.currentTarget.value)}
            w={280}
          />
          <Select
            placeholder="any kind"
            aria-label="Kind"
            clearable
            data={[...COMPONENT_KINDS, 'assembly', 'outline']}
            value={kind}
            onChange={setKind}
            w={170}
          />
        </Group>
        {shown.length === 0 && (
          <div className="empty-area">
            <p>
              {total === 0
                ? 'The Shelf is empty. Drop a vendor’s STEP file anywhere on this window, or bring back the demo data.'
                : 'Nothing matches. Fewer words find more.'}
            </p>
          </div>
        )}
        {assemblies.length > 0 && <h2>Assemblies</h2>}
        <div className="cards">
          {assemblies.map((r) => (
            <Card key={r.id} record={r} />
          ))}
        </div>
        {components.length > 0 && <h2>Components</h2>}
        <div className="cards">
          {components.map((r) => (
            <Card key={r.id} record={r} />
          ))}
        </div>
        {outlines.length > 0 && <h2>Outlines</h2>}
        <div className="cards">
          {outlines.map((r) => (
            <Card key={r.id} record={r} />
          ))}
        </div>
      </div>
    </div>
  );
}

const kindOf = (r: AnyRecord): string => (r.kind === 'component' ? r.componentKind : r.kind);
const searchText = (r: AnyRecord): string =>
  (r.kind !== 'component'
    ? `${r.name} ${r.kind} ${r.kind === 'outline' && r.way.kind === 'drawing' ? r.way.fileName : ''}`
    : [r.name, r.componentKind, r.source.fileName, r.source.unit, ...[r.mount, ...r.seats].map((c) => (c ? sayConnection(c.connection) : ''))].join(' ')
  ).toLowerCase();

function Card({ record }: { record: AnyRecord }) {
  const [renaming, setRenaming] = useState(false);
  const target = placeOf(record);
  return (
    <article className="card" aria-label={record.name}>
      <Link to={target} className="card-picture" aria-label={`Open ${record.name}`} tabIndex={-1}>
        {record.kind === 'outline' ? <OutlinePicture outline={record} /> : <Picture record={record} />}
      </Link>
      <Group justify="space-between" wrap="nowrap" gap={4} className="card-line">
        {renaming ? (
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
          <Link to={target} className="card-name">
            {record.name}
          </Link>
        )}
        {/* The focus must not come back: it would end renaming as soon as it begins. */}
        <Menu position="bottom-end" returnFocus={false}>
          <Menu.Target>
            <ActionIcon variant="subtle" color="gray" aria-label={`What to do with ${record.name}`}>
              <IconDotsVertical size={16} />
            </ActionIcon>
          </Menu.Target>
          <Menu.Dropdown>
            <Menu.Item leftSection={<IconPencil size={15} />} onClick={() => setRenaming(true)}>
              Rename
            </Menu.Item>
            <Menu.Item leftSection={<IconCopy size={15} />} onClick={() => duplicateRecord(record)}>
              Duplicate
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
      </Group>
      <p className="card-note">{noteOf(record)}</p>
    </article>
  );
}

const componentNote = (r: ComponentRecord): string =>
  [r.componentKind, r.mount ? sayConnection(r.mount.connection) : 'no mount yet', r.source.unit].join(' · ');

function noteOf(r: AnyRecord): string {
  if (r.kind === 'component') return componentNote(r);
  if (r.kind === 'assembly') return `${r.pieces.length} pieces`;
  return `${r.purpose} · ${r.way.kind === 'stack' ? 'by numbers' : r.way.kind === 'drawn' ? 'drawn' : r.way.fileName}`;
}

function Picture({ record }: { record: ComponentRecord | AssemblyRecord }) {
  const components = useAppSelector(selectComponentsById);
  const [url, setUrl] = useState<string | undefined>();
  // Of an assembly the pieces' components count too; others may change.
  const shown = useMemo(() => (record.kind === 'component' ? [record] : record.pieces.map((p) => components[p.componentId])), [record, components]);
  const key = shown.map((c) => c?.changedAt).join();
  useEffect(() => {
    let live = true;
    let made: string | undefined;
    // three.js comes with the first picture, not with the page.
    void import('./pictures.ts')
      .then(({ pictureOf, pictureOfAssembly }) =>
        record.kind === 'component' ? pictureOf(record, () => live) : pictureOfAssembly(record, components, () => live),
      )
      .then((u) => {
        made = u;
        if (live) setUrl(u);
        else if (u) URL.revokeObjectURL(u);
      });
    return () => {
      live = false;
      if (made) URL.revokeObjectURL(made);
    };
    // biome-ignore lint: the key stands for the components
  }, [record, key]); // eslint-disable-line react-hooks/exhaustive-deps
  return url ? <img src={url} alt="" /> : <span className="picture-wait" />;
}
