import { type AnyRecord, type AssemblyRecord, isShelved, nameBeside, type ShelvedRecord, withComponentIds } from '#core/records';
import { contentOf, type RecordsById, standingOf } from './content.ts';

/** What can be done where something of the same name is there: take that, have both, or put this one in its place. */
export const CLASH_CHOICES = ['use', 'beside', 'replace'] as const;
export type ClashChoice = (typeof CLASH_CHOICES)[number];

/** One record on its way into a set. */
export interface Bringing {
  readonly record: ShelvedRecord;
  /** 'there': it was brought over before, or comes from there, and is the same. */
  readonly state: 'new' | 'there' | 'clash';
  /** Which one is there. */
  readonly other?: ShelvedRecord;
  /** What a clash is about. */
  readonly why?: 'name' | 'copy' | 'original';
}

/** What bringing records over to a set (null: the master shelf) would do, with all that they are made of, before it is done. */
export function planBringing(records: RecordsById, ids: readonly string[], set: string | null): Bringing[] {
  const inSet = shelved(records).filter((r) => r.shelf.set === set);
  const copies = new Map(inSet.flatMap((r) => (r.shelf.from ? [[r.shelf.from.id, r] as const] : [])));
  const names = new Map(inSet.map((r) => [`${r.kind} ${r.name}`, r]));
  return withParts(records, ids).map((record): Bringing => {
    const isSame = (other: ShelvedRecord) => contentOf(other, records) === contentOf(record, records);
    if (record.shelf.set === set) return { record, state: 'there', other: record };
    const copy = copies.get(record.id);
    if (copy) return isSame(copy) ? { record, state: 'there', other: copy } : { record, state: 'clash', other: copy, why: 'copy' };
    const original = record.shelf.from ? records[record.shelf.from.id] : undefined;
    if (isShelved(original) && original.shelf.set === set)
      return isSame(original) ? { record, state: 'there', other: original } : { record, state: 'clash', other: original, why: 'original' };
    const named = names.get(`${record.kind} ${record.name}`);
    if (named) return isSame(named) ? { record, state: 'there', other: named } : { record, state: 'clash', other: named, why: 'name' };
    return { record, state: 'new' };
  });
}

/** Brings over what was planned: the records as they are afterwards, by id. Clashes without a choice stand beside. */
export function bringOver(
  records: RecordsById,
  plan: readonly Bringing[],
  set: string | null,
  given: { readonly choices: Readonly<Record<string, ClashChoice>>; readonly newId: () => string; readonly now: string },
): Record<string, ShelvedRecord> {
  const choiceOf = (b: Bringing): ClashChoice => (b.state === 'there' ? 'use' : b.state === 'new' ? 'beside' : (given.choices[b.record.id] ?? 'beside'));
  const ids = new Map(plan.map((b) => [b.record.id, b.other && choiceOf(b) !== 'beside' ? b.other.id : given.newId()]));
  const taken = new Set(
    shelved(records)
      .filter((r) => r.shelf.set === set)
      .map((r) => `${r.kind} ${r.name}`),
  );
  const after: Record<string, ShelvedRecord> = {};
  for (const b of plan) {
    const choice = choiceOf(b);
    if (choice === 'use') continue;
    const { record } = b;
    const id = ids.get(record.id) as string;
    const replaced = choice === 'replace' ? b.other : undefined;
    const name = replaced?.name ?? nameBeside(record.name, (n) => taken.has(`${record.kind} ${n}`));
    taken.add(`${record.kind} ${name}`);
    after[id] = withIds(
      {
        ...record,
        id,
        name,
        // What takes an original's place stays an original.
        shelf: { ...record.shelf, set, from: b.why === 'original' ? (replaced?.shelf.from ?? null) : originOf(record, records, given.now) },
        createdAt: replaced?.createdAt ?? given.now,
        changedAt: given.now,
      },
      ids,
    );
    // The copy that gave its content to the original is like it now.
    if (b.why === 'original' && replaced && record.shelf.from)
      after[record.id] ??= { ...record, shelf: { ...record.shelf, from: originOf(record, records, given.now, replaced.id) } };
  }
  return after;
}

/**
 * Takes over what an original has become: the record keeps its id, name and place. Undefined where the original is gone. What the original is made
 * of comes along; a part that is there follows too, unless it was changed there.
 */
export function takeOver(
  records: RecordsById,
  id: string,
  given: { readonly newId: () => string; readonly now: string },
): Record<string, ShelvedRecord> | undefined {
  const record = records[id];
  if (!isShelved(record) || !record.shelf.from) return undefined;
  const original = records[record.shelf.from.id];
  if (!isShelved(original) || original.kind !== record.kind) return undefined;
  const parts = planBringing(records, [original.id], record.shelf.set).filter((b) => b.record.id !== original.id);
  const choices = Object.fromEntries(parts.map((b) => [b.record.id, choiceForPart(b, records)]));
  const brought = bringOver(records, parts, record.shelf.set, { ...given, choices });
  const all: RecordsById = { ...records, ...brought };
  const ids = new Map(
    parts.map((b) => [b.record.id, b.other && b.state === 'there' ? b.other.id : (idOfCopy(all, b.record.id, record.shelf.set) ?? b.record.id)]),
  );
  return {
    ...brought,
    [id]: withIds(
      {
        ...original,
        id,
        name: record.name,
        shelf: { ...record.shelf, from: originOf(original, records, given.now) },
        createdAt: record.createdAt,
        changedAt: given.now,
      },
      ids,
    ),
  };
}

// Another thing of the same name stays what it is.
const choiceForPart = ({ why, other }: Bringing, records: RecordsById): ClashChoice =>
  why !== 'copy' || !other ? 'beside' : standingOf(other, records) === 'original changed' ? 'replace' : 'use';

const idOfCopy = (records: RecordsById, original: string, set: string | null): string | undefined =>
  shelved(records).find((r) => r.shelf.set === set && r.shelf.from?.id === original)?.id;

const originOf = (record: ShelvedRecord, records: RecordsById, at: string, id = record.id) => ({ id, content: contentOf(record, records), at });

/** All records that have a place on the Shelf. */
export const shelved = (records: RecordsById): ShelvedRecord[] => Object.values(records).filter(isShelved);

/** Records with all that they are made of: components of assemblies, outlines of components. */
export function withParts(records: RecordsById, ids: readonly string[]): ShelvedRecord[] {
  const all = new Map<string, ShelvedRecord>();
  const take = (id: string) => {
    const record = records[id];
    if (!isShelved(record) || all.has(id)) return;
    if (record.kind === 'assembly') for (const p of record.pieces) take(p.componentId);
    if (record.kind === 'component' && record.source.kind === 'outline') take(record.source.outline);
    all.set(id, record);
  };
  for (const id of ids) take(id);
  return [...all.values()];
}

/** Records with all that they are made of and the sets that they are in: what is written as a file of its own. A set-up brings its assemblies and its machine, a trial its set-up. */
export function selectionOf(records: RecordsById, ids: readonly string[]): Record<string, AnyRecord> {
  const trials = ids.map((id) => records[id]).filter((r) => r?.kind === 'trial');
  const setUps = [...new Set([...ids, ...trials.map((r) => r.setUpId)])].map((id) => records[id]).filter((r) => r?.kind === 'set-up');
  const machines = setUps.map((r) => records[r.machineId]).filter((r) => r?.kind === 'machine');
  const parts = withParts(records, [...ids, ...setUps.flatMap((r) => r.places.map((p) => p.assemblyId))]);
  const sets = new Set(parts.map((r) => r.shelf.set));
  const kept = [...Object.values(records).filter((r) => r.kind === 'set' && sets.has(r.id)), ...parts, ...machines, ...setUps, ...trials];
  return Object.fromEntries(kept.map((r) => [r.id, r]));
}

/** A record whose parts are other records. */
export function withIds<T extends ShelvedRecord>(record: T, ids: ReadonlyMap<string, string>): T {
  const idOf = (id: string) => ids.get(id) ?? id;
  if (record.kind === 'assembly') return { ...record, ...withComponentIds<AssemblyRecord>(record, idOf) };
  if (record.kind === 'component' && record.source.kind === 'outline') return { ...record, source: { ...record.source, outline: idOf(record.source.outline) } };
  return record;
}
