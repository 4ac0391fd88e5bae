import { describe, expect, it } from '@jest/globals';
import { addScaled, normalize, type Vec3 } from '#core/math';
import { type Axis, driftOf, zrOf } from './axis.ts';

const axis: Axis = { origin: [3, -2, 5], direction: normalize([1, 2, 2]) };
const across: Vec3 = normalize([2, 1, -2]);

describe('how far places about another line have drifted', () => {
  it('is nothing for the same line, wherever on it and whichever way it is given', () => {
    for (const sense of [1, -1]) {
      const direction: Vec3 = [sense * axis.direction[0], sense * axis.direction[1], sense * axis.direction[2]];
      expect(driftOf(axis, addScaled(axis.origin, axis.direction, 40), direction, -10, 90, 30)).toBeLessThan(1e-13);
    }
  });
  it('is its distance where it is parallel, and grows with the height where it leans', () => {
    const beside = addScaled(axis.origin, across, 0.25);
    expect(driftOf(axis, beside, axis.direction, 0, 50, 99)).toBeCloseTo(0.25, 12);
    const lean = 1e-4;
    const direction = normalize(addScaled(axis.direction, across, lean));
    expect(driftOf(axis, axis.origin, direction, 0, 50, 0)).toBeCloseTo(50 * lean, 8);
    expect(driftOf(axis, axis.origin, direction, -80, 50, 0)).toBeCloseTo(80 * lean, 8);
    // What is far from the line is lifted along it as well.
    expect(driftOf(axis, axis.origin, direction, 0, 50, 20)).toBeCloseTo((50 + 20) * lean, 8);
  });
  it('is never less than what a place about the line has moved by', () => {
    const direction = normalize(addScaled(axis.direction, across, 3e-4));
    const origin = addScaled(axis.origin, normalize([0, 1, -1]), 0.002);
    const other: Axis = { origin, direction };
    for (let k = 0; k < 200; k++) {
      const p: Vec3 = [30 * Math.sin(k), 25 * Math.cos(1.7 * k), 40 * Math.sin(0.3 * k)];
      const [z, r] = zrOf(axis, p);
      const [own, radius] = zrOf(other, p);
      const most = driftOf(axis, origin, direction, Math.min(z, own) - 0.1, Math.max(z, own) + 0.1, radius + 0.1);
      expect(Math.abs(r - radius)).toBeLessThanOrEqual(most + 1e-9);
    }
  });
});
