import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { boxOfPath, boxOfPiece, type FlatPoint, flatDistance, lengthOfPiece, type PathPiece, placeOnPiece } from '#core/outline';
import { eachNearPair, meetingShares, shareAt } from './crossings.ts';

const line = (from: FlatPoint, to: FlatPoint): PathPiece => ({ kind: 'line', from, to });
/** By angles in degrees, counter-clockwise from the first where they grow. */
const arc = (centre: FlatPoint, radius: number, start: number, end: number): PathPiece => {
  const at = (deg: number): FlatPoint => [centre[0] + radius * Math.cos((deg * Math.PI) / 180), centre[1] + radius * Math.sin((deg * Math.PI) / 180)];
  return { kind: 'arc', from: at(start), to: at(end), centre, ccw: end > start };
};
const number = fc.double({ min: -50, max: 50, noNaN: true });
const anyLine = fc.tuple(number, number, number, number).map(([a, b, c, d]) => line([a, b], [c, d]));
const anyArc = fc
  .tuple(
    number,
    number,
    fc.double({ min: 0.5, max: 30, noNaN: true }),
    fc.double({ min: 0, max: 360, noNaN: true }),
    fc.double({ min: 5, max: 350, noNaN: true }),
    fc.boolean(),
  )
  .map(([x, y, r, start, sweep, ccw]) => arc([x, y], r, start, ccw ? start + sweep : start - sweep));
const anyPiece = fc.oneof(
  anyLine.filter((p) => lengthOfPiece(p) > 0.1),
  anyArc,
);

describe('the box around a piece', () => {
  it('of an arc reaches where the circle does, as far as the arc gets there', () => {
    expect(boxOfPiece(arc([0, 0], 10, -45, 45)).map((v) => Math.round(v * 1e9) / 1e9)).toEqual([7.071067812, -7.071067812, 10, 7.071067812]);
    expect(boxOfPiece(arc([0, 0], 10, 45, -45))).toEqual(boxOfPiece(arc([0, 0], 10, -45, 45)).map((v) => expect.closeTo(v, 9)));
    expect(boxOfPiece(arc([5, 5], 2, 10, 350)).map((v) => Math.round(v * 1e6) / 1e6)).toEqual([3, 3, 6.969616, 7]);
  });
  it('holds every place of the piece, and no more than it needs', () => {
    fc.assert(
      fc.property(anyPiece, (piece) => {
        const [x0, y0, x1, y1] = boxOfPiece(piece);
        const places = Array.from({ length: 2001 }, (_, i) => placeOnPiece(piece, i / 2000));
        const near = 1e-3 * lengthOfPiece(piece) + 1e-9;
        expect(places.every(([x, y]) => x >= x0 - 1e-9 && x <= x1 + 1e-9 && y >= y0 - 1e-9 && y <= y1 + 1e-9)).toBe(true);
        expect(Math.min(...places.map((p) => p[0])) - x0).toBeLessThan(near);
        expect(y1 - Math.max(...places.map((p) => p[1]))).toBeLessThan(near);
      }),
      { numRuns: 60 },
    );
  });
  it('of a path is that of all its pieces', () => {
    expect(boxOfPath([line([0, 0], [4, 1]), line([4, 1], [2, 9])])).toEqual([0, 0, 4, 9]);
  });
});

describe('where a place lies on a piece', () => {
  it('is the share that leads back to it', () => {
    fc.assert(
      fc.property(anyPiece, fc.double({ min: 0.01, max: 0.99, noNaN: true }), (piece, share) => {
        expect(shareAt(piece, placeOnPiece(piece, share), 1e-6)).toBeCloseTo(share, 6);
      }),
      { numRuns: 100 },
    );
  });
  it('is nowhere for a place that is off it, and at its ends just beyond them', () => {
    const piece = line([0, 0], [10, 0]);
    expect(shareAt(piece, [5, 0.02], 0.01)).toBeUndefined();
    expect(shareAt(piece, [-0.005, 0], 0.01)).toBe(0);
    expect(shareAt(piece, [10.02, 0], 0.01)).toBeUndefined();
    const quarter = arc([0, 0], 10, 0, 90);
    expect(shareAt(quarter, [-7.07, 7.07], 0.1)).toBeUndefined();
    expect(shareAt(quarter, [10, -0.005], 0.01)).toBe(0);
  });
});

describe('where two pieces meet', () => {
  it('two lines once, a line and an arc twice, two circles twice, and parallel ones not', () => {
    expect(meetingShares(line([0, 0], [10, 10]), line([0, 10], [10, 0]), 1e-6)).toEqual([{ first: expect.closeTo(0.5, 9), second: expect.closeTo(0.5, 9) }]);
    expect(meetingShares(line([0, 0], [10, 0]), line([0, 1], [10, 1]), 1e-6)).toEqual([]);
    expect(meetingShares(line([-20, 0], [20, 0]), arc([0, 0], 10, 0, 359), 1e-6)).toHaveLength(2);
    expect(meetingShares(arc([0, 0], 10, 0, 359), arc([12, 0], 10, 0.5, 359.5), 1e-6)).toHaveLength(2);
    expect(meetingShares(arc([0, 0], 10, 0, 359), arc([30, 0], 10, 0, 359), 1e-6)).toEqual([]);
    // One circle in another.
    expect(meetingShares(arc([0, 0], 10, 0, 359), arc([1, 0], 5, 0, 359), 1e-6)).toEqual([]);
  });
  it('a line that touches an arc meets it there', () => {
    const [touch] = meetingShares(line([-10, 10], [10, 10]), arc([0, 0], 10, 0, 180), 1e-6);
    expect(touch.first).toBeCloseTo(0.5, 6);
    expect(touch.second).toBeCloseTo(0.5, 6);
  });
  it('is on both of them, whatever they are', () => {
    fc.assert(
      fc.property(anyPiece, anyPiece, (a, b) => {
        for (const { first, second } of meetingShares(a, b, 1e-6)) expect(flatDistance(placeOnPiece(a, first), placeOnPiece(b, second))).toBeLessThan(1e-5);
      }),
      { numRuns: 200 },
    );
  });
  it('pairs are found by their boxes, each once, as by looking at all', () => {
    fc.assert(
      fc.property(fc.array(anyPiece, { minLength: 2, maxLength: 25 }), (pieces) => {
        const found: string[] = [];
        eachNearPair(pieces, 0.5, (i, k) => found.push(`${i} ${k}`));
        const boxes = pieces.map(boxOfPiece);
        const all = boxes.flatMap((a, i) =>
          boxes.flatMap((b, k) => (k > i && a[0] - 0.5 <= b[2] && b[0] <= a[2] + 0.5 && a[1] - 0.5 <= b[3] && b[1] <= a[3] + 0.5 ? [`${i} ${k}`] : [])),
        );
        expect(found.sort()).toEqual(all.sort());
      }),
      { numRuns: 40 },
    );
  });
});
