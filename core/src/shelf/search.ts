import type { ValueName } from '#core/components';
import type { ShelfEntry } from './entry.ts';

/** By what the Shelf is narrowed; each one stands for what a person can choose of. */
export const FACETS = ['kind', 'type', 'mount', 'seat', 'hand', 'coolant', 'unit', 'maker', 'tag', 'state', 'from'] as const;
export type Facet = (typeof FACETS)[number];

export interface NumberRange {
  readonly name: ValueName;
  /** mm or degrees; both ends count. */
  readonly min: number;
  readonly max: number;
}

/** What is looked for. Several of one facet: any of them; several facets: all of them. */
export interface ShelfQuery {
  readonly words: readonly string[];
  readonly chosen: Readonly<Partial<Record<Facet, readonly string[]>>>;
  readonly ranges: readonly NumberRange[];
  /** Null: of the master shelf; undefined: wherever it is. */
  readonly set?: string | null;
}

export const ANYTHING: ShelfQuery = { words: [], chosen: {}, ranges: [] };

export interface Found {
  readonly entries: readonly ShelfEntry[];
  /** Of each facet how many there would be with each choice, all else as it is chosen; most first. */
  readonly counts: Readonly<Record<Facet, readonly (readonly [choice: string, count: number])[]>>;
}

// Each choice of a facet by a number, so that counting twenty thousand entries is adding up in arrays.
const names: readonly string[][] = FACETS.map(() => []);
const numbers: readonly Map<string, number>[] = FACETS.map(() => new Map<string, number>());
const known = new WeakMap<ShelfEntry, readonly (readonly number[])[]>();

function numberOf(facet: number, choice: string): number {
  const before = numbers[facet].get(choice);
  if (before !== undefined) return before;
  const number = names[facet].push(choice) - 1;
  numbers[facet].set(choice, number);
  return number;
}

// What an entry has of each facet, in their order; gathered once, as each search asks for all of it.
function allChoices(entry: ShelfEntry): readonly (readonly number[])[] {
  const before = known.get(entry);
  if (before) return before;
  const all = FACETS.map((f, i) =>
    choicesOf(entry, f)
      .filter(Boolean)
      .map((c) => numberOf(i, c)),
  );
  known.set(entry, all);
  return all;
}

/** What an entry has of a facet; what nothing says is ''. */
export function choicesOf(entry: ShelfEntry, facet: Facet): readonly string[] {
  switch (facet) {
    case 'seat':
      return entry.seats;
    case 'tag':
      return entry.tags;
    case 'maker':
      return [entry.maker];
    default:
      return [entry[facet] ?? ''];
  }
}

/** Finds what matches, and counts what each further choice would give. One pass over all entries. */
export function findOnShelf(entries: readonly ShelfEntry[], { words, chosen, ranges, set }: ShelfQuery): Found {
  const needles = words.map((w) => w.toLowerCase());
  const wanted = FACETS.map((facet, i) => (chosen[facet]?.length ? new Set(chosen[facet].map((c) => numberOf(i, c))) : undefined));
  const counts = names.map((of) => new Array<number>(of.length).fill(0));
  const found: ShelfEntry[] = [];
  for (const entry of entries) {
    if (set !== undefined && entry.set !== set) continue;
    if (!needles.every((n) => entry.text.includes(n)) || !ranges.every((r) => isWithin(entry.values[r.name], r))) continue;
    // A facet that alone refuses it would give it with another choice.
    const choices = allChoices(entry);
    let refusing = -1;
    let refusals = 0;
    for (let i = 0; i < FACETS.length && refusals < 2; i++) {
      const of = wanted[i];
      if (!of || choices[i].some((c) => of.has(c))) continue;
      refusing = i;
      refusals++;
    }
    if (refusals > 1) continue;
    if (refusals === 0) found.push(entry);
    for (let i = 0; i < FACETS.length; i++) {
      if (refusals === 1 && i !== refusing) continue;
      // An entry that was never looked at may have brought choices of its own.
      for (const c of choices[i]) counts[i][c] = (counts[i][c] ?? 0) + 1;
    }
  }
  const said: Partial<Record<Facet, [string, number][]>> = {};
  for (const [i, facet] of FACETS.entries()) {
    const rows = names[i].map((name, c): [string, number] => [name, counts[i][c] ?? 0]).filter(([, n]) => n > 0);
    said[facet] = rows.sort(([a, n], [b, m]) => m - n || (a < b ? -1 : 1));
  }
  return { entries: found, counts: said as Record<Facet, [string, number][]> };
}

const isWithin = (value: number | undefined, { min, max }: NumberRange): boolean => value !== undefined && value >= min - 1e-9 && value <= max + 1e-9;
