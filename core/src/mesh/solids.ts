import type { Bounds, Vec3 } from '#core/math';
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
  /** Of the last polygon that none was seen to hold, although one has its middle: a plane of that one's surface that may slice it, as normal and point. */
  readonly slice = new Float64Array(6);
  isSliced = false;

  constructor(meshes: readonly TriMesh[]) {
    this.each = meshes.flatMap((mesh) => {
      const box = meshBounds(mesh);
      return box ? [{ signed: SignedDistance.of(mesh), box, last: { x: 0, y: 0, z: 0, distance: NaN } }] : [];
    });
  }

  /** Whether a point lies deeper than so many mm, 0 or more, in one of them. */
  isDeeper(x: number, y: number, z: number, depth: number): boolean {
    for (const { signed, box, last } of this.each) {
      if (!isInBox(box, x, y, z)) continue;
      // Points that are asked for one after the other are near each other: a distance differs by no more than the way between them.
      const way = wayFrom(last, x, y, z);
      if (last.distance + way < -depth) return true;
      if (last.distance - way > -depth) continue;
      if (distanceFrom(signed, last, x, y, z) < -depth) return true;
    }
    return false;
  }

  /**
   * Whether a flat convex polygon (packed corners, a place among them, and how far the corners are from that) lies in one of them wholly: the place does, and is
   * further from that one's surface than all corners, or nothing of the surface is on both sides of the polygon's plane and has it on both sides of its own.
   */
  hold(corners: Float64Array, count: number, mx: number, my: number, mz: number, size: number): boolean {
    this.isSliced = false;
    const low: [number, number, number] = [Infinity, Infinity, Infinity];
    const high: [number, number, number] = [-Infinity, -Infinity, -Infinity];
    for (let i = 0; i < 3 * count; i += 3)
      for (let k = 0; k < 3; k++) {
        if (corners[i + k] < low[k]) low[k] = corners[i + k];
        if (corners[i + k] > high[k]) high[k] = corners[i + k];
      }
    for (const { signed, box, last } of this.each) {
      if (!isInBox(box, mx, my, mz)) continue;
      const way = wayFrom(last, mx, my, mz);
      if (last.distance + way < -size) return true;
      if (last.distance - way >= -ON_SURFACE) continue;
      const distance = distanceFrom(signed, last, mx, my, mz);
      if (distance < -size) return true;
      if (distance >= -ON_SURFACE || this.isSlicedByBox(box, low, high)) continue;
      normalOf(corners, count);
      let met = -1;
      signed.tree.inBox(low, high, 0, (f) => {
        if (met < 0 && maySlice(signed.tree.mesh, f, corners, count)) met = f;
      });
      if (met < 0) return true;
      const { positions, triangles } = signed.tree.mesh;
      const corner = 3 * triangles[3 * met];
      this.slice.set(signed.normalOf(met));
      this.slice.set(positions.subarray(corner, corner + 3), 3);
      this.isSliced = true;
    }
    return false;
  }

  // Whether a box sticks out of that of a solid: then a side of that slices it.
  private isSlicedByBox(box: Bounds, low: Vec3, high: Vec3): boolean {
    for (let k = 0; k < 3; k++) {
      const isBelow = low[k] < box.min[k] - ON_SURFACE;
      if (!isBelow && high[k] <= box.max[k] + ON_SURFACE) continue;
      this.slice.fill(0);
      this.slice[k] = isBelow ? -1 : 1;
      this.slice[3 + k] = isBelow ? box.min[k] : box.max[k];
      this.isSliced = true;
      return true;
    }
    return false;
  }
}

const isInBox = ({ min, max }: Bounds, x: number, y: number, z: number): boolean =>
  x > min[0] && x < max[0] && y > min[1] && y < max[1] && z > min[2] && z < max[2];

// Asks anew, and notes it.
function distanceFrom(signed: SignedDistance, last: Solid['last'], x: number, y: number, z: number): number {
  last.distance = signed.at(x, y, z);
  last.x = x;
  last.y = y;
  last.z = z;
  return last.distance;
}

const wayFrom = (last: Solid['last'], x: number, y: number, z: number): number =>
  Math.sqrt((x - last.x) * (x - last.x) + (y - last.y) * (y - last.y) + (z - last.z) * (z - last.z));

// mm. A corner that stands out of a surface, or of a plane that it was cut by, by less is on it.
const ON_SURFACE = 1e-9;

// Of the polygon that was looked at last: a normal of any length, and its offset from the origin times that.
const POLYGON = new Float64Array(4);

function normalOf(p: Float64Array, count: number): void {
  let [x, y, z] = [0, 0, 0];
  for (let i = 0; i < count; i++) {
    const [a, b] = [3 * i, 3 * ((i + 1) % count)];
    x += p[a + 1] * p[b + 2] - p[a + 2] * p[b + 1];
    y += p[a + 2] * p[b] - p[a] * p[b + 2];
    z += p[a] * p[b + 1] - p[a + 1] * p[b];
  }
  POLYGON[0] = x;
  POLYGON[1] = y;
  POLYGON[2] = z;
  POLYGON[3] = x * p[0] + y * p[1] + z * p[2];
}

// Whether a triangle and the polygon may meet: neither lies on one side of the other's plane. A polygon may touch the triangle's.
function maySlice({ positions: p, triangles: t }: TriMesh, f: number, q: Float64Array, count: number): boolean {
  const a = 3 * t[3 * f];
  const b = 3 * t[3 * f + 1];
  const c = 3 * t[3 * f + 2];
  const [x, y, z, offset] = POLYGON;
  const da = x * p[a] + y * p[a + 1] + z * p[a + 2] - offset;
  const db = x * p[b] + y * p[b + 1] + z * p[b + 2] - offset;
  const dc = x * p[c] + y * p[c + 1] + z * p[c + 2] - offset;
  if ((da > 0 && db > 0 && dc > 0) || (da < 0 && db < 0 && dc < 0)) return false;
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const slack = ON_SURFACE * Math.sqrt(nx * nx + ny * ny + nz * nz);
  let [above, below] = [false, false];
  for (let i = 0; i < 3 * count; i += 3) {
    const d = nx * (q[i] - p[a]) + ny * (q[i + 1] - p[a + 1]) + nz * (q[i + 2] - p[a + 2]);
    if (d > slack) above = true;
    if (d < -slack) below = true;
  }
  return above && below;
}

/** Whether a closed mesh lies in another one: no corner of it outside, and the two surfaces nowhere cross. Neither may cross itself. */
export function liesWithin(inner: TriMesh, outer: TriMesh): boolean {
  const { positions: p, triangles: t } = inner;
  const [own, box] = [meshBounds(inner), meshBounds(outer)];
  if (!own || !box || own.min.some((v, k) => v < box.min[k] - ON_SURFACE) || own.max.some((v, k) => v > box.max[k] + ON_SURFACE)) return false;
  const signed = SignedDistance.of(outer);
  const far = furthestFromCorners(inner);
  // A triangle all of whose corners lie deeper than its places are from them is not crossed.
  const isDeep = new Uint8Array(p.length / 3);
  const last = { x: 0, y: 0, z: 0, distance: Infinity };
  for (let v = 0; v < isDeep.length; v++) {
    const [x, y, z] = [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
    let distance = last.distance + wayFrom(last, x, y, z);
    if (!(distance < -far[v])) {
      distance = distanceFrom(signed, last, x, y, z);
      if (distance > ON_SURFACE) return false;
    }
    if (distance < -far[v]) isDeep[v] = 1;
  }
  const near = t.filter((_, i) => !(isDeep[t[i - (i % 3)]] && isDeep[t[i - (i % 3) + 1]] && isDeep[t[i - (i % 3) + 2]]));
  return near.length === 0 || findSelfCrossings(new TriangleTree(joinMeshes([outer, { positions: p, triangles: near }])), own).count === 0;
}

// mm. Of each corner how far a place on its triangles may be from the nearest of their corners: that is at most their longest side over the square root of 3.
function furthestFromCorners({ positions: p, triangles: t }: TriMesh): Float64Array {
  const far = new Float64Array(p.length / 3);
  for (let i = 0; i < t.length; i += 3) {
    let longest = 0;
    for (let k = 0; k < 3; k++) {
      const [a, b] = [3 * t[i + k], 3 * t[i + ((k + 1) % 3)]];
      longest = Math.max(longest, Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]));
    }
    for (let k = 0; k < 3; k++) far[t[i + k]] = Math.max(far[t[i + k]], longest / Math.sqrt(3));
  }
  return far;
}
