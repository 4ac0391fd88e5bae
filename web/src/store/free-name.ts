import type { AnyRecord } from '#core/records';
import { store } from '../app/store.ts';

/** A name that is not among others: "Holder", "Holder 2", ... */
export function nameBeside(wish: string, names: ReadonlySet<string>): string {
  if (!names.has(wish)) return wish;
  for (let n = 2; ; n++) if (!names.has(`${wish} ${n}`)) return `${wish} ${n}`;
}

/** The names of all records of a kind. */
export const namesOf = (kind: AnyRecord['kind']): Set<string> =>
  new Set(
    Object.values(store.getState().library.records)
      .filter((r) => r.kind === kind)
      .map((r) => r.name),
  );

/** A name that no record of its kind has yet. */
export const freeName = (wish: string, kind: AnyRecord['kind']): string => nameBeside(wish, namesOf(kind));
