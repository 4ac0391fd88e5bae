import earcut from 'earcut';
import type { SampledBody } from '#core/kernel';
import { cross, dot, length, normalize, subtract, type Vec3, anyAcross } from '#core/math';
import { labelShells, meshVolume, nextHalf, pairHalfEdges, type TriMesh } from '#core/mesh';

export interface Closed {
  readonly mesh: TriMesh;
  /** How many openings were closed, and the widest of them, mm. */
  readonly openings: number;
  readonly widest: number;
  /** Hollows without an opening that were filled. */
  readonly hollows: number;
}

interface Loop {
  readonly halves: readonly number[];
  readonly normal: Vec3;
  readonly offset: number;
  readonly width: number;
}

// mm. What a hole's own corners may stand out of the plane of its opening.
const IN_PLANE = 1e-6;
// mm. How far the corners of an opening may be from one plane: corners on curved borders were pushed out by the tessellation's sag.
const FLAT_LOOP = 0.1;

/**
 * Closes the openings of flat faces that are no wider than `below` mm, with all that lies behind them, and fills hollows: bolt holes, coolant
 * channels, engraving. A hole goes only where every way into it is closed by a flat cap and nothing of it stands out of its openings; what
 * opens into a curved face stays. Faces that stay keep their triangles. `mesh` is welded and closed, a body's own or one with its faces;
 * `faceOf` gives the face of each triangle.
 */
export function closeOpenings(mesh: TriMesh, faceOf: ArrayLike<number>, { surfaces }: Pick<SampledBody, 'surfaces'>, below: number): Closed {
  if (!(below > 0)) return { mesh, openings: 0, widest: 0, hollows: 0 };
  const planeOf = (face: number): Vec3 | undefined => {
    const s = surfaces[face];
    return s.kind === 'plane' ? s.normal : undefined;
  };
  const { triangles: t, positions: p } = mesh;
  const partner = pairHalfEdges(mesh);
  const count = t.length / 3;
  const triangleOf = (h: number) => (h - (h % 3)) / 3;
  const loops = innerLoops(mesh, partner, faceOf, planeOf).filter((l) => l.width <= below);
  // Parts of the mesh that hang together without going through an opening.
  const barred = new Uint8Array(t.length);
  for (const l of loops) for (const h of l.halves) barred[h] = barred[partner[h]] = 1;
  const part = new Int32Array(count).fill(-1);
  let parts = 0;
  for (let seed = 0; seed < count; seed++) {
    if (part[seed] >= 0) continue;
    part[seed] = parts;
    const queue = [seed];
    for (let i = 0; i < queue.length; i++)
      for (let k = 0; k < 3; k++) {
        const h = 3 * queue[i] + k;
        if (barred[h] || partner[h] < 0) continue;
        const next = triangleOf(partner[h]);
        if (part[next] >= 0) continue;
        part[next] = parts;
        queue.push(next);
      }
    parts++;
  }
  const sides = loops.map((l) => ({ loop: l, face: part[triangleOf(l.halves[0])], hole: part[triangleOf(partner[l.halves[0]])] }));
  const { label, count: shellCount } = labelShells(count, partner);
  const shellVolume = volumesOf(mesh, label, shellCount);
  const goes = partsThatGo(mesh, part, parts, sides);
  const hollow = (i: number) => shellVolume[label[i]] < 0 && shellVolume.some((v, s) => s !== label[i] && v > 0);
  const triangles: number[] = [];
  const filled = new Set<number>();
  for (let i = 0; i < count; i++) {
    if (goes[part[i]]) continue;
    if (hollow(i)) filled.add(label[i]);
    else triangles.push(t[3 * i], t[3 * i + 1], t[3 * i + 2]);
  }
  let [openings, widest] = [0, 0];
  for (const { loop, face, hole } of sides) {
    if (!goes[hole] || goes[face]) continue;
    const cap = capOf(mesh, loop);
    if (!cap) return { mesh, openings: 0, widest: 0, hollows: 0 };
    triangles.push(...cap);
    openings++;
    widest = Math.max(widest, loop.width);
  }
  return { mesh: { positions: p, triangles: Uint32Array.from(triangles) }, openings, widest, hollows: filled.size };
}

// The border loops of flat faces but for each face's outermost: half-edges of the face, in its own sense.
function innerLoops(
  { positions: p, triangles: t }: TriMesh,
  partner: Int32Array,
  faceOf: ArrayLike<number>,
  planeOf: (face: number) => Vec3 | undefined,
): Loop[] {
  const borders = new Map<number, number[]>();
  for (let h = 0; h < t.length; h++) {
    const face = faceOf[(h - (h % 3)) / 3];
    if (partner[h] < 0 || faceOf[(partner[h] - (partner[h] % 3)) / 3] === face || !planeOf(face)) continue;
    const list = borders.get(face);
    if (list) list.push(h);
    else borders.set(face, [h]);
  }
  const out: Loop[] = [];
  for (const [face, halves] of borders) {
    const normal = normalize(planeOf(face) as Vec3);
    const from = new Map<number, number[]>();
    for (const h of halves) {
      const list = from.get(t[h]);
      if (list) list.push(h);
      else from.set(t[h], [h]);
    }
    const loops: { halves: number[]; area: number }[] = [];
    const used = new Set<number>();
    for (const first of halves) {
      if (used.has(first)) continue;
      const loop: number[] = [];
      let h: number | undefined = first;
      while (h !== undefined && !used.has(h)) {
        used.add(h);
        loop.push(h);
        h = from.get(t[nextHalf(h)])?.find((g) => !used.has(g));
      }
      if (t[nextHalf(loop[loop.length - 1])] !== t[first]) continue;
      loops.push({ halves: loop, area: areaOf(p, t, loop, normal) });
    }
    // Seen against the normal the outer border runs counter-clockwise, holes the other way.
    for (const { halves: loop, area } of loops) {
      if (area >= 0) continue;
      const heights = loop.map((h) => dot([p[3 * t[h]], p[3 * t[h] + 1], p[3 * t[h] + 2]], normal));
      const offset = Math.max(...heights);
      if (offset - Math.min(...heights) > FLAT_LOOP) continue;
      out.push({ halves: loop, normal, offset, width: widthOf(p, t, loop) });
    }
  }
  return out;
}

function areaOf(p: Float64Array, t: Uint32Array, loop: readonly number[], normal: Vec3): number {
  const at = (h: number): Vec3 => [p[3 * t[h]], p[3 * t[h] + 1], p[3 * t[h] + 2]];
  const origin = at(loop[0]);
  return loop.reduce((s, h, i) => s + dot(cross(subtract(at(h), origin), subtract(at(loop[(i + 1) % loop.length]), origin)), normal), 0) / 2;
}

// The greatest distance between two of its corners; of many, between each and those about opposite.
function widthOf(p: Float64Array, t: Uint32Array, loop: readonly number[]): number {
  let widest = 0;
  const step = Math.max(1, Math.floor(loop.length / 64));
  for (let i = 0; i < loop.length; i += step)
    for (let j = i + step; j < loop.length; j += step) {
      const [a, b] = [3 * t[loop[i]], 3 * t[loop[j]]];
      widest = Math.max(widest, Math.hypot(p[a] - p[b], p[a + 1] - p[b + 1], p[a + 2] - p[b + 2]));
    }
  return widest;
}

function volumesOf({ positions, triangles: t }: TriMesh, label: Int32Array, count: number): number[] {
  const lists: number[][] = Array.from({ length: count }, () => []);
  label.forEach((l, i) => lists[l].push(t[3 * i], t[3 * i + 1], t[3 * i + 2]));
  return lists.map((list) => meshVolume({ positions, triangles: Uint32Array.from(list) }));
}

// A part goes where it lies below the caps of all its openings, and opens into itself nowhere.
function partsThatGo(
  { positions: p, triangles: t }: TriMesh,
  part: Int32Array,
  parts: number,
  sides: readonly { loop: Loop; face: number; hole: number }[],
): Uint8Array {
  const goes = new Uint8Array(parts);
  const caps: Loop[][] = Array.from({ length: parts }, () => []);
  for (const { loop, face, hole } of sides) {
    if (face === hole) continue;
    goes[hole] = 1;
    caps[hole].push(loop);
  }
  for (const { face, hole } of sides) if (face === hole) goes[hole] = 0;
  part.forEach((k, i) => {
    if (!goes[k]) return;
    for (const { normal: n, offset } of caps[k])
      for (let c = 0; c < 3; c++) {
        const v = 3 * t[3 * i + c];
        if (n[0] * p[v] + n[1] * p[v + 1] + n[2] * p[v + 2] > offset + IN_PLANE) goes[k] = 0;
      }
  });
  // A part that goes while a hole in one of its own faces stays would leave that hole without a face.
  for (let changed = true; changed; ) {
    changed = false;
    for (const { face, hole } of sides)
      if (goes[face] && !goes[hole]) {
        goes[face] = 0;
        changed = true;
      }
  }
  return goes;
}

// The triangles that close an opening, looking out; undefined where its border cannot be filled.
function capOf({ positions: p, triangles: t }: TriMesh, { halves, normal }: Loop): number[] | undefined {
  // The face has the loop clockwise, its cap the other way.
  const corners = [...halves].reverse().map((h) => t[h]);
  const u = anyAcross(normal);
  const v = cross(normal, u);
  const flat = corners.flatMap((c): number[] => {
    const at: Vec3 = [p[3 * c], p[3 * c + 1], p[3 * c + 2]];
    return [dot(at, u), dot(at, v)];
  });
  const cut = earcut(flat);
  if (cut.length !== 3 * (corners.length - 2)) return undefined;
  const out: number[] = [];
  for (let i = 0; i < cut.length; i += 3) {
    const [a, b, c] = [corners[cut[i]], corners[cut[i + 1]], corners[cut[i + 2]]];
    const n = cross(minus(p, b, a), minus(p, c, a));
    if (length(n) > 0 && dot(n, normal) < 0) out.push(a, c, b);
    else out.push(a, b, c);
  }
  return out;
}

const minus = (p: Float64Array, a: number, b: number): Vec3 => [p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]];
