import { useDeferredValue, useMemo } from 'react';
import type { ValueName } from '#core/components';
import { compareNames, entryOf, findOnShelf, type Found, inNameOrder, type QueryFault, readQuery, type ShelfEntry, shelved } from '#core/shelf';
import { selectPart, useAppSelector } from '../../app/store.ts';
import type { Grouping } from '../../app/shelf-slice.ts';

/** All of the Shelf in the order of its names; worked out anew when records change. Of many, what was kept of them until they are read. */
export function useEntries(): readonly ShelfEntry[] {
  const { records, listed } = useAppSelector((s) => s.library);
  return useMemo(() => inOrder(listed?.entries ?? shelved(records).map(entryOf)), [records, listed]);
}

// The order of before: what kept its name is in order already, and only what is new has to find its place.
let ordered: readonly ShelfEntry[] = [];

function inOrder(entries: readonly ShelfEntry[]): readonly ShelfEntry[] {
  const fresh = new Map(entries.map((e) => [e.id, e]));
  const stayed = ordered.flatMap(({ id, name }) => {
    const now = fresh.get(id);
    if (now?.name !== name) return [];
    fresh.delete(id);
    return now;
  });
  if (fresh.size === 0) ordered = stayed;
  // Of few new ones among many that are in order each is compared with some.
  else if (fresh.size <= stayed.length / 8) ordered = [...stayed, ...fresh.values()].sort((a, b) => compareNames(a.name, b.name));
  else ordered = inNameOrder([...stayed, ...fresh.values()], (e) => e.name);
  return ordered;
}

/** What is looked for on the Shelf, found, counted and sorted; and what of the search is not understood. */
export function useFound(entries: readonly ShelfEntry[]): Found & { readonly faults: readonly QueryFault[] } {
  const unit = useAppSelector((s) => s.session.unit);
  const part = useAppSelector(selectPart);
  const { text, chosen, sort, isDown } = useAppSelector((s) => s.shelf);
  // Typing goes on while a large Shelf is searched.
  const asked = useDeferredValue(text);
  const { query, faults } = useMemo(() => readQuery(asked, unit), [asked, unit]);
  const found = useMemo(() => {
    const all = Object.fromEntries(Object.entries(query.chosen).map(([f, c]) => [f, [...c]]));
    for (const [facet, choices] of Object.entries(chosen)) all[facet] = [...(all[facet] ?? []), ...choices];
    return findOnShelf(entries, { ...query, chosen: all, ...(part === 'all' ? {} : { set: part === 'master' ? null : part }) });
  }, [entries, query, chosen, part]);
  const sorted = useMemo(() => sortEntries(found.entries, sort, isDown), [found.entries, sort, isDown]);
  return { ...found, entries: sorted, faults };
}

function sortEntries(entries: readonly ShelfEntry[], sort: string, isDown: boolean): readonly ShelfEntry[] {
  const way = isDown ? -1 : 1;
  if (sort === 'name') return isDown ? [...entries].reverse() : entries;
  if (sort === 'newest' || sort === 'changed') {
    const at = (e: ShelfEntry) => (sort === 'newest' ? e.createdAt : e.changedAt);
    return [...entries].sort((a, b) => (at(a) < at(b) ? way : at(a) > at(b) ? -way : 0));
  }
  if (sort in WORDS) {
    const of = WORDS[sort];
    return [...entries].sort((a, b) => way * compareNames(of(a), of(b)));
  }
  // What has no such number stands at the end, whichever way.
  const value = (e: ShelfEntry) => e.values[sort as ValueName];
  return [...entries].sort((a, b) => {
    const [x, y] = [value(a), value(b)];
    return x === undefined ? (y === undefined ? 0 : 1) : y === undefined ? -1 : way * (x - y);
  });
}

/** Columns of words: what they say of an entry. */
export const WORDS: Readonly<Record<string, (e: ShelfEntry) => string>> = {
  kind: (e) => (e.type && e.type !== e.kind ? `${e.type}` : e.kind),
  mount: (e) => e.mount ?? '',
  seats: (e) => e.seats.join(', '),
  hand: (e) => e.hand ?? '',
  coolant: (e) => e.coolant ?? '',
  maker: (e) => e.maker,
  tags: (e) => e.tags.join(', '),
  state: (e) => e.state,
};

const WHAT = { assembly: 'Assemblies', component: 'Components', outline: 'Outlines' } as const;

/** The heading that an entry stands under. `setName`: of a set's id. */
export function groupOf(entry: ShelfEntry, grouping: Grouping, setName: (id: string | null) => string): string {
  switch (grouping) {
    case 'what it is':
      return WHAT[entry.of];
    case 'set':
      return setName(entry.set);
    case 'kind':
      return WORDS.kind(entry);
    case 'mount':
      return entry.mount ?? 'no mount';
    case 'maker':
      return entry.maker || 'no maker said';
    case 'state':
      return entry.state;
    case 'nothing':
      return '';
  }
}

const FIRST_GROUPS: readonly string[] = Object.values(WHAT);

/** Entries under their headings: what there is of each, in the order of the headings. */
export function grouped(
  entries: readonly ShelfEntry[],
  grouping: Grouping,
  setName: (id: string | null) => string,
): (readonly [string, readonly ShelfEntry[]])[] {
  if (grouping === 'nothing') return entries.length > 0 ? [['', entries]] : [];
  const groups = new Map<string, ShelfEntry[]>();
  for (const e of entries) {
    const name = groupOf(e, grouping, setName);
    const list = groups.get(name);
    if (list) list.push(e);
    else groups.set(name, [e]);
  }
  const rank = (name: string) => (grouping === 'what it is' ? FIRST_GROUPS.indexOf(name) : 0);
  return [...groups].sort(([a], [b]) => rank(a) - rank(b) || compareNames(a, b));
}
