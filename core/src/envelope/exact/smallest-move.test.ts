import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type HalfSpace, smallestMove } from './smallest-move.ts';

const missed = (d: readonly number[], spaces: readonly HalfSpace[]) => Math.max(...spaces.map((s) => s[3] - (s[0] * d[0] + s[1] * d[1] + s[2] * d[2])));

describe('the smallest move into half spaces', () => {
  it('of one plane is straight along it; of three square ones their corner; of none nothing', () => {
    expect(smallestMove([[0, 0, 1, 2]])).toEqual([0, 0, 2]);
    expect(
      smallestMove([
        [1, 0, 0, 1],
        [0, 1, 0, 2],
        [0, 0, 1, 3],
      ]),
    ).toEqual([1, 2, 3]);
    expect(
      smallestMove([
        [1, 0, 0, 0],
        [0, 0, 1, 0],
      ]),
    ).toEqual([0, 0, 0]);
  });
  it('leaves a flat face alone that nothing pushes, but never goes behind it', () => {
    const slanted: HalfSpace = [Math.SQRT1_2, 0, Math.SQRT1_2, 1];
    expect(smallestMove([slanted, [0, 0, 1, 0]])[2]).toBeGreaterThan(0);
    const d = smallestMove([
      [Math.SQRT1_2, 0, -Math.SQRT1_2, 1],
      [0, 0, 1, 0],
    ]);
    expect(d[2]).toBeCloseTo(0, 12);
    expect(d[0]).toBeCloseTo(Math.SQRT2, 12);
  });
  it('is none where nothing meets all of them', () => {
    expect(
      smallestMove([
        [0, 0, 1, 1],
        [0, 0, -1, 0],
      ]),
    ).toEqual([0, 0, 0]);
  });
  it('meets all of them, and no shorter move does (random half spaces with a common direction)', () => {
    const unit = fc.tuple(
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: -1, max: 1, noNaN: true }),
      fc.double({ min: 0.05, max: 1, noNaN: true }),
      fc.double({ min: 0, max: 1, noNaN: true }),
    );
    fc.assert(
      fc.property(fc.array(unit, { minLength: 1, maxLength: 8 }), (rows) => {
        const spaces = rows.map(([x, y, z, least]): HalfSpace => {
          const l = Math.hypot(x, y, z);
          return [x / l, y / l, z / l, least];
        });
        // Planes that are nearly opposite ask for a long way: the corner stays.
        fc.pre(Math.hypot(...smallestMove(spaces)) > 0);
        const d = smallestMove(spaces);
        expect(missed(d, spaces)).toBeLessThan(1e-8);
        // A little towards nothing is outside, or it was not the shortest.
        if (Math.hypot(...d) > 1e-6)
          expect(
            missed(
              d.map((v) => 0.999 * v),
              spaces,
            ),
          ).toBeGreaterThan(0);
      }),
      { seed: 11, numRuns: 300 },
    );
  });
});
