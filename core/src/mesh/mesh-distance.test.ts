import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { compose, move, type Motion, rotationAbout, translation, type Vec3 } from '#core/math';
import { meshDistance, TriangleTree, type TriMesh } from './index.ts';

// A box of 2 by 2 by 2 about its middle, and a ball of many corners.
const box = (): TriMesh => ({
  positions: Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? 1 : -1, i & 2 ? 1 : -1, i & 4 ? 1 : -1])),
  triangles: Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]),
});
function ball(radius: number, n: number): TriMesh {
  const positions: number[] = [];
  for (let i = 0; i <= n; i++)
    for (let j = 0; j < 2 * n; j++) {
      const [a, b] = [(Math.PI * i) / n, (Math.PI * j) / n];
      positions.push(radius * Math.sin(a) * Math.cos(b), radius * Math.sin(a) * Math.sin(b), radius * Math.cos(a));
    }
  const at = (i: number, j: number) => i * 2 * n + (j % (2 * n));
  const triangles: number[] = [];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < 2 * n; j++) triangles.push(at(i, j), at(i + 1, j), at(i, j + 1), at(i, j + 1), at(i + 1, j), at(i + 1, j + 1));
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}
const boxTree = new TriangleTree(box());
const ballTree = new TriangleTree(ball(3, 24));
const between = (motion: Motion, within?: number) => meshDistance(boxTree, ballTree, motion, within)?.distance;

describe('the distance of two meshes', () => {
  it('faces, edges and corners: by hand', () => {
    const apart = (t: Vec3, turned: Motion = translation([0, 0, 0])) => meshDistance(boxTree, boxTree, compose(translation(t), turned))?.distance;
    expect(apart([5, 0.3, 0.2])).toBeCloseTo(3, 12);
    expect(apart([5, 5, 0])).toBeCloseTo(Math.hypot(3, 3), 12);
    expect(apart([5, 5, 5])).toBeCloseTo(Math.hypot(3, 3, 3), 12);
    // An edge of the one turned by 45 degrees stands before a face of the other.
    expect(apart([5, 0, 0], rotationAbout([0, 0, 0], [0, 0, 1], Math.PI / 4))).toBeCloseTo(4 - Math.SQRT2, 12);
    // Two edges that cross in the air.
    const crossing = compose(rotationAbout([0, 0, 0], [1, 0, 0], Math.PI / 2), rotationAbout([0, 0, 0], [0, 0, 1], Math.PI / 4));
    const first = new TriangleTree({ ...box(), positions: box().positions.map((v) => v) });
    expect(meshDistance(first, boxTree, compose(translation([5, 0, 0]), crossing))?.distance).toBeCloseTo(4 - Math.SQRT2, 12);
    expect(apart([1.5, 0.2, 0.1])).toBe(0);
    // One within the other touches nothing: surfaces are meant.
    expect(
      meshDistance(ballTree, new TriangleTree({ ...box(), positions: box().positions.map((v) => v / 10) }), translation([0, 0, 0]))?.distance,
    ).toBeGreaterThan(2);
  });
  it('is asked no farther than is wanted', () => {
    expect(between(translation([10, 0, 0]), 5)).toBeUndefined();
    expect(between(translation([10, 0, 0]), 7)).toBeCloseTo(6, 2);
  });
  it('anywhere: no nearer and no farther than places on both say', () => {
    fc.assert(
      fc.property(
        fc.tuple(fc.double({ min: -8, max: 8, noNaN: true }), fc.double({ min: -8, max: 8, noNaN: true }), fc.double({ min: -8, max: 8, noNaN: true })),
        fc.double({ min: 0, max: 3, noNaN: true }),
        (t, angle) => {
          const motion = compose(translation(t), rotationAbout([0, 0, 0], [0.6, 0, 0.8], angle));
          const found = between(motion) ?? Infinity;
          // The corners of the ball against the box, which is convex: no nearer than what lies between corners may bulge out.
          const { positions: p } = ballTree.mesh;
          let least = Infinity;
          for (let i = 0; i < p.length; i += 3) {
            const q = move(motion, [p[i], p[i + 1], p[i + 2]]);
            const out = q.map((v) => Math.max(0, Math.abs(v) - 1));
            const inside = Math.min(...q.map((v) => 1 - Math.abs(v)));
            least = Math.min(least, inside > 0 ? inside : Math.hypot(...out));
          }
          expect(found).toBeLessThanOrEqual(least + 1e-9);
          // Facets of 7.5 degrees on radius 3 lie within 0.4 of a corner.
          expect(found).toBeGreaterThanOrEqual(least - 0.4);
          expect(found).toBeCloseTo(meshDistance(ballTree, boxTree, inverseOf(motion))?.distance ?? Infinity, 9);
        },
      ),
      { numRuns: 60 },
    );
  });
});

const inverseOf = ({ r, t }: Motion): Motion => ({
  r: [r[0], r[3], r[6], r[1], r[4], r[7], r[2], r[5], r[8]],
  t: [-(r[0] * t[0] + r[3] * t[1] + r[6] * t[2]), -(r[1] * t[0] + r[4] * t[1] + r[7] * t[2]), -(r[2] * t[0] + r[5] * t[1] + r[8] * t[2])],
});
