import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { distanceFromSegment, type FlatPoint, flatDistance } from '#core/outline';
import { type Affine, chainAffine, circleScale, isMirror, mapPoint, scaleBy, shiftBy, STAY, turnBy } from './affine.ts';
import { alongCurve, pointsOfEllipse, pointsOfSpline, type Spline, splineFault } from './curves.ts';

const fromChords = (points: readonly FlatPoint[], p: FlatPoint) =>
  points.slice(1).reduce((least, q, i) => Math.min(least, distanceFromSegment(points[i], q, p)), Infinity);

describe('points along a curve', () => {
  it('have chords no further from it than asked for, and not many more than that takes', () => {
    for (const sag of [0.1, 0.01, 0.001]) {
      const at = (t: number): FlatPoint => [10 * Math.cos(t), 10 * Math.sin(t)];
      const points = alongCurve(at, 0, Math.PI, sag);
      for (let i = 0; i <= 3000; i++) expect(fromChords(points, at((i / 3000) * Math.PI))).toBeLessThan(sag * 1.001);
      // A chord over an angle a is r (1 - cos a / 2) off: so many are needed, and halving takes up to twice that.
      const needed = Math.PI / (2 * Math.acos(1 - sag / 10));
      expect(points.length - 1).toBeGreaterThanOrEqual(Math.floor(needed));
      expect(points.length - 1).toBeLessThanOrEqual(2 * needed + 4);
    }
  });
  it('an S whose middle lies on its chord is not taken for straight', () => {
    const s = (t: number): FlatPoint => [t, Math.sin(2 * Math.PI * t)];
    expect(alongCurve(s, 0, 1, 0.01).length).toBeGreaterThan(8);
  });
  it('it is divided at its breaks, and backwards as well as forwards', () => {
    const corner = (t: number): FlatPoint => (t < 1 ? [t, 0] : [1, t - 1]);
    expect(alongCurve(corner, 0, 2, 1e-6, [1])).toContainEqual([1, 0]);
    expect(alongCurve(corner, 2, 0, 1e-6, [1])).toContainEqual([1, 0]);
  });
});

describe('splines', () => {
  // A cubic with four points is a Bezier curve: its place by Bernstein's polynomials.
  it('of degree three with clamped ends is its Bezier curve', () => {
    const points: FlatPoint[] = [
      [0, 0],
      [2, 8],
      [9, -3],
      [12, 5],
    ];
    const found = pointsOfSpline({ degree: 3, knots: [0, 0, 0, 0, 1, 1, 1, 1], points }, 0.001);
    const at = (t: number): FlatPoint =>
      [0, 1].map(
        (k) => (1 - t) ** 3 * points[0][k] + 3 * t * (1 - t) ** 2 * points[1][k] + 3 * t * t * (1 - t) * points[2][k] + t ** 3 * points[3][k],
      ) as unknown as FlatPoint;
    expect([found[0], found[found.length - 1]]).toEqual([points[0], points[3]]);
    for (let i = 0; i <= 500; i++) expect(fromChords(found, at(i / 500))).toBeLessThan(0.0011);
  });
  it('of degree one is its polygon, and of many spans goes on smoothly', () => {
    const points: FlatPoint[] = [
      [0, 0],
      [4, 0],
      [4, 3],
    ];
    const polygon = pointsOfSpline({ degree: 1, knots: [0, 0, 1, 2, 2], points }, 0.001);
    expect(polygon).toContainEqual([4, 0]);
    expect(polygon[polygon.length - 1]).toEqual([4, 3]);
    const many: Spline = { degree: 2, knots: [0, 0, 0, 1, 2, 3, 3, 3], points: [0, 2, 4, 6, 8].map((x) => [x, x % 4]) };
    const places = pointsOfSpline(many, 0.001);
    for (let i = 2; i < places.length; i++) {
      const turn = (k: number) => Math.atan2(places[k][1] - places[k - 1][1], places[k][0] - places[k - 1][0]);
      expect(Math.abs(turn(i) - turn(i - 1))).toBeLessThan(0.2);
    }
  });
  it('bad ones are said by what is wrong with them', () => {
    const good: Spline = {
      degree: 2,
      knots: [0, 0, 0, 1, 1, 1],
      points: [
        [0, 0],
        [1, 1],
        [2, 0],
      ],
    };
    expect(splineFault(good)).toBeUndefined();
    expect(splineFault({ ...good, degree: 0 })).toMatch(/degree 0/);
    expect(splineFault({ ...good, points: good.points.slice(0, 2) })).toMatch(/2 control points/);
    expect(splineFault({ ...good, knots: [0, 0, 1, 1] })).toMatch(/4 knots for 3/);
    expect(splineFault({ ...good, knots: [0, 0, 0, 1, 0.5, 1] })).toMatch(/do not grow/);
    expect(splineFault({ ...good, weights: [1, 0, 1] })).toMatch(/weights/);
  });
});

describe('ellipses', () => {
  it('have every point on them, tilted too, from where to where is asked', () => {
    const [c, s] = [Math.cos(0.4), Math.sin(0.4)];
    const points = pointsOfEllipse([3, -2], [9 * c, 9 * s], [-4 * s, 4 * c], 0.5, 4, 0.001);
    for (const [x, y] of points) {
      const [u, v] = [c * (x - 3) + s * (y + 2), -s * (x - 3) + c * (y + 2)];
      expect((u / 9) ** 2 + (v / 4) ** 2).toBeCloseTo(1, 9);
    }
    expect(flatDistance(points[0], [3 + 9 * c * Math.cos(0.5) - 4 * s * Math.sin(0.5), -2 + 9 * s * Math.cos(0.5) + 4 * c * Math.sin(0.5)])).toBeLessThan(1e-9);
  });
});

describe('maps of the plane', () => {
  const number = fc.double({ min: -20, max: 20, noNaN: true });
  const anyMap = fc.tuple(number, number, number, number, number, number).map((v) => v as unknown as Affine);
  it('one after the other are what their chain is', () => {
    fc.assert(
      fc.property(anyMap, anyMap, number, number, (outer, inner, x, y) => {
        const [a, b] = [mapPoint(outer, mapPoint(inner, [x, y])), mapPoint(chainAffine(outer, inner), [x, y])];
        expect(Math.hypot(a[0] - b[0], a[1] - b[1])).toBeLessThan(1e-9 * (1 + Math.hypot(...a)));
      }),
    );
  });
  it('leave circles circles where they only turn, move, mirror and scale evenly, and say by how much', () => {
    const even = [turnBy(0.7), scaleBy(-3, 3), shiftBy(4, 5), turnBy(2)].reduce(chainAffine, STAY);
    expect(circleScale(even)).toBeCloseTo(3, 12);
    expect(isMirror(even)).toBe(true);
    expect(circleScale(chainAffine(turnBy(0.7), scaleBy(2, 3)))).toBeUndefined();
    expect(circleScale([1, 0, 0.5, 1, 0, 0])).toBeUndefined();
    expect(isMirror(turnBy(2))).toBe(false);
  });
});
