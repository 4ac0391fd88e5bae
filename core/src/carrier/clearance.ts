import type { Motion, Vec3 } from '#core/math';
import { movedBox, TriangleTree, type TriMesh } from '#core/mesh';

/** A solid of revolution about the spindle axis (Z of the machine), as a cylinder from one place to another: a chuck, jaws as they sweep, a blank. mm. */
export interface Turned {
  readonly name: string;
  readonly radius: number;
  readonly from: number;
  readonly to: number;
}

/** Positions that a carrier's reference takes, from the smallest to the largest, in machine coordinates; one value where it does not move. */
export type Positions = readonly [x: readonly [number, number], y: readonly [number, number], z: readonly [number, number]];

/** How near something gets: mm, 0 where they touch or go through each other; where on it, and with the reference where. */
export interface Nearest {
  readonly distance: number;
  readonly at: Vec3;
  readonly position: Vec3;
}

// mm. How far a distance may be above the true one.
const EXACT = 1e-3;

/**
 * How near a mesh gets to something turned while the carrier that it moves with takes any of its positions, within 0.001 mm; undefined where it stays farther away than
 * `within`. `motion`: machine-from-mesh with the reference in the machine's origin.
 *
 * A cylinder about Z, moved along X and Z, sweeps a convex body: all points not farther from a rectangle than its radius, square to Z. So the distance of a point from it
 * is a convex function, and over a triangle it lies above its tangent plane anywhere. Triangles are divided until that bound and a point of them agree.
 */
export function nearestTo(mesh: TriMesh, motion: Motion, body: Turned, positions: Positions, within = Infinity): Nearest | undefined {
  const swept = sweep(body, positions);
  const { r, t } = motion;
  const { positions: p, triangles } = mesh;
  let found: Vec3 | undefined;
  const moved = new Float64Array(6);
  const [low, high] = [moved.subarray(0, 3), moved.subarray(3)];
  const ofBox = (box: Float64Array, at: number): number => {
    movedBox(box, at, motion, moved);
    return boxDistance(swept, low, high);
  };
  const corner = (i: number): Vec3 => {
    const [x, y, z] = [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
    return [r[0] * x + r[1] * y + r[2] * z + t[0], r[3] * x + r[4] * y + r[5] * z + t[1], r[6] * x + r[7] * y + r[8] * z + t[2]];
  };
  const ofTriangle = (triangle: number, best: number): number => {
    const least = leastOnTriangle(swept, corner(triangles[3 * triangle]), corner(triangles[3 * triangle + 1]), corner(triangles[3 * triangle + 2]), best);
    if (least && least.distance < best) found = least.at;
    return least?.distance ?? best;
  };
  const distance = TriangleTree.of(mesh).leastOver(ofBox, ofTriangle, within);
  if (!found) return undefined;
  const position = positionFor(body, positions, found);
  return { distance, at: [found[0] + position[0], found[1] + position[1], found[2] + position[2]], position };
}

interface Swept {
  readonly x: readonly [number, number];
  readonly y: readonly [number, number];
  readonly z: readonly [number, number];
  readonly radius: number;
}

// What the body sweeps, seen from the carrier: it moves the other way.
const sweep = (body: Turned, [x, y, z]: Positions): Swept => ({
  x: [-x[1], -x[0]],
  y: [-y[1], -y[0]],
  z: [body.from - z[1], body.to - z[0]],
  radius: body.radius,
});

const gap = (v: number, [low, high]: readonly [number, number]): number => (v < low ? v - low : v > high ? v - high : 0);

function boxDistance({ x, y, z, radius }: Swept, low: ArrayLike<number>, high: ArrayLike<number>): number {
  const apart = (k: 0 | 1 | 2, [from, to]: readonly [number, number]) => Math.max(0, low[k] - to, from - high[k]);
  return Math.hypot(Math.max(0, Math.hypot(apart(0, x), apart(1, y)) - radius), apart(2, z));
}

/** The distance of a point, and the way it grows fastest (unit; nothing inside). */
function distanceAt({ x, y, z, radius }: Swept, p: Vec3): { d: number; g: Vec3 } {
  const [gx, gy, gz] = [gap(p[0], x), gap(p[1], y), gap(p[2], z)];
  const across = Math.hypot(gx, gy);
  const out = Math.max(0, across - radius);
  const d = Math.hypot(out, gz);
  if (d === 0) return { d, g: [0, 0, 0] };
  const share = out > 0 ? out / d / across : 0;
  return { d, g: [gx * share, gy * share, gz / d] };
}

const middleOf = (a: Vec3, b: Vec3): Vec3 => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];

// The least distance over a triangle, where it is below `best`.
function leastOnTriangle(swept: Swept, a: Vec3, b: Vec3, c: Vec3, best: number): { distance: number; at: Vec3 } | undefined {
  let least = best;
  let at: Vec3 | undefined;
  const look = (p: Vec3) => {
    const seen = distanceAt(swept, p);
    if (seen.d < least) {
      least = seen.d;
      at = p;
    }
    return seen;
  };
  const divide = (p: Vec3, q: Vec3, s: Vec3, depth: number): void => {
    const middle: Vec3 = [(p[0] + q[0] + s[0]) / 3, (p[1] + q[1] + s[1]) / 3, (p[2] + q[2] + s[2]) / 3];
    const { d, g } = look(middle);
    // The tangent plane at the middle, at the corner where it is lowest.
    const rise = (v: Vec3) => g[0] * (v[0] - middle[0]) + g[1] * (v[1] - middle[1]) + g[2] * (v[2] - middle[2]);
    const flat = d + Math.min(rise(p), rise(q), rise(s));
    if (least === 0 || flat >= least - EXACT || depth === 0) return;
    const low = [0, 1, 2].map((k) => Math.min(p[k], q[k], s[k]));
    const high = [0, 1, 2].map((k) => Math.max(p[k], q[k], s[k]));
    if (boxDistance(swept, low, high) >= least - EXACT) return;
    const [pq, qs, sp] = [middleOf(p, q), middleOf(q, s), middleOf(s, p)];
    for (const v of [pq, qs, sp]) look(v);
    divide(pq, qs, sp, depth - 1);
    divide(p, pq, sp, depth - 1);
    divide(q, qs, pq, depth - 1);
    divide(s, sp, qs, depth - 1);
  };
  for (const v of [a, b, c]) look(v);
  divide(a, b, c, DEEPEST);
  return at && { distance: least, at };
}

// Halvings of a triangle: 400 mm to a thousandth of a micrometre.
const DEEPEST = 28;

// The position at which a point of the mesh gets nearest to the body.
function positionFor({ from, to }: Turned, [x, y, z]: Positions, p: Vec3): Vec3 {
  const into = (v: number, [low, high]: readonly [number, number]) => Math.min(high, Math.max(low, v));
  const along = p[2] + z[0] > to ? z[0] : p[2] + z[1] < from ? z[1] : into(from - p[2], z);
  return [into(-p[0], x), into(-p[1], y), along];
}
