import { useDeferredValue, useMemo } from 'react';
import type { ComponentRecord } from '#core/records';
import { entryOf, findOnShelf, readQuery } from '#core/shelf';
import { useAppSelector } from '../../../app/store.ts';

/** Those of components that a search finds, in the Shelf's own words and numbers; what of the search is not understood. */
export function useSearched(
  among: readonly ComponentRecord[],
  text: string,
): { readonly found: readonly ComponentRecord[]; readonly faults: readonly string[] } {
  const unit = useAppSelector((s) => s.session.unit);
  // Typing goes on while a large Shelf is searched.
  const asked = useDeferredValue(text);
  const { query, faults } = useMemo(() => readQuery(asked, unit), [asked, unit]);
  const found = useMemo(() => {
    const byId = new Map(among.map((c) => [c.id, c]));
    return findOnShelf(among.map(entryOf), query).entries.flatMap((e) => byId.get(e.id) ?? []);
  }, [among, query]);
  return { found, faults: faults.map((f) => f.why) };
}
