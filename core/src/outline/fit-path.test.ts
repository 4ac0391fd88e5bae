import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { areaOfPolygon, fitPath, type FlatPoint, flattenPath, PathDistance, pathOfPolygon, sweepOfArc } from './index.ts';

const circle = (n: number, r: number, [x, y]: FlatPoint = [0, 0]): FlatPoint[] =>
  Array.from({ length: n }, (_, i) => [x + r * Math.cos((2 * Math.PI * i) / n), y + r * Math.sin((2 * Math.PI * i) / n)]);
const arcTo = (centre: FlatPoint, r: number, from: number, to: number, n: number): FlatPoint[] =>
  Array.from({ length: n + 1 }, (_, i) => [centre[0] + r * Math.cos(from + ((to - from) * i) / n), centre[1] + r * Math.sin(from + ((to - from) * i) / n)]);

describe('lines and arcs from a polygon', () => {
  it('a circle is two arcs, a square four lines whatever corners stand on its sides', () => {
    const round = fitPath(circle(48, 10, [3, 4]), { tolerance: 0, sag: 0.05 });
    expect(round.map((p) => p.kind)).toEqual(['arc', 'arc']);
    expect(round.reduce((s, p) => s + (p.kind === 'arc' ? sweepOfArc(p) : 0), 0)).toBeCloseTo(2 * Math.PI, 9);
    const square: FlatPoint[] = [
      [0, 0],
      [4, 0],
      [10, 0],
      [10, 5],
      [10, 10],
      [7, 10],
      [3, 10],
      [0, 10],
      [0, 1],
    ];
    expect(fitPath(square, { tolerance: 0, sag: 0.05 })).toHaveLength(4);
  });
  it('a plate with a rounded corner and a rounded notch has both as arcs, one each way', () => {
    const polygon: FlatPoint[] = [[0, 0], [40, 0], ...arcTo([37, 17], 3, 0, Math.PI / 2, 8), [25, 20], ...arcTo([20, 20], 5, 0, -Math.PI, 14), [0, 20]];
    const path = fitPath(polygon, { tolerance: 0, sag: 0.08 });
    const arcs = path.filter((p) => p.kind === 'arc');
    expect(arcs.map((a) => [a.ccw, Math.hypot(a.from[0] - a.centre[0], a.from[1] - a.centre[1]).toFixed(6)])).toEqual([
      [true, '3.000000'],
      [false, '5.000000'],
    ]);
    expect(areaOfPolygon(flattenPath(path, 1e-7, false))).toBeCloseTo(800 - 9 * (1 - Math.PI / 4) - (Math.PI * 25) / 2, 4);
  });
  it('straight edges between points of one circle stay straight', () => {
    const path = fitPath(circle(6, 10), { tolerance: 0, sag: 0.05 });
    expect(path.map((p) => p.kind)).toEqual(Array(6).fill('line'));
  });
  it('a coarse curve gets fewer lines, all of them outside and within the tolerance, however many steps that takes', () => {
    // An ellipse has no arc; a bay in it asks for bridging.
    const polygon = Array.from({ length: 400 }, (_, i): FlatPoint => {
      const a = (2 * Math.PI * i) / 400;
      return [(30 + 2 * Math.cos(7 * a)) * Math.cos(a), (18 + 2 * Math.cos(7 * a)) * Math.sin(a)];
    });
    for (const tolerance of [0.02, 0.1, 0.5]) {
      const path = fitPath(polygon, { tolerance, sag: 1e-6 });
      const outside = new PathDistance([path]);
      const before = new PathDistance([pathOfPolygon(polygon)]);
      for (const [x, y] of polygon) expect(outside.depth(x, y)).toBeGreaterThan(-1e-9);
      for (const { from } of path) expect(before.depth(...from)).toBeGreaterThan(-1.001 * tolerance);
      expect(path.length).toBeLessThan(400 * (tolerance < 0.05 ? 0.5 : 0.25));
    }
  });
});

describe('distances from paths', () => {
  it('of lines and arcs are those of a fine polygon (random places)', () => {
    const path = fitPath([[0, 0], [40, 0], ...arcTo([37, 17], 3, 0, Math.PI / 2, 8), [25, 20], ...arcTo([20, 20], 5, 0, -Math.PI, 14), [0, 20]], {
      tolerance: 0,
      sag: 0.08,
    });
    const exact = new PathDistance([path]);
    const fine = new PathDistance([pathOfPolygon(flattenPath(path, 1e-5, false))]);
    fc.assert(
      fc.property(fc.double({ min: -20, max: 60, noNaN: true }), fc.double({ min: -20, max: 40, noNaN: true }), (x, y) => {
        expect(Math.abs(exact.depth(x, y) - fine.depth(x, y))).toBeLessThan(2e-4);
        // What is quickly told is a lower bound, and not a useless one.
        expect(exact.leastDepth(x, y)).toBeLessThanOrEqual(exact.depth(x, y));
        if (x > 1 && x < 39 && y > 1 && y < 15) expect(exact.leastDepth(x, y)).toBeGreaterThan(exact.depth(x, y) - 0.6);
      }),
      { seed: 3, numRuns: 500 },
    );
  });
  it('of hundreds of pieces are those of the nearest of all of them, in every cell (seed 4)', () => {
    const polygon = Array.from({ length: 700 }, (_, i): FlatPoint => {
      const a = (2 * Math.PI * i) / 700;
      return [(30 + 4 * Math.cos(11 * a)) * Math.cos(a), (18 + 4 * Math.cos(11 * a)) * Math.sin(a)];
    });
    const paths = new PathDistance([pathOfPolygon(polygon)]);
    fc.assert(
      fc.property(fc.double({ min: -36, max: 36, noNaN: true }), fc.double({ min: -25, max: 25, noNaN: true }), (x, y) => {
        const nearest = Math.min(
          ...polygon.map((a, i) => {
            const b = polygon[(i + 1) % polygon.length];
            const s = Math.max(0, Math.min(1, ((x - a[0]) * (b[0] - a[0]) + (y - a[1]) * (b[1] - a[1])) / ((b[0] - a[0]) ** 2 + (b[1] - a[1]) ** 2)));
            return Math.hypot(x - a[0] - s * (b[0] - a[0]), y - a[1] - s * (b[1] - a[1]));
          }),
        );
        expect(Math.abs(paths.depth(x, y))).toBeCloseTo(nearest, 9);
      }),
      { seed: 4, numRuns: 400 },
    );
  });
});
