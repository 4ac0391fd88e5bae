// What is printed on a box, or said at a counter, as a specification: designations, plain words and numbers in any order.
import { AS_USUAL, CUTTING_MATERIAL_WORDS, type ToolUse } from '#core/cutting';
import { sayWhat } from '#core/issues';
import { roundTo } from '#core/math';
import { isInsertCode, readDesignation } from '#core/standards';
import { MM_PER_INCH } from '#core/units';
import type { ComponentSpec, SpecKind } from '../spec-schema.ts';
import { type ValueName, VALUES } from '../values.ts';
import { numberedDrill, threadIn } from './threads.ts';
import { tradeCodeIn } from './trade-codes.ts';
import {
  ANGLE,
  ANGLE_OF,
  COOLANT_WORDS,
  CUTTING_MATERIAL_WORDS_IN,
  FIT,
  HAND,
  IDLE,
  KIND_WORDS,
  NAMED,
  NAMED_ANGLES,
  PLAIN,
  PLAIN_ORDER,
  SHANK,
  SIDE,
  SIZE,
  TEETH,
} from './vocabulary.ts';

/** A word and what it was taken for. */
export interface UnderstoodWord {
  readonly text: string;
  readonly as: string;
}

export interface ReadWords {
  /** Undefined where no word says what it is. */
  readonly spec: ComponentSpec | undefined;
  /** What the words say of its use: what it is made of, how it is cooled. */
  readonly use: ToolUse;
  readonly understood: readonly UnderstoodWord[];
  /** Words that nothing is known of, with where they begin. */
  readonly unknown: readonly { readonly text: string; readonly at: number; readonly why: string }[];
}

type Hand = ComponentSpec['hand'];
interface Plain {
  readonly value: number;
  readonly text: string;
  readonly at: number;
}
interface Angle {
  readonly value: number;
  readonly text: string;
}

// Reads a line from left to right; each reader says how many characters it has taken, 0 for none.
class Reading {
  readonly understood: UnderstoodWord[] = [];
  readonly unknown: { text: string; at: number; why: string }[] = [];
  readonly values: Partial<Record<ValueName, number>> = {};
  readonly plain: Plain[] = [];
  readonly angles: Angle[] = [];
  kind: SpecKind | undefined;
  hand: Hand | undefined;
  inside = false;
  size = '';
  thread = '';
  use: ToolUse = AS_USUAL;
  readonly line: string;
  readonly text: string;
  readonly unit: 'mm' | 'inch';
  readonly coded: Coded | undefined;

  constructor(line: string, unit: 'mm' | 'inch') {
    this.line = line;
    this.text = line.toLowerCase();
    this.unit = unit;
    this.coded = codeIn(line);
    this.kind = this.coded?.kind ?? kindIn(this.text);
    if (this.coded) this.understood.push({ text: this.coded.text, as: `${this.coded.standard} ${this.coded.kind}` });
  }

  take(name: ValueName, value: number, word: string): void {
    this.values[name] = value;
    this.understood.push({ text: word.trim(), as: `${VALUES[name].meaning} ${Math.round(value * 1000) / 1000}` });
  }

  say(text: string, as: string): number {
    this.understood.push({ text: text.trim(), as });
    return text.length;
  }

  stepAt(at: number): number {
    const { coded } = this;
    if (coded && at === coded.at) return coded.text.length;
    const rest = this.text.slice(at);
    const blank = /^[\s,;]+/.exec(rest);
    if (blank) return blank[0].length;
    return (
      this.readSize(rest) ||
      this.readTrade(rest) ||
      this.readKind(rest) ||
      this.readThread(rest) ||
      this.readSide(rest) ||
      this.readUse(rest) ||
      this.readTeeth(rest) ||
      this.readNumbered(rest) ||
      this.readNamedAngle(rest) ||
      this.readAngle(rest) ||
      this.readShank(rest) ||
      this.readNamed(rest) ||
      this.readGrade(rest, at) ||
      this.readPlain(rest, at) ||
      (IDLE.exec(rest)?.[0].length ?? 0) ||
      this.readOdd(rest, at)
    );
  }

  private readSize(rest: string): number {
    const sized = SIZE.exec(rest);
    if (!sized) return 0;
    this.size = sized[1];
    this.kind ??= 'collet';
    return this.say(sized[0], `cone ER ${this.size}`);
  }

  private readTrade(rest: string): number {
    const code = this.coded ? undefined : tradeCodeIn(rest);
    if (!code) return 0;
    this.kind = code.kind;
    this.hand = code.hand;
    this.inside = code.inside;
    Object.assign(this.values, code.values);
    return this.say(rest.slice(0, code.length).toUpperCase(), code.as);
  }

  private readKind(rest: string): number {
    const [found] = kindsAt(rest).sort((a, b) => b.text.length - a.text.length);
    if (!found || (this.coded && found.kind !== this.coded.kind)) return 0;
    this.kind = found.kind;
    return this.say(found.text, found.kind);
  }

  private readThread(rest: string): number {
    if (this.kind !== undefined && this.kind !== 'tap' && this.kind !== 'thread mill') return 0;
    const thread = threadIn(rest);
    if (!thread) return 0;
    this.kind ??= 'tap';
    this.take('TD', thread.diameter, rest.slice(0, thread.length).toUpperCase());
    if (thread.pitch !== undefined) this.values.TP = thread.pitch;
    if (!thread.name.startsWith('M')) this.thread = thread.name;
    return thread.length;
  }

  private readSide(rest: string): number {
    const hand = HAND.exec(rest);
    if (hand) {
      this.hand = /^[lg]/.test(hand[1]) ? 'left' : hand[1] === 'neutral' ? 'neutral' : 'right';
      return this.say(hand[0], this.hand === 'neutral' ? 'neutral' : `${this.hand} hand`);
    }
    const side = SIDE.exec(rest);
    if (!side) return 0;
    this.inside = /^in/.test(side[1]);
    return this.say(side[0], this.inside ? 'inside' : 'outside');
  }

  private readUse(rest: string): number {
    for (const [re, cuttingMaterial] of CUTTING_MATERIAL_WORDS_IN) {
      const m = re.exec(rest);
      if (!m) continue;
      this.use = { ...this.use, cuttingMaterial };
      return this.say(m[0], CUTTING_MATERIAL_WORDS[cuttingMaterial]);
    }
    for (const [re, coolant] of COOLANT_WORDS) {
      const m = re.exec(rest);
      if (!m) continue;
      this.use = { ...this.use, coolant };
      return this.say(m[0], coolant === 'dry' ? 'dry' : `coolant ${coolant}`);
    }
    return 0;
  }

  private readTeeth(rest: string): number {
    const m = TEETH.exec(rest);
    if (!m) return 0;
    this.take('NOF', Number(m[1] ?? m[2]), m[0]);
    return m[0].length;
  }

  // "#7": a numbered drill.
  private readNumbered(rest: string): number {
    const m = this.kind === 'drill' ? /^#\s*(\d{1,2})(?![\w/])/.exec(rest) : null;
    const value = m && numberedDrill(Number(m[1]));
    if (!m || value === null || value === undefined) return 0;
    this.take('DC', value, m[0]);
    return m[0].length;
  }

  private readAngle(rest: string): number {
    const m = ANGLE.exec(rest);
    if (!m) return 0;
    this.angles.push({ value: numberOf(m[1]), text: m[0] });
    return m[0].length;
  }

  private readNamedAngle(rest: string): number {
    for (const [re, name] of NAMED_ANGLES) {
      const m = re.exec(rest);
      if (!m) continue;
      this.take(name, (m[1] === '' || m[1] === '+' ? 1 : -1) * numberOf(m[2]), m[0]);
      return m[0].length;
    }
    return 0;
  }

  // The shank of a holder: 2525, or 25 x 25.
  private readShank(rest: string): number {
    if (this.kind !== 'grooving holder' && this.kind !== 'threading holder' && this.kind !== 'turning holder') return 0;
    const m = this.values.H === undefined && !this.inside ? SHANK.exec(rest) : null;
    if (!m) return 0;
    this.take('H', Number(m[1] ?? m[3]), m[0]);
    this.values.B = Number(m[2] ?? m[4]);
    return m[0].length;
  }

  private readNamed(rest: string): number {
    for (const [re, name] of NAMED) {
      const m = re.exec(rest);
      if (!m) continue;
      this.take(this.meant(name), this.lengthOf(m[1], m[2]), m[0]);
      return m[0].length;
    }
    return 0;
  }

  // A word means something else of some kinds.
  private meant(name: ValueName): ValueName {
    if (name === 'CW' && this.kind === 'insert') return 'W1';
    if (name === 'DCONWS' && this.kind === 'solid bar') return 'DMIN';
    if (name === 'DCONWS' && this.kind === 'face mill') return 'DCONMS';
    return name;
  }

  // Behind a designation a number of many digits is a grade; behind a number a fit may stand.
  private readGrade(rest: string, at: number): number {
    const grade = this.coded && at > this.coded.at ? /^\d{3,5}[a-z]?(?![\w.,/])/.exec(rest) : null;
    if (grade) return this.say(grade[0], 'the maker’s own: grade');
    const fit = this.kind === 'reamer' ? FIT.exec(rest) : null;
    return fit ? this.say(fit[0].toUpperCase(), 'the fit of its hole') : 0;
  }

  private readPlain(rest: string, at: number): number {
    const fit = this.kind === 'reamer' || this.kind === 'drill' ? /^(\d+(?:[.,]\d+)?)/.exec(rest) : null;
    const class_ = fit && FIT.exec(rest.slice(fit[0].length));
    if (fit && class_) {
      this.plain.push({ value: this.lengthOf(fit[1], undefined), text: fit[0], at });
      this.understood.push({ text: class_[0].toUpperCase(), as: 'the fit of its hole' });
      return fit[0].length + class_[0].length;
    }
    const number = PLAIN.exec(rest);
    if (!number) return 0;
    this.plain.push({ value: this.lengthOf(number[1], number[2]), text: number[0], at });
    return number[0].length;
  }

  private readOdd(rest: string, at: number): number {
    const odd = /^[^\s,;]+/.exec(rest)?.[0] ?? rest;
    const text = this.line.slice(at, at + odd.length);
    // Behind a designation: chip breakers, grades.
    if (this.coded && at > this.coded.at && /^[a-z]{0,3}\d{0,5}[a-z]?$/.test(odd)) return this.say(text, 'the maker’s own: chip breaker or grade');
    this.unknown.push({ text, at, why: this.whyOdd(text, at) });
    return odd.length;
  }

  // What looks like a designation is told where it is wrong.
  private whyOdd(text: string, at: number): string {
    const next = /^\s*\S+/.exec(this.line.slice(at + text.length))?.[0] ?? '';
    for (const code of /^[a-z]{3,5}$/i.test(text) && /^\s*\d/.test(next) ? [text + next] : /^[a-z]{3,5}-?\d{2}/i.test(text) ? [text] : []) {
      const read = readDesignation(code);
      if (!read.ok && read.issues[0].code === 'designation.wrong') return sayWhat(read.issues[0]);
    }
    return 'nothing is known by this word';
  }

  private lengthOf(text: string, unit: string | undefined): number {
    const value = numberOf(text);
    // A fraction is one of an inch, whatever is shown.
    const isInch = unit === undefined ? this.unit === 'inch' || text.includes('/') : unit !== 'mm';
    return roundTo(isInch ? value * MM_PER_INCH : value, 6);
  }
}

/** Reads one line of words and numbers. `unit`: of numbers without one. */
export function readWords(line: string, unit: 'mm' | 'inch' = 'mm'): ReadWords {
  const r = new Reading(line, unit);
  for (let at = 0; at < line.length; ) at += Math.max(1, r.stepAt(at));
  const { kind } = r;
  if (kind === undefined) return { spec: undefined, use: r.use, understood: r.understood, unknown: r.unknown };
  placeAngles(r, kind);
  placePlain(r, kind);
  const { values } = r;
  // D of what holds a tool is what goes into it.
  if ((kind === 'collet' || kind === 'sleeve') && values.DC !== undefined) {
    values.DCONWS ??= values.DC;
    delete values.DC;
  }
  if (kind === 'solid bar' && values.DC !== undefined) {
    values.DCON ??= values.DC;
    delete values.DC;
  }
  // A sleeve's larger number is outside.
  if (kind === 'sleeve' && (values.DCON ?? 0) < (values.DCONWS ?? 0)) [values.DCON, values.DCONWS] = [values.DCONWS, values.DCON];
  const spec: ComponentSpec = {
    kind,
    designation: r.coded?.code ?? '',
    thread: r.thread,
    values,
    shape: '',
    hand: r.coded?.hand ?? r.hand ?? 'right',
    inside: r.inside,
    size: r.size,
  };
  return { spec, use: r.use, understood: r.understood, unknown: r.unknown };
}

function placeAngles(r: Reading, kind: SpecKind): void {
  for (const [i, { value, text }] of r.angles.entries()) {
    const name = kind === 'step drill' && i > 0 ? 'STA' : (ANGLE_OF[kind] ?? 'SIG');
    // A dovetail is called by the angle at its bottom.
    r.take(name, kind === 'dovetail mill' ? 90 - value : value, text);
  }
}

// Numbers without a name, in the order in which people say them.
function placePlain(r: Reading, kind: SpecKind): void {
  const { plain, values } = r;
  // "collet 32 d10": the first number is the cone's, where another one is the bore.
  const [first] = plain;
  if (
    kind === 'collet' &&
    r.size === '' &&
    first &&
    ER_SIZES.has(first.value) &&
    (plain.length > 1 || values.DC !== undefined || values.DCONWS !== undefined)
  ) {
    r.size = String(first.value);
    r.say(first.text, `cone ER ${r.size}`);
    plain.shift();
  }
  // An arbor that is called by its spigot alone.
  const order = kind === 'arbor' && plain.length === 1 ? (['DCONWS'] as const) : (PLAIN_ORDER[kind] ?? []);
  const open = order.filter((name) => values[name] === undefined);
  for (const [i, p] of plain.entries()) {
    const name = open[i] as ValueName | undefined;
    if (name) r.take(name, p.value, p.text);
    else r.unknown.push({ text: p.text.trim(), at: p.at, why: `a ${kind} has no further number without a name` });
  }
}

const ER_SIZES: ReadonlySet<number> = new Set([11, 16, 20, 25, 32, 40]);

// The kinds that a text may begin with.
const kindsAt = (text: string): { kind: SpecKind; text: string }[] =>
  KIND_WORDS.flatMap(([re, kind]) => {
    const m = re.exec(text);
    return m ? [{ kind, text: m[0] }] : [];
  });

// The kind that any word says: numbers before it are read in its light. The longest counts.
function kindIn(text: string): SpecKind | undefined {
  const words = [...text.matchAll(/(?<![\wäöü])[a-zäöü]/g)].map((m) => text.slice(m.index));
  return words.flatMap(kindsAt).sort((a, b) => b.text.length - a.text.length)[0]?.kind;
}

interface Coded {
  readonly text: string;
  readonly at: number;
  readonly code: string;
  readonly standard: string;
  readonly kind: SpecKind;
  readonly hand?: Hand;
}

// A designation among the words: one word, or two or three that follow each other; as few as it takes.
function codeIn(line: string): Coded | undefined {
  const words = [...line.matchAll(/[^\s;]+/g)].map((m) => ({ text: m[0], at: m.index }));
  for (let i = 0; i < words.length; i++)
    for (const count of [1, 2, 3]) {
      if (i + count > words.length) continue;
      const last = words[i + count - 1];
      const text = line.slice(words[i].at, last.at + last.text.length);
      if (!/^[a-z]/i.test(text) || !/\d/.test(text)) continue;
      const read = readDesignation(text);
      if (!read.ok) continue;
      const { standard, code, hand } = read.value;
      const kind: SpecKind = isInsertCode(read.value) ? 'insert' : standard === 'ISO 6261' ? 'boring bar' : 'turning holder';
      return { text, at: words[i].at, code, standard, kind, ...(hand ? { hand } : {}) };
    }
  return undefined;
}

function numberOf(text: string): number {
  const mixed = /^(?:(\d+)\s+)?(\d+)\/(\d+)$/.exec(text.trim());
  if (mixed) return Number(mixed[1] ?? 0) + Number(mixed[2]) / Number(mixed[3]);
  return Number(text.replace(',', '.'));
}
