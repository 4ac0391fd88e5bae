import type { TableTool } from '#core/components';
import { type AnyRecord, type ComponentRecord, nameBeside } from '#core/records';
import { componentOfSpec, makeOfSpec, modelKeyOf, remake, summaryOfShape } from '#core/sources';
import { recordsChanged } from '../app/library-slice.ts';
import { selectComponents, store } from '../app/store.ts';
import { newId } from '../common/new-id.ts';
import { namesOf } from './free-name.ts';

// Cuts, inserts and moves were made for the numbers that it has.
const isWorkedOn = ({ cuts, inserts, moves }: ComponentRecord): boolean => cuts.length + inserts.length + moves.length > 0;

const now = () => new Date().toISOString();

/** Puts the tools of a table on the Shelf as one step of the history. Those that are there by their name are made anew instead of twice. */
export function addTools(tools: readonly TableTool[], fileName: string, set: string | null): { readonly added: number; readonly renewed: number } {
  const known = new Map(
    selectComponents(store.getState()).flatMap((c) => (c.source.kind === 'data' && c.shelf.set === set && !isWorkedOn(c) ? [[c.name, c] as const] : [])),
  );
  const taken = namesOf('component', set);
  const after: Record<string, AnyRecord> = {};
  let renewed = 0;
  for (const { name, spec, made, maker, tags, use } of tools) {
    const before = known.get(name);
    // Of two rows of one name the first renews it, the other is another tool.
    if (before && !after[before.id]) {
      renewed++;
      const make = makeOfSpec(spec, made.part);
      const { record } = remake(before, make, modelKeyOf(make.source), summaryOfShape(made.part.shape));
      // What the table does not say stays as somebody said it.
      after[before.id] = { ...record, use: { ...record.use, ...use, groups: record.use.groups }, changedAt: now() };
      continue;
    }
    const record = componentOfSpec(spec, made.part, { id: newId(), name: nameBeside(name, (n) => taken.has(n)), now: now(), use });
    taken.add(record.name);
    after[record.id] = { ...record, shelf: { ...record.shelf, set, maker, tags: [...tags] } };
  }
  store.dispatch(recordsChanged(`${tools.length} tools of ${fileName}`, after));
  return { added: tools.length - renewed, renewed };
}
