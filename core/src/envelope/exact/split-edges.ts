import { nextHalf, pairHalfEdges, PLANE_SIZE, planeOfTriangle, SignedDistance, type TriMesh } from '#core/mesh';
import { type HalfSpace, smallestMove } from './smallest-move.ts';

// mm. What stands out by less is on the mesh.
const ON_MESH = 1e-7;
const MOST_ROUNDS = 6;

export interface Split {
  readonly mesh: TriMesh;
  /** The face of each triangle; triangles still come face by face. */
  readonly faceOf: Uint32Array;
  /** mm. How far what was taken in stood out at most. */
  readonly greatest: number;
}

/**
 * Takes points that stand out of a welded mesh in: the edge nearest to such a point is split at it, so that the mesh goes through it. Beside the end of an edge its
 * corner moves, as little as brings every plane around it out to the point and none in: edges of a sewn body may end beside their corners. `points` is packed, those
 * from `first` on are looked at.
 */
export function splitEdgesAt(mesh: TriMesh, faceOf: Uint32Array, points: Float64Array, first: number): Split {
  let current = { mesh, faceOf };
  let greatest = 0;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const { at, beside, most } = splitPlaces(current.mesh, points, first);
    const moved = beside.size === 0 ? { mesh: current.mesh, most: 0 } : moveCorners(current.mesh, beside, points);
    // What stands beside a corner that cannot move stays out.
    if (at.size === 0 && moved.most === 0) break;
    greatest = Math.max(greatest, most, moved.most);
    current = splitOnce(moved.mesh, current.faceOf, at, points);
  }
  return { ...current, greatest };
}

interface Places {
  /** By half-edge, the lower one of its pair: the point that stands out furthest of it. No triangle is split on two sides at once. */
  readonly at: Map<number, number>;
  /** By corner, the points that stand out beside it. */
  readonly beside: Map<number, number[]>;
  /** mm. */
  readonly most: number;
}

function splitPlaces(mesh: TriMesh, points: Float64Array, first: number): Places {
  const signed = new SignedDistance(mesh);
  const partner = pairHalfEdges(mesh);
  const found: { half: number; point: number; out: number }[] = [];
  const beside = new Map<number, number[]>();
  for (let i = first; i < points.length; i += 3) {
    const out = signed.at(points[i], points[i + 1], points[i + 2]);
    if (out <= ON_MESH) continue;
    const half = nearestSide(mesh, signed.tree.triangle, points, i);
    if (half < 0) {
      const corner = nearestCorner(mesh, signed.tree.triangle, points, i);
      beside.set(corner, [...(beside.get(corner) ?? []), i]);
    } else if (partner[half] >= 0) found.push({ half: Math.min(half, partner[half]), point: i, out });
  }
  found.sort((a, b) => b.out - a.out);
  const at = new Map<number, number>();
  const taken = new Set<number>();
  for (const { half, point } of found) {
    const two = [Math.floor(half / 3), Math.floor(partner[half] / 3)];
    if (two.some((f) => taken.has(f))) continue;
    for (const f of two) taken.add(f);
    at.set(half, point);
  }
  return { at, beside, most: found[0]?.out ?? 0 };
}

function nearestCorner({ positions: p, triangles: t }: TriMesh, triangle: number, points: Float64Array, i: number): number {
  const far = (v: number) => Math.hypot(p[3 * v] - points[i], p[3 * v + 1] - points[i + 1], p[3 * v + 2] - points[i + 2]);
  return [t[3 * triangle], t[3 * triangle + 1], t[3 * triangle + 2]].reduce((a, b) => (far(b) < far(a) ? b : a));
}

// mm. A corner that would move further is not what the point belongs to.
const MOST_MOVE = 0.01;

function moveCorners(mesh: TriMesh, beside: ReadonlyMap<number, readonly number[]>, points: Float64Array): { mesh: TriMesh; most: number } {
  const planes = new Map<number, HalfSpace[]>([...beside.keys()].map((corner) => [corner, []]));
  const plane = new Float64Array(PLANE_SIZE);
  mesh.triangles.forEach((corner, i) => {
    const mine = planes.get(corner);
    if (!mine) return;
    planeOfTriangle(mesh.positions, mesh.triangles, Math.floor(i / 3), plane);
    const [x, y, z, at] = plane;
    const out = (beside.get(corner) ?? []).reduce((most, p) => Math.max(most, x * points[p] + y * points[p + 1] + z * points[p + 2] - at), 0);
    if (x !== 0 || y !== 0 || z !== 0) mine.push([x, y, z, out]);
  });
  const positions = Float64Array.from(mesh.positions);
  let most = 0;
  for (const [corner, halfSpaces] of planes) {
    const move = smallestMove(halfSpaces);
    const far = Math.hypot(...move);
    if (!(far <= MOST_MOVE)) continue;
    most = Math.max(most, far);
    move.forEach((d, k) => (positions[3 * corner + k] += d));
  }
  return { mesh: { positions, triangles: mesh.triangles }, most };
}

// Of a triangle's sides the one that passes nearest by a point, as far as the point lies beside it and not beside an end: -1 where a corner is nearer.
function nearestSide({ positions: p, triangles: t }: TriMesh, triangle: number, points: Float64Array, i: number): number {
  const corners = [t[3 * triangle], t[3 * triangle + 1], t[3 * triangle + 2]];
  let [best, nearest] = [-1, Math.min(...corners.map((v) => Math.hypot(p[3 * v] - points[i], p[3 * v + 1] - points[i + 1], p[3 * v + 2] - points[i + 2])))];
  for (let h = 3 * triangle; h < 3 * triangle + 3; h++) {
    const [a, b] = [3 * t[h], 3 * t[nextHalf(h)]];
    const d = [0, 1, 2].map((k) => p[b + k] - p[a + k]);
    const w = [0, 1, 2].map((k) => points[i + k] - p[a + k]);
    const share = (d[0] * w[0] + d[1] * w[1] + d[2] * w[2]) / (d[0] * d[0] + d[1] * d[1] + d[2] * d[2]);
    if (!(share > 0.01 && share < 0.99)) continue;
    const beside = Math.hypot(w[0] - share * d[0], w[1] - share * d[1], w[2] - share * d[2]);
    if (beside < nearest) [best, nearest] = [h, beside];
  }
  return best;
}

function splitOnce(mesh: TriMesh, faceOf: Uint32Array, at: ReadonlyMap<number, number>, points: Float64Array): { mesh: TriMesh; faceOf: Uint32Array } {
  const { triangles: t } = mesh;
  const partner = pairHalfEdges(mesh);
  const positions = [...mesh.positions];
  const halfOf = new Map<number, { half: number; corner: number }>();
  for (const [half, point] of at) {
    const corner = positions.length / 3;
    positions.push(points[point], points[point + 1], points[point + 2]);
    for (const h of [half, partner[half]]) halfOf.set(Math.floor(h / 3), { half: h, corner });
  }
  const triangles: number[] = [];
  const faces: number[] = [];
  for (let f = 0; f < faceOf.length; f++) {
    const split = halfOf.get(f);
    if (!split) triangles.push(t[3 * f], t[3 * f + 1], t[3 * f + 2]);
    else {
      const [a, b, c] = [split.half, nextHalf(split.half), nextHalf(nextHalf(split.half))].map((h) => t[h]);
      triangles.push(a, split.corner, c, split.corner, b, c);
      faces.push(faceOf[f]);
    }
    faces.push(faceOf[f]);
  }
  return { mesh: { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) }, faceOf: Uint32Array.from(faces) };
}
