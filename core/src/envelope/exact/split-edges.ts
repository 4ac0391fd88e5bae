import { nextHalf, pairHalfEdges, SignedDistance, type TriMesh } from '#core/mesh';

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
 * Takes points that stand out of a welded mesh in, where its corners cannot move: the edge nearest to such a point is split at it, so that the mesh goes
 * through it. `points` is packed, those from `first` on are looked at.
 */
export function splitEdgesAt(mesh: TriMesh, faceOf: Uint32Array, points: Float64Array, first: number): Split {
  let current = { mesh, faceOf };
  let greatest = 0;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const { at, most } = splitPlaces(current.mesh, points, first);
    if (at.size === 0) break;
    greatest = Math.max(greatest, most);
    current = splitOnce(current.mesh, current.faceOf, at, points);
  }
  return { ...current, greatest };
}

// By half-edge, the lower one of its pair: the point that stands out furthest of it. No triangle is split on two sides at once.
function splitPlaces(mesh: TriMesh, points: Float64Array, first: number): { at: Map<number, number>; most: number } {
  const signed = new SignedDistance(mesh);
  const partner = pairHalfEdges(mesh);
  const found: { half: number; point: number; out: number }[] = [];
  for (let i = first; i < points.length; i += 3) {
    const out = signed.at(points[i], points[i + 1], points[i + 2]);
    if (out <= ON_MESH) continue;
    const half = nearestSide(mesh, signed.tree.triangle, points, i);
    if (half >= 0 && partner[half] >= 0) found.push({ half: Math.min(half, partner[half]), point: i, out });
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
  return { at, most: found[0]?.out ?? 0 };
}

// Of a triangle's sides the one that passes nearest by a point, as far as the point lies beside it and not beside an end.
function nearestSide({ positions: p, triangles: t }: TriMesh, triangle: number, points: Float64Array, i: number): number {
  let [best, nearest] = [-1, Infinity];
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
