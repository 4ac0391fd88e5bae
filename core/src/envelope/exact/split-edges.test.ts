import { describe, expect, it } from '@jest/globals';
import { isClosedMesh, SignedDistance, type TriMesh, validateMesh } from '#core/mesh';
import { splitEdgesAt } from './split-edges.ts';

// A cube of 10; its two triangles of each side are a face.
const cube: TriMesh = {
  positions: Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? 10 : 0, i & 2 ? 10 : 0, i & 4 ? 10 : 0])),
  triangles: Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]),
};
const faceOf = Uint32Array.from({ length: 12 }, (_, i) => i >> 1);

describe('edges that are split at points outside', () => {
  it('a border that bulges is followed, the mesh stays closed, faces stay together', () => {
    // Along the edge x, at y = 10, z = 10: a flat arc that stands out by 0.04 in the middle.
    const points = Float64Array.from(Array.from({ length: 21 }, (_, i) => i / 20).flatMap((s) => [10 * s, 10 + 0.16 * s * (1 - s), 10]));
    const split = splitEdgesAt(cube, faceOf, points, 0);
    expect(split.greatest).toBeGreaterThan(0.01);
    expect(split.greatest).toBeLessThan(0.041);
    expect(isClosedMesh(validateMesh(split.mesh))).toBe(true);
    expect(Array.from(split.faceOf)).toEqual(Array.from(split.faceOf).sort((a, b) => a - b));
    expect(split.faceOf.length).toBe(split.mesh.triangles.length / 3);
    const signed = new SignedDistance(split.mesh);
    const before = new SignedDistance(cube);
    for (let i = 0; i < points.length; i += 3) {
      const [x, y, z] = points.slice(i, i + 3);
      // What stood out by most is in; the rest is nearer than it was.
      expect(signed.at(x, y, z)).toBeLessThan(Math.max(1e-7, before.at(x, y, z) / 2));
    }
  });
  it('what is inside, or before the first one that counts, changes nothing', () => {
    const points = Float64Array.of(5, 12, 10, 5, 5, 5, 10, 10, 10);
    const split = splitEdgesAt(cube, faceOf, points, 3);
    expect(split.mesh).toBe(cube);
    expect(split.greatest).toBe(0);
  });
  it('a point beside the end of an edge takes its corner along, and no side moves inwards', () => {
    const beside = [10 + 3e-5, 10 + 1e-5, 10 - 2e-6] as const;
    const split = splitEdgesAt(cube, faceOf, Float64Array.from(beside), 0);
    expect(split.mesh.triangles).toHaveLength(cube.triangles.length);
    expect(split.greatest).toBeGreaterThan(2e-5);
    expect(split.greatest).toBeLessThan(4e-5);
    const signed = new SignedDistance(split.mesh);
    expect(signed.at(...beside)).toBeLessThan(1e-7);
    for (let i = 0; i < cube.positions.length; i += 3) expect(signed.at(cube.positions[i], cube.positions[i + 1], cube.positions[i + 2])).toBeLessThan(1e-9);
    // One that stands far away is not the corner's.
    expect(splitEdgesAt(cube, faceOf, Float64Array.of(12, 12, 12), 0).mesh.positions).toEqual(cube.positions);
  });
});
