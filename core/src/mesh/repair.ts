// What can be mended in a mesh without guessing: corners that lie on edges of others, triangles that face the other way, flat holes.
import { anyAcross, cross, dot, normalize, type Vec3 } from '#core/math';
import { labelShells, nextHalf, pairHalfEdges } from './half-edges.ts';
import type { TriMesh } from './tri-mesh.ts';
import { triangulateFlat } from './triangulate.ts';

export interface Repaired {
  readonly mesh: TriMesh;
  /** Partners of its half-edges, see `pairHalfEdges`. */
  readonly partner: Int32Array;
  /** Corners that lay on an edge of another triangle, which was split there. */
  readonly joined: number;
  /** Triangles that faced the other way than those around them. */
  readonly turned: number;
  /** Holes whose rim is flat, which were closed in their plane. */
  readonly filled: number;
}

/** Mends a welded mesh; `within` (mm) is what its corners were welded by. A mesh with nothing to mend comes back as it is. */
export function repairMesh(mesh: TriMesh, within: number): Repaired {
  const partner = pairHalfEdges(mesh);
  if (!partner.includes(-1)) return { mesh, partner, joined: 0, turned: 0, filled: 0 };
  const split = splitAtCorners(mesh, within);
  const turned = turnToNeighbours(split.mesh);
  const filled = fillFlatHoles(turned.mesh, within);
  return {
    mesh: filled.mesh,
    partner: filled.mesh === mesh ? partner : pairHalfEdges(filled.mesh),
    joined: split.count,
    turned: turned.count,
    filled: filled.count,
  };
}

type Counted = { readonly mesh: TriMesh; readonly count: number };

// Edges with one triangle, with the corners of other such edges that lie on them; these corners by x, so that few are looked at.
function splitAtCorners(mesh: TriMesh, within: number): Counted {
  const { positions: p, triangles: t } = mesh;
  const open = openHalves(t);
  const byX = [...new Set(open.flatMap((h) => [t[h], t[nextHalf(h)]]))].sort((a, b) => p[3 * a] - p[3 * b]);
  const onEdge = new Map<number, { corner: number; share: number }[]>();
  let count = 0;
  for (const h of open) {
    const [a, b] = [t[h], t[nextHalf(h)]];
    const d = [0, 1, 2].map((k) => p[3 * b + k] - p[3 * a + k]);
    const dd = d[0] * d[0] + d[1] * d[1] + d[2] * d[2];
    if (dd === 0) continue;
    const [low, high] = [Math.min(p[3 * a], p[3 * b]) - within, Math.max(p[3 * a], p[3 * b]) + within];
    const found: { corner: number; share: number }[] = [];
    for (let i = firstFrom(byX, p, low); i < byX.length && p[3 * byX[i]] <= high; i++) {
      const v = byX[i];
      if (v === a || v === b) continue;
      const w = [0, 1, 2].map((k) => p[3 * v + k] - p[3 * a + k]);
      const share = (w[0] * d[0] + w[1] * d[1] + w[2] * d[2]) / dd;
      if (share <= 0 || share >= 1) continue;
      if (Math.hypot(w[0] - share * d[0], w[1] - share * d[1], w[2] - share * d[2]) <= within) found.push({ corner: v, share });
    }
    if (found.length === 0) continue;
    count += found.length;
    onEdge.set(
      h,
      found.sort((x, y) => x.share - y.share),
    );
  }
  if (count === 0) return { mesh, count };
  const triangles: number[] = [];
  for (let i = 0; i < t.length; i += 3) {
    // The triangle's rim with the corners on it, cut into ears about one of its own corners or of theirs.
    const rim = [0, 1, 2].flatMap((k) => [t[i + k], ...(onEdge.get(i + k) ?? []).map((f) => f.corner)]);
    if (rim.length === 3) triangles.push(...rim);
    else triangles.push(...triangulate(rim, p, normalOfRim(rim, p)));
  }
  return { mesh: { positions: p, triangles: Uint32Array.from(triangles) }, count };
}

// Of all triangles that hang together by edges of two, as few as possible are turned so that they agree.
function turnToNeighbours({ positions, triangles }: TriMesh): Counted {
  const t = triangles.slice();
  const count = t.length / 3;
  const byEdge = new Map<string, number[]>();
  for (let h = 0; h < t.length; h++) {
    const [a, b] = [t[h], t[nextHalf(h)]];
    const key = a < b ? `${a} ${b}` : `${b} ${a}`;
    const list = byEdge.get(key);
    if (list) list.push(h);
    else byEdge.set(key, [h]);
  }
  const neighbours: { other: number; agrees: boolean }[][] = Array.from({ length: count }, () => []);
  for (const list of byEdge.values()) {
    if (list.length !== 2) continue;
    const [g, h] = list;
    const [f, e] = [Math.floor(g / 3), Math.floor(h / 3)];
    const agrees = t[g] !== t[h];
    neighbours[f].push({ other: e, agrees });
    neighbours[e].push({ other: f, agrees });
  }
  // 1 as it is, -1 turned, against the first one of its piece.
  const sense = new Int8Array(count);
  let turned = 0;
  for (let seed = 0; seed < count; seed++) {
    if (sense[seed] !== 0) continue;
    sense[seed] = 1;
    const piece = [seed];
    for (let i = 0; i < piece.length; i++)
      for (const { other, agrees } of neighbours[piece[i]]) {
        if (sense[other] !== 0) continue;
        sense[other] = agrees ? sense[piece[i]] : -sense[piece[i]];
        piece.push(other);
      }
    const against = piece.filter((f) => sense[f] < 0).length;
    const minority = 2 * against <= piece.length ? -1 : 1;
    for (const f of piece) {
      if (sense[f] !== minority || Math.min(against, piece.length - against) === 0) continue;
      [t[3 * f + 1], t[3 * f + 2]] = [t[3 * f + 2], t[3 * f + 1]];
      turned++;
    }
  }
  return turned > 0 ? { mesh: { positions, triangles: t }, count: turned } : { mesh: { positions, triangles }, count: 0 };
}

function fillFlatHoles(mesh: TriMesh, within: number): Counted {
  const { positions: p, triangles: t } = mesh;
  const partner = pairHalfEdges(mesh);
  const { label } = labelShells(t.length / 3, partner);
  // Of each corner, the piece that it is of.
  const pieceOf = new Int32Array(p.length / 3).fill(-1);
  t.forEach((v, h) => {
    pieceOf[v] = label[(h - (h % 3)) / 3];
  });
  const triangles: number[] = [];
  let count = 0;
  for (const rim of rimsOfHoles(t, partner)) {
    const normal = normalOfRim(rim, p);
    const heights = rim.map((v) => dot([p[3 * v], p[3 * v + 1], p[3 * v + 2]], normal));
    if (Math.max(...heights) - Math.min(...heights) > within) continue;
    // The rim of a loose flat piece is no hole.
    const isFlat = t.every((v) => pieceOf[v] !== pieceOf[rim[0]] || Math.abs(dot([p[3 * v], p[3 * v + 1], p[3 * v + 2]], normal) - heights[0]) <= 10 * within);
    if (isFlat) continue;
    const cap = triangulate(rim, p, normal);
    if (cap.length !== 3 * (rim.length - 2)) continue;
    triangles.push(...cap);
    count++;
  }
  return count > 0 ? { mesh: { positions: p, triangles: Uint32Array.from([...t, ...triangles]) }, count } : { mesh, count };
}

// The corners around each hole, in the sense of what would fill it. Where several meet in a corner, what lies between two visits to it is one of them.
function rimsOfHoles(t: Uint32Array, partner: Int32Array): number[][] {
  // A rim runs against the triangles around it.
  const next = new Map<number, number[]>();
  for (let h = 0; h < t.length; h++) {
    if (partner[h] >= 0) continue;
    const from = t[nextHalf(h)];
    const list = next.get(from);
    if (list) list.push(t[h]);
    else next.set(from, [t[h]]);
  }
  const rims: number[][] = [];
  for (const first of next.keys()) {
    const way: number[] = [];
    const placeOf = new Map<number, number>();
    for (let v: number | undefined = first; v !== undefined; v = next.get(v)?.pop()) {
      const before = placeOf.get(v);
      if (before !== undefined) {
        const rim = way.splice(before);
        for (const w of rim) placeOf.delete(w);
        if (rim.length >= 3) rims.push(rim);
      }
      placeOf.set(v, way.length);
      way.push(v);
    }
  }
  return rims;
}

// Half-edges that no other half-edge runs along, either way.
function openHalves(t: Uint32Array): number[] {
  const uses = new Map<string, number>();
  const key = (h: number) => {
    const [a, b] = [t[h], t[nextHalf(h)]];
    return a < b ? `${a} ${b}` : `${b} ${a}`;
  };
  for (let h = 0; h < t.length; h++) uses.set(key(h), (uses.get(key(h)) ?? 0) + 1);
  return Array.from(t, (_, h) => h).filter((h) => uses.get(key(h)) === 1);
}

function firstFrom(byX: readonly number[], p: Float64Array, x: number): number {
  let [low, high] = [0, byX.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (p[3 * byX[middle]] < x) low = middle + 1;
    else high = middle;
  }
  return low;
}

// By Newell: of a closed line in space, whether it is flat or not.
function normalOfRim(rim: readonly number[], p: Float64Array): Vec3 {
  let [x, y, z] = [0, 0, 0];
  rim.forEach((v, i) => {
    const w = rim[(i + 1) % rim.length];
    x += (p[3 * v + 1] - p[3 * w + 1]) * (p[3 * v + 2] + p[3 * w + 2]);
    y += (p[3 * v + 2] - p[3 * w + 2]) * (p[3 * v] + p[3 * w]);
    z += (p[3 * v] - p[3 * w]) * (p[3 * v + 1] + p[3 * w + 1]);
  });
  return x === 0 && y === 0 && z === 0 ? [0, 0, 1] : normalize([x, y, z]);
}

// A flat polygon in triangles that run the same way round.
function triangulate(rim: readonly number[], p: Float64Array, normal: Vec3): number[] {
  const u = anyAcross(normal);
  const v = cross(normal, u);
  const flat = rim.flatMap((c): number[] => {
    const at: Vec3 = [p[3 * c], p[3 * c + 1], p[3 * c + 2]];
    return [dot(at, u), dot(at, v)];
  });
  return triangulateFlat(flat).map((i) => rim[i]);
}
