import Papa from 'papaparse';
import { VALUE_NAMES, type ValueName } from '#core/components';
import type { ShelvedRecord } from '#core/records';
import { entryOf, type ShelfEntry } from './entry.ts';

/** Columns that every table of the Shelf has before its numbers. */
const HEAD = ['name', 'kind', 'designation', 'thread', 'size', 'side', 'hand', 'mount', 'maker', 'tags', 'cutting material', 'coolant', 'file'] as const;

/** Numbers that any of the entries has, in the order in which they are listed. */
export function valuesIn(entries: readonly ShelfEntry[]): ValueName[] {
  const names = new Set<string>();
  for (const { values } of entries) for (const name in values) if (values[name as ValueName] !== undefined) names.add(name);
  return VALUE_NAMES.filter((n) => names.has(n));
}

/** Records as CSV (RFC 4180) by ISO 13399 names, mm and degrees, that a table of tools is read from again. A cell that a spreadsheet would run is quoted as text. */
export function writeShelfTable(records: readonly ShelvedRecord[]): string {
  const names = valuesIn(records.map(entryOf));
  const rows = records.map((record) => {
    const e = entryOf(record);
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
