import type { SampledBody } from '#core/kernel';
import { boundsOfPoints } from '#core/math';
import { findSelfCrossings, labelShells, meshVolume, pairHalfEdges, SignedDistance, TriangleTree, type TriMesh } from '#core/mesh';
import { capOf } from './opening-cap.ts';
import { cornerAt, listOpeningLoops, type OpeningLoop } from './opening-loops.ts';

export interface Closed {
  readonly mesh: TriMesh;
  /** Which of the given triangles its first ones are; what closes openings comes after them. */
  readonly kept: Uint32Array;
  /** How many openings were closed, and the widest of them, mm. */
  readonly openings: number;
  readonly widest: number;
  /** Hollows without an opening that were filled. */
  readonly hollows: number;
}

// mm. What a hole's own corners may stand out of the face of its opening.
const IN_FACE = 1e-6;

/** An opening, the parts of the mesh on its two sides, and what would close it, made when it is first asked for. */
interface Side {
  readonly loop: OpeningLoop;
  readonly face: number;
  readonly hole: number;
  readonly cap: () => readonly number[] | undefined;
}

/**
 * Closes the openings that are no wider than `below` mm, with all that lies behind them, and fills hollows: bolt holes,
 * coolant channels, engraving. A hole goes only where every way into it is closed by a cap in the face it opens into, or across it where the face cannot be
 * laid flat (balls, tori, free faces) or where there are two, and nothing of it stands out of that. Faces that stay keep their triangles. `mesh` is
 * welded and closed, a body's own or one with its faces; `faceOf` gives the face of each triangle.
 */
export function closeOpenings(
  mesh: TriMesh,
  faceOf: ArrayLike<number>,
  { surfaces, fitted = surfaces }: Pick<SampledBody, 'surfaces' | 'fitted'>,
  below: number,
): Closed {
  if (!(below > 0)) return { mesh, kept: Uint32Array.from({ length: mesh.triangles.length / 3 }, (_, i) => i), openings: 0, widest: 0, hollows: 0 };
  const { triangles: t } = mesh;
  const partner = pairHalfEdges(mesh);
  const loops = listOpeningLoops(mesh, partner, faceOf, fitted, below);
  const { part, parts } = partsWithin(t, partner, loops);
  const sides = loops.map((loop): Side => {
    const [face, hole] = [loop.halves[0], partner[loop.halves[0]]].map((h) => part[triangleOf(h)]);
    let cap: readonly number[] | undefined | null = null;
    return { loop, face, hole, cap: () => (cap === null ? (cap = capOf(t, loop)) : cap) };
  });
  const cornersOf = cornersOfHoles(t, part, sides);
  const goes = partsThatGo(mesh.positions, cornersOf, parts, sides);
  for (;;) {
    const closed = closedWith(mesh, partner, part, sides, goes);
    const wrong = partsOutside(mesh, closed.mesh, part, cornersOf, goes, sides);
    for (const k of partsCappedThrough(closed.mesh, sides, goes)) wrong.add(k);
    if (wrong.size === 0) return closed;
    for (const k of wrong) goes[k] = 0;
    keepHolesOfWhatStays(sides, goes);
  }
}

const triangleOf = (h: number): number => (h - (h % 3)) / 3;

// Parts of the mesh that hang together without going through an opening.
function partsWithin(t: Uint32Array, partner: Int32Array, loops: readonly OpeningLoop[]): { part: Int32Array; parts: number } {
  const barred = new Uint8Array(t.length);
  for (const l of loops) for (const h of l.halves) barred[h] = barred[partner[h]] = 1;
  const part = new Int32Array(t.length / 3).fill(-1);
  let parts = 0;
  for (let seed = 0; seed < part.length; seed++) {
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
  return { part, parts };
}

function closedWith(mesh: TriMesh, partner: Int32Array, part: Int32Array, sides: readonly Side[], goes: Uint8Array): Closed {
  const { triangles: t, positions } = mesh;
  const { label, count: shellCount } = labelShells(part.length, partner);
  const shellVolume = volumesOf(mesh, label, shellCount);
  const isHollow = shellVolume.map((v, s) => v < 0 && shellVolume.some((w, other) => other !== s && w > 0));
  const triangles: number[] = [];
  const kept: number[] = [];
  const filled = new Set<number>();
  for (let i = 0; i < part.length; i++) {
    if (goes[part[i]]) continue;
    if (isHollow[label[i]]) filled.add(label[i]);
    else {
      kept.push(i);
      triangles.push(t[3 * i], t[3 * i + 1], t[3 * i + 2]);
    }
  }
  let [openings, widest] = [0, 0];
  for (const { loop, face, hole, cap } of sides) {
    if (!goes[hole] || goes[face]) continue;
    for (const v of cap() as readonly number[]) triangles.push(v);
    openings++;
    widest = Math.max(widest, loop.width);
  }
  return { mesh: { positions, triangles: Uint32Array.from(triangles) }, kept: Uint32Array.from(kept), openings, widest, hollows: filled.size };
}

function volumesOf({ positions, triangles: t }: TriMesh, label: Int32Array, count: number): number[] {
  const lists: number[][] = Array.from({ length: count }, () => []);
  label.forEach((l, i) => lists[l].push(t[3 * i], t[3 * i + 1], t[3 * i + 2]));
  return lists.map((list) => meshVolume({ positions, triangles: Uint32Array.from(list) }));
}

// By part that is behind an opening, its corners.
function cornersOfHoles(t: Uint32Array, part: Int32Array, sides: readonly Side[]): Map<number, readonly number[]> {
  const sets = new Map<number, Set<number>>();
  for (const { face, hole } of sides) if (face !== hole) sets.set(hole, new Set());
  part.forEach((k, i) => {
    const set = sets.get(k);
    if (set) for (let h = 3 * i; h < 3 * i + 3; h++) set.add(t[h]);
  });
  return new Map([...sets].map(([k, set]) => [k, [...set]]));
}

type Corners = ReadonlyMap<number, readonly number[]>;

// A part goes where all its openings can be closed, nothing of it is over them, and it opens into itself nowhere.
function partsThatGo(p: Float64Array, cornersOf: Corners, parts: number, sides: readonly Side[]): Uint8Array {
  const goes = new Uint8Array(parts);
  for (const { face, hole } of sides) if (face !== hole) goes[hole] = 1;
  for (const { face, hole } of sides) if (face === hole) goes[hole] = 0;
  for (const [k, corners] of cornersOf) {
    const own = sides.filter((side) => side.hole === k);
    if (own.some(({ loop }) => isOver(p, corners, loop)) || isFlat(p, corners, own)) goes[k] = 0;
  }
  for (const { hole, cap } of sides) if (goes[hole] && !cap()) goes[hole] = 0;
  keepHolesOfWhatStays(sides, goes);
  return goes;
}

// Whether some corner stands out over an opening.
function isOver(p: Float64Array, corners: readonly number[], loop: OpeningLoop): boolean {
  const isInFootprint = footprintOf(loop);
  return corners.some((v) => {
    const { s, t, out } = loop.unroller.at(cornerAt(p, v));
    return out > loop.out + IN_FACE && isInFootprint(s, t);
  });
}

// Of what a curved face's border is wide: what lies no deeper below it is no hole, but the end of a rounded edge.
const SHALLOW = 0.05;

function isFlat(p: Float64Array, corners: readonly number[], own: readonly Side[]): boolean {
  const isShallow = ({ least, unroller, width }: OpeningLoop) => corners.every((v) => least - unroller.at(cornerAt(p, v)).out < SHALLOW * width);
  return own.every(({ loop }) => !loop.isInFace && isShallow(loop));
}

// Whether a place lies over the box around an opening.
function footprintOf({ flat, unroller: { round } }: OpeningLoop): (s: number, t: number) => boolean {
  const [s0, s1] = [Math.min(...flat.map((f) => f[0])), Math.max(...flat.map((f) => f[0]))];
  const [t0, t1] = [Math.min(...flat.map((f) => f[1])), Math.max(...flat.map((f) => f[1]))];
  return (s, t) => {
    const near = round > 0 ? s - round * Math.round((s - (s0 + s1) / 2) / round) : s;
    return near >= s0 && near <= s1 && t >= t0 && t <= t1;
  };
}

// A part that goes while a hole in one of its own faces stays would leave that hole without a face.
function keepHolesOfWhatStays(sides: readonly Side[], goes: Uint8Array): void {
  for (let changed = true; changed; ) {
    changed = false;
    for (const { face, hole } of sides)
      if (goes[face] && !goes[hole]) {
        goes[face] = 0;
        changed = true;
      }
  }
}

// The parts that were left out although some of them is outside of what is left: those that rise beside their opening are looked at.
function partsOutside(mesh: TriMesh, closed: TriMesh, part: Int32Array, cornersOf: Corners, goes: Uint8Array, sides: readonly Side[]): Set<number> {
  const { positions: p, triangles: t } = mesh;
  const doubtful = new Set<number>();
  for (const { hole, loop } of sides) {
    if (!goes[hole] || doubtful.has(hole)) continue;
    const level = (loop.isInFace ? loop.out : loop.least) + IN_FACE;
    if (cornersOf.get(hole)?.some((v) => loop.unroller.at(cornerAt(p, v)).out > level)) doubtful.add(hole);
  }
  const wrong = new Set<number>();
  if (doubtful.size === 0) return wrong;
  const signed = new SignedDistance(closed);
  part.forEach((k, i) => {
    if (!doubtful.has(k) || wrong.has(k)) return;
    const [a, b, c] = [3 * t[3 * i], 3 * t[3 * i + 1], 3 * t[3 * i + 2]];
    for (const [x, y, z] of [
      [p[a], p[a + 1], p[a + 2]],
      [p[b], p[b + 1], p[b + 2]],
      [p[c], p[c + 1], p[c + 2]],
      [(p[a] + p[b] + p[c]) / 3, (p[a + 1] + p[b + 1] + p[c + 1]) / 3, (p[a + 2] + p[b + 2] + p[c + 2]) / 3],
    ])
      if (signed.at(x, y, z) > IN_FACE) wrong.add(k);
  });
  return wrong;
}

// The parts behind caps across curved faces that something goes through.
function partsCappedThrough(closed: TriMesh, sides: readonly Side[], goes: Uint8Array): Set<number> {
  const across = sides.filter(({ loop, face, hole }) => !loop.isInFace && goes[hole] && !goes[face]);
  const wrong = new Set<number>();
  if (across.length === 0) return wrong;
  const { places } = findSelfCrossings(new TriangleTree(closed));
  for (const { hole, cap } of across) {
    const box = boundsOfPoints(Float64Array.from((cap() as number[]).flatMap((v) => cornerAt(closed.positions, v))));
    if (places.some((place) => box && place.every((x, k) => x >= box.min[k] - IN_FACE && x <= box.max[k] + IN_FACE))) wrong.add(hole);
  }
  return wrong;
}
