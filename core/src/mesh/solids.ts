import type { Bounds } from '#core/math';
import { findSelfCrossings } from './self-crossings.ts';
import { SignedDistance } from './signed-distance.ts';
import { joinMeshes, meshBounds, type TriMesh } from './tri-mesh.ts';
import { TriangleTree } from './triangle-tree.ts';

/** One of the solids, with where it was asked last, and what the answer was. */
interface Solid {
  readonly signed: SignedDistance;
  readonly box: Bounds;
  readonly last: { x: number; y: number; z: number; distance: number };
}

/** Welded, closed meshes as the solids that they bound, together; they may overlap. */
export class Solids {
  private readonly each: readonly Solid[];

  constructor(meshes: readonly TriMesh[]) {
    this.each = meshes.flatMap((mesh) => {
      const box = meshBounds(mesh);
      return box ? [{ signed: new SignedDistance(mesh), box, last: { x: 0, y: 0, z: 0, distance: NaN } }] : [];
    });
  }

  /** Whether a point lies deeper than so many mm, 0 or more, in one of them. */
  isDeeper(x: number, y: number, z: number, depth: number): boolean {
    for (const { signed, box, last } of this.each) {
      if (x <= box.min[0] || x >= box.max[0] || y <= box.min[1] || y >= box.max[1] || z <= box.min[2] || z >= box.max[2]) continue;
      // Points that are asked for one after the other are near each other: a distance differs by no more than the way between them.
      const way = Math.sqrt((x - last.x) * (x - last.x) + (y - last.y) * (y - last.y) + (z - last.z) * (z - last.z));
      if (last.distance + way < -depth) return true;
      if (last.distance - way > -depth) continue;
      if (this.distanceFrom(signed, last, x, y, z) < -depth) return true;
    }
    return false;
  }

  /** The least signed distance of a point in one of them, mm: how deep it lies, with a minus. 0 outside of all. */
  at(x: number, y: number, z: number): number {
    let least = 0;
    for (const { signed, box, last } of this.each) {
      if (x <= box.min[0] || x >= box.max[0] || y <= box.min[1] || y >= box.max[1] || z <= box.min[2] || z >= box.max[2]) continue;
      least = Math.min(least, this.distanceFrom(signed, last, x, y, z));
    }
    return least;
  }

  private distanceFrom(signed: SignedDistance, last: Solid['last'], x: number, y: number, z: number): number {
    last.distance = signed.at(x, y, z);
    last.x = x;
    last.y = y;
    last.z = z;
    return last.distance;
  }
}

// mm. A corner that stands out of a surface by less is on it.
const ON_SURFACE = 1e-9;

/** Whether a closed mesh lies in another one: no corner of it outside, and the two surfaces nowhere cross. Neither may cross itself. */
export function liesWithin(inner: TriMesh, outer: TriMesh): boolean {
  const { positions: p } = inner;
  const [own, box] = [meshBounds(inner), meshBounds(outer)];
  if (!own || !box || own.min.some((v, k) => v < box.min[k] - ON_SURFACE) || own.max.some((v, k) => v > box.max[k] + ON_SURFACE)) return false;
  const signed = new SignedDistance(outer);
  for (let i = 0; i < p.length; i += 3) if (signed.at(p[i], p[i + 1], p[i + 2]) > ON_SURFACE) return false;
  return findSelfCrossings(new TriangleTree(joinMeshes([outer, inner]))).count === 0;
}
