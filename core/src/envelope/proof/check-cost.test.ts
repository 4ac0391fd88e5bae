import { describe, expect, it } from '@jest/globals';
import { loopThrough } from '#core/outline';
import { checkCost, revolveToMesh } from '../index.ts';

const axis = { origin: [0, 0, 0] as const, direction: [0, 0, 1] as const };
const shaft = (flats: number) =>
  revolveToMesh(
    [
      loopThrough([
        [0, 0],
        [60, 0],
        [60, 10],
        [0, 10],
      ]),
    ],
    axis,
    flats,
  );

describe('the cost of a collision check', () => {
  it('is the same for the same mesh, and is no time', () => {
    const { before, after } = checkCost([shaft(48)], shaft(48));
    expect(before).toBe(after);
    expect(checkCost([shaft(48)], shaft(48))).toEqual({ before, after });
    expect(after).toBeGreaterThan(5);
  });
  it('falls with the triangles, and adds up over bodies', () => {
    const { before, after } = checkCost([shaft(720)], shaft(24));
    expect(after).toBeLessThan(before / 2);
    expect(checkCost([shaft(720), shaft(720)], shaft(24)).before).toBeCloseTo(2 * before, 9);
  });
});
