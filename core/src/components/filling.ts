import { roundTo } from '#core/math';
import { type ValueName, VALUES, type Values } from './values.ts';

/** A number that follows from others. */
export interface Derived {
  readonly name: ValueName;
  readonly value: number;
  readonly formula: string;
}

/** A number that nobody gave and nothing says: a usual one. */
export interface Assumed {
  readonly name: ValueName;
  readonly value: number;
  readonly why: string;
}

/** Numbers that cannot all be. */
export interface Conflict {
  readonly name: ValueName;
  readonly given: number;
  /** What would agree; absent where there is no such number. */
  readonly wanted?: number;
  readonly message: string;
}

// mm and degrees. Numbers that differ by less were rounded on a box.
const SAME = 0.015;

/** Fills what a component needs: given numbers first, then what follows from them, then what is usual. */
export class Filling {
  readonly values: Partial<Record<ValueName, number>>;
  readonly derived: Derived[] = [];
  readonly assumed: Assumed[] = [];
  readonly conflicts: Conflict[] = [];
  /** Given numbers that follow from others anyway, as they were given. */
  readonly confirmed: ValueName[] = [];
  readonly missing: ValueName[] = [];
  /** What is to be known, and prevents nothing. */
  readonly notes: string[] = [];
  /** What has to be said and is no number. */
  readonly open: string[] = [];

  constructor(given: Values) {
    this.values = Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined));
    for (const [name, value] of Object.entries(this.values) as [ValueName, number][]) {
      const { min, max, meaning, unit } = VALUES[name];
      if (unit === 'count' && !Number.isInteger(value)) this.refuse(name, value, `${meaning} is a whole number`);
      if (!Number.isFinite(value) || value < min || value > max) this.refuse(name, value, `${meaning} is between ${min} and ${max}`);
    }
  }

  get(name: ValueName): number | undefined {
    return this.values[name];
  }

  /** A number that must be given; 0 is returned without it, and it is missing. */
  need(name: ValueName): number {
    const value = this.values[name];
    if (value === undefined) this.missing.push(name);
    return value ?? 0;
  }

  /** A number that follows; one that was given must agree with it. */
  derive(name: ValueName, value: number, formula: string): number {
    const tidy = roundTo(value, 6);
    const given = this.values[name];
    if (given === undefined) {
      this.values[name] = tidy;
      this.derived.push({ name, value: tidy, formula });
      return tidy;
    }
    if (Math.abs(given - tidy) > SAME) this.conflict(name, given, tidy, formula);
    else this.confirmed.push(name);
    return given;
  }

  /** A usual number where none was given. */
  assume(name: ValueName, value: number, why: string): number {
    const given = this.values[name];
    if (given !== undefined) return given;
    const tidy = roundTo(value, 6);
    this.values[name] = tidy;
    this.assumed.push({ name, value: tidy, why });
    return tidy;
  }

  note(text: string): void {
    this.notes.push(text);
  }

  unsaid(text: string): void {
    this.open.push(text);
  }

  conflict(name: ValueName, given: number, wanted: number, formula: string): void {
    this.conflicts.push({ name, given, wanted, message: `${VALUES[name].meaning} ${roundTo(given, 3)}, but ${formula} gives ${roundTo(wanted, 3)}` });
  }

  refuse(name: ValueName, given: number, why: string): void {
    this.conflicts.push({ name, given, message: `${VALUES[name].meaning} ${roundTo(given, 3)}: ${why}` });
  }

  /** Refuses a number that is not below another one, said with the most that would do. */
  atMost(name: ValueName, most: number, why: string): void {
    const given = this.values[name];
    if (given !== undefined && given > most + 1e-9)
      this.conflicts.push({
        name,
        given,
        wanted: roundTo(most, 3),
        message: `${VALUES[name].meaning} ${roundTo(given, 3)}: at most ${roundTo(most, 3)}, ${why}`,
      });
  }
}
