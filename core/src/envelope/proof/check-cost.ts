import type { Vec3 } from '#core/math';
import { boundsDiagonal } from '#core/math';
import { eachPlace, meshBounds, type TriMesh, TriangleTree } from '#core/mesh';

// Places of the made geometry that something is held against, and its size as a share of the geometry's.
const PROBES = 500;
const PROBE = 0.02;

/** Mean count of boxes and triangles that a collision check looks at. */
export interface CheckCost {
  readonly before: number;
  readonly after: number;
}

/**
 * What a collision check costs before and after: small cubes are held against places spread over the made geometry, and the boxes and triangles counted
 * that a tree of boxes looks at for each, in the original's meshes and in the made one. A count, not a time: it is the same on every machine.
 */
export function checkCost(originals: readonly TriMesh[], made: TriMesh): CheckCost {
  const bounds = meshBounds(made);
  if (!bounds) return { before: 0, after: 0 };
  const half = (PROBE * boundsDiagonal(bounds)) / 2;
  const probes: Vec3[] = [];
  eachPlace(made, PROBES, (x, y, z) => probes.push([x, y, z]));
  const step = Math.max(1, Math.floor(probes.length / PROBES));
  const few = probes.filter((_, i) => i % step === 0);
  const costOf = (tree: TriangleTree): number => {
    let looked = 0;
    for (const at of few)
      looked += tree.inBox(at, at, half, () => {
        looked++;
      });
    return looked / few.length;
  };
  // Originals are asked for again with every tolerance.
  return { before: originals.reduce((sum, mesh) => sum + costOf(TriangleTree.of(mesh)), 0), after: costOf(new TriangleTree(made)) };
}
