import { VALUE_NAMES, type ValueName, VALUES } from '#core/components';
import { MM_PER_INCH } from '#core/units';
import { ANYTHING, type Facet, FACETS, type NumberRange, type ShelfQuery } from './search.ts';

/** Something in a search that is not understood, with where it begins (from 1). */
export interface QueryFault {
  readonly text: string;
  readonly at: number;
  readonly why: string;
}

const NAMES = new Map<string, ValueName>(VALUE_NAMES.map((n) => [n.toLowerCase(), n]));
const FACET_NAMES = new Set<string>(FACETS);
const TERM = /^([a-z][\w]*)\s*(<=|>=|=|<|>|:)\s*("[^"]*"|[^\s]+)/i;

/**
 * Reads a search as it is typed: words, `DC=8..10`, `OAL>=100`, `DC=1/4"`, and facets (`kind=cutter`, `mount="cylindrical 10"`,
 * `tag=roughing`). `unit`: of lengths without one.
 */
export function readQuery(typed: string, unit: 'mm' | 'inch' = 'mm'): { readonly query: ShelfQuery; readonly faults: readonly QueryFault[] } {
  // Quotes as a text program makes them are quotes.
  const text = typed.replace(/[“”„]/g, '"');
  const words: string[] = [];
  const chosen: Partial<Record<Facet, string[]>> = {};
  const ranges: NumberRange[] = [];
  const faults: QueryFault[] = [];
  for (let at = 0; at < text.length; ) {
    const rest = text.slice(at);
    const blank = /^[\s,;]+/.exec(rest);
    if (blank) {
      at += blank[0].length;
      continue;
    }
    const term = TERM.exec(rest);
    const name = term && NAMES.get(term[1].toLowerCase());
    const facet = term?.[1].toLowerCase();
    if (term && name) {
      const range = rangeOf(name, term[2], bare(term[3]), unit);
      if (range) ranges.push(range);
      else faults.push({ text: term[0], at: at + 1, why: `${name} is a number: ${name}=8, ${name}>=8 or ${name}=8..10` });
      at += term[0].length;
      continue;
    }
    if (term && facet !== undefined && FACET_NAMES.has(facet) && (term[2] === '=' || term[2] === ':')) {
      (chosen[facet as Facet] ??= []).push(bare(term[3]));
      at += term[0].length;
      continue;
    }
    if (term) {
      faults.push({ text: term[1], at: at + 1, why: `neither a number of a tool nor one of ${FACETS.join(', ')}` });
      at += term[0].length;
      continue;
    }
    const word = /^(?:"([^"]*)"?|[^\s,;]+)/.exec(rest) as RegExpExecArray;
    words.push(word[1] ?? word[0]);
    at += word[0].length;
  }
  return { query: { ...ANYTHING, words: words.filter(Boolean), chosen, ranges }, faults };
}

const bare = (text: string): string => text.replace(/^"(.*)"$/, '$1');

// What differs by less is the same number, rounded.
const SAME = 0.0051;

function rangeOf(name: ValueName, sign: string, text: string, unit: 'mm' | 'inch'): NumberRange | undefined {
  const isLength = VALUES[name].unit === 'mm';
  const [low, high = low] = text.split('..').map((t) => numberOf(t, isLength ? unit : 'mm'));
  if (low === undefined || high === undefined || !Number.isFinite(low) || !Number.isFinite(high)) return undefined;
  switch (sign) {
    case '<':
      return { name, min: -Infinity, max: low - 1e-6 };
    case '<=':
      return { name, min: -Infinity, max: low };
    case '>':
      return { name, min: low + 1e-6, max: Infinity };
    case '>=':
      return { name, min: low, max: Infinity };
    default:
      return text.includes('..') ? { name, min: low, max: high } : { name, min: low - SAME, max: low + SAME };
  }
}

function numberOf(text: string, unit: 'mm' | 'inch'): number {
  const m = /^(\d+(?:[.,]\d+)?|\d+\/\d+|[.,]\d+)(mm|in|inch|"|°)?$/i.exec(text.trim());
  if (!m) return Number.NaN;
  const [top, below] = m[1].replace(',', '.').split('/').map(Number);
  const value = below === undefined ? top : top / below;
  const inches = m[2] === undefined ? unit === 'inch' : /^(in|inch|")$/i.test(m[2]);
  return inches ? value * MM_PER_INCH : value;
}
