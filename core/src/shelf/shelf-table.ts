import Papa from 'papaparse';
import { VALUE_NAMES, type ValueName } from '#core/components';
import type { ShelfEntry } from './entry.ts';

/** Columns that every table of the Shelf has before its numbers. */
const HEAD = ['name', 'kind', 'designation', 'thread', 'size', 'side', 'hand', 'mount', 'maker', 'tags', 'cutting material', 'coolant', 'file'] as const;

/** Numbers that any of the entries has, in the order in which they are listed. */
export const valuesIn = (entries: readonly ShelfEntry[]): ValueName[] => VALUE_NAMES.filter((n) => entries.some((e) => e.values[n] !== undefined));

/** Entries as CSV (RFC 4180) by ISO 13399 names, mm and degrees, that a table of tools is read from again. A cell that a spreadsheet would run is quoted as text. */
export function writeShelfTable(entries: readonly ShelfEntry[]): string {
  const names = valuesIn(entries);
  const rows = entries.map((e) => {
    const { record } = e;
    const data = record.kind === 'component' && record.source.kind === 'data' ? record.source : undefined;
    const cells: Record<(typeof HEAD)[number], string> = {
      name: record.name,
      kind: e.type ?? e.kind,
      designation: record.kind === 'component' ? record.designation : '',
      thread: data?.spec.thread ?? '',
      size: data?.spec.size ?? '',
      side: data?.spec.inside ? 'inside' : '',
      hand: e.hand ?? '',
      mount: e.mount ?? '',
      maker: record.shelf.maker,
      tags: record.shelf.tags.join(', '),
      'cutting material': record.kind === 'component' ? (record.use.cuttingMaterial ?? '') : '',
      coolant: e.coolant ?? '',
      file: record.kind === 'component' && !data ? record.source.fileName : '',
    };
    return [...HEAD.map((h) => cells[h]), ...names.map((n) => e.values[n] ?? '')];
  });
  return Papa.unparse({ fields: [...HEAD, ...names], data: rows }, { escapeFormulae: true, newline: '\r\n' });
}
