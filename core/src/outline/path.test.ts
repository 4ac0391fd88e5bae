import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import {
  areaOfPath,
  areaOfPolygon,
  boxOfPath,
  counterClockwise,
  distanceFromSegment,
  endsOnAxis,
  type FlatPoint,
  flatDistance,
  flattenPath,
  lengthOfPiece,
  loopThrough,
  mapPiece,
  mirrorPiece,
  mirrorProfile,
  type PathPiece,
  placeOnPiece,
  profileVolume,
  reversePath,
  shareOnArc,
  validateProfile,
} from './index.ts';

const number = fc.double({ min: -30, max: 30, noNaN: true });
const anyArc = fc
  .tuple(
    number,
    number,
    fc.double({ min: 0.5, max: 20, noNaN: true }),
    fc.double({ min: 0, max: 6.28, noNaN: true }),
    fc.double({ min: 0.1, max: 6, noNaN: true }),
    fc.boolean(),
  )
  .map(([x, y, r, start, sweep, ccw]): Extract<PathPiece, { kind: 'arc' }> => {
    const at = (a: number): FlatPoint => [x + r * Math.cos(a), y + r * Math.sin(a)];
    return { kind: 'arc', from: at(start), to: at(ccw ? start + sweep : start - sweep), centre: [x, y], ccw };
  });
// A stadium of 20 by 10: two lines, two half circles.
const STADIUM: PathPiece[] = [
  { kind: 'line', from: [-5, -5], to: [5, -5] },
  { kind: 'arc', from: [5, -5], to: [5, 5], centre: [5, 0], ccw: true },
  { kind: 'line', from: [5, 5], to: [-5, 5] },
  { kind: 'arc', from: [-5, 5], to: [-5, -5], centre: [-5, 0], ccw: true },
];

describe('areas and boxes of paths', () => {
  it('are exact with arcs, and turn their sign with the way round', () => {
    expect(areaOfPath(STADIUM)).toBeCloseTo(100 + 25 * Math.PI, 12);
    expect(areaOfPath(reversePath(STADIUM))).toBeCloseTo(-100 - 25 * Math.PI, 12);
    expect([counterClockwise(STADIUM), counterClockwise(reversePath(STADIUM))]).toEqual([STADIUM, STADIUM]);
    expect(boxOfPath(STADIUM)).toEqual([expect.closeTo(-10, 12), expect.closeTo(-5, 12), expect.closeTo(10, 12), expect.closeTo(5, 12)]);
    // What is cut out of a side by a clockwise arc is not there.
    const bitten = STADIUM.map((p, i): PathPiece => (i === 1 ? ({ ...p, centre: [5, 0], ccw: false } as PathPiece) : p));
    expect(areaOfPath(bitten)).toBeCloseTo(100, 9);
  });
  it('agree with fine polygons, wherever the path is', () => {
    fc.assert(
      fc.property(number, number, (dx, dy) => {
        const moved = STADIUM.map((p) => mapPiece(p, ([x, y]) => [x + dx, y + dy]));
        expect(areaOfPath(moved)).toBeCloseTo(areaOfPolygon(flattenPath(moved, 1e-6, false)), 2);
        expect(areaOfPath(moved)).toBeCloseTo(areaOfPath(STADIUM), 8);
      }),
    );
  });
});

describe('the same piece otherwise', () => {
  it('run through the other way it has the same places from the other end', () => {
    fc.assert(
      fc.property(anyArc, fc.double({ min: 0, max: 1, noNaN: true }), (arc, share) => {
        const [back] = reversePath([arc]);
        expect(flatDistance(placeOnPiece(back, 1 - share), placeOnPiece(arc, share))).toBeLessThan(1e-7);
        expect(lengthOfPiece(back)).toBeCloseTo(lengthOfPiece(arc), 9);
      }),
    );
  });
  it('on the other side of the axis each place is mirrored, in the same order', () => {
    fc.assert(
      fc.property(anyArc, fc.double({ min: 0, max: 1, noNaN: true }), (arc, share) => {
        const [x, y] = placeOnPiece(arc, share);
        expect(flatDistance(placeOnPiece(mirrorPiece(arc), share), [x, -y])).toBeLessThan(1e-7);
      }),
    );
  });
  it('an angle is where on an arc it is, or nowhere', () => {
    fc.assert(
      fc.property(anyArc, fc.double({ min: 0.02, max: 0.98, noNaN: true }), (arc, share) => {
        const [x, y] = placeOnPiece(arc, share);
        expect(shareOnArc(arc, Math.atan2(y - arc.centre[1], x - arc.centre[0]))).toBeCloseTo(share, 6);
      }),
    );
    const quarter: Extract<PathPiece, { kind: 'arc' }> = { kind: 'arc', from: [1, 0], to: [0, 1], centre: [0, 0], ccw: true };
    expect(shareOnArc(quarter, Math.PI)).toBeUndefined();
    expect(shareOnArc(quarter, Math.PI / 2)).toBeCloseTo(1, 9);
  });
});

describe('distances from straight ways', () => {
  it('are to the nearest place of it, its ends included', () => {
    expect(distanceFromSegment([0, 0], [10, 0], [5, 3])).toBe(3);
    expect(distanceFromSegment([0, 0], [10, 0], [13, 4])).toBe(5);
    expect(distanceFromSegment([2, 2], [2, 2], [5, 6])).toBe(5);
    fc.assert(
      fc.property(fc.tuple(number, number), fc.tuple(number, number), fc.tuple(number, number), (a, b, p) => {
        const least = Math.min(
          ...Array.from({ length: 1001 }, (_, i) => flatDistance([a[0] + ((b[0] - a[0]) * i) / 1000, a[1] + ((b[1] - a[1]) * i) / 1000], p)),
        );
        const found = distanceFromSegment(a, b, p);
        expect(found).toBeLessThanOrEqual(least + 1e-9);
        expect(least - found).toBeLessThan(0.001 * flatDistance(a, b) + 1e-9);
      }),
    );
  });
});

describe('a half profile from its other end', () => {
  const SHAFT = [
    loopThrough([
      [0, 0],
      [30, 0],
      [30, 4],
      [10, 4],
      [10, 7],
      [0, 7],
    ]),
  ];
  it('is as good and as large, and twice so what it was', () => {
    const other = mirrorProfile(SHAFT, 30);
    expect(validateProfile(other)).toEqual([]);
    expect(profileVolume(other)).toBeCloseTo(profileVolume(SHAFT), 9);
    const corners = (profile: readonly (readonly PathPiece[])[]) => profile[0].map((p) => p.from.join()).sort();
    expect(corners(mirrorProfile(other, 30))).toEqual(corners(SHAFT));
    expect(corners(other)).toContain('20,7');
  });
  it('has material on the axis at its ends, or is open there', () => {
    expect([endsOnAxis(SHAFT, 30), endsOnAxis(SHAFT, 29.5), endsOnAxis(SHAFT, 29.5, 1)]).toEqual([true, false, true]);
    const tube = [
      loopThrough([
        [0, 2],
        [30, 2],
        [30, 4],
        [0, 4],
      ]),
    ];
    expect(endsOnAxis(tube, 30, 5)).toBe(false);
  });
});
