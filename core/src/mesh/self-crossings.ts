import type { Bounds, Vec3 } from '#core/math';
import { ContactCrossings, type Feature } from './contact-crossings.ts';
import { nextHalf } from './half-edges.ts';
import type { TriMesh } from './tri-mesh.ts';
import { PLANE_SIZE, planeOfTriangle } from './triangle-plane.ts';
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
  const planes = planesOf(tree.mesh);
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
      if (!meetAt(tree.mesh, planes, f, a, b)) return;
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

function planesOf({ positions, triangles }: TriMesh): Float64Array {
  const planes = new Float64Array((PLANE_SIZE * triangles.length) / 3);
  for (let f = 0; 3 * f < triangles.length; f++) planeOfTriangle(positions, triangles, f, planes, PLANE_SIZE * f);
  return planes;
}

// Moller and Trumbore, for a segment: whether it meets the triangle, its rim and the segment's ends included. Most stay on one side of its plane: that is asked first.
function meetAt({ positions: p, triangles: t }: TriMesh, planes: Float64Array, f: number, from: number, to: number): boolean {
  const a = 3 * t[3 * f];
  const dx = p[to] - p[from];
  const dy = p[to + 1] - p[from + 1];
  const dz = p[to + 2] - p[from + 2];
  const sx = p[from] - p[a];
  const sy = p[from + 1] - p[a + 1];
  const sz = p[from + 2] - p[a + 2];
  const at = PLANE_SIZE * f;
  const across = -(dx * planes[at] + dy * planes[at + 1] + dz * planes[at + 2]);
  const share = (sx * planes[at] + sy * planes[at + 1] + sz * planes[at + 2]) / across;
  // Not so where they are parallel, and the share is no number.
  if (!(share > -TOUCH && share < 1 + TOUCH)) return false;
  const b = 3 * t[3 * f + 1];
  const c = 3 * t[3 * f + 2];
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a];
  const vy = p[c + 1] - p[a + 1];
  const vz = p[c + 2] - p[a + 2];
  const det = across * planes[at + 4];
  if (Math.abs(det) < 1e-12 * Math.sqrt((dx * dx + dy * dy + dz * dz) * (ux * ux + uy * uy + uz * uz) * (vx * vx + vy * vy + vz * vz))) return false;
  MEET.u = (sx * (dy * vz - dz * vy) + sy * (dz * vx - dx * vz) + sz * (dx * vy - dy * vx)) / det;
  if (MEET.u < -TOUCH || MEET.u > 1 + TOUCH) return false;
  MEET.v = (dx * (sy * uz - sz * uy) + dy * (sz * ux - sx * uz) + dz * (sx * uy - sy * ux)) / det;
  MEET.s = share;
  return MEET.v >= -TOUCH && MEET.u + MEET.v <= 1 + TOUCH;
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
