import { LARGEST_LENGTH } from './tolerances.ts';

export const degFromRad = (rad: number): number => (rad * 180) / Math.PI;
export const radFromDeg = (deg: number): number => (deg * Math.PI) / 180;

/** Throws where a number is NaN or infinite; for the entries of core functions, where it is a broken invariant. */
export function requireFinite(value: number, where: string): number {
  if (!Number.isFinite(value)) throw new Error(`${where}: a finite number; got ${value}`);
  return value;
}

/** True for a length that a tool can have: finite and not beyond 10 m. */
export const isPlausibleLength = (mm: number): boolean => Number.isFinite(mm) && Math.abs(mm) <= LARGEST_LENGTH;

/** Rounds to `digits` decimals and never gives -0. */
export function roundTo(value: number, digits: number): number {
  return Number(value.toFixed(digits)) + 0;
}

/** Fills in defaults; an explicit `undefined` does not erase one. */
export function withDefaults<T extends object>(defaults: Required<T>, options: T | undefined): Required<T> {
  const merged = { ...defaults };
  for (const [key, value] of Object.entries(options ?? {})) if (value !== undefined) Object.assign(merged, { [key]: value });
  return merged;
}

/** For the end of a switch over a union: the compiler proves that no case is missing. */
export function assertNever(value: never): never {
  throw new Error(`unexpected case: ${JSON.stringify(value)}`);
}
