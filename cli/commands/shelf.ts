import { randomUUID } from 'node:crypto';
import { basename, extname } from 'node:path';
import { IssueError, issue, say, unwrap } from '#core/issues';
import type { AnyRecord } from '#core/records';
import {
  entryOf,
  findOnShelf,
  merge,
  MERGE_STATES,
  planMerge,
  readQuery,
  readShelfFile,
  selectionOf,
  type ShelfContent,
  type ShelfEntry,
  shelved,
  USUAL_CHOICE,
  writeShelfFile,
  writeShelfTable,
} from '#core/shelf';
import type { CommandOutput, CommandRequest } from '../request.ts';
import { table } from '../table.ts';
import { readInput, writeOutput } from './io.ts';

/** What a Shelf's file holds, what of it matches a search, and what another one would change. */
export async function shelf(bytes: Uint8Array, { file, where, merge: other, out }: CommandRequest & { command: 'shelf' }): Promise<CommandOutput> {
  const read = unwrap(readShelfFile(bytes, basename(file)));
  const merged = other === undefined ? undefined : await mergedWith(read, other);
  const whole: ShelfContent = merged?.content ?? read;
  const found = where === undefined ? shelved(whole.records).map(entryOf) : search(whole, where);
  if (out !== undefined) await writeOutput(out, written(whole, where === undefined ? undefined : found, out));
  const sets = Object.values(whole.records).filter((r) => r.kind === 'set');
  const nameOf = (set: string | null) => sets.find((s) => s.id === set)?.name ?? null;
  const components = found.filter((e) => e.of === 'component');
  const assemblies = found.flatMap(({ id }) => {
    const record = whole.records[id];
    return record.kind === 'assembly' ? [record] : [];
  });
  const json = {
    components: components.map((e) => ({
      id: e.id,
      name: e.name,
      kind: e.kind,
      ...(e.type === null ? {} : { type: e.type }),
      ...(e.mount === null ? {} : { mount: e.mount }),
      seats: e.seats,
      state: e.state,
      set: nameOf(e.set),
      maker: e.maker,
      tags: e.tags,
      facts: e.values,
    })),
    assemblies: assemblies.map((r) => ({ id: r.id, name: r.name, pieces: r.pieces.length, set: nameOf(r.shelf.set) })),
    sets: sets.map((s) => ({ id: s.id, name: s.name, purpose: s.purpose, records: shelved(whole.records).filter((r) => r.shelf.set === s.id).length })),
    ...(merged ? { merge: merged.changes } : {}),
  };
  const rows = found.map((e) => [e.name, e.type ?? e.kind, e.mount ?? '', e.state, nameOf(e.set) ?? '']);
  const changes = merged
    ? `\n${table(
        ['merge', 'records', 'what is done'],
        merged.changes.map((c) => [c.state, String(c.names.length), c.choice]),
      )}`
    : '';
  return {
    json,
    text: `${basename(file)}: ${found.length} of ${shelved(whole.records).length} records, ${sets.length} sets\n${table(['name', 'kind', 'mount', 'state', 'set'], rows)}${changes}${out === undefined ? '' : `\nwrote ${out}`}`,
    warnings: [...read.faults, ...(merged?.faults ?? [])].map(say),
    checkFailed: false,
  };
}

function search(content: ShelfContent, where: string): readonly ShelfEntry[] {
  const { query, faults } = readQuery(where);
  if (faults.length > 0) throw new IssueError(faults.map(({ text, at, why }) => issue('shelf.bad-search', { text, at, why })));
  return findOnShelf(shelved(content.records).map(entryOf), query).entries;
}

async function mergedWith(mine: ShelfContent, file: string) {
  const theirs = unwrap(readShelfFile(await readInput(file), basename(file)));
  const plan = planMerge(mine.records, theirs.records);
  const records: Record<string, AnyRecord> = { ...mine.records, ...merge(mine.records, plan, { choices: {}, newId: randomUUID }) };
  const changes = MERGE_STATES.map((state) => ({ state, choice: USUAL_CHOICE[state], names: plan.filter((m) => m.state === state).map((m) => m.theirs.name) }));
  return { content: { records, blobs: { ...theirs.blobs, ...mine.blobs } }, changes: changes.filter((c) => c.names.length > 0), faults: theirs.faults };
}

// What was found with all that it is made of, or the whole; as a table only what was found.
function written(whole: ShelfContent, found: readonly ShelfEntry[] | undefined, out: string): Uint8Array {
  const ids = found?.map((e) => e.id);
  if (extname(out).toLowerCase() === '.csv') {
    const listed = ids ? Object.fromEntries(ids.map((id) => [id, whole.records[id]])) : whole.records;
    return new TextEncoder().encode(writeShelfTable(shelved(listed)));
  }
  const records = ids ? selectionOf(whole.records, ids) : whole.records;
  return writeShelfFile({ records, blobs: whole.blobs }, new Date().toISOString());
}
