import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { IDENTITY, move, rotationAbout, translation, compose, type Vec3 } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { nearestTo, type Positions, type Turned } from './index.ts';

const still: Positions = [
  [0, 0],
  [0, 0],
  [0, 0],
];
const mesh = (corners: readonly Vec3[], triangles: readonly number[]): TriMesh => ({
  positions: Float64Array.from(corners.flat()),
  triangles: Uint32Array.from(triangles),
});
/** A block from one corner to the other. */
function block([a, b, c]: Vec3, [d, e, f]: Vec3): TriMesh {
  const corners: Vec3[] = [0, 1, 2, 3, 4, 5, 6, 7].map((i) => [i & 1 ? d : a, i & 2 ? e : b, i & 4 ? f : c]);
  return mesh(corners, [0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]);
}
const chuck: Turned = { name: 'chuck', radius: 80, from: 0, to: 90 };

describe('how near something on a carrier gets to what turns', () => {
  it('is known of blocks, beside a cylinder, before its face and over its rim', () => {
    const beside = block([92, -10, 20], [120, 10, 60]);
    expect(nearestTo(beside, IDENTITY, chuck, still)?.distance).toBeCloseTo(12, 6);
    const before = block([-10, -10, 97], [30, 10, 120]);
    expect(nearestTo(before, IDENTITY, chuck, still)?.distance).toBeCloseTo(7, 6);
    // Three before the face, four beyond the rim: five.
    const over = block([84, -10, 93], [120, 10, 120]);
    expect(nearestTo(over, IDENTITY, chuck, still)?.distance).toBeCloseTo(5, 6);
    // Beside the axis plane: the corner at (60, 70) is 92.195 from the axis.
    const aside = block([60, 70, 10], [90, 90, 60]);
    expect(nearestTo(aside, IDENTITY, chuck, still)?.distance).toBeCloseTo(Math.hypot(60, 70) - 80, 3);
    const through = block([70, -10, 20], [120, 10, 60]);
    expect(nearestTo(through, IDENTITY, chuck, still)?.distance).toBe(0);
  });
  it('is the least over all positions, and says where that is', () => {
    const beside = block([92, -10, 20], [120, 10, 60]);
    const near = nearestTo(beside, IDENTITY, chuck, [
      [-5, 30],
      [0, 0],
      [-200, 100],
    ]);
    expect(near?.distance).toBeCloseTo(7, 6);
    expect(near?.position[0]).toBe(-5);
    expect(near?.at[0]).toBeCloseTo(87, 6);
    // Only so far along Z that it stays before the face.
    expect(
      nearestTo(beside, IDENTITY, chuck, [
        [-50, -50],
        [0, 0],
        [75, 100],
      ])?.distance,
    ).toBeCloseTo(5, 6);
    // Farther away than asked for is nothing.
    expect(nearestTo(beside, IDENTITY, chuck, still, 11.9)).toBeUndefined();
    expect(nearestTo(beside, translation([5, 0, 0]), chuck, still)?.distance).toBeCloseTo(17, 6);
  });
  it('agrees with another method within 0.01 mm', () => {
    const number = (min: number, max: number) => fc.double({ min, max, noNaN: true });
    const point = fc.tuple(number(-150, 150), number(-150, 150), number(-60, 160));
    const range = (most: number) => fc.tuple(number(-most, most), number(0, most)).map(([a, d]): readonly [number, number] => [a, a + d]);
    fc.assert(
      fc.property(point, point, point, fc.tuple(range(60), range(0), range(80)), number(0, 6), (a, b, c, positions, angle) => {
        const motion = compose(translation([3, 5, 7]), rotationAbout([0, 0, 0], [1, 2, 3], angle));
        const found = nearestTo(mesh([a, b, c], [0, 1, 2]), motion, chuck, positions)?.distance ?? Infinity;
        const corners = [a, b, c].map((v) => move(motion, v));
        // A second method: the triangle by its weights, the reference by shares of its ranges; a coarse grid, and ever smaller random steps from its best.
        const at = ([u, v, sx, sz]: readonly number[]): number => {
          const w = u + v > 1 ? [1 - u, 1 - v, u + v - 1] : [u, v, 1 - u - v];
          const p = [0, 1, 2].map((k) => w[0] * corners[0][k] + w[1] * corners[1][k] + w[2] * corners[2][k]);
          const moved = [0, 1, 2].map((k) => p[k] + positions[k][0] + (positions[k][1] - positions[k][0]) * [sx, 0, sz][k]);
          return Math.hypot(Math.max(0, Math.hypot(moved[0], moved[1]) - chuck.radius), Math.max(0, chuck.from - moved[2], moved[2] - chuck.to));
        };
        const steps = [0, 0.25, 0.5, 0.75, 1];
        let best = [0, 0, 0, 0];
        for (const u of steps) for (const v of steps) for (const x of steps) for (const z of steps) if (at([u, v, x, z]) < at(best)) best = [u, v, x, z];
        let least = at(best);
        let seed = 1;
        const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
        for (let i = 0; i < 6000; i++) {
          const step = 0.3 * 0.997 ** (i / 2);
          const tried = best.map((v) => Math.min(1, Math.max(0, v + (random() - 0.5) * 2 * step * (random() < 0.4 ? 0 : 1))));
          const d = at(tried);
          if (d < least) [best, least] = [tried, d];
        }
        expect(found).toBeGreaterThanOrEqual(least - 0.01);
        expect(found).toBeLessThanOrEqual(least + 0.0011);
      }),
      { numRuns: 40 },
    );
  });
});
