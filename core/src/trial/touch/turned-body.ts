import type { Motion } from '#core/math';
import { TriangleTree, type TriMesh } from '#core/mesh';
import type { FlatPoint } from '#core/outline';
import type { At } from '../cut/sweep.ts';
import type { Region } from '../region/region.ts';

const trees = new WeakMap<TriMesh, TriangleTree>();
const treeOf = (mesh: TriMesh): TriangleTree => {
  const known = trees.get(mesh) ?? new TriangleTree(mesh);
  trees.set(mesh, known);
  return known;
};

// mm. How far a distance may be below the true one where things are near; where they are not, a tenth of it.
const EXACT = 5e-4;
// mm. What is as near as that touches.
const TOUCHING = 1e-3;

/**
 * A body of a tool as what turns past it sees it: each of its places (x, y, z) stands at radius hypot(x, y). Moved by any way in the turning plane, no place of that
 * image moves farther than the body does.
 */
export class TurnedBody {
  readonly name: string;
  private readonly mesh: TriMesh;
  /** Rows of plane-from-mesh, and its place. */
  private readonly m: Float64Array;
  /** Corners in the plane, about the carrier's reference. */
  private readonly p: Float64Array;

  /** `motion`: from the mesh to the turning plane, with the carrier's reference in its origin. */
  constructor(name: string, mesh: TriMesh, motion: Motion) {
    this.name = name;
    this.mesh = mesh;
    this.m = Float64Array.from([...motion.r, ...motion.t]);
    const { m } = this;
    const from = mesh.positions;
    this.p = new Float64Array(from.length);
    for (let i = 0; i < from.length; i += 3)
      for (let k = 0; k < 3; k++) this.p[i + k] = m[3 * k] * from[i] + m[3 * k + 1] * from[i + 1] + m[3 * k + 2] * from[i + 2] + m[9 + k];
  }

  /**
   * How far its image stays from a region while the reference goes straight from one place to another: never more than that. Along an axis, or where both places are one,
   * less by a tenth or 0.0005 mm at most; else by up to the smaller of its ways along the axes. `most` where it comes no nearer. What `hidden` tells of is not looked at.
   */
  distanceTo(region: Region, from: At, to: At, most: number, hidden?: Shadow): number {
    const { p } = this;
    const { triangles } = this.mesh;
    const ways: Ways = {
      z0: Math.min(from[0], to[0]),
      z1: Math.max(from[0], to[0]),
      x0: Math.min(from[1], to[1]),
      x1: Math.max(from[1], to[1]),
      from,
      hidden,
      region,
    };
    const ofTriangle = (t: number, best: number): number => {
      const a = 3 * triangles[3 * t];
      const b = 3 * triangles[3 * t + 1];
      const c = 3 * triangles[3 * t + 2];
      return divide(ways, p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2], best);
    };
    return treeOf(this.mesh).leastOver(this.boxes(ways, most), ofTriangle, most);
  }

  /**
   * The deepest that its image is in a region with the reference at a place, and where: within 0.005 mm, or a tenth of it, where what lies along
   * the region's surface is not too much for that. No place of a part of a triangle is deeper than its middle by more than it is far from it: parts that cannot be deeper
   * than what was found are not divided.
   */
  depthIn(region: Region, [atZ, atX]: At): { readonly depth: number; readonly at: FlatPoint } {
    const { p } = this;
    const { triangles } = this.mesh;
    let most = 0;
    let where: FlatPoint = [0, 0];
    const parts = new Parts();
    const look = (x: number, y: number, z: number): number => {
      const r = Math.sqrt(x * x + y * y);
      const d = region.depthAt(z, r);
      if (d > most) [most, where] = [d, [z, r]];
      return d;
    };
    const add = (t: readonly number[]): void => {
      const [mx, my, mz] = [(t[0] + t[3] + t[6]) / 3, (t[1] + t[4] + t[7]) / 3, (t[2] + t[5] + t[8]) / 3];
      const around = Math.sqrt(
        Math.max(squared(t[0] - mx, t[1] - my, t[2] - mz), squared(t[3] - mx, t[4] - my, t[5] - mz), squared(t[6] - mx, t[7] - my, t[8] - mz)),
      );
      const d = look(mx, my, mz);
      // Outside: as far as it is, it cannot get in.
      const r = Math.sqrt(mx * mx + my * my);
      const bound = d > 0 ? d + around : around - region.distanceTo(mz, mz, r, r, around);
      if (bound > wanted()) parts.push(bound, t);
    };
    const wanted = () => Math.max(DEEP_ENOUGH, 1.1 * most);
    const ofTriangle = (t: number, best: number): number => {
      const corners = [3 * triangles[3 * t], 3 * triangles[3 * t + 1], 3 * triangles[3 * t + 2]];
      for (const k of corners) look(p[k] + atX, p[k + 1], p[k + 2] + atZ);
      add(corners.flatMap((k) => [p[k] + atX, p[k + 1], p[k + 2] + atZ]));
      return best;
    };
    // Only what meets the region is looked at.
    const ofBox = this.boxes({ z0: atZ, z1: atZ, x0: atX, x1: atX, from: [atZ, atX], hidden: undefined, region }, 1);
    treeOf(this.mesh).leastOver((box, at) => (ofBox(box, at) > 0 ? 1 : 0), ofTriangle, 1);
    // What may be deepest is divided first: a place that is deep is found long before all that lies along a wall is looked at.
    for (let n = 0; n < MOST_DIVIDED; n++) {
      const t = parts.pop(wanted());
      if (!t) break;
      const [ax, ay, az, bx, by, bz, cx, cy, cz] = t;
      const d = [(ax + bx) / 2, (ay + by) / 2, (az + bz) / 2];
      const e = [(bx + cx) / 2, (by + cy) / 2, (bz + cz) / 2];
      const f = [(cx + ax) / 2, (cy + ay) / 2, (cz + az) / 2];
      add([...d, ...e, ...f]);
      add([ax, ay, az, ...d, ...f]);
      add([bx, by, bz, ...e, ...d]);
      add([cx, cy, cz, ...f, ...e]);
    }
    return { depth: most, at: where };
  }

  // The distance of a box of the mesh's tree.
  private boxes(ways: Ways, most: number): (box: Float64Array, at: number) => number {
    const { m } = this;
    return (box, at) => {
      let x0 = m[9];
      let y0 = m[10];
      let z0 = m[11];
      let x1 = x0;
      let y1 = y0;
      let z1 = z0;
      for (let j = 0; j < 3; j++) {
        const low = box[at + j];
        const high = box[at + 3 + j];
        const a = m[j];
        const b = m[3 + j];
        const c = m[6 + j];
        x0 += a > 0 ? a * low : a * high;
        x1 += a > 0 ? a * high : a * low;
        y0 += b > 0 ? b * low : b * high;
        y1 += b > 0 ? b * high : b * low;
        z0 += c > 0 ? c * low : c * high;
        z1 += c > 0 ? c * high : c * low;
      }
      return boxDistance(ways, x0, x1, y0, y1, z0, z1, most);
    };
  }
}

// mm. Less than that is not looked for.
const DEEP_ENOUGH = 0.005;
// Parts that are divided at most: what lies along a wall all over is left then, with what was found.
const MOST_DIVIDED = 300;

/** Parts of triangles, the one that may be deepest first: a heap. */
class Parts {
  private readonly bounds: number[] = [];
  private readonly parts: (readonly number[])[] = [];

  push(bound: number, part: readonly number[]): void {
    const { bounds, parts } = this;
    let i = bounds.length;
    while (i > 0) {
      const above = (i - 1) >> 1;
      if (bounds[above] >= bound) break;
      bounds[i] = bounds[above];
      parts[i] = parts[above];
      i = above;
    }
    bounds[i] = bound;
    parts[i] = part;
  }

  /** The one that may be deepest, if it may be deeper than `wanted`. */
  pop(wanted: number): readonly number[] | undefined {
    const { bounds, parts } = this;
    if (bounds.length === 0 || bounds[0] <= wanted) return undefined;
    const top = parts[0];
    const bound = bounds.pop();
    const part = parts.pop();
    if (bound === undefined || part === undefined || bounds.length === 0) return top;
    let i = 0;
    for (;;) {
      const below = 2 * i + 1;
      if (below >= bounds.length) break;
      const child = below + 1 < bounds.length && bounds[below + 1] > bounds[below] ? below + 1 : below;
      if (bounds[child] <= bound) break;
      bounds[i] = bounds[child];
      parts[i] = parts[child];
      i = child;
    }
    bounds[i] = bound;
    parts[i] = part;
    return top;
  }
}

const squared = (x: number, y: number, z: number): number => x * x + y * y + z * z;

/** Places that need not be looked at: boxes of the half section whose image, with the reference at the start of a way, is surely behind what cuts there. */
export interface Shadow {
  hides(z0: number, z1: number, r0: number, r1: number): boolean;
}

interface Ways {
  readonly z0: number;
  readonly z1: number;
  readonly x0: number;
  readonly x1: number;
  readonly from: At;
  readonly hidden: Shadow | undefined;
  readonly region: Region;
}

const least = (a: number, b: number): number => (a > 0 ? a : b < 0 ? -b : 0);
// Square roots: `Math.hypot` takes three times as long.
const lowest = (x0: number, x1: number, y0: number, y1: number): number => {
  const x = least(x0, x1);
  const y = least(y0, y1);
  return Math.sqrt(x * x + y * y);
};
const highest = (x0: number, x1: number, y0: number, y1: number): number => {
  const x = -x0 > x1 ? x0 : x1;
  const y = -y0 > y1 ? y0 : y1;
  return Math.sqrt(x * x + y * y);
};

// Of a box about the reference: the radii that it has places at on the whole way.
function boxDistance(w: Ways, x0: number, x1: number, y0: number, y1: number, z0: number, z1: number, most: number): number {
  const [a, b] = [x0 + w.x0, x1 + w.x1];
  const d = w.region.distanceTo(z0 + w.z0, z1 + w.z1, lowest(a, b, y0, y1), highest(a, b, y0, y1), most);
  if (d >= most || !w.hidden) return d;
  const [p, q] = [x0 + w.from[1], x1 + w.from[1]];
  return w.hidden.hides(z0 + w.from[0], z1 + w.from[0], lowest(p, q, y0, y1), highest(p, q, y0, y1)) ? most : d;
}

// The least distance over a triangle, divided until its box is small against it.
function divide(w: Ways, ax: number, ay: number, az: number, bx: number, by: number, bz: number, cx: number, cy: number, cz: number, best: number): number {
  const x0 = Math.min(ax, bx, cx);
  const x1 = Math.max(ax, bx, cx);
  const y0 = Math.min(ay, by, cy);
  const y1 = Math.max(ay, by, cy);
  const z0 = Math.min(az, bz, cz);
  const z1 = Math.max(az, bz, cz);
  const low = boxDistance(w, x0, x1, y0, y1, z0, z1, best);
  if (low >= best) return best;
  // Where the box is no nearer than its middle, or as good as: long boxes along a wall are not divided on and on.
  const slack = Math.max(EXACT, low / 10);
  const mx = (ax + bx + cx) / 3;
  const my = (ay + by + cy) / 3;
  const mz = (az + bz + cz) / 3;
  if (boxDistance(w, mx, mx, my, my, mz, mz, low + 2 * slack) <= low + slack) return low <= TOUCHING ? 0 : low;
  if (x1 - x0 + y1 - y0 + z1 - z0 <= EXACT) return low <= TOUCHING ? 0 : low;
  const dx = (ax + bx) / 2;
  const dy = (ay + by) / 2;
  const dz = (az + bz) / 2;
  const ex = (bx + cx) / 2;
  const ey = (by + cy) / 2;
  const ez = (bz + cz) / 2;
  const fx = (cx + ax) / 2;
  const fy = (cy + ay) / 2;
  const fz = (cz + az) / 2;
  let found = divide(w, dx, dy, dz, ex, ey, ez, fx, fy, fz, best);
  if (found > 0) found = divide(w, ax, ay, az, dx, dy, dz, fx, fy, fz, found);
  if (found > 0) found = divide(w, bx, by, bz, ex, ey, ez, dx, dy, dz, found);
  return found > 0 ? divide(w, cx, cy, cz, fx, fy, fz, ex, ey, ez, found) : found;
}
