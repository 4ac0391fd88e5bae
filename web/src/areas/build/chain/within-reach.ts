import type { ComponentRecord } from '#core/records';

/** What an assembly of a set is built of: what is in its set, and what is on the master shelf and was not brought over yet. */
export function withinReach(all: readonly ComponentRecord[], set: string | null): ComponentRecord[] {
  const brought = new Set(all.flatMap((c) => (c.shelf.set === set && c.shelf.from ? [c.shelf.from.id] : [])));
  return all.filter((c) => c.shelf.set === set || (c.shelf.set === null && !brought.has(c.id)));
}
