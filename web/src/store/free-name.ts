import { type AnyRecord, isShelved, nameBeside } from '#core/records';
import { store } from '../app/store.ts';

/** The names of all records of a kind in a set; null: on the master shelf. */
export const namesOf = (kind: AnyRecord['kind'], set: string | null = null): Set<string> =>
  new Set(
    Object.values(store.getState().library.records)
      .filter((r) => r.kind === kind && (!isShelved(r) || r.shelf.set === set))
      .map((r) => r.name),
  );

/** A name that no record of its kind has yet in its set. */
export const freeName = (wish: string, kind: AnyRecord['kind'], set: string | null = null): string => {
  const taken = namesOf(kind, set);
  return nameBeside(wish, (n) => taken.has(n));
};
