import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { distanceFromSegment, type FlatPoint, flatDistance, flattenPath, type PathPiece, sweepOfArc } from '#core/outline';
import { sharpen } from './sharpen.ts';
import { fitCurve, fitSpans, joinPieces, settleArc } from './tidy-path.ts';

const line = (from: FlatPoint, to: FlatPoint): PathPiece => ({ kind: 'line', from, to });
const along = (at: (t: number) => FlatPoint, count: number): FlatPoint[] => Array.from({ length: count + 1 }, (_, i) => at(i / count));
const furthestFrom = (points: readonly FlatPoint[], path: readonly PathPiece[]) => {
  const flat = [...path.flatMap((p) => flattenPath([p], 1e-5, false)), path[path.length - 1].to];
  return Math.max(...points.map((p) => flat.slice(1).reduce((least, q, i) => Math.min(least, distanceFromSegment(flat[i], q, p)), Infinity)));
};

describe('an arc whose ends were moved a little', () => {
  it('has its centre as far from both, on the side where it was, and its ends stay', () => {
    const moved: PathPiece = { kind: 'arc', from: [10.001, 0], to: [0, 9.9995], centre: [0, 0], ccw: true };
    const settled = settleArc(moved);
    if (settled.kind !== 'arc') throw new Error('an arc');
    expect([settled.from, settled.to]).toEqual([moved.from, moved.to]);
    expect(flatDistance(settled.from, settled.centre)).toBeCloseTo(flatDistance(settled.to, settled.centre), 12);
    expect(flatDistance(settled.centre, [0, 0])).toBeLessThan(2e-3);
  });
  it('of more than half a circle keeps its centre beyond the chord', () => {
    const large: PathPiece = { kind: 'arc', from: [6, -8], to: [6, 8], centre: [0, 0], ccw: false };
    const settled = settleArc(large);
    expect(settled.kind === 'arc' && flatDistance(settled.centre, [0, 0])).toBeLessThan(1e-9);
    expect(Math.abs(sweepOfArc(settled as Extract<PathPiece, { kind: 'arc' }>))).toBeGreaterThan(Math.PI);
  });
});

describe('pieces that go on where others end', () => {
  it('lines along each other are one, but not back, and not around a corner', () => {
    expect(joinPieces([line([0, 0], [4, 0]), line([4, 0], [9, 0.0001])], 1e-3, false)).toHaveLength(1);
    expect(joinPieces([line([0, 0], [4, 0]), line([4, 0], [2, 0])], 1e-3, false)).toHaveLength(2);
    expect(joinPieces([line([0, 0], [4, 0]), line([4, 0], [4, 4])], 1e-3, false)).toHaveLength(2);
  });
  it('arcs of one circle are one, as long as that is less than a circle', () => {
    const quarter = (k: number): PathPiece => {
      const at = (i: number): FlatPoint => [Math.round(Math.cos((i * Math.PI) / 2)) * 5, Math.round(Math.sin((i * Math.PI) / 2)) * 5];
      return { kind: 'arc', from: at(k), to: at(k + 1), centre: [0, 0], ccw: true };
    };
    expect(joinPieces([quarter(0), quarter(1), quarter(2)], 1e-3, false)).toHaveLength(1);
    expect(joinPieces([quarter(0), quarter(1), quarter(2), quarter(3)], 1e-3, true).length).toBeGreaterThan(1);
  });
  it('the last and the first of a closed path are joined too', () => {
    const path = [line([5, 0], [9, 0]), line([9, 0], [9, 9]), line([9, 9], [0, 0]), line([0, 0], [5, 0])];
    expect(joinPieces(path, 1e-3, true)).toHaveLength(3);
    expect(joinPieces(path, 1e-3, false)).toHaveLength(4);
  });
});

describe('a curve fitted by lines and arcs', () => {
  it('a straight one is a line, a circle few arcs', () => {
    expect(
      fitCurve(
        along((t) => [10 * t, 3 * t], 40),
        0.005,
      ),
    ).toHaveLength(1);
    const arcs = fitCurve(
      along((t) => [5 * Math.cos(4 * t), 5 * Math.sin(4 * t)], 400),
      0.005,
    );
    expect(arcs).toHaveLength(1);
    expect(arcs[0]).toMatchObject({ kind: 'arc', ccw: true });
  });
  it('stays within the tolerance at every point, begins and ends where that does, and hangs together', () => {
    const wave = fc.tuple(fc.double({ min: 0.2, max: 4, noNaN: true }), fc.double({ min: 0.3, max: 3, noNaN: true }), fc.constantFrom(0.002, 0.01, 0.1));
    fc.assert(
      fc.property(wave, ([height, turns, tolerance]) => {
        const points = along((t) => [12 * t, height * Math.sin(2 * Math.PI * turns * t)], 1500);
        const path = fitCurve(points, tolerance);
        expect(furthestFrom(points, path)).toBeLessThan(tolerance * 1.02 + 2e-5);
        expect([path[0].from, path[path.length - 1].to]).toEqual([points[0], points[points.length - 1]]);
        for (let i = 1; i < path.length; i++) expect(path[i].from).toEqual(path[i - 1].to);
        expect(path.length).toBeLessThan(points.length / 4);
      }),
      { numRuns: 25 },
    );
  });
  it('spans say which points each piece stands for, one after the other', () => {
    const points = along((t) => (t < 0.5 ? [20 * t, 0] : [10, 20 * (t - 0.5)]), 100);
    const spans = fitSpans(points, 0.01);
    expect(spans[0].start).toBe(0);
    expect(spans[spans.length - 1].end).toBe(100);
    for (let i = 1; i < spans.length; i++) expect(spans[i].start).toBe(spans[i - 1].end);
  });
});

describe('a traced edge with sharp corners again', () => {
  // A corner of two sides, worn round over two pixels; a pixel is 1.
  const worn = (deg: number): FlatPoint[] => {
    const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
    const before = along((t) => [-40 + 38 * t, 0], 38);
    const after = along((t) => [(2 + 38 * t) * c, (2 + 38 * t) * s], 38);
    return [...before, ...along((t) => [(1 - t) ** 2 * -2 + t ** 2 * 2 * c, t ** 2 * 2 * s], 4).slice(1, -1), ...after];
  };
  it.each([90, 60, -45, 120])('two lines meet where they cross, at a turn of %d degrees', (deg) => {
    const points = worn(deg);
    const path = joinPieces(sharpen(fitSpans(points, 0.4, 5), points, 1), 0.5, false);
    expect(path.map((p) => p.kind)).toEqual(['line', 'line']);
    expect(flatDistance(path[0].to, [0, 0])).toBeLessThan(0.05);
  });
  it('a line that all but lies along the axis does', () => {
    const points = along((t) => [60 * t, 5 + 0.2 * t], 60);
    const [only] = sharpen(fitSpans(points, 0.4, 5), points, 1);
    expect(only.from[1]).toBeCloseTo(only.to[1], 12);
    expect(only.from[1]).toBeCloseTo(5.1, 1);
  });
  it('a true radius between two lines stays an arc', () => {
    const fillet = along((t) => [20 * Math.sin((Math.PI / 2) * t), 20 - 20 * Math.cos((Math.PI / 2) * t)], 31);
    const points = [...along((t) => [-40 + 40 * t, 0], 40), ...fillet.slice(1), ...along((t) => [20, 20 + 40 * t], 40).slice(1)];
    expect(sharpen(fitSpans(points, 0.4, 5), points, 1).some((p) => p.kind === 'arc')).toBe(true);
  });
});
