import { describe, expect, it } from '@jest/globals';
import { triangulateFlat } from './triangulate.ts';

const areas = (flat: readonly number[], triangles: readonly number[]) =>
  Array.from({ length: triangles.length / 3 }, (_, i) => {
    const [a, b, c] = [0, 1, 2].map((k) => 2 * triangles[3 * i + k]);
    return ((flat[b] - flat[a]) * (flat[c + 1] - flat[a + 1]) - (flat[b + 1] - flat[a + 1]) * (flat[c] - flat[a])) / 2;
  });

describe('a flat polygon in triangles', () => {
  // An L of 10 by 10 with a leg 4 wide.
  const corner = [0, 0, 10, 0, 10, 4, 4, 4, 4, 10, 0, 10];
  const turned = [10, 8, 6, 4, 2, 0].flatMap((i) => [corner[i], corner[i + 1]]);
  it.each([corner, turned])('covers it once, counter-clockwise, whichever way it runs (%#)', (...flat) => {
    const triangles = triangulateFlat(flat);
    expect(triangles.length).toBe(12);
    const each = areas(flat, triangles);
    expect(Math.min(...each)).toBeGreaterThan(0);
    expect(each.reduce((a, b) => a + b, 0)).toBeCloseTo(64, 12);
  });
  it('leaves holes out', () => {
    const flat = [0, 0, 10, 0, 10, 10, 0, 10, 2, 2, 2, 5, 5, 5, 5, 2];
    const each = areas(flat, triangulateFlat(flat, [4]));
    expect(Math.min(...each)).toBeGreaterThan(0);
    expect(each.reduce((a, b) => a + b, 0)).toBeCloseTo(100 - 9, 12);
  });
  it('has none where nothing is enclosed', () => {
    expect(triangulateFlat([0, 0, 1, 1, 2, 2, 3, 3])).toEqual([]);
  });
});
