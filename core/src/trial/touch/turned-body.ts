import type { Motion } from '#core/math';
import { TriangleTree, type TriMesh } from '#core/mesh';
import type { FlatPoint } from '#core/outline';
import type { At } from '../cut/sweep.ts';
import type { Region } from '../region/region.ts';

// mm. How far a distance may be below the true one where things are near; where they are not, a tenth of it.
const EXACT = 5e-4;
// mm. What is as near as that touches.
const TOUCHING = 1e-3;

// mm. Of a way so long across the axis the image is as good as straight.
const SHORT_ACROSS = 0.15;

/** Whether a way is so short across the axis that distances over it are told as exactly as of a place. */
export const isShortAcross = (from: At, to: At): boolean => Math.abs(to[1] - from[1]) <= SHORT_ACROSS;

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
  /** The triangle that was nearest when it was looked at last. */
  private nearest = 0;

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
   * How far its image stays from a region while the reference goes straight from one place to another: never more than that, and less by a tenth or 0.0005 mm at most,
   * unless it is a long one along both axes at once: then by up to the smaller of its ways along them.
   * `most` where it comes no nearer. What `hidden` tells of is not looked at.
   */
  distanceTo(region: Region, from: At, to: At, most: number, hidden?: Shadow): number {
    const { p } = this;
    const { triangles } = this.mesh;
    const isSlanted = from[0] !== to[0] && from[1] !== to[1];
    const ways: Ways = {
      z0: Math.min(from[0], to[0]),
      z1: Math.max(from[0], to[0]),
      x0: Math.min(from[1], to[1]),
      x1: Math.max(from[1], to[1]),
      from,
      to,
      isSlanted: isSlanted && isShortAcross(from, to),
      hidden,
      region,
    };
    const ofTriangle = (t: number, best: number): number => {
      const a = 3 * triangles[3 * t];
      const b = 3 * triangles[3 * t + 1];
      const c = 3 * triangles[3 * t + 2];
      const found = divide(ways, p[a], p[a + 1], p[a + 2], p[b], p[b + 1], p[b + 2], p[c], p[c + 1], p[c + 2], best);
      if (found < best) this.nearest = t;
      return found;
    };
    // What was nearest before mostly is again, and then little else has to be looked at.
    const first = triangles.length > 0 ? ofTriangle(this.nearest, most) : most;
    return first > 0 ? TriangleTree.of(this.mesh).leastOver(this.boxes(ways, most), ofTriangle, first) : 0;
  }

  /** How far from the axis its image reaches between one plane across the axis and the next, with the reference at a place; 0 where it is not. `planes`: Z, rising. */
  widestBetween([z, x]: At, planes: readonly number[]): Float64Array {
    const { p } = this;
    const { triangles: t } = this.mesh;
    const out = new Float64Array(planes.length - 1);
    const [first] = planes;
    const step = (planes[planes.length - 1] - first) / (planes.length - 1);
    const put = (slice: number, r: number) => {
      if (slice >= 0 && slice < out.length && r > out[slice]) out[slice] = r;
    };
    const sliceOf = (at: number) => Math.floor((at - first) / step);
    // The radius is convex along an edge: its ends and its places at the planes decide.
    for (let i = 0; i < t.length; i += 3)
      for (let k = 0; k < 3; k++) {
        const [a, b] = [3 * t[i + k], 3 * t[i + ((k + 1) % 3)]];
        const [za, zb] = [p[a + 2] + z, p[b + 2] + z];
        put(sliceOf(za), Math.hypot(p[a] + x, p[a + 1]));
        const [low, high] = za < zb ? [za, zb] : [zb, za];
        for (let n = Math.max(0, Math.ceil((low - first) / step)); n < planes.length && planes[n] < high; n++) {
          const s = (planes[n] - za) / (zb - za);
          const r = Math.hypot(p[a] + s * (p[b] - p[a]) + x, p[a + 1] + s * (p[b + 1] - p[a + 1]));
          put(n, r);
          put(n - 1, r);
        }
      }
    return out;
  }

  /** Corners of its triangles as they are met, [z, r] packed, with the reference at a place. */
  image([z, x]: At): { readonly corners: Float64Array; readonly triangles: Uint32Array } {
    const { p } = this;
    const corners = new Float64Array((2 * p.length) / 3);
    for (let i = 0, k = 0; i < p.length; i += 3, k += 2) {
      corners[k] = p[i + 2] + z;
      corners[k + 1] = Math.sqrt((p[i] + x) * (p[i] + x) + p[i + 1] * p[i + 1]);
    }
    return { corners, triangles: this.mesh.triangles };
  }

  /** Places [x, y, z] about the reference, packed: its corners, and between them along the sides of triangles, no farther apart than `apart` mm. */
  places(apart: number): Float64Array {
    const { p } = this;
    const { triangles: t } = this.mesh;
    const out: number[] = [...p];
    for (let i = 0; i < t.length; i++) {
      const [a, b] = [3 * t[i], 3 * t[i % 3 === 2 ? i - 2 : i + 1]];
      // Each side belongs to two triangles, which go along it both ways.
      if (a > b) continue;
      const n = Math.ceil(Math.sqrt(squared(p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2])) / apart);
      for (let k = 1; k < n; k++) for (let d = 0; d < 3; d++) out.push(p[a + d] + ((p[b + d] - p[a + d]) * k) / n);
    }
    return Float64Array.from(out);
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
    const ofBox = this.boxes({ z0: atZ, z1: atZ, x0: atX, x1: atX, from: [atZ, atX], to: [atZ, atX], isSlanted: false, hidden: undefined, region }, 1);
    TriangleTree.of(this.mesh).leastOver((box, at) => (ofBox(box, at) > 0 ? 1 : 0), ofTriangle, 1);
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
  readonly to: At;
  /** Whether it goes along both axes at once, and so little that its image is as good as straight. */
  readonly isSlanted: boolean;
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

const convex = new Float64Array(28);

/**
 * No more than the least distance of a triangle's image on its whole way, from the convex hull of the images of its corners at both ends: radii are convex over the
 * triangle and the way, so they lie below that hull's, and by their second derivative (at most 1 / r) below it by no more than half of what corners are apart, squared,
 * over the least radius. 0 where that tells nothing.
 */
function imageDistance(
  { from, to, region }: Ways,
  ax: number,
  ay: number,
  az: number,
  bx: number,
  by: number,
  bz: number,
  cx: number,
  cy: number,
  cz: number,
  leastRadius: number,
  most: number,
): number {
  const side = Math.max(squared(ax - bx, ay - by, 0), squared(bx - cx, by - cy, 0), squared(cx - ax, cy - ay, 0));
  const way = to[1] - from[1];
  const below = (side / 3 + (way * way) / 4) / (2 * leastRadius);
  if (!(below < most)) return 0;
  putImage(points, 0, ax, ay, az, from);
  putImage(points, 1, bx, by, bz, from);
  putImage(points, 2, cx, cy, cz, from);
  const isStill = from[0] === to[0] && way === 0;
  if (!isStill) {
    putImage(points, 3, ax, ay, az, to);
    putImage(points, 4, bx, by, bz, to);
    putImage(points, 5, cx, cy, cz, to);
  }
  const corners = hullOf(points, isStill ? 3 : 6, convex);
  return Math.max(0, region.distanceToConvex(convex, corners, most + below) - below);
}

function putImage(out: Float64Array, i: number, x: number, y: number, z: number, at: At): void {
  const u = x + at[1];
  out[2 * i] = z + at[0];
  out[2 * i + 1] = Math.sqrt(u * u + y * y);
}

// How near a place gets on its way; between its ends it is taken to go straight. Where something hides it, as its box is told: what is hidden is not near.
function placeDistance(w: Ways, x: number, y: number, z: number, most: number): number {
  const { from, to, region } = w;
  if (w.hidden || !w.isSlanted) return boxDistance(w, x, x, y, y, z, z, most);
  putImage(convex, 0, x, y, z, from);
  putImage(convex, 1, x, y, z, to);
  return region.distanceToConvex(convex, 2, most);
}

const points = new Float64Array(12);

/** The convex hull of a few places, packed, counter-clockwise (Andrew's monotone chain; they are sorted by it); gives how many corners it has. */
function hullOf(p: Float64Array, count: number, out: Float64Array): number {
  for (let i = 1; i < count; i++)
    for (let k = i; k > 0 && (p[2 * k] < p[2 * k - 2] || (p[2 * k] === p[2 * k - 2] && p[2 * k + 1] < p[2 * k - 1])); k--) {
      const [z, r] = [p[2 * k], p[2 * k + 1]];
      p[2 * k] = p[2 * k - 2];
      p[2 * k + 1] = p[2 * k - 1];
      p[2 * k - 2] = z;
      p[2 * k - 1] = r;
    }
  let n = chain(p, out, 0, 0, count, 1);
  // Its last corner is the first one of the way back.
  n = chain(p, out, n - 1, count - 1, count, -1);
  return Math.max(1, n - 1);
}

// One side of the hull, from a place on, added to `out` after its first `kept` corners; gives how many there are then.
function chain(p: Float64Array, out: Float64Array, kept: number, first: number, count: number, step: 1 | -1): number {
  let n = kept;
  for (let k = 0, i = first; k < count; k++, i += step) {
    const z = p[2 * i];
    const r = p[2 * i + 1];
    while (n >= kept + 2) {
      const a = 2 * n - 4;
      if ((out[a + 2] - out[a]) * (r - out[a + 1]) - (out[a + 3] - out[a + 1]) * (z - out[a]) > 0) break;
      n--;
    }
    out[2 * n] = z;
    out[2 * n + 1] = r;
    n++;
  }
  return n;
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
  if (!w.isSlanted && boxDistance(w, mx, mx, my, my, mz, mz, low + 2 * slack) <= low + slack) return low <= TOUCHING ? 0 : low;
  // A box around what slants is wide: its image itself lies closer together.
  const image = imageDistance(w, ax, ay, az, bx, by, bz, cx, cy, cz, lowest(x0 + w.x0, x1 + w.x1, y0, y1), best);
  if (image >= best) return best;
  const bound = Math.max(low, image);
  const near = Math.max(EXACT, bound / 10);
  if ((image > low || w.isSlanted) && placeDistance(w, mx, my, mz, bound + 2 * near) <= bound + near) return bound <= TOUCHING ? 0 : bound;
  if (x1 - x0 + y1 - y0 + z1 - z0 <= EXACT) return bound <= TOUCHING ? 0 : bound;
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
