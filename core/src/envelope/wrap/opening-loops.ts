import { addScaled, cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import { nextHalf, type Surface, type TriMesh } from '#core/mesh';
import { isSameSurface } from './same-surface.ts';
import { planeUnroller, type Unroller, unrollerOf } from './unroll.ts';

/** The border of an opening in a face. */
export interface OpeningLoop {
  /** Half-edges of the face, in its own sense. */
  readonly halves: readonly number[];
  /** Where each half-edge begins, laid flat: s, t, in mm; a loop across the seam of a cylinder goes on beyond it. */
  readonly flat: readonly (readonly [number, number])[];
  readonly unroller: Unroller;
  /** mm. How far its corners stand out of the face, or out of the plane through a loop in a face that cannot be laid flat, at least and at most. */
  readonly least: number;
  readonly out: number;
  /** Whether the face can be laid flat, so that its cap lies in it; otherwise a cap lies about in the plane of its corners. */
  readonly isInFace: boolean;
  /** mm. The greatest distance between two of its corners. */
  readonly width: number;
}

// mm. How far the corners of an opening may be from its face: corners on curved borders were pushed out by the tessellation's sag.
const NEAR_FACE = 0.1;

// Of what a loop is wide: how far its corners may be from one plane, where the face cannot be laid flat.
const MOST_BENT = 0.25;
// Cosine of how far a triangle beside it may lean against that plane.
const MOST_LEANING = 0.5;

/**
 * The border loops of faces, no wider than `most` mm, but for each face's outermost; what a file has cut one surface into counts as one face. Then the
 * loops that run over two faces: openings on the edge between them.
 */
export function listOpeningLoops(mesh: TriMesh, partner: Int32Array, faceOf: ArrayLike<number>, surfaces: readonly Surface[], most: number): OpeningLoop[] {
  const { positions: p, triangles: t } = mesh;
  const borders = new FaceBorders(mesh, partner, joinedFaces(faceOf, partner, surfaces));
  const out: OpeningLoop[] = [];
  const look = (loop: readonly number[], inFace: Unroller | undefined) => {
    const width = widthOf(p, t, loop);
    if (width > most) return;
    const unroller = inFace ?? planeOfLoop(mesh, loop);
    const laid = unroller && layFlat(loop, p, t, unroller);
    // Seen from outside the outer border runs counter-clockwise, openings the other way.
    if (!laid || laid.out - laid.least > (inFace ? NEAR_FACE : MOST_BENT * width) || areaOf(laid.flat) >= 0) return;
    out.push({ halves: loop, unroller, flat: laid.flat, least: laid.least, out: laid.out, isInFace: inFace !== undefined, width });
  };
  for (const [face, halves] of borders.ofFace) {
    const unroller = unrollerOf(surfaces[face]);
    for (const loop of loopsOf(halves, t)) look(loop, unroller);
  }
  for (const loop of borders.loopsOverTwo(most)) look(loop, undefined);
  return out;
}

// The half-edges at which one face ends and another begins.
class FaceBorders {
  readonly ofFace = new Map<number, number[]>();
  private readonly mesh: TriMesh;
  private readonly partner: Int32Array;
  private readonly face: Int32Array;
  // By corner the last of those that begin there, by half-edge the one before it; -1 where there is none.
  private readonly last: Int32Array;
  private readonly before: Int32Array;

  constructor(mesh: TriMesh, partner: Int32Array, face: Int32Array) {
    this.mesh = mesh;
    this.partner = partner;
    this.face = face;
    const { triangles: t } = mesh;
    this.last = new Int32Array(mesh.positions.length / 3).fill(-1);
    this.before = new Int32Array(t.length).fill(-1);
    for (let h = 0; h < t.length; h++) {
      if (partner[h] < 0 || this.faceAt(partner[h]) === this.faceAt(h)) continue;
      const list = this.ofFace.get(this.faceAt(h));
      if (list) list.push(h);
      else this.ofFace.set(this.faceAt(h), [h]);
      this.before[h] = this.last[t[h]];
      this.last[t[h]] = h;
    }
  }

  private faceAt(h: number): number {
    return this.face[(h - (h % 3)) / 3];
  }

  /** Loops around what interrupts the edge between two faces; none that leads further than `most` mm away. */
  loopsOverTwo(most: number): number[][] {
    const { triangles: t } = this.mesh;
    const loops: number[][] = [];
    const seen = new Set<string>();
    for (const [one, halves] of this.ofFace)
      for (const h of halves) {
        const other = this.faceAt(this.partner[h]);
        // Where the edge between the two ends.
        const start = this.nextAround(t[nextHalf(h)], one, other);
        if (start < 0 || this.faceAt(start) !== one || seen.has(`${start} ${other}`)) continue;
        const loop = this.walk(start, one, other, most);
        for (const g of loop ?? [start]) seen.add(`${g} ${this.faceAt(g) === one ? other : one}`);
        if (loop?.some((g) => this.faceAt(g) === other)) loops.push(loop);
      }
    return loops;
  }

  // A half-edge of one of two faces that begins at a corner and is not between the two.
  private nextAround(corner: number, one: number, other: number): number {
    for (let h = this.last[corner]; h >= 0; h = this.before[h]) {
      const [own, beyond] = [this.faceAt(h), this.faceAt(this.partner[h])];
      if ((own === one || own === other) && beyond !== one && beyond !== other) return h;
    }
    return -1;
  }

  private walk(start: number, one: number, other: number, most: number): number[] | undefined {
    const { positions: p, triangles: t } = this.mesh;
    const from = 3 * t[start];
    const loop = [start];
    for (let h = start; ; ) {
      const v = t[nextHalf(h)];
      if (3 * v === from) return loop;
      if (Math.hypot(p[3 * v] - p[from], p[3 * v + 1] - p[from + 1], p[3 * v + 2] - p[from + 2]) > most || loop.length > MOST_CORNERS) return undefined;
      h = this.nextAround(v, one, other);
      if (h < 0) return undefined;
      loop.push(h);
    }
  }
}

// A walk that comes to no end is none around an opening.
const MOST_CORNERS = 20_000;

// By triangle the number of its face, the least of those that are next to each other on the same surface: many files have cylinders in two halves.
function joinedFaces(faceOf: ArrayLike<number>, partner: Int32Array, surfaces: readonly Surface[]): Int32Array {
  const first = surfaces.map((_, f) => f);
  const rootOf = (f: number): number => {
    while (first[f] !== f) f = first[f];
    return f;
  };
  const looked = new Set<number>();
  for (let h = 0; h < partner.length; h++) {
    if (partner[h] < h) continue;
    const [f, g] = [faceOf[(h - (h % 3)) / 3], faceOf[(partner[h] - (partner[h] % 3)) / 3]];
    const pair = f < g ? f * surfaces.length + g : g * surfaces.length + f;
    if (f === g || looked.has(pair)) continue;
    looked.add(pair);
    const [a, b] = [rootOf(f), rootOf(g)];
    if (a !== b && isSameSurface(surfaces[f], surfaces[g])) first[Math.max(a, b)] = Math.min(a, b);
  }
  const roots = Int32Array.from(surfaces, (_, f) => rootOf(f));
  return Int32Array.from({ length: partner.length / 3 }, (_, i) => roots[faceOf[i]]);
}

// The plane of a loop that runs around an opening, which it has at its right, looking out of the body; undefined where some triangle beside it leans too
// much against that: a wall of the opening, say.
function planeOfLoop({ positions: p, triangles: t }: TriMesh, loop: readonly number[]): Unroller | undefined {
  const first = cornerAt(p, t[loop[0]]);
  let around: Vec3 = [0, 0, 0];
  for (const h of loop) around = addScaled(around, cross(subtract(cornerAt(p, t[h]), first), subtract(cornerAt(p, t[nextHalf(h)]), first)), 1);
  if (length(around) === 0) return undefined;
  const out = normalize(scale(around, -1));
  const leans = loop.some((h) => {
    const [a, b, c] = [t[h], t[nextHalf(h)], t[nextHalf(nextHalf(h))]].map((v) => cornerAt(p, v));
    const normal = cross(subtract(b, a), subtract(c, a));
    return dot(normal, out) < MOST_LEANING * length(normal);
  });
  return leans ? undefined : planeUnroller(first, out);
}

function loopsOf(halves: readonly number[], t: Uint32Array): number[][] {
  const from = new Map<number, number[]>();
  for (const h of halves) {
    const list = from.get(t[h]);
    if (list) list.push(h);
    else from.set(t[h], [h]);
  }
  const loops: number[][] = [];
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
    if (t[nextHalf(loop[loop.length - 1])] === t[first]) loops.push(loop);
  }
  return loops;
}

// A loop on its face's plane; undefined for one that goes around the axis.
function layFlat(loop: readonly number[], p: Float64Array, t: Uint32Array, { at, round }: Unroller) {
  const flat: [number, number][] = [];
  let [out, least, turns] = [-Infinity, Infinity, 0];
  const places = loop.map((h) => at(cornerAt(p, t[h])));
  for (const [i, place] of places.entries()) {
    if (i > 0 && round > 0) turns += Math.round((places[i - 1].s - place.s) / round);
    flat.push([place.s + turns * round, place.t]);
    out = Math.max(out, place.out);
    least = Math.min(least, place.out);
  }
  if (round > 0 && turns + Math.round((places[places.length - 1].s - places[0].s) / round) !== 0) return undefined;
  return { flat, out, least };
}

export const cornerAt = (p: Float64Array, v: number): Vec3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];

/** Signed area of a polygon, positive counter-clockwise. */
export const areaOf = (flat: readonly (readonly [number, number])[]): number => {
  const [x0, y0] = flat[0];
  return flat.reduce((sum, [x, y], i) => {
    const [u, v] = flat[(i + 1) % flat.length];
    return sum + ((x - x0) * (v - y0) - (y - y0) * (u - x0)) / 2;
  }, 0);
};

// Of many corners the distances between each and those about opposite are enough.
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
