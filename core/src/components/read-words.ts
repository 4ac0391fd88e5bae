// What is printed on a box, or said at a counter, as a specification: designations, plain words and numbers in any order.
import { roundTo } from '#core/math';
import { readDesignation } from '#core/standards';
import { MM_PER_INCH } from '#core/units';
import type { ComponentSpec, SpecKind } from './spec-schema.ts';
import { type ValueName, VALUES } from './values.ts';

/** A word and what it was taken for. */
export interface UnderstoodWord {
  readonly text: string;
  readonly as: string;
}

export interface ReadWords {
  /** Undefined where no word says what it is. */
  readonly spec: ComponentSpec | undefined;
  readonly understood: readonly UnderstoodWord[];
  /** Words that nothing is known of, with where they begin. */
  readonly unknown: readonly { readonly text: string; readonly at: number; readonly why: string }[];
}

// Words by kind, longest first; plural and small letters.
const KIND_WORDS: readonly (readonly [RegExp, SpecKind])[] = [
  [/^(?:centre|center|spot|zentrier)[ -]?(?:drills?|bohrer)\b/, 'centre drill'],
  [/^(?:counter ?sinks?|kegelsenker|senker)\b/, 'countersink'],
  [/^(?:ball[ -]?(?:nose|end)?[ -]?(?:end )?mills?|ball cutters?|kugelfräser)\b/, 'ball end mill'],
  [/^(?:chamfer(?:ing)?[ -]?(?:mills?|cutters?|tools?)|fasenfräser)\b/, 'chamfer mill'],
  [/^(?:t[ -]?slot[ -]?cutters?|woodruff[ -]?cutters?|slot[ -]?cutters?|slitting[ -]?saws?|saws?|scheibenfräser|nutenfräser)\b/, 'slot cutter'],
  [/^(?:bull[ -]?nose(?:[ -]?(?:end )?mills?)?|end ?mills?|schaftfräser|fräser|torusfräser)\b/, 'end mill'],
  [/^(?:twist[ -]?drills?|drills?|spiralbohrer|bohrer)\b/, 'drill'],
  [/^(?:reamers?|reibahlen?)\b/, 'reamer'],
  [/^(?:taps?|gewindebohrer)\b/, 'tap'],
  [/^(?:collets?|spannzangen?)\b/, 'collet'],
  [/^(?:sleeves?|reducers?|reduzierhülsen?|hülsen?)\b/, 'sleeve'],
  [/^(?:inserts?|wendeplatten?)\b/, 'insert'],
];

const NUMBER = '(\\d+(?:[.,]\\d+)?(?:\\s*\\d+/\\d+)?|\\d+/\\d+|[.,]\\d+)';
const UNIT = '(?:\\s*(mm|in(?:ch)?|"))?(?![\\w/])';
// A letter or a word before a number, and what it means of which value.
const NAMED: readonly (readonly [RegExp, ValueName])[] = [
  [new RegExp(`^(?:corner )?r(?:e|adius)?\\s*=?\\s*${NUMBER}${UNIT}`), 'RE'],
  [new RegExp(`^(?:dc|d|ø|⌀|dia(?:meter)?)\\s*=?\\s*${NUMBER}${UNIT}`), 'DC'],
  [new RegExp(`^(?:oal|l1|overall)\\s*=?\\s*${NUMBER}${UNIT}`), 'OAL'],
  [new RegExp(`^(?:lcf|l2|flutes?|cutting length)\\s*=?\\s*${NUMBER}${UNIT}`), 'LCF'],
  [new RegExp(`^(?:lu|l3|usable|reach)\\s*=?\\s*${NUMBER}${UNIT}`), 'LU'],
  [new RegExp(`^(?:shank|dcon|d2)\\s*=?\\s*${NUMBER}${UNIT}`), 'DCON'],
  [new RegExp(`^(?:neck|dn|d3)\\s*=?\\s*${NUMBER}${UNIT}`), 'DN'],
  [new RegExp(`^(?:width|cw|w)\\s*=?\\s*${NUMBER}${UNIT}`), 'CW'],
  [new RegExp(`^(?:pitch|tp|p)\\s*=?\\s*${NUMBER}${UNIT}`), 'TP'],
  [new RegExp(`^(?:flange|bdx)\\s*=?\\s*${NUMBER}${UNIT}`), 'BDX'],
  [new RegExp(`^(?:bore|dconws)\\s*=?\\s*${NUMBER}${UNIT}`), 'DCONWS'],
];
const ANGLE = new RegExp(`^${NUMBER}\\s*(?:°|deg(?:rees?)?)`);
const PLAIN = new RegExp(`^${NUMBER}${UNIT}`);
const THREAD = /^m\s*(\d+(?:[.,]\d+)?)(?:\s*x\s*(\d+(?:[.,]\d+)?))?(?![\w])/;
const SIZE = /^er\s*-?\s*(11|16|20|25|32|40)(?!\d)/;
// Words that only join others, or say what is so anyway.
const IDLE =
  /^(?:x|×|to|by|-|\/|,|;|for|of|with|and|carbide|hss|solid|right|hand|rh|straight|shank|metric|vhm|iso|usual|length|z\s*\d+|\d+\s*(?:flutes?|teeth))(?![\w])/;

/** Reads one line of words and numbers. `unit`: of numbers without one. */
export function readWords(line: string, unit: 'mm' | 'inch' = 'mm'): ReadWords {
  const understood: UnderstoodWord[] = [];
  const unknown: { text: string; at: number; why: string }[] = [];
  const coded = codeIn(line);
  const text = line.toLowerCase();
  const values: Partial<Record<ValueName, number>> = {};
  const plain: { value: number; text: string; at: number }[] = [];
  let kind: SpecKind | undefined = coded?.kind;
  let size = '';
  const take = (name: ValueName, value: number, word: string) => {
    values[name] = value;
    understood.push({ text: word.trim(), as: `${VALUES[name].meaning} ${Math.round(value * 1000) / 1000}` });
  };
  if (coded) understood.push({ text: coded.text, as: `${coded.standard} ${coded.kind}` });
  for (let at = 0; at < text.length; ) {
    if (coded && at === coded.at) {
      at += coded.text.length;
      continue;
    }
    const rest = text.slice(at);
    const blank = /^[\s,;]+/.exec(rest);
    if (blank) {
      at += blank[0].length;
      continue;
    }
    const step = ((): number => {
      const sized = SIZE.exec(rest);
      if (sized) {
        size = sized[1];
        kind ??= 'collet';
        understood.push({ text: sized[0], as: `cone ER ${size}` });
        return sized[0].length;
      }
      const word = KIND_WORDS.find(([re]) => re.test(rest));
      if (word && (!coded || word[1] === coded.kind)) {
        const [found] = word[0].exec(rest) ?? [''];
        kind = word[1];
        understood.push({ text: found, as: word[1] });
        return found.length;
      }
      const thread = THREAD.exec(rest);
      if (thread && (kind === undefined || kind === 'tap')) {
        kind = 'tap';
        take('TD', numberOf(thread[1]), `M${thread[1]}`);
        if (thread[2]) take('TP', numberOf(thread[2]), thread[2]);
        return thread[0].length;
      }
      const angle = ANGLE.exec(rest);
      if (angle) {
        take('SIG', numberOf(angle[1]), angle[0]);
        return angle[0].length;
      }
      for (const [re, name] of NAMED) {
        const m = re.exec(rest);
        if (!m) continue;
        take(name, lengthOf(m[1], m[2], unit), m[0]);
        return m[0].length;
      }
      const number = PLAIN.exec(rest);
      if (number) {
        plain.push({ value: lengthOf(number[1], number[2], unit), text: number[0], at });
        return number[0].length;
      }
      const idle = IDLE.exec(rest);
      if (idle) return idle[0].length;
      const odd = /^[^\s,;]+/.exec(rest)?.[0] ?? rest;
      unknown.push({ text: line.slice(at, at + odd.length), at, why: 'nothing is known by this word' });
      return odd.length;
    })();
    at += Math.max(1, step);
  }
  // Numbers without a name, in the order in which people say them.
  if (kind !== undefined) {
    const order = PLAIN_ORDER[kind] ?? [];
    const open = order.filter((name) => values[name] === undefined);
    for (const [i, p] of plain.entries()) {
      const name = open[i];
      if (name) take(name, p.value, p.text);
      else unknown.push({ text: p.text.trim(), at: p.at, why: `a ${kind} has no further number without a name` });
    }
  }
  // D of a collet is what goes into it.
  if ((kind === 'collet' || kind === 'sleeve') && values.DC !== undefined) {
    values.DCONWS ??= values.DC;
    delete values.DC;
  }
  // What holds another tool has no diameter to cut with, and a sleeve's larger number is outside.
  if (kind === 'sleeve' && (values.DCON ?? 0) < (values.DCONWS ?? 0)) [values.DCON, values.DCONWS] = [values.DCONWS, values.DCON];
  const spec: ComponentSpec | undefined = kind && {
    kind,
    designation: coded?.code ?? '',
    values,
    shape: '',
    hand: coded?.hand ?? 'right',
    size,
  };
  return { spec, understood, unknown };
}

const PLAIN_ORDER: Readonly<Partial<Record<SpecKind, readonly ValueName[]>>> = {
  drill: ['DC', 'OAL', 'LCF'],
  'centre drill': ['DC', 'OAL'],
  countersink: ['DC', 'OAL'],
  reamer: ['DC', 'OAL', 'LCF'],
  tap: ['TD', 'TP', 'OAL'],
  'end mill': ['DC', 'OAL', 'LCF'],
  'ball end mill': ['DC', 'OAL', 'LCF'],
  'chamfer mill': ['DC', 'OAL'],
  'slot cutter': ['DC', 'CW', 'OAL'],
  collet: ['DCONWS'],
  sleeve: ['DCON', 'DCONWS', 'LS'],
};

interface Coded {
  readonly text: string;
  readonly at: number;
  readonly code: string;
  readonly standard: string;
  readonly kind: SpecKind;
  readonly hand?: 'right' | 'left' | 'neutral';
}

// A designation of ISO 1832, 5608 or 6261 among the words: one word, or two or three that follow each other.
function codeIn(line: string): Coded | undefined {
  const words = [...line.matchAll(/[^\s,;]+/g)].map((m) => ({ text: m[0], at: m.index }));
  for (const count of [3, 2, 1])
    for (let i = 0; i + count <= words.length; i++) {
      const last = words[i + count - 1];
      const text = line.slice(words[i].at, last.at + last.text.length);
      if (!/^[a-z]/i.test(text) || !/\d/.test(text)) continue;
      const read = readDesignation(text);
      if (!read.ok) continue;
      const { standard, code, hand } = read.value;
      const kind: SpecKind = standard === 'ISO 1832' ? 'insert' : standard === 'ISO 5608' ? 'turning holder' : 'boring bar';
      return { text, at: words[i].at, code, standard, kind, ...(hand ? { hand } : {}) };
    }
  return undefined;
}

function numberOf(text: string): number {
  const mixed = /^(?:(\d+)\s+)?(\d+)\/(\d+)$/.exec(text.trim());
  if (mixed) return Number(mixed[1] ?? 0) + Number(mixed[2]) / Number(mixed[3]);
  return Number(text.replace(',', '.'));
}

function lengthOf(text: string, unit: string | undefined, shown: 'mm' | 'inch'): number {
  const value = numberOf(text);
  const isInch = unit === undefined ? shown === 'inch' : unit !== 'mm';
  return roundTo(isInch ? value * MM_PER_INCH : value, 6);
}
