import type { Bounds, Vec3 } from '#core/math';
import { ContactCrossings, type Feature } from './contact-crossings.ts';
import { nextHalf } from './half-edges.ts';
import type { TriMesh } from './tri-mesh.ts';
import type { TriangleTree } from './triangle-tree.ts';

// Shares of the edge and of the triangle. What is nearer to an end or a rim is at it.
const TOUCH = 1e-7;

// Places that are told at most.
const MOST_PLACES = 200;

/**
 * How many pairs of an edge and a triangle without a common corner cross each other, and where the first ones do. Where an edge meets another one, or a
 * corner a face, exactly, it counts where the surfaces do not only touch there. With a box, only of edges that come into it.
 */
export function findSelfCrossings(tree: TriangleTree, within?: Bounds): { count: number; places: Vec3[] } {
  const { positions: p, triangles: t } = tree.mesh;
  const contacts = new ContactCrossings(tree.mesh);
  let count = 0;
  const places: Vec3[] = [];
  for (let h = 0; h < t.length; h++) {
    const [v, w] = [t[h], t[nextHalf(h)]];
    // Each edge once: from its lower corner.
    if (v > w) continue;
    const [a, b] = [3 * v, 3 * w];
    const low: Vec3 = [Math.min(p[a], p[b]), Math.min(p[a + 1], p[b + 1]), Math.min(p[a + 2], p[b + 2])];
    const high: Vec3 = [Math.max(p[a], p[b]), Math.max(p[a + 1], p[b + 1]), Math.max(p[a + 2], p[b + 2])];
    if (within && [0, 1, 2].some((k) => low[k] > within.max[k] || high[k] < within.min[k])) continue;
    tree.inBox(low, high, 0, (f) => {
      if (t[3 * f] === v || t[3 * f + 1] === v || t[3 * f + 2] === v || t[3 * f] === w || t[3 * f + 1] === w || t[3 * f + 2] === w) return;
      if (!meetAt(tree.mesh, f, a, b)) return;
      const [s, own, other] = [MEET.s, ownFeature(h), otherFeature(f)];
      if (!other) return;
      if ((own || other.kind === 'edge') && !contacts.isNewCrossing(own ?? { kind: 'edge', half: h }, other)) return;
      count++;
      if (places.length < MOST_PLACES) places.push([0, 1, 2].map((k) => p[a + k] + s * (p[b + k] - p[a + k])) as unknown as Vec3);
    });
  }
  return { count, places };
}

// Where the last segment met its triangle: the share along the segment, and the weights of the triangle's second and third corner.
const MEET = { s: 0, u: 0, v: 0 };

// Moller and Trumbore, for a segment: whether it meets the triangle, its rim and the segment's ends included.
function meetAt({ positions: p, triangles: t }: TriMesh, f: number, from: number, to: number): boolean {
  const [a, b, c] = [3 * t[3 * f], 3 * t[3 * f + 1], 3 * t[3 * f + 2]];
  const [dx, dy, dz] = [p[to] - p[from], p[to + 1] - p[from + 1], p[to + 2] - p[from + 2]];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [hx, hy, hz] = [dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx];
  const det = ux * hx + uy * hy + uz * hz;
  const scale = Math.hypot(dx, dy, dz) * Math.hypot(ux, uy, uz) * Math.hypot(vx, vy, vz);
  if (Math.abs(det) < 1e-12 * scale) return false;
  const [sx, sy, sz] = [p[from] - p[a], p[from + 1] - p[a + 1], p[from + 2] - p[a + 2]];
  MEET.u = (sx * hx + sy * hy + sz * hz) / det;
  if (MEET.u < -TOUCH || MEET.u > 1 + TOUCH) return false;
  const [qx, qy, qz] = [sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux];
  MEET.v = (dx * qx + dy * qy + dz * qz) / det;
  if (MEET.v < -TOUCH || MEET.u + MEET.v > 1 + TOUCH) return false;
  MEET.s = (vx * qx + vy * qy + vz * qz) / det;
  return MEET.s > -TOUCH && MEET.s < 1 + TOUCH;
}

// The corner of the segment that met the triangle; undefined where it was between its ends.
function ownFeature(h: number): Feature | undefined {
  if (MEET.s < TOUCH) return { kind: 'corner', half: h };
  return MEET.s > 1 - TOUCH ? { kind: 'corner', half: nextHalf(h) } : undefined;
}

// What of the triangle was met; undefined for a corner: that is seen from its own edges.
function otherFeature(f: number): Feature | undefined {
  const { u, v } = MEET;
  const rims = [v < TOUCH, u + v > 1 - TOUCH, u < TOUCH];
  const count = rims.filter(Boolean).length;
  if (count === 0) return { kind: 'face', face: f };
  return count === 1 ? { kind: 'edge', half: 3 * f + rims.indexOf(true) } : undefined;
}
