import { addScaled, cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import { nextHalf, type Surface, type TriMesh } from '#core/mesh';
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
// Cosine of how far such a plane may lean against its face.
const MOST_LEANING = 0.5;

/** The border loops of faces, no wider than `most` mm, but for each face's outermost. */
export function listOpeningLoops(mesh: TriMesh, partner: Int32Array, faceOf: ArrayLike<number>, surfaces: readonly Surface[], most: number): OpeningLoop[] {
  const { positions: p, triangles: t } = mesh;
  const unrollers = surfaces.map(unrollerOf);
  const borders = new Map<number, number[]>();
  for (let h = 0; h < t.length; h++) {
    const face = faceOf[(h - (h % 3)) / 3];
    if (partner[h] < 0 || faceOf[(partner[h] - (partner[h] % 3)) / 3] === face) continue;
    const list = borders.get(face);
    if (list) list.push(h);
    else borders.set(face, [h]);
  }
  const out: OpeningLoop[] = [];
  for (const [face, halves] of borders) {
    for (const loop of loopsOf(halves, t)) {
      const width = widthOf(p, t, loop);
      if (width > most) continue;
      const isInFace = unrollers[face] !== undefined;
      const unroller = unrollers[face] ?? planeOfLoop(mesh, loop);
      const laid = unroller && layFlat(loop, p, t, unroller);
      // Seen from outside the outer border runs counter-clockwise, openings the other way.
      if (!laid || laid.out - laid.least > (isInFace ? NEAR_FACE : MOST_BENT * width) || areaOf(laid.flat) >= 0) continue;
      out.push({ halves: loop, unroller, flat: laid.flat, least: laid.least, out: laid.out, isInFace, width });
    }
  }
  return out;
}

// The plane of a loop in a curved face, looking out of the body; undefined where the loop does not run around an opening, which it has at its right.
function planeOfLoop({ positions: p, triangles: t }: TriMesh, loop: readonly number[]): Unroller | undefined {
  const first = cornerAt(p, t[loop[0]]);
  let [around, face]: [Vec3, Vec3] = [
    [0, 0, 0],
    [0, 0, 0],
  ];
  for (const h of loop) {
    const [a, b, c] = [t[h], t[nextHalf(h)], t[nextHalf(nextHalf(h))]].map((v) => subtract(cornerAt(p, v), first));
    around = addScaled(around, cross(a, b), 1);
    // Of the triangle beside it, as long as the edge.
    const normal = cross(subtract(b, a), subtract(c, a));
    const size = length(normal);
    if (size > 0) face = addScaled(face, normal, length(subtract(b, a)) / size);
  }
  if (!(dot(around, face) < -MOST_LEANING * length(around) * length(face))) return undefined;
  return planeUnroller(first, normalize(scale(around, -1)));
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
