import { failed, done, type Result } from '#core/issues';
import { isPlausibleLength, roundTo } from '#core/math';

/** Units that lengths are shown and typed in. */
export type LengthUnit = 'mm' | 'inch';

export const MM_PER_INCH = 25.4;

const unitFactors: Record<string, number> = { mm: 1, cm: 10, m: 1000, in: MM_PER_INCH, inch: MM_PER_INCH, '"': MM_PER_INCH, um: 0.001, µm: 0.001 };

/**
 * Reads a typed length: numbers, + - * / and brackets, a unit after any number (`3/8 in`, `25.4/2`, `1 in + 2 mm`).
 * A unit behind a fraction holds for the whole fraction. Without a unit, `unit` is meant. Gives mm.
 */
export function parseLength(text: string, unit: LengthUnit): Result<number> {
  const bad = failed('number.not-a-length', { text });
  const tokens = text
    .trim()
    .toLowerCase()
    .match(/\d+(?:[.,]\d*)?(?:e[+-]?\d+)?|[.,]\d+|[a-zµ"]+|[-+*/()]|\S/g);
  if (!tokens) return bad;
  let at = 0;
  // Each value carries its power of length: 0 while no unit was seen, 1 with one.
  type Value = { v: number; power: number };
  const fail = (): never => {
    throw new RangeError('length');
  };
  const lift = (a: Value): Value => (a.power === 0 ? { v: a.v * (unit === 'mm' ? 1 : MM_PER_INCH), power: 1 } : a);
  const sum = (): Value => {
    let left = product();
    while (tokens[at] === '+' || tokens[at] === '-') {
      const sign = tokens[at++] === '+' ? 1 : -1;
      const right = product();
      const [a, b] = left.power === right.power ? [left, right] : [lift(left), lift(right)];
      left = { v: a.v + sign * b.v, power: a.power };
    }
    return left;
  };
  const product = (): Value => {
    let left = factor();
    for (;;) {
      const op = tokens[at];
      if (op === '*' || op === '/') {
        at++;
        const right = factor();
        left = op === '*' ? { v: left.v * right.v, power: left.power + right.power } : { v: left.v / right.v, power: left.power - right.power };
      } else if (op !== undefined && op in unitFactors && left.power === 0) {
        at++;
        left = { v: left.v * unitFactors[op], power: 1 };
      } else return left;
    }
  };
  const factor = (): Value => {
    const token = tokens[at++];
    if (token === '-') {
      const inner = factor();
      return { v: -inner.v, power: inner.power };
    }
    if (token === '+') return factor();
    if (token === '(') {
      const value = sum();
      if (tokens[at++] !== ')') fail();
      return value;
    }
    if (token === undefined || !/^[\d.,]/.test(token)) fail();
    return { v: Number(token.replace(',', '.')), power: 0 };
  };
  try {
    const value = lift(sum());
    if (at !== tokens.length || value.power !== 1 || !isPlausibleLength(value.v)) return bad;
    return done(value.v + 0);
  } catch (error) {
    if (error instanceof RangeError) return bad;
    throw error;
  }
}

/** A length in mm as text in the display unit: 3 decimals in mm, 4 in inch; without the unit's name. */
export function formatLength(mm: number, unit: LengthUnit): string {
  return unit === 'mm' ? roundTo(mm, 3).toFixed(3) : roundTo(mm / MM_PER_INCH, 4).toFixed(4);
}

/** Reads a typed angle in degrees (arithmetic allowed, a degree sign ignored). */
export function parseAngleDeg(text: string): Result<number> {
  const value = parseLength(text.replace(/(°|deg)\s*$/i, ''), 'mm');
  return value.ok && /[a-z"µ]/i.test(text.replace(/(°|deg)\s*$/i, '')) ? failed('number.not-a-length', { text }) : value;
}

/** An angle in degrees as text, up to 3 decimals, without trailing zeros. */
export const formatAngleDeg = (deg: number): string => `${roundTo(deg, 3)}°`;
