import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import type { Vec3 } from '#core/math';
import { Solids, type TriMesh, TriangleTree } from '#core/mesh';
import { CoverBound } from './cover-bound.ts';
import { Reach } from './reach.ts';

// A sheet of hills, `n` by `n` squares of 1 mm.
function hills(n: number, seed: number, height: number): TriMesh {
  let state = seed;
  const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let i = 0; i <= n; i++) for (let j = 0; j <= n; j++) positions.push(i, j, height * random());
  for (let i = 0; i < n; i++)
    for (let j = 0; j < n; j++) {
      const [a, b, c, d] = [i * (n + 1) + j, (i + 1) * (n + 1) + j, (i + 1) * (n + 1) + j + 1, i * (n + 1) + j + 1];
      triangles.push(a, b, c, a, c, d);
    }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}

function box([x0, y0, z0]: Vec3, [x1, y1, z1]: Vec3): TriMesh {
  const positions = [x0, x1].flatMap((x) => [y0, y1].flatMap((y) => [z0, z1].flatMap((z) => [x, y, z])));
  const quads = [
    [0, 1, 3, 2],
    [4, 6, 7, 5],
    [0, 4, 5, 1],
    [2, 3, 7, 6],
    [0, 2, 6, 4],
    [1, 5, 7, 3],
  ];
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(quads.flatMap(([a, b, c, d]) => [a, b, c, a, c, d])) };
}

const STEPS = 60;
function eachPlaceOf([a, b, c]: readonly [Vec3, Vec3, Vec3], visit: (p: Vec3) => void): void {
  for (let i = 0; i <= STEPS; i++)
    for (let j = 0; i + j <= STEPS; j++) {
      const [r, s] = [i / STEPS, j / STEPS];
      visit([0, 1, 2].map((k) => a[k] + r * (b[k] - a[k]) + s * (c[k] - a[k])) as unknown as Vec3);
    }
}
const corner = (z: number) =>
  fc.tuple(fc.double({ min: 0.5, max: 7.5, noNaN: true }), fc.double({ min: 0.5, max: 7.5, noNaN: true }), fc.double({ min: 0, max: z, noNaN: true }));

describe('how far a triangle stands from a mesh', () => {
  it('is never told less than it is; only what is further is refused (seed 61)', () => {
    let [told, refused] = [0, 0];
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 40 }), corner(0.9), corner(0.9), corner(0.9), (seed, a, b, c) => {
        const tree = new TriangleTree(hills(8, seed, 0.4));
        const limit = 0.6;
        const bound = new CoverBound(new Reach(tree, limit)).of(a, b, c, limit);
        let greatest = 0;
        const ruler = new TriangleTree(tree.mesh);
        eachPlaceOf([a, b, c], (p) => {
          ruler.nearest(...p);
          greatest = Math.max(greatest, ruler.distance);
        });
        if (bound === Infinity) {
          refused++;
          // Between the places it may be a little more than at them.
          expect(greatest).toBeGreaterThan(0.97 * limit);
        } else {
          told++;
          expect(bound).toBeLessThanOrEqual(limit);
          expect(bound).toBeGreaterThanOrEqual(greatest - 1e-9);
        }
      }),
      { seed: 61, numRuns: 200 },
    );
    expect(told).toBeGreaterThan(60);
    expect(refused).toBeGreaterThan(20);
  });
  it('beyond an edge, along all of it, is told by few pieces', () => {
    // A long box; the triangle stands out beside its upper edge, by 0.03.
    const tree = new TriangleTree(box([0, 0, 0], [100, 10, 10]));
    const bound = new CoverBound(new Reach(tree, 0.05)).of([0, 10, 10.03], [100, 10, 10.03], [50, 10.03, 10], 0.05);
    expect(bound).toBeCloseTo(0.03, 9);
  });
  it('in other solids it may be where it likes, but not where it comes out of them', () => {
    const tree = new TriangleTree(box([0, 0, 0], [10, 10, 1]));
    const cover = new CoverBound(new Reach(tree, 0.05, new Solids([box([-5, -5, 0.5], [6, 15, 8])]), 50));
    // 2 mm over the box: hidden up to x = 6.
    expect(cover.of([1, 1, 3], [5.5, 1, 3], [3, 8, 3], 0.05)).toBeLessThanOrEqual(0.05);
    expect(cover.of([1, 1, 3], [6.2, 1, 3], [3, 8, 3], 0.05)).toBe(Infinity);
    // From there down to it, and along it.
    expect(cover.of([1, 1, 3], [8, 1, 1.02], [8, 8, 1.02], 0.05)).toBe(Infinity);
    expect(cover.of([1, 1, 1.04], [8, 1, 1.02], [8, 8, 1.02], 0.05)).toBeLessThanOrEqual(0.05);
  });
  it('in other solids it may be only so far out, however large it is', () => {
    const reach = new Reach(new TriangleTree(box([0, 0, 0], [40, 40, 1])), 0.05, new Solids([box([-5, -5, 0.5], [60, 60, 8])]), 1);
    const cover = new CoverBound(reach);
    expect(cover.of([1, 1, 1.9], [39, 1, 1.9], [1, 39, 1.9], 0.05)).toBeLessThanOrEqual(0.05);
    expect(cover.of([1, 1, 1.9], [39, 1, 1.9], [1, 39, 2.1], 0.05)).toBe(Infinity);
  });
  it('a place on the surface of other solids is seen', () => {
    const reach = new Reach(new TriangleTree(box([0, 0, 0], [10, 10, 1])), 0.05, new Solids([box([-5, -5, 0.5], [6, 15, 8])]), 50);
    expect([7.99, 8 - 1e-9, 8].map((z) => reach.isNear(3, 3, z, 0.05))).toEqual([true, false, false]);
  });
  it('is cut where two solids that hide it touch, however small the tolerance', () => {
    const tree = new TriangleTree(box([0, 0, 0], [10, 10, 1]));
    const touching = [box([-5, -5, 0.5], [4, 15, 8]), box([4, -5, 0.5], [15, 15, 8])];
    const within = (others: TriMesh[]) => new CoverBound(new Reach(tree, 1e-5, new Solids(others), 50)).of([1, 1, 3], [9, 2, 3.5], [3, 8, 4], 1e-5);
    expect(within(touching)).toBeLessThanOrEqual(1e-5);
    // A gap between them is one, be it ever so narrow; what the other one has is not asked of the first.
    expect(within([touching[0], box([4.0001, -5, 0.5], [15, 15, 8])])).toBe(Infinity);
    expect(within(touching.slice(0, 1))).toBe(Infinity);
  });
});
