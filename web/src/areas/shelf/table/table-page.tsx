import { Button, FileButton, Select, Table, Textarea, TextInput } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import { useNavigate } from 'react-router';
import {
  cellKey,
  COLUMN_USES,
  type ColumnUse,
  readTable,
  SPEC_KINDS,
  type SpecKind,
  tableText,
  type TableTool,
  type ValueName,
  VALUES,
} from '#core/components';
import { say } from '#core/issues';
import { AreaHeader } from '../../../app/area-header.tsx';
import { showDone } from '../../../app/notify.tsx';
import { selectAddingTo, useAppSelector } from '../../../app/store.ts';
import { sayValue } from '../../../common/say-value.ts';
import { ShapePicture } from '../../../pictures/shape-picture.tsx';
import { openTable, useOpenTable } from '../../../store/open-table.ts';
import { rememberColumns, rememberedColumns } from '../../../store/column-memory.ts';
import { addTools } from '../../../store/table-actions.ts';

// Rows that are drawn: the rest is counted.
const MOST_SHOWN = 100;
const NOT_USED = 'not used';

const useWords = (use: ColumnUse): string => (use === null ? NOT_USED : use in VALUES ? `${use} ${VALUES[use as ValueName].meaning}` : use);
const USES = [NOT_USED, ...COLUMN_USES].map((use) => ({ value: use, label: useWords(use === NOT_USED ? null : (use as ColumnUse)) }));

/** A table of tools before it is on the Shelf: what its columns are, what its rows make, and what is wrong with which, to be mended there. */
export default function TablePage() {
  const open = useOpenTable();
  return open ? <TableWork key={open.fileName + open.text.length} fileName={open.fileName} text={open.text} /> : <NoTable />;
}

function NoTable() {
  const [text, setText] = useState('');
  return (
    <div className="area">
      <AreaHeader title="Tools of a table" />
      <div className="empty-area">
        <h1>Tools of a table</h1>
        <p>Drop a CSV or TSV file anywhere, choose one, or paste cells as they were copied from a spreadsheet: with their header, one tool a row.</p>
        <Textarea aria-label="Pasted cells" autosize minRows={4} maxRows={12} w={620} value={text} onChange={(e) => setText(e.currentTarget.value)} />
        <div className="button-row">
          <Button disabled={text.trim() === ''} onClick={() => openTable({ fileName: 'pasted cells', text })}>
            Read them
          </Button>
          <FileButton
            accept=".csv,.tsv,.txt"
            inputProps={{ 'aria-label': 'Table to open' }}
            onChange={(file) => void file?.arrayBuffer().then((b) => openTable({ fileName: file.name, text: tableText(new Uint8Array(b)) }))}
          >
            {(props) => (
              <Button variant="default" {...props}>
                Choose a file
              </Button>
            )}
          </FileButton>
        </div>
      </div>
    </div>
  );
}

function TableWork({ fileName, text }: { fileName: string; text: string }) {
  const navigate = useNavigate();
  const set = useAppSelector(selectAddingTo);
  const [map, setMap] = useState<Record<string, ColumnUse>>({});
  // What somebody said of a header stands for the next table too.
  useEffect(() => {
    void rememberedColumns().then((known) => setMap((now) => ({ ...known, ...now })));
  }, []);
  const [kind, setKind] = useState<SpecKind | null>(null);
  const [edits, setEdits] = useState<Record<string, string>>({});
  const read = useMemo(() => readTable(text, fileName, { map, edits, ...(kind ? { kind } : {}) }), [text, fileName, map, edits, kind]);
  const table = read.ok ? read.value : undefined;
  const tools = table?.tools ?? [];
  const errors = table?.errors ?? [];
  const bad = new Set(errors.map((e) => e.row)).size;
  const add = () => {
    rememberColumns(map);
    const result = addTools(tools, fileName, set);
    showDone(
      `${result.added} tools of ${fileName} are on the Shelf${result.renewed > 0 ? `, ${result.renewed} ${result.renewed === 1 ? 'was there and is' : 'were there and are'} made anew` : ''}. Ctrl+Z takes them back.`,
    );
    openTable(null);
    void navigate('/shelf');
  };
  return (
    <div className="area">
      <AreaHeader title="Tools of a table" note={fileName}>
        <Button size="xs" variant="default" onClick={() => openTable(null)}>
          Another table
        </Button>
        <Button size="xs" disabled={tools.length === 0} onClick={add}>
          Add {tools.length} {tools.length === 1 ? 'tool' : 'tools'}
        </Button>
      </AreaHeader>
      <div className="table-work">
        {!read.ok && (
          <p className="strip-fault" role="alert">
            {read.issues.map(say).join(' ')}
          </p>
        )}
        {table && (
          <>
            <p role="status">
              {tools.length} of {table.rows} rows are tools{bad > 0 ? `; ${bad} ${bad === 1 ? 'is' : 'are'} not yet` : ''}.
            </p>
            <div className="table-columns">
              {table.columns.map((c) => (
                <Select
                  key={c.header}
                  size="xs"
                  w={190}
                  label={c.header}
                  aria-label={`What ${c.header} is`}
                  data={USES}
                  value={c.use ?? NOT_USED}
                  searchable
                  allowDeselect={false}
                  onChange={(use) => setMap({ ...map, [c.header]: use === NOT_USED ? null : (use as ColumnUse) })}
                />
              ))}
              <Select
                size="xs"
                w={170}
                label="Rows that do not say it are"
                aria-label="Kind of rows that do not say it"
                clearable
                data={[...SPEC_KINDS]}
                value={kind}
                onChange={(k) => setKind(k)}
              />
            </div>
            {errors.length > 0 && (
              <>
                <h2>To be mended</h2>
                <ul className="table-errors">
                  {errors.slice(0, MOST_SHOWN).map((e) => (
                    <li key={`${e.row} ${e.column} ${e.message}`}>
                      <span className="number">row {e.row}</span>
                      <span className="ledger-hint warn">{e.message}</span>
                      {e.column !== '' && <Mend header={e.column} row={e.row} onTake={(value) => setEdits({ ...edits, [cellKey(e.row, e.column)]: value })} />}
                    </li>
                  ))}
                </ul>
              </>
            )}
            {tools.length > 0 && <Tools tools={tools.slice(0, MOST_SHOWN)} />}
            {tools.length > MOST_SHOWN && <p className="ledger-hint">and {tools.length - MOST_SHOWN} more</p>}
          </>
        )}
      </div>
    </div>
  );
}

function Mend({ header, row, onTake }: { header: string; row: number; onTake: (value: string) => void }) {
  const [text, setText] = useState('');
  return (
    <TextInput
      size="xs"
      w={150}
      placeholder={header}
      aria-label={`${header} of row ${row}`}
      value={text}
      onChange={(e) => setText(e.currentTarget.value)}
      onKeyDown={(e) => e.key === 'Enter' && onTake(text)}
    />
  );
}

function Tools({ tools }: { tools: readonly TableTool[] }) {
  const unit = useAppSelector((s) => s.session.unit);
  return (
    <Table verticalSpacing={4} className="table-tools">
      <Table.Thead>
        <Table.Tr>
          <Table.Th>row</Table.Th>
          <Table.Th>picture</Table.Th>
          <Table.Th>name</Table.Th>
          <Table.Th>kind</Table.Th>
          <Table.Th>numbers</Table.Th>
          <Table.Th>assumed</Table.Th>
        </Table.Tr>
      </Table.Thead>
      <Table.Tbody>
        {tools.map(({ row, name, spec, made: { part } }) => {
          const assumed = new Set(part.assumed.map((a) => a.name));
          const sayAll = (names: readonly ValueName[]) => names.map((n) => `${n} ${sayValue(n, part.values[n] ?? 0, unit)}`).join(', ');
          const names = Object.keys(part.values) as ValueName[];
          const derived = new Set(part.derived.map((d) => d.name));
          return (
            <Table.Tr key={row}>
              <Table.Td className="number">{row}</Table.Td>
              <Table.Td className="table-picture">
                <ShapePicture shape={part.shape} />
              </Table.Td>
              <Table.Td>{name}</Table.Td>
              <Table.Td>{spec.kind}</Table.Td>
              <Table.Td className="number">{sayAll(names.filter((n) => !assumed.has(n) && !derived.has(n)))}</Table.Td>
              <Table.Td className="number ledger-hint">{sayAll(names.filter((n) => assumed.has(n)))}</Table.Td>
            </Table.Tr>
          );
        })}
      </Table.Tbody>
    </Table>
  );
}
