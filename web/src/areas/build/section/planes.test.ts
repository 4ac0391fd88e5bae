import { describe, expect, it } from '@jest/globals';
import { isOrthonormal, radFromDeg } from '#core/math';
import { isInPlane, planeAt, planeOfTip } from './planes.ts';

describe('planes of the section', () => {
  it.each([0, 30, 90, 135, 180, -90, -12.5])('at %d degrees holds the tips that are turned by that, on its side of positive X', (deg) => {
    const plane = planeAt(deg);
    expect(isOrthonormal(plane)).toBe(true);
    const [c, s] = [Math.cos(radFromDeg(deg)), Math.sin(radFromDeg(deg))];
    const tip = { Q: 40 * c, Y: 40 * s };
    expect(planeOfTip(tip)).toBeCloseTo(deg, 3);
    expect(isInPlane([tip.Q, tip.Y, 120], plane)).toBe(true);
    // Beside it by half a millimetre it does not lie in it.
    expect(isInPlane([tip.Q - 0.5 * s, tip.Y + 0.5 * c, 120], plane)).toBe(false);
    // X of the plane leads to the tip.
    expect(plane.x[0] * tip.Q + plane.x[1] * tip.Y).toBeCloseTo(40, 9);
  });
  it('the axis lies in every one, and a tip on it in the turning plane', () => {
    for (const deg of [0, 45, 90]) expect(isInPlane([0, 0, 77], planeAt(deg))).toBe(true);
    expect(planeOfTip({ Q: 0.004, Y: -0.004 })).toBe(0);
    expect(Object.is(planeOfTip({ Q: 10, Y: -0 }), 0)).toBe(true);
  });
});
