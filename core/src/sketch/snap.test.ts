import { describe, expect, it } from '@jest/globals';
import { circleAbout, type FlatPoint, loopThrough, reversePath } from '#core/outline';
import { nameCorners, snapPlace, type SnapRules } from './index.ts';

const profile = [
  loopThrough([
    [0, 0],
    [40, 0],
    [40, 20],
    [0, 20],
  ]),
];
const rules: SnapRules = { profile, sketch: nameCorners(profile), reach: 0.5, grid: 0.1, isTurned: true };
const snap = (at: FlatPoint, more: Partial<SnapRules> = {}) => {
  const s = snapPlace(at, { ...rules, ...more });
  return [s.kind, ...s.at.map((v) => Math.round(v * 1e6) / 1e6 + 0)];
};

describe('a place that is pointed at', () => {
  it('is taken to ends, middles, centres and the outline', () => {
    expect(snap([39.7, 20.2])).toEqual(['end', 40, 20]);
    expect(snap([20.3, 19.8])).toEqual(['middle', 20, 20]);
    expect(snap([12.34, 19.8])).toEqual(['on it', 12.3, 20]);
    const disc = [circleAbout([10, 30], [15, 30])];
    expect(snap([10.2, 30.1], { profile: disc, sketch: nameCorners(disc) })).toEqual(['centre', 10, 30]);
    // What is being drawn is felt too.
    expect(snap([55.1, 33.3], { also: [[55, 33]] })).toEqual(['end', 55, 33]);
  });
  it('is in line with corners, and on whole steps where nothing else is', () => {
    expect(snap([55.33, 19.7])).toEqual(['in line', 55.3, 20]);
    expect(snap([40.2, 33.33])).toEqual(['in line', 40, 33.3]);
    expect(snap([52.22, 33.33])).toEqual(['grid', 52.2, 33.3]);
    expect(snap([52.223, 33.333], { grid: 0 })).toEqual(['free', 52.223, 33.333]);
  });
  it('is on the outline and in line with a corner at once', () => {
    const stepped = [
      loopThrough([
        [0, 0],
        [40, 0],
        [40, 12],
        [22, 12],
        [22, 20],
        [0, 28],
      ]),
    ];
    // The slanting top, straight above where the step is.
    expect(snap([10.1, 24.4], { profile: stepped, sketch: nameCorners(stepped), also: [[10, 5]] })).toEqual(['crossing', 10, 24.363636]);
  });
  it('feels multiples of 15 degrees from where a line begins, and stops where that crosses something', () => {
    const from: FlatPoint[] = [[50, 30]];
    expect(snap([60, 35.7], { from })[0]).toBe('angle');
    const [, x, y] = snap([60, 35.7], { from }) as [string, number, number];
    expect((Math.atan2(y - 30, x - 50) * 180) / Math.PI).toBeCloseTo(30, 4);
    // 45 degrees down to the right face.
    expect(snap([40.2, 19.6], { from: [[50, 30]] })).toEqual(['end', 40, 20]);
    expect(snap([30.1, 20.2], { from: [[35, 25]] })).toEqual(['crossing', 30, 20]);
  });
  it('touches an arc', () => {
    const disc = [circleAbout([0, 0], [5, 0])];
    const [kind, x, y] = snap([3.1, 4.1], { profile: disc, sketch: nameCorners(disc), from: [[13, 0]], isTurned: false, reach: 2 }) as [string, number, number];
    expect(kind).toBe('tangent');
    // Its radius is square to the line.
    expect(x * (13 - x) - y * y).toBeCloseTo(0, 4);
    expect(Math.hypot(x, y)).toBeCloseTo(5, 6);
    const other = [reversePath(circleAbout([0, 0], [5, 0]))];
    expect(snap([3.1, 4.1], { profile: other, sketch: nameCorners(other), from: [[13, 0]], isTurned: false, reach: 2 })[0]).toBe('tangent');
  });
  it('does not feel what moves with it, and stays on its side of the axis', () => {
    const moving = ['c3'];
    expect(snap([39.7, 20.2], { moving })[0]).not.toBe('end');
    expect(snap([20.3, 19.8], { moving })[0]).not.toBe('middle');
    expect(snap([52.2, -3.3])).toEqual(['grid', 52.2, 0]);
    expect(snap([52.2, -3.3], { isTurned: false })).toEqual(['grid', 52.2, -3.3]);
    expect(snap([52.2, 0.3])).toEqual(['axis', 52.2, 0]);
  });
});
