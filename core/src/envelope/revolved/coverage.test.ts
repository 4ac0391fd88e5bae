import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { Coverage } from './coverage.ts';

const LOW = -3;
const HIGH = 57;
const stretch = fc
  .tuple(fc.double({ min: LOW, max: HIGH, noNaN: true }), fc.double({ min: LOW, max: HIGH, noNaN: true }))
  .map(([a, b]) => [Math.min(a, b), Math.max(a, b)] as const)
  .filter(([a, b]) => b - a > 1e-3);
const place = fc.double({ min: -20, max: 20, noNaN: true });
const edge = fc.tuple(stretch, place, place, place, place);
type Edge = readonly [readonly [number, number], number, number, number, number];

// How far from the axis an edge is at a height, -Infinity beyond its ends: parts that end there but for rounding count.
const ROUNDING = 1e-6;
const radiusAt = ([[z0, z1], ax, ay, bx, by]: Edge, z: number) =>
  z < z0 - ROUNDING || z > z1 + ROUNDING ? -Infinity : Math.hypot(ax + ((z - z0) / (z1 - z0)) * bx, ay + ((z - z0) / (z1 - z0)) * by);

describe('what is surely covered', () => {
  it.each([4, 48])('is nowhere more than the highest of all edges, told by %i parts each (seed 51)', (fineness) => {
    let hidden = 0;
    fc.assert(
      fc.property(
        fc.array(edge, { minLength: 1, maxLength: 12 }),
        fc.array(fc.tuple(stretch, fc.double({ min: 0, max: 25, noNaN: true })), { minLength: 6, maxLength: 6 }),
        (edges, asked) => {
          const cover = new Coverage(LOW, HIGH, fineness);
          for (const [[z0, z1], ax, ay, bx, by] of edges) cover.addEdge(z0, z1, ax, ay, bx, by);
          cover.finish();
          for (const [[z0, z1], height] of asked) {
            const hides = cover.hidesAll(z0, z1, height);
            expect(cover.hides(z0, z1, () => height)).toBe(hides);
            if (!hides) continue;
            hidden++;
            for (let k = 0; k <= 20; k++) {
              const z = z0 + ((z1 - z0) * k) / 20;
              expect(Math.max(...edges.map((e) => radiusAt(e, z)))).toBeGreaterThan(height - 1e-4);
            }
          }
        },
      ),
      { seed: 51, numRuns: 300 },
    );
    expect(hidden).toBeGreaterThan(20);
  });
  it('is told the same by edges and by their least values', () => {
    const [byEdge, byValue] = [new Coverage(0, 10, 8), new Coverage(0, 10, 8)];
    const one: Edge = [[1, 9], 5, -1, 0, 2];
    byEdge.addEdge(1, 9, 5, -1, 0, 2);
    byValue.add(1, 9, (from, to) => {
      let least = Infinity;
      for (let k = 0; k <= 2000; k++) least = Math.min(least, radiusAt(one, Math.min(9, Math.max(1, from + ((to - from) * k) / 2000))));
      return least;
    });
    byEdge.finish();
    byValue.finish();
    for (let r = 4.9; r < 5.2; r += 0.007)
      for (const [a, b] of [
        [2, 3],
        [1, 9],
        [5, 5.1],
        [0.5, 2],
      ])
        expect(byEdge.hidesAll(a, b, r)).toBe(byValue.hidesAll(a, b, r));
  });
  it('is nothing beyond the ends', () => {
    const cover = new Coverage(0, 10, 4);
    cover.addEdge(0, 10, 5, 0, 0, 0);
    cover.finish();
    expect([cover.hidesAll(0, 10, 4.9), cover.hidesAll(-0.1, 1, 1), cover.hidesAll(9, 10.1, 1), cover.hidesAll(4, 5, 5.1)]).toEqual([
      true,
      false,
      false,
      false,
    ]);
  });
});
