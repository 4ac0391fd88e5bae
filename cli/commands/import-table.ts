import { randomUUID } from 'node:crypto';
import { basename } from 'node:path';
import { z } from 'zod';
import { COLUMN_USES, type ReadTable, readTable, tableText } from '#core/components';
import { unwrap } from '#core/issues';
import { type AnyRecord, readText } from '#core/records';
import { writeShelfFile } from '#core/shelf';
import { componentOfSpec } from '#core/sources';
import type { CommandOutput, CommandRequest } from '../request.ts';
import { table } from '../table.ts';
import { readInput, writeOutput } from './io.ts';

const mapSchema = z.record(z.string(), z.enum(COLUMN_USES).nullable());

/** What a table of tools holds. */
export async function importTable(bytes: Uint8Array, { file, map, kind, out }: CommandRequest & { command: 'import' }): Promise<CommandOutput> {
  const said = map === undefined ? {} : unwrap(readText(mapSchema, new TextDecoder().decode(await readInput(map)), basename(map), 'map'));
  const read = unwrap(readTable(tableText(bytes), basename(file), { map: said, ...(kind ? { kind } : {}) }));
  const json = {
    rows: read.rows,
    components: read.tools.map(({ row, name, spec, made }) => ({ row, kind: spec.kind, name, facts: made.part.values })),
    errors: read.errors,
    map: Object.fromEntries(read.columns.map((c) => [c.header, c.use])),
  };
  if (out !== undefined) await writeOutput(out, shelfOf(read));
  const columns = table(
    ['column', 'is'],
    read.columns.map((c) => [c.header, c.use ?? 'not used']),
  );
  const wrong = read.errors.map((e) => `row ${e.row}${e.column ? `, ${e.column}` : ''}: ${e.message}`);
  return {
    json,
    text: `${basename(file)}: ${read.tools.length} of ${read.rows} rows are tools\n${columns}${wrong.length > 0 ? `\n${wrong.join('\n')}` : ''}${out === undefined ? '' : `\nwrote ${out}`}`,
    warnings: [],
    checkFailed: read.errors.length > 0,
  };
}

// The good rows as a Shelf of their own.
function shelfOf({ tools }: ReadTable): Uint8Array {
  const now = new Date().toISOString();
  const records: Record<string, AnyRecord> = {};
  for (const { name, spec, made, maker, tags, use } of tools) {
    const record = componentOfSpec(spec, made.part, { id: randomUUID(), name, now, use });
    records[record.id] = { ...record, shelf: { ...record.shelf, maker, tags: [...tags] } };
  }
  return writeShelfFile({ records, blobs: {} }, now);
}
