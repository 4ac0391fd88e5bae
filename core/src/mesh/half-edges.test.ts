import { describe, expect, it } from '@jest/globals';
import { labelShells, nextHalf, pairHalfEdges } from './half-edges.ts';
import { weld, joinMeshes, type TriMesh } from './tri-mesh.ts';

const box = (x: number, y: number, z: number): TriMesh => ({
  positions: Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [x + (i & 1 ? 4 : 0), y + (i & 2 ? 4 : 0), z + (i & 4 ? 4 : 0)])),
  triangles: Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]),
});
const shellsOf = (mesh: TriMesh) => labelShells(mesh.triangles.length / 3, pairHalfEdges(mesh)).count;

describe('half-edges that run along each other', () => {
  it('are two and two, each the other way, in a closed mesh', () => {
    const mesh = box(0, 0, 0);
    const partner = pairHalfEdges(mesh);
    partner.forEach((other, h) => {
      expect(partner[other]).toBe(h);
      expect([mesh.triangles[other], mesh.triangles[nextHalf(other)]]).toEqual([mesh.triangles[nextHalf(h)], mesh.triangles[h]]);
    });
    expect(shellsOf(mesh)).toBe(1);
  });
  it('have none at an open border', () => {
    const mesh = box(0, 0, 0);
    expect(pairHalfEdges({ ...mesh, triangles: mesh.triangles.slice(3) }).filter((h) => h < 0)).toHaveLength(3);
  });
  it('stay with their own solid where two touch along an edge, at whatever side', () => {
    for (const [y, z] of [
      [4, 4],
      [-4, 4],
      [4, -4],
      [-4, -4],
    ]) {
      const touching = weld(joinMeshes([box(0, 0, 0), box(0, y, z)]), 1e-9);
      expect(touching.positions.length / 3).toBe(14);
      expect(pairHalfEdges(touching).includes(-1)).toBe(false);
      expect(shellsOf(touching)).toBe(2);
    }
  });
  it('of two bodies that touch in a corner, or not at all, keep them apart', () => {
    expect(shellsOf(weld(joinMeshes([box(0, 0, 0), box(4, 4, 4)]), 1e-9))).toBe(2);
    expect(shellsOf(joinMeshes([box(0, 0, 0), box(9, 0, 0), box(0, 9, 0)]))).toBe(3);
  });
});
