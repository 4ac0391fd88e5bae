import { type AnyRecord, hashPlain, isShelved, machineWithIds, nameBeside, setUpWithIds } from '#core/records';
import { shelved, withIds } from './bring-over.ts';
import { contentOf, type RecordsById } from './content.ts';

/** What a record of another Shelf is to this one. */
export type MergeState = 'new' | 'same' | 'newer' | 'older' | 'same name';
export const MERGE_STATES: readonly MergeState[] = ['new', 'newer', 'older', 'same name', 'same'];

/** What is done with it. */
export const MERGE_CHOICES = ['take', 'keep mine', 'have both'] as const;
export type MergeChoice = (typeof MERGE_CHOICES)[number];

/** What is done where nobody chose: nothing of mine is lost, and nothing stands twice. */
export const USUAL_CHOICE: Readonly<Record<MergeState, MergeChoice>> = {
  new: 'take',
  same: 'keep mine',
  newer: 'take',
  older: 'keep mine',
  'same name': 'have both',
};

export interface Merging {
  readonly theirs: AnyRecord;
  readonly state: MergeState;
  /** Which one of this Shelf it is about. */
  readonly mine?: AnyRecord;
}

/** What bringing in the records of another Shelf would do, before it is done. Those with the same id are the same thing at different times. */
export function planMerge(mine: RecordsById, theirs: RecordsById): Merging[] {
  const named = new Map<string, AnyRecord>();
  for (const r of Object.values(mine)) named.set(placeOf(r), r);
  return Object.values(theirs).map((record): Merging => {
    const same = mine[record.id];
    if (same && same.kind === record.kind) {
      if (isTheSame(same, mine, record, theirs)) return { theirs: record, state: 'same', mine: same };
      return { theirs: record, state: record.changedAt > same.changedAt ? 'newer' : 'older', mine: same };
    }
    const other = named.get(placeOf(record));
    if (!other) return { theirs: record, state: 'new' };
    return { theirs: record, state: isAlike(other, mine, record, theirs) ? 'same' : 'same name', mine: other };
  });
}

/** Brings in what was planned: the records as they are afterwards, by id; only those that change. */
export function merge(
  mine: RecordsById,
  plan: readonly Merging[],
  given: { readonly choices: Readonly<Partial<Record<MergeState, MergeChoice>>>; readonly newId: () => string },
): Record<string, AnyRecord> {
  const choiceOf = ({ state }: Merging): MergeChoice => given.choices[state] ?? USUAL_CHOICE[state];
  // Which record of this Shelf each of theirs is from now on.
  const ids = new Map(
    plan.map((m) => {
      const choice = choiceOf(m);
      const isTaken = mine[m.theirs.id] !== undefined;
      return [m.theirs.id, choice === 'have both' ? (isTaken ? given.newId() : m.theirs.id) : (m.mine?.id ?? m.theirs.id)];
    }),
  );
  const names = new Set(Object.values(mine).map(placeOf));
  const after: Record<string, AnyRecord> = {};
  for (const m of plan) {
    const choice = choiceOf(m);
    if (choice === 'keep mine' && m.mine) continue;
    const id = ids.get(m.theirs.id) as string;
    const moved = inItsSet({ ...m.theirs, id }, ids);
    const isInPlace = m.mine?.id === id;
    const name = isInPlace ? moved.name : nameBeside(moved.name, (n) => names.has(placeOf({ ...moved, name: n })));
    names.add(placeOf({ ...moved, name }));
    after[id] = { ...moved, name };
  }
  return after;
}

const setOf = (r: AnyRecord): string => (isShelved(r) ? (r.shelf.set ?? '') : '');
const placeOf = (r: AnyRecord): string => JSON.stringify([r.kind, setOf(r), r.name]);

// Mostly they are the same to the letter, which is told at once.
const isTheSame = (a: AnyRecord, mine: RecordsById, b: AnyRecord, theirs: RecordsById): boolean =>
  (a.kind !== 'assembly' && JSON.stringify(a) === JSON.stringify(b)) || isSame(a, mine, b, theirs);

function isSame(a: AnyRecord, mine: RecordsById, b: AnyRecord, theirs: RecordsById): boolean {
  if (!isShelved(a) || !isShelved(b)) return isAlike(a, mine, b, theirs);
  const shelf = (r: typeof a) => JSON.stringify([r.name, r.shelf.set, r.shelf.maker, [...r.shelf.tags].sort()]);
  return isAlike(a, mine, b, theirs) && shelf(a) === shelf(b);
}

const isAlike = (a: AnyRecord, mine: RecordsById, b: AnyRecord, theirs: RecordsById): boolean =>
  isShelved(a) && isShelved(b) ? contentOf(a, mine) === contentOf(b, theirs) : hashPlain(timeless(a)) === hashPlain(timeless(b));

// What a record says, whoever it is and whenever it was made.
const timeless = ({ id: _, createdAt: __, changedAt: ___, ...said }: AnyRecord) => said;

function inItsSet(record: AnyRecord, ids: ReadonlyMap<string, string>): AnyRecord {
  if (record.kind === 'set-up') return setUpWithIds(record, (id) => ids.get(id) ?? id);
  if (record.kind === 'machine') return machineWithIds(record, (id) => ids.get(id) ?? id);
  if (record.kind === 'trial') return { ...record, setUpId: ids.get(record.setUpId) ?? record.setUpId };
  if (!isShelved(record)) return record;
  const { set, from } = record.shelf;
  const shelf = { ...record.shelf, set: set === null ? null : (ids.get(set) ?? set), from: from && { ...from, id: ids.get(from.id) ?? from.id } };
  return withIds({ ...record, shelf }, ids);
}

/** Records whose set is not among them are on the master shelf. */
export function withoutLostSets(records: RecordsById): Record<string, AnyRecord> {
  const lost = shelved(records).filter((r) => r.shelf.set !== null && records[r.shelf.set]?.kind !== 'set');
  return { ...records, ...Object.fromEntries(lost.map((r) => [r.id, { ...r, shelf: { ...r.shelf, set: null } }])) };
}
