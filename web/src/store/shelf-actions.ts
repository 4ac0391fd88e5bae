import {
  type AnyRecord,
  type AssemblyRecord,
  type ComponentRecord,
  isShelved,
  nameBeside,
  type Piece,
  SET_VERSION,
  type SetPurpose,
  type ShelvedRecord,
  withComponentIds,
} from '#core/records';
import { type Bringing, bringOver, type ClashChoice, planBringing, shelved, standingOf, takeOver } from '#core/shelf';
import { recordsChanged } from '../app/library-slice.ts';
import { showDone, showProblem } from '../app/notify.tsx';
import { store } from '../app/store.ts';
import { newId } from '../common/new-id.ts';
import { keepCopy } from './copies.ts';
import { freeName, namesOf } from './free-name.ts';

const now = () => new Date().toISOString();
const records = () => store.getState().library.records;

// How many records may change without a copy of the Shelf being kept before.
const MANY = 50;

/** Changes many records as one step of the history; before very many a copy of the Shelf is kept. */
async function changeMany(label: string, after: Record<string, AnyRecord | null>): Promise<void> {
  const ids = Object.keys(after);
  if (ids.length === 0) return;
  if (ids.length >= MANY) await keepCopy(`before: ${label}`);
  store.dispatch(recordsChanged(label, after));
}

/** A new set; its id. */
export function addSet(name: string, purpose: SetPurpose): string {
  const id = newId();
  const called = freeName(name.trim().slice(0, 120), 'set');
  store.dispatch(
    recordsChanged(`New set ${called}`, { [id]: { kind: 'set', version: SET_VERSION, id, name: called, purpose, createdAt: now(), changedAt: now() } }),
  );
  return id;
}

/** Takes a set apart: what is in it goes to the master shelf, or with the set. */
export async function endSet(id: string, what: 'to the master shelf' | 'with all in it'): Promise<void> {
  const set = records()[id];
  if (set?.kind !== 'set') return;
  const inside = shelved(records()).filter((r) => r.shelf.set === id);
  const after: Record<string, AnyRecord | null> = { [id]: null };
  const taken = { component: namesOf('component'), assembly: namesOf('assembly'), outline: namesOf('outline') };
  for (const r of inside) {
    const name = nameBeside(r.name, (n) => taken[r.kind].has(n));
    taken[r.kind].add(name);
    after[r.id] = what === 'with all in it' ? null : { ...r, name, shelf: { ...r.shelf, set: null }, changedAt: now() };
  }
  await changeMany(`Took the set ${set.name} apart`, after);
  showDone(
    `The set ${set.name} is gone${inside.length > 0 ? `, its ${inside.length} ${what === 'with all in it' ? 'records with it' : 'records are on the master shelf'}` : ''}. Ctrl+Z brings it back.`,
  );
}

/** Says something of many records: tags to add or take away, or who made them. */
export async function sayOfMany(
  ids: readonly string[],
  said: { readonly add?: readonly string[]; readonly drop?: readonly string[]; readonly maker?: string },
): Promise<void> {
  const { add = [], drop = [], maker } = said;
  const after = Object.fromEntries(
    chosen(ids).map((r) => {
      const tags = [...new Set([...r.shelf.tags.filter((t) => !drop.includes(t)), ...add])].slice(0, 30);
      return [r.id, { ...r, shelf: { ...r.shelf, tags, ...(maker === undefined ? {} : { maker }) }, changedAt: now() }];
    }),
  );
  await changeMany(maker === undefined ? `Tags of ${ids.length} records` : `Maker of ${ids.length} records`, after);
}

const chosen = (ids: readonly string[]): ShelvedRecord[] => ids.map((id) => records()[id]).filter(isShelved);

/** Deletes many; components that a remaining assembly uses stay, and that is said. */
export async function deleteMany(ids: readonly string[]): Promise<void> {
  const going = new Set(ids);
  const users = new Map<string, string>();
  for (const r of Object.values(records())) if (r.kind === 'assembly' && !going.has(r.id)) for (const p of r.pieces) users.set(p.componentId, r.name);
  const kept = ids.filter((id) => users.has(id));
  const gone = ids.filter((id) => !users.has(id));
  await changeMany(`Deleted ${gone.length} records`, Object.fromEntries(gone.map((id) => [id, null])));
  if (gone.length > 0) showDone(`${gone.length} ${gone.length === 1 ? 'is' : 'are'} deleted. Ctrl+Z brings ${gone.length === 1 ? 'it' : 'them'} back.`);
  if (kept.length > 0)
    showProblem(
      kept
        .slice(0, 4)
        .map((id) => `${records()[id]?.name} stays: ${users.get(id)} uses it.`)
        .join(' ') + (kept.length > 4 ? ` And ${kept.length - 4} more.` : ''),
    );
}

/** Brings over what was planned. */
export async function bringOverTo(plan: readonly Bringing[], set: string | null, choices: Readonly<Record<string, ClashChoice>>): Promise<number> {
  const after = bringOver(records(), plan, set, { choices, newId, now: now() });
  const name = set === null ? 'the master shelf' : (records()[set]?.name ?? 'a set');
  await changeMany(`Brought ${Object.keys(after).length} over to ${name}`, after);
  return Object.keys(after).length;
}

/** Puts a component into an assembly as one step; one of the master shelf is brought over to the assembly's set with it. */
export const putPiece = (assemblyId: string, component: ComponentRecord, piece: Omit<Piece, 'componentId'>, label: string): void =>
  changeChain(assemblyId, [component], label, ({ pieces, edges }) => ({ pieces: [...pieces, { ...piece, componentId: component.id }], edges }));

/** Changes the chain of an assembly as one step. Components that come into it are brought over to its set with it, where they are of the master shelf. */
export function changeChain(
  assemblyId: string,
  coming: readonly ComponentRecord[],
  label: string,
  change: (assembly: AssemblyRecord) => Pick<AssemblyRecord, 'pieces' | 'edges'>,
): void {
  const all = records();
  const assembly = all[assemblyId];
  if (assembly?.kind !== 'assembly') return;
  const plan = planBringing(
    all,
    coming.map((c) => c.id),
    assembly.shelf.set,
  );
  const brought = bringOver(all, plan, assembly.shelf.set, { choices: {}, newId, now: now() });
  const isComing = new Set(coming.map((c) => c.id));
  const here = (id: string): string =>
    isComing.has(id)
      ? ((plan.find((b) => b.record.id === id && b.state === 'there')?.other ?? Object.values(brought).find((r) => r.shelf.from?.id === id))?.id ?? id)
      : id;
  const after = { ...withComponentIds({ ...assembly, ...change(assembly) }, here), changedAt: now() };
  store.dispatch(recordsChanged(label, { ...brought, [assemblyId]: after }));
}

/** A part of an assembly's chain as an assembly of its own, beside it; its id. */
export function savePart(assembly: AssemblyRecord, part: Pick<AssemblyRecord, 'pieces' | 'edges' | 'gaugeLine'>, name: string): string {
  const id = newId();
  const called = freeName(name, 'assembly', assembly.shelf.set);
  const record = { ...assembly, ...part, id, name: called, shelf: { ...assembly.shelf, from: null }, createdAt: now(), changedAt: now() };
  store.dispatch(recordsChanged(`${called} on the Shelf`, { [id]: record }));
  showDone(`${called} is on the Shelf.`);
  return id;
}

/** Takes over what the originals of records have become, as one step. */
export async function takeOverMany(ids: readonly string[]): Promise<void> {
  let all = records();
  const after: Record<string, AnyRecord> = {};
  for (const id of ids) {
    const taken = takeOver(all, id, { newId, now: now() });
    if (!taken) continue;
    Object.assign(after, taken);
    all = { ...all, ...taken };
  }
  await changeMany(ids.length === 1 ? `Took over ${all[ids[0]]?.name ?? ''}` : `Took over ${ids.length} changes`, after);
}

/** Records of a set whose originals have changed since they were brought over, and that were not changed themselves. */
export const outdatedIn = (all: Readonly<Record<string, AnyRecord>>, set: string | null): ShelvedRecord[] =>
  shelved(all).filter((r) => r.shelf.set === set && standingOf(r, all) === 'original changed');
