import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import type { ProfilePoint } from '#core/outline';
import { bridgeGaps, closeCracks } from './bridge-gaps.ts';

// The height of an outline at a place, the upper one at a wall.
function heightAt(outline: readonly ProfilePoint[], z: number): number {
  let best = -Infinity;
  for (let i = 0; i + 1 < outline.length; i++) {
    const [[a, p], [b, q]] = [outline[i], outline[i + 1]];
    if (z < a - 1e-12 || z > b + 1e-12) continue;
    best = Math.max(best, b - a < 1e-12 ? Math.max(p, q) : p + ((q - p) * (z - a)) / (b - a));
  }
  return best;
}

describe('narrow gaps of an outside', () => {
  const groove: ProfilePoint[] = [
    [0, 20],
    [10, 20],
    [10, 12],
    [13, 12],
    [13, 18],
    [30, 18],
  ];
  it('a groove is filled to its lower rim where it is narrow enough, and stays where it is wider', () => {
    expect(bridgeGaps([groove], 3)).toEqual([
      [
        [0, 20],
        [10, 20],
        [10, 18],
        [13, 18],
        [30, 18],
      ],
    ]);
    expect(bridgeGaps([groove], 2.9)).toEqual([groove]);
    expect(bridgeGaps([groove], 0)).toEqual([groove]);
  });
  it('a groove with leaning walls is filled up to where it is as wide as that', () => {
    const vee: ProfilePoint[] = [
      [0, 20],
      [10, 20],
      [15, 10],
      [20, 20],
      [30, 20],
    ];
    const [filled] = bridgeGaps([vee], 4);
    expect(filled[2]).toEqual([13, 14]);
    expect(filled[3]).toEqual([17, 14]);
  });
  it('small grooves in the bottom of a larger one go first, and then the larger one as a whole', () => {
    const nested: ProfilePoint[] = [
      [0, 20],
      [10, 20],
      [10, 12],
      [12, 12],
      [12, 10],
      [13, 10],
      [13, 12],
      [15, 12],
      [15, 20],
      [30, 20],
    ];
    const heights = (width: number) => [11, 12.5].map((z) => heightAt(bridgeGaps([nested], width)[0], z));
    expect(heights(0.9)).toEqual([12, 10]);
    expect(heights(1)).toEqual([12, 12]);
    expect(heights(5)).toEqual([20, 20]);
  });
  it('cracks where faces meet, a few last digits wide, go; a groove of a micrometre and a half stays', () => {
    const crack = (wide: number): ProfilePoint[] => [
      [0, 25],
      [26 - wide, 26.6],
      [26 - wide, 9],
      [26, 9],
      [26, 31.5],
      [40, 31.5],
    ];
    expect(Math.min(...closeCracks([crack(3e-12)])[0].map(([, r]) => r))).toBe(25);
    expect(closeCracks([crack(1.5e-6)])).toEqual([crack(1.5e-6)]);
  });
  it('two parts that stand apart become one, with the lower of their ends between them', () => {
    const apart: ProfilePoint[][] = [
      [
        [0, 20],
        [10, 20],
      ],
      [
        [11, 15],
        [30, 15],
      ],
    ];
    const [one, ...none] = bridgeGaps(apart, 1.5);
    expect(none).toEqual([]);
    expect([10.5, 11].map((z) => heightAt(one, z))).toEqual([15, 15]);
    expect(bridgeGaps(apart, 0.5)).toHaveLength(2);
  });
  it('is the closing by a level segment, against a slow one over a fine grid (seed 9)', () => {
    const step = fc.tuple(fc.integer({ min: 1, max: 6 }), fc.integer({ min: 1, max: 12 }), fc.boolean());
    fc.assert(
      fc.property(fc.array(step, { minLength: 3, maxLength: 14 }), fc.integer({ min: 1, max: 8 }), (steps, width) => {
        const outline: ProfilePoint[] = [[0, 5]];
        for (const [dz, r, isWall] of steps) {
          const [z, before] = outline[outline.length - 1];
          if (isWall) outline.push([z, r], [z + dz, r]);
          else outline.push([z + dz, before === r ? r + 0.5 : r]);
        }
        const end = outline[outline.length - 1][0];
        const [filled] = bridgeGaps([outline], width);
        for (let i = 1; i < filled.length; i++) expect(filled[i][0]).toBeGreaterThanOrEqual(filled[i - 1][0] - 1e-12);
        const n = 16 * end;
        const f = Array.from({ length: n + 1 }, (_, i) => heightAt(outline, i / 16));
        for (let i = 0; i <= n; i++) {
          const own = heightAt(filled, i / 16);
          expect(own).toBeGreaterThanOrEqual(f[i] - 1e-9);
          // Near an end the windows leave the outline.
          if (i < 16 * width || i > n - 16 * width) continue;
          const closed = Math.min(...Array.from({ length: 16 * width + 1 }, (_, s) => Math.max(...f.slice(i - s, i - s + 16 * width + 1))));
          expect(Math.abs(own - closed)).toBeLessThan(1.5);
        }
      }),
      { seed: 9, numRuns: 50 },
    );
  });
});
