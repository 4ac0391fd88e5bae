import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { Matrix, solve } from 'ml-matrix';
import { solveNormal } from './normal-equations.ts';

const number = fc.double({ min: -10, max: 10, noNaN: true });

/** The normal matrix of some rows, its lower half left empty, and what it makes of an answer. */
function equationsOf(rows: readonly (readonly number[])[], answer: readonly number[]) {
  const n = answer.length;
  const full = Matrix.zeros(n, n);
  for (const row of rows) for (let r = 0; r < n; r++) for (let c = 0; c < n; c++) full.set(r, c, full.get(r, c) + row[r] * row[c]);
  for (let r = 0; r < n; r++) full.set(r, r, full.get(r, r) + 1e-3);
  const right = full.mmul(Matrix.columnVector([...answer]));
  const upper = Float64Array.from({ length: n * n }, (_, i) => (i % n >= Math.floor(i / n) ? full.get(Math.floor(i / n), i % n) : Number.NaN));
  return { full, right, upper, b: Float64Array.from(right.to1DArray()) };
}

describe('normal equations', () => {
  it('have the solution that a library finds by another way', () => {
    const sized = fc.integer({ min: 1, max: 7 }).chain((n) => {
      const row = fc.array(number, { minLength: n, maxLength: n });
      return fc.tuple(fc.array(row, { minLength: n, maxLength: 20 }), row);
    });
    fc.assert(
      fc.property(sized, ([rows, answer]) => {
        const n = answer.length;
        const { full, right, upper, b } = equationsOf(rows, answer);
        expect(solveNormal(upper, b, n)).toBe(true);
        const other = solve(full, right).to1DArray();
        // Both are off by no more than the equations are badly put.
        b.forEach((v, i) => expect(Math.abs(v - other[i])).toBeLessThan(1e-6 * (1 + Math.abs(other[i]))));
        b.forEach((v, i) => expect(Math.abs(v - answer[i])).toBeLessThan(1e-6));
      }),
    );
  });
  it('by hand: two unknowns', () => {
    // 4 x + 2 y = 10, 2 x + 3 y = 9.
    const b = Float64Array.of(10, 9);
    expect(solveNormal(Float64Array.of(4, 2, 0, 3), b, 2)).toBe(true);
    expect([...b]).toEqual([expect.closeTo(1.5, 12), expect.closeTo(2, 12)]);
  });
  it('that do not tell their unknowns apart, or are none, are refused', () => {
    for (const a of [
      [1, 1, 0, 1],
      [0, 0, 0, 1],
      [1, 2, 0, 1],
      [Number.NaN, 0, 0, 1],
      [1, Number.NaN, 0, 1],
    ])
      expect(solveNormal(Float64Array.from(a), Float64Array.of(1, 1), 2)).toBe(false);
  });
});
