import { Checkbox } from '@mantine/core';
import { useElementSize } from '@mantine/hooks';
import { useVirtualizer } from '@tanstack/react-virtual';
import { useCallback, useMemo, useRef } from 'react';
import type { ShelfEntry } from '#core/shelf';
import { selectionChanged } from '../../../app/shelf-slice.ts';
import { useAppDispatch, useAppSelector } from '../../../app/store.ts';
import { grouped } from '../use-found.ts';
import { Card } from './card.tsx';
import { TableHead, TableRow } from './table-row.tsx';

// Pixels: a card's least width with its gap, its height, a row of the table, a heading.
const [CARD_WIDTH, GAP, CARD_HEIGHT, ROW_HEIGHT, HEAD_HEIGHT] = [216, 14, 216, 38, 42];
const SIZES: Readonly<Record<Row['kind'], number>> = { head: HEAD_HEIGHT, cards: CARD_HEIGHT + GAP, line: ROW_HEIGHT };
// Rows beyond the edge that are drawn ahead.
const AHEAD = 4;

type Row =
  | { readonly kind: 'head'; readonly text: string; readonly count: number }
  | { readonly kind: 'cards'; readonly entries: readonly ShelfEntry[] }
  | { readonly kind: 'line'; readonly entry: ShelfEntry };

interface ShelfListProps {
  readonly entries: readonly ShelfEntry[];
  readonly setName: (id: string | null) => string;
  readonly onBring: (ids: readonly string[]) => void;
}

/** What was found, as pictures or as a table, under headings; only what is in sight is drawn, however many there are. */
export function ShelfList({ entries, setName, onBring }: ShelfListProps) {
  const dispatch = useAppDispatch();
  const { view, grouping, columns, selected } = useAppSelector((s) => s.shelf);
  const { ref: sized, width } = useElementSize();
  const scroller = useRef<HTMLDivElement | null>(null);
  const last = useRef<string | null>(null);
  const across = view === 'table' ? 1 : Math.max(1, Math.floor((width + GAP) / (CARD_WIDTH + GAP)));
  const groups = useMemo(() => grouped(entries, grouping, setName), [entries, grouping, setName]);
  const rows = useMemo(() => rowsOf(groups, across, view), [groups, across, view]);
  // Asked of every row when it is another function: these stay the same as long as the rows do.
  const sizeOf = useCallback((i: number) => SIZES[rows[i].kind], [rows]);
  const nameOf = useCallback((i: number) => keyOf(rows[i]), [rows]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: sizeOf,
    overscan: AHEAD,
    getItemKey: nameOf,
  });
  const chosen = useMemo(() => new Set(selected), [selected]);
  const order = useMemo(() => groups.flatMap(([, of]) => of.map((e) => e.id)), [groups]);
  const select = useCallback(
    (id: string, isRange: boolean) => {
      const [from, to] = [last.current === null ? -1 : order.indexOf(last.current), order.indexOf(id)];
      const range = isRange && from >= 0 ? order.slice(Math.min(from, to), Math.max(from, to) + 1) : [id];
      const isOn = isRange || !chosen.has(id);
      last.current = id;
      dispatch(selectionChanged(isOn ? [...new Set([...chosen, ...range])] : [...chosen].filter((c) => c !== id)));
    },
    [chosen, order, dispatch],
  );
  const isAll = order.length > 0 && order.every((id) => chosen.has(id));
  const isTable = view === 'table';
  const all = (
    <Checkbox
      size="xs"
      aria-label={isAll ? 'Select none' : `Select all ${order.length}`}
      checked={isAll}
      indeterminate={!isAll && selected.length > 0}
      onChange={() => dispatch(selectionChanged(isAll ? [] : order))}
    />
  );
  return (
    <div
      className="shelf-scroll"
      ref={scroller}
      {...(isTable ? { role: 'table', 'aria-label': 'Found on the Shelf', 'aria-rowcount': entries.length + 1 } : {})}
    >
      {isTable && <TableHead columns={columns} all={all} />}
      <div ref={sized} className="shelf-rows" style={{ height: virtual.getTotalSize() }} {...(isTable ? { role: 'rowgroup' } : {})}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index];
          return (
            <div
              key={item.key}
              data-index={item.index}
              // Cards say one line more where their original has changed.
              ref={row.kind === 'cards' ? virtual.measureElement : undefined}
              className="shelf-row"
              style={{ transform: `translateY(${item.start}px)` }}
              {...(isTable ? { role: row.kind === 'head' ? 'row' : 'none' } : {})}
            >
              {row.kind === 'head' && (
                // In a table a heading stands in a cell of its own.
                <div {...(isTable ? { role: 'cell' } : {})}>
                  <h2>
                    {row.text} <span className="ledger-hint">{row.count.toLocaleString('en')}</span>
                  </h2>
                </div>
              )}
              {row.kind === 'cards' && (
                <div className="cards" style={{ gridTemplateColumns: `repeat(${across}, minmax(0, 1fr))` }}>
                  {row.entries.map((entry) => (
                    <Card key={entry.id} entry={entry} isSelected={chosen.has(entry.id)} onSelect={select} onBring={onBring} />
                  ))}
                </div>
              )}
              {row.kind === 'line' && (
                <TableRow entry={row.entry} columns={columns} isSelected={chosen.has(row.entry.id)} onSelect={select} onBring={onBring} />
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

function rowsOf(groups: ReturnType<typeof grouped>, across: number, view: 'pictures' | 'table'): Row[] {
  const rows: Row[] = [];
  for (const [text, entries] of groups) {
    if (text !== '') rows.push({ kind: 'head', text, count: entries.length });
    if (view === 'table') for (const entry of entries) rows.push({ kind: 'line', entry });
    else for (let i = 0; i < entries.length; i += across) rows.push({ kind: 'cards', entries: entries.slice(i, i + across) });
  }
  return rows;
}

const keyOf = (row: Row): string => (row.kind === 'head' ? `head ${row.text}` : row.kind === 'cards' ? `cards ${row.entries[0].id}` : row.entry.id);
