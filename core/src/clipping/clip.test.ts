import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import type { FlatPoint } from '#core/outline';
import { areaOfUnits, common, grown, isInPolygon, type Polygons, straighter, sweptAlong, together, touching, toUnits, UNITS, within, without } from './clip.ts';

const rectangle = (x: number, y: number, wide: number, high: number) =>
  toUnits([
    [x, y],
    [x + wide, y],
    [x + wide, y + high],
    [x, y + high],
  ]);
const area = (all: Polygons) => all.reduce((sum, p) => sum + areaOfUnits(p), 0) / UNITS ** 2;

// Corners of a convex polygon about the origin: at growing angles on a circle.
const convex = fc
  .tuple(fc.array(fc.double({ min: 0, max: 2 * Math.PI, noNaN: true }), { minLength: 3, maxLength: 9 }), fc.double({ min: 1, max: 20, noNaN: true }))
  .map(([turns, r]) => [...new Set(turns.map((t) => Math.round(t * 50) / 50))].sort((a, b) => a - b).map((t): FlatPoint => [r * Math.cos(t), r * Math.sin(t)]))
  .filter((corners) => corners.length > 2);

describe('polygons in whole units', () => {
  it('what two have, have in common and one has alone add up (seed 71)', () => {
    const place = fc.integer({ min: -20, max: 20 });
    const long = fc.integer({ min: 1, max: 30 });
    fc.assert(
      fc.property(fc.tuple(place, place, long, long), fc.tuple(place, place, long, long), (a, b) => {
        const [one, other] = [[rectangle(...a)], [rectangle(...b)]];
        // Of two rectangles, by hand.
        const shared = [0, 1].reduce((product, k) => product * Math.max(0, Math.min(a[k] + a[k + 2], b[k] + b[k + 2]) - Math.max(a[k], b[k])), 1);
        expect(area(common(one, other))).toBeCloseTo(shared, 6);
        expect(area(without(one, other))).toBeCloseTo(a[2] * a[3] - shared, 6);
        expect(area(together([...one, ...other]))).toBeCloseTo(a[2] * a[3] + b[2] * b[3] - shared, 6);
        expect(area(within(one, b[0] * UNITS, (b[0] + b[2]) * UNITS, b[1] * UNITS, (b[1] + b[3]) * UNITS))).toBeCloseTo(shared, 6);
      }),
      { seed: 71, numRuns: 200 },
    );
  });
  it('grown it has its area, its border times the way, and a circle’s (Steiner’s formula, seed 72)', () => {
    fc.assert(
      fc.property(convex, fc.integer({ min: 10, max: 50 }), (corners, tenths) => {
        const by = tenths / 10;
        const border = corners.reduce((sum, [x, y], i) => {
          const [u, v] = corners[(i + 1) % corners.length];
          return sum + Math.hypot(u - x, v - y);
        }, 0);
        const plain = [toUnits(corners)];
        const expected = area(plain) + border * by + Math.PI * by * by;
        expect(Math.abs(area(grown(plain, by)) / expected - 1)).toBeLessThan(2e-3);
      }),
      { seed: 72, numRuns: 100 },
    );
  });
  it('moved along a way it covers itself and its width times the way (seed 73)', () => {
    fc.assert(
      fc.property(convex, fc.integer({ min: 0, max: 359 }), fc.integer({ min: 1, max: 40 }), (corners, degrees, far) => {
        const turn = (degrees * Math.PI) / 180;
        const [dx, dy] = [Math.cos(turn), Math.sin(turn)];
        const across = corners.map(([x, y]) => x * dy - y * dx);
        const width = Math.max(...across) - Math.min(...across);
        const way = toUnits([
          [3, -2],
          [3 + far * dx, -2 + far * dy],
        ]);
        const plain = toUnits(corners);
        expect(area(together(sweptAlong(plain, way, false)))).toBeCloseTo(area([plain]) + width * far, 2);
      }),
      { seed: 73, numRuns: 100 },
    );
  });
  it('can be moved to where it meets others: a rectangle about a rectangle', () => {
    const places = touching([rectangle(0, 0, 10, 4)], rectangle(-1, -2, 3, 5));
    // From where its right side meets the left one to where its left side meets the right one; up and down alike.
    expect(area(places)).toBeCloseTo((10 + 3) * (4 + 5), 6);
    const isIn = (x: number, y: number) => places.some((p) => isInPolygon({ x: x * UNITS, y: y * UNITS }, p));
    expect([isIn(-1.99, 0), isIn(-2.01, 0), isIn(10.99, 6), isIn(11.01, 0), isIn(0, 5.99), isIn(0, 6.01)]).toEqual([true, false, true, false, true, false]);
  });
  it('a chain loses corners that are nearer than asked to what is left', () => {
    const chain: FlatPoint[] = [
      [0, 0],
      [5, 0.009],
      [10, 0],
      [10, 8],
      [2, 9],
    ];
    expect(straighter(chain, 0.01)).toEqual(chain.filter((_, i) => i !== 1));
    expect(straighter(chain, 0.005)).toEqual(chain);
  });
});
