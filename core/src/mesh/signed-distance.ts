import type { Vec3 } from '#core/math';
import { nextHalf, pairHalfEdges } from './half-edges.ts';
import type { TriMesh } from './tri-mesh.ts';
import { TriangleTree } from './triangle-tree.ts';

/**
 * Signed distances from a welded, closed mesh: negative inside. The sign is that of the point against the normal of whatever it is nearest to:
 * of a triangle, of an edge (the sum of its two), of a corner (the sum weighted by angles), which is right everywhere (Baerentzen and Aanaes,
 * Signed distance computation using the angle weighted pseudonormal, 2005).
 */
export class SignedDistance {
  readonly tree: TriangleTree;
  private readonly normal: Float64Array;
  private readonly edgeNormal: Float64Array;
  private readonly cornerNormal: Float64Array;

  /** Those of a mesh that is asked again and again, made once. */
  static of(mesh: TriMesh): SignedDistance {
    const known = KNOWN.get(mesh);
    if (known) return known;
    const made = new SignedDistance(mesh);
    KNOWN.set(mesh, made);
    return made;
  }

  constructor(mesh: TriMesh) {
    this.tree = new TriangleTree(mesh);
    const { positions: p, triangles: t } = mesh;
    this.normal = new Float64Array(t.length);
    this.cornerNormal = new Float64Array(p.length);
    this.edgeNormal = new Float64Array(3 * t.length);
    for (let i = 0; i < t.length; i += 3) {
      const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
      const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
      const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
      const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
      const l = Math.hypot(n[0], n[1], n[2]) || 1;
      for (let k = 0; k < 3; k++) this.normal[i + k] = n[k] / l;
      for (let k = 0; k < 3; k++) {
        const angle = angleAt(p, 3 * t[i + k], 3 * t[i + ((k + 1) % 3)], 3 * t[i + ((k + 2) % 3)]);
        for (let j = 0; j < 3; j++) this.cornerNormal[3 * t[i + k] + j] += angle * this.normal[i + j];
      }
    }
    const partner = pairHalfEdges(mesh);
    for (let h = 0; h < t.length; h++) {
      const own = h - (h % 3);
      const other = partner[h] < 0 ? own : partner[h] - (partner[h] % 3);
      for (let k = 0; k < 3; k++) this.edgeNormal[3 * h + k] = this.normal[own + k] + this.normal[other + k];
    }
  }

  /** Unit normal of a triangle, out of the material. */
  normalOf(triangle: number): Vec3 {
    const i = 3 * triangle;
    return [this.normal[i], this.normal[i + 1], this.normal[i + 2]];
  }

  /** Distance of a point from the mesh, mm, negative inside; points further than `within` give Infinity. */
  at(x: number, y: number, z: number, within = Infinity): number {
    const { tree } = this;
    if (!tree.nearest(x, y, z, within)) return Infinity;
    const [w0, w1, w2] = tree.weights;
    const f = 3 * tree.triangle;
    const small = 1e-10;
    const zero = (w0 < small ? 1 : 0) + (w1 < small ? 2 : 0) + (w2 < small ? 4 : 0);
    const dx = x - tree.point[0];
    const dy = y - tree.point[1];
    const dz = z - tree.point[2];
    const { triangles: t } = tree.mesh;
    let n = this.edgeNormal;
    let i: number;
    if (zero === 0) {
      n = this.normal;
      i = f;
    }
    // One corner has no weight: the point is on the edge across from it; two have none: on the third.
    else if (zero === 1) i = 3 * nextHalf(f);
    else if (zero === 2) i = 3 * (f + 2);
    else if (zero === 4) i = 3 * f;
    else {
      n = this.cornerNormal;
      i = 3 * t[zero === 6 ? f : zero === 5 ? f + 1 : f + 2];
    }
    return dx * n[i] + dy * n[i + 1] + dz * n[i + 2] < 0 ? -tree.distance : tree.distance;
  }
}

const KNOWN = new WeakMap<TriMesh, SignedDistance>();

function angleAt(p: Float64Array, a: number, b: number, c: number): number {
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const cross = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx);
  return Math.atan2(cross, ux * vx + uy * vy + uz * vz);
}
