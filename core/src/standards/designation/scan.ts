/** One field of a designation: its characters, where they stand (from 1, both ends), what they are and what they mean. */
export interface DesignationField {
  readonly text: string;
  readonly from: number;
  readonly to: number;
  readonly field: string;
  readonly meaning: string;
}

/** Why a designation cannot be read on, at which characters. */
export interface DesignationFault {
  readonly text: string;
  readonly from: number;
  readonly to: number;
  readonly field: string;
  readonly wanted: string;
}

// Thrown within a reader only.
class Stopped extends Error {
  readonly fault: DesignationFault;
  constructor(fault: DesignationFault) {
    super(fault.field);
    this.fault = fault;
  }
}

/** Reads a designation from left to right, field by field, with where each stands in what was typed. */
export class Scan {
  readonly fields: DesignationField[] = [];
  private readonly chars: readonly { readonly char: string; readonly at: number }[];
  private at = 0;

  /** `skipped`: characters that people put between fields. */
  constructor(text: string, skipped: RegExp) {
    this.chars = [...text.toUpperCase()].map((char, i) => ({ char, at: i + 1 })).filter(({ char }) => !skipped.test(char));
  }

  /** What was read, without blanks. */
  get code(): string {
    return this.chars.map((c) => c.char).join('');
  }

  get rest(): string {
    return this.chars
      .slice(this.at)
      .map((c) => c.char)
      .join('');
  }

  /** Takes so many characters as a field that means something; where `meaning` is undefined it stops there. */
  take(count: number, field: string, wanted: string, meaningOf: (text: string) => string | undefined): string {
    const of = this.chars.slice(this.at, this.at + count);
    const text = of.map((c) => c.char).join('');
    const meaning = of.length < count ? undefined : meaningOf(text);
    if (meaning === undefined) this.stop(text, field, wanted);
    this.push(of, field, meaning);
    return text;
  }

  /** One letter of a table. */
  letter<T>(field: string, table: Readonly<Record<string, T>>, meaningOf: (value: T, letter: string) => string): string {
    const wanted = `one of ${Object.keys(table).join(', ')}`;
    return this.take(1, field, wanted, (l) => (Object.hasOwn(table, l) ? meaningOf(table[l], l) : undefined));
  }

  /** The longest beginning of what is left that a table has; stops where it has none. */
  longest<T>(field: string, table: Readonly<Record<string, T>>, meaningOf: (value: T) => string): T {
    const [found] = Object.keys(table)
      .filter((k) => this.rest.startsWith(k))
      .sort((a, b) => b.length - a.length);
    const count = found?.length ?? Math.max(1, /^[\d.]*/.exec(this.rest)?.[0].length ?? 1);
    this.take(count, field, `one of ${Object.keys(table).join(', ')}`, (t) => (Object.hasOwn(table, t) ? meaningOf(table[t]) : undefined));
    return table[found];
  }

  /** What follows as a maker's own addition. */
  addition(): void {
    const rest = this.rest;
    if (rest === '') return;
    this.take(rest.length, 'addition', 'letters and digits', (t) => (/^[A-Z0-9.+-]+$/.test(t) ? 'the maker’s own: chip breaker or grade' : undefined));
  }

  /** Takes a hyphen where there is one. */
  hyphen(): void {
    if (this.rest.startsWith('-')) this.at++;
  }

  stop(text: string, field: string, wanted: string): never {
    const first = this.chars[this.at]?.at ?? (this.chars.at(-1)?.at ?? 0) + 1;
    const last = this.chars[this.at + Math.max(1, text.length) - 1]?.at ?? first;
    throw new Stopped({ text, from: first, to: last, field, wanted });
  }

  private push(of: readonly { readonly at: number }[], field: string, meaning: string): void {
    const text = this.rest.slice(0, of.length);
    this.fields.push({ text, from: of[0].at, to: of[of.length - 1].at, field, meaning });
    this.at += of.length;
  }
}

/** What a reader gives, or where it stopped. */
export function scanned<T>(read: () => T): { readonly ok: true; readonly value: T } | { readonly ok: false; readonly fault: DesignationFault } {
  try {
    return { ok: true, value: read() };
  } catch (error) {
    if (error instanceof Stopped) return { ok: false, fault: error.fault };
    throw error;
  }
}
