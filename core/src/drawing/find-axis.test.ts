import { describe, expect, it } from '@jest/globals';
import { type FlatPoint, loopThrough, type PathPiece, reversePath } from '#core/outline';
import { axisOfOpen, findAxis } from './find-axis.ts';
import { closeToAxis, halve, inAxis, type ProfilePiece } from './half-profile.ts';
import { fitsUnit, fromOtherEnd, holdScore, outsideOf, shankAt, usualShank } from './shank.ts';

const turned = (points: readonly FlatPoint[], deg: number): FlatPoint[] => {
  const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
  return points.map(([x, y]) => [30 + c * x - s * y, -8 + s * x + c * y]);
};
// A step shaft: 20 by 12, 30 by 20; its lower half is the mirror image.
const UPPER: readonly FlatPoint[] = [
  [0, 6],
  [20, 6],
  [20, 10],
  [50, 10],
];
const FULL: readonly FlatPoint[] = [...UPPER, ...[...UPPER].reverse().map(([x, y]): FlatPoint => [x, -y])];
const HALF: readonly FlatPoint[] = [[0, 0], ...UPPER, [50, 0]];
const ring = (points: readonly FlatPoint[]) => {
  const path = loopThrough(points);
  return path.reduce((s, p) => s + p.from[0] * p.to[1] - p.to[0] * p.from[1], 0) > 0 ? path : reversePath(path);
};
const numbered = (path: readonly PathPiece[]): ProfilePiece[] => path.map((piece, of) => ({ piece, of }));
const way = (points: readonly FlatPoint[]): PathPiece[] => points.slice(1).map((to, i) => ({ kind: 'line', from: points[i], to }));

describe('the axis of an outline', () => {
  it.each([0, 33, 90, -120])('of one that is alike about it lies in the middle, turned by %d degrees', (deg) => {
    const axis = findAxis(ring(turned(FULL, deg)), []);
    expect(axis).toMatchObject({ kind: 'full', isDrawn: false });
    const [c, s] = [Math.cos((deg * Math.PI) / 180), Math.sin((deg * Math.PI) / 180)];
    expect(Math.abs((axis?.direction[0] ?? 0) * s - (axis?.direction[1] ?? 0) * c)).toBeLessThan(1e-9);
    const [dx, dy] = [(axis?.point[0] ?? NaN) - 30, (axis?.point[1] ?? NaN) + 8];
    expect(Math.abs(dx * s - dy * c)).toBeLessThan(1e-9);
  });
  it('of half a section is its long straight side', () => {
    expect(findAxis(ring(turned(HALF, 20)), [])).toMatchObject({ kind: 'half', why: 'a long straight side' });
  });
  it('is a centre line where one fits, and no other line that is drawn like one', () => {
    const drawn = findAxis(ring(FULL), [
      { from: [25, -30], to: [25, 30] },
      { from: [-5, 0], to: [55, 0] },
    ]);
    expect(drawn).toMatchObject({ kind: 'full', isDrawn: true });
    expect(Math.abs(drawn?.direction[1] ?? 1)).toBeLessThan(1e-12);
    // Beside everything: what lies on one side of it is turned about it.
    expect(findAxis(ring(UPPER), [{ from: [-5, 0], to: [55, 0] }])).toMatchObject({ kind: 'half', isDrawn: true });
  });
  it('halves may differ by as much as is allowed, and no more', () => {
    const off = ring(FULL.map(([x, y]): FlatPoint => [x, y === -10 ? -10.1 : y]));
    expect(findAxis(off, [{ from: [-5, 0], to: [55, 0] }])).not.toMatchObject({ isDrawn: true });
    expect(findAxis(off, [{ from: [-5, 0], to: [55, 0] }], 0.2)).toMatchObject({ kind: 'full', isDrawn: true });
  });
  it('of an open one goes through its ends, or along a centre line that it lies on one side of', () => {
    expect(axisOfOpen(way(HALF), [])).toMatchObject({ why: 'the line through its two ends' });
    expect(axisOfOpen(way(UPPER), [{ from: [-5, 0], to: [55, 0] }])).toMatchObject({ isDrawn: true });
    // On both sides of the line through its ends.
    expect(
      axisOfOpen(
        way([
          [0, 0],
          [5, 4],
          [9, -4],
          [14, 0],
        ]),
        [],
      ),
    ).toBeUndefined();
  });
});

describe('one half of an outline', () => {
  const axis = { point: [0, 0], direction: [1, 0] } as const;
  const cornersOf = (ways: readonly (readonly ProfilePiece[])[]) => ways.map((w) => w.map(({ piece }) => piece.to.map((v) => Math.round(v * 1e6) / 1e6 + 0)));
  const TRUE = [
    [
      [50, 10],
      [20, 10],
      [20, 6],
      [0, 6],
      [0, 0],
    ],
  ];
  it('is the same from a whole, a half, and one on the other side', () => {
    expect(cornersOf(halve(inAxis(numbered(ring(FULL)), axis), 'full'))).toEqual(TRUE);
    expect(cornersOf(halve(inAxis(numbered(ring(HALF)), axis), 'half'))).toEqual(TRUE);
    const below = ring(HALF.map(([x, y]): FlatPoint => [x, -y]));
    expect(cornersOf(halve(inAxis(numbered(below), axis), 'half'))).toEqual(TRUE);
  });
  it('of an arc that crosses the axis ends on it', () => {
    const ball: PathPiece[] = [
      { kind: 'arc', from: [5, 5], to: [5, -5], centre: [5, 0], ccw: true },
      ...way([
        [5, -5],
        [30, -5],
        [30, 5],
        [5, 5],
      ]),
    ];
    const [found] = halve(inAxis(numbered(ball), axis), 'full');
    expect(found[found.length - 1].piece).toMatchObject({ kind: 'arc' });
    expect(found[found.length - 1].piece.to.map((v) => Math.round(v * 1e9) / 1e9 + 0)).toEqual([0, 0]);
  });
  it('of an open way is led to the axis at its ends; one that crosses it is refused', () => {
    const closed = closeToAxis(numbered(way(UPPER)));
    expect(closed.ok && cornersOf(closed.value)).toEqual([[[50, 10], ...TRUE[0].slice(1, 4), [0, 0]]]);
    const bulge: PathPiece[] = [
      ...way([
        [0, 0],
        [0, 4],
        [10, 4],
      ]),
      { kind: 'arc', from: [10, 4], to: [20, 4], centre: [15, 4], ccw: true },
      ...way([
        [20, 4],
        [30, 4],
        [30, 0],
      ]),
    ];
    expect(closeToAxis(numbered(bulge))).toMatchObject({ ok: false, issues: [{ code: 'outline.crosses-axis' }] });
  });
});

describe('the end that a tool is held by', () => {
  const path = way(HALF);
  it('is the flat one with the longer cylinder of a usual size', () => {
    const [front, back] = [shankAt(path), shankAt(fromOtherEnd(path, 50))];
    expect(front).toMatchObject({ diameter: 12, length: 20, isFlat: true, chamfer: 0 });
    expect(back).toMatchObject({ diameter: 20, length: 30, isFlat: true });
    expect(holdScore(back, 50)).toBeGreaterThan(holdScore(front, 50));
    expect(holdScore(undefined, 50)).toBe(0);
  });
  it('a chamfer before it counts to it, a point is no end to hold', () => {
    const chamfered = way([
      [0, 0],
      [0, 9],
      [1, 10],
      [40, 10],
      [40, 0],
    ]);
    expect(shankAt(chamfered)).toMatchObject({ diameter: 20, length: 39, chamfer: 1, isFlat: true });
    const pointed = way([
      [0, 0],
      [3, 10],
      [40, 10],
      [40, 0],
    ]);
    expect(shankAt(pointed)?.isFlat).toBe(false);
    expect(holdScore(shankAt(pointed), 40)).toBe(0);
    expect(
      shankAt(
        way([
          [0, 0],
          [30, 10],
          [40, 10],
          [40, 0],
        ]),
      ),
    ).toBeUndefined();
  });
  it('of what does not touch its axis it is seen from outside', () => {
    const tube = [
      ...way([
        [0, 4],
        [0, 14],
        [6, 14],
        [6, 10],
        [50, 10],
        [50, 4],
      ]),
      { kind: 'line', from: [50, 4], to: [0, 4] } as const,
    ];
    const outside = outsideOf(tube);
    expect([outside[0].from, outside[outside.length - 1].to]).toEqual([
      [0, 0],
      [50, 0],
    ]);
    expect(shankAt(fromOtherEnd(outside, 50))).toMatchObject({ diameter: 20, length: 44 });
    expect(outsideOf(path)).toEqual(path);
  });
  it('usual sizes are metric and inch ones, as they are drawn', () => {
    expect(usualShank(12)).toBe(12);
    expect(usualShank(11.99)).toBe(12);
    expect(usualShank(12.7)).toBeCloseTo(12.7, 9);
    expect(usualShank(13.4)).toBeUndefined();
    expect(usualShank(11.95)).toBeUndefined();
    expect(usualShank(11.95, 0.05)).toBe(12);
  });
  it('a unit fits where the shank is a usual one and the tool as long as tools are', () => {
    const shank = { diameter: 0.5, length: 1.5, chamfer: 0, isFlat: true };
    expect(fitsUnit([shank], 2.5, 25.4)).toBe(3);
    expect(fitsUnit([shank], 2.5, 1)).toBe(0);
    expect(fitsUnit([{ ...shank, diameter: 12 }], 80, 1)).toBe(3);
  });
  it('the other end of the other end is the first', () => {
    const ball: PathPiece[] = [
      { kind: 'arc', from: [0, 0], to: [6, 6], centre: [6, 0], ccw: false },
      ...way([
        [6, 6],
        [40, 6],
        [40, 0],
      ]),
    ];
    expect(fromOtherEnd(fromOtherEnd(ball, 40), 40)).toEqual(ball);
    // Mirrored and run the other way, its ball is on the left of the way as before.
    expect(fromOtherEnd(ball, 40)[2]).toMatchObject({ kind: 'arc', from: [34, 6], to: [40, 0], centre: [34, 0], ccw: false });
  });
});
