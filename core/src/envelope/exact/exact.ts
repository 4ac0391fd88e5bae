import type { SampledBody } from '#core/kernel';
import { WELD } from '#core/math';
import { SignedDistance, type TriMesh, weldWith } from '#core/mesh';
import type { Growth } from '../revolved/revolved.ts';
import { type HalfSpace, smallestMove } from './smallest-move.ts';
import { splitEdgesAt } from './split-edges.ts';
import { distanceToTrianglePlane } from '../sag.ts';

export interface ExactGeometry {
  readonly mesh: TriMesh;
  /** The body's face that each triangle is of. */
  readonly faceOf: Uint32Array;
  readonly growth: Growth;
}

// How many times the push is raised by a tenth when the measurement still finds a point outside.
const MOST_ROUNDS = 12;
// How often the true edges are looked at, which may stand out where two curved faces meet.
const MOST_CHECKS = 12;
// How far a face is pushed at most for the sake of its edges, in sags.
const MOST_PUSH = 12;
// And at all, where its corners do not give way whatever they are pushed: faces that contradict each other.
const MOST_RAISED = 40;
// mm.
const LEAST_SAG = 1e-4;
const FLAT = 1e-7;
// Of what stood out before: more than this share left is no progress.
const STUCK = 0.99;

/**
 * The body's own tessellation, pushed out just far enough that its triangles enclose the true faces: a chord of a convex
 * face lies inside it by its sag, so the corners move out by that sag; planes stay in their plane, and where a face is
 * concave the chords lie outside already. Growth is measured on the true faces, against the triangle over each point.
 */
export function computeExactGeometry(body: SampledBody): ExactGeometry {
  const faceOf = facesOfTriangles(body);
  const sag = outwardSag(body, body.mesh.positions, faceOf);
  const curved = sag.some((s) => s > FLAT);
  let positions = body.mesh.positions;
  // Whether edges stand out that no push takes in.
  let isStuck = false;
  if (curved) {
    // Corners at one place move together.
    const groups = weldWith(body.mesh).cornerOf;
    const normals = cornerNormals(body.mesh, groups, faceOf);
    let push = sag.map((s) => (s > FLAT ? s * 1.02 + 1e-7 : 0));
    let edgesBefore: Map<number, number> | undefined;
    for (let check = 0; check < MOST_CHECKS; check++) {
      let before: Float64Array | undefined;
      for (let round = 0; round < MOST_ROUNDS; round++) {
        positions = pushCorners(body.mesh.positions, groups, normals, push);
        const left = outwardSag(body, positions, faceOf);
        // Where corners cannot move no push helps.
        if (left.every((s, f) => s <= 0 || (before !== undefined && s > STUCK * before[f]))) break;
        before = left;
        push = push.map((p, f) => (left[f] > 0 ? Math.min((p + left[f]) * 1.1, MOST_RAISED * Math.max(sag[f], LEAST_SAG)) : p));
      }
      const left = edgesOutside(body, positions, faceOf);
      isStuck = left.size > 0;
      if (left.size === 0 || [...left].every(([f, s]) => s > STUCK * (edgesBefore?.get(f) ?? Infinity))) break;
      edgesBefore = left;
      // Near a corner that cannot move, what the others gain is little; a face is never pushed far for that.
      push = push.map((p, f) => Math.max(p, Math.min(p + 8 * (left.get(f) ?? 0), MOST_PUSH * Math.max(sag[f], LEAST_SAG))));
    }
  } else isStuck = edgesOutside(body, positions, faceOf).size > 0; // edges of a sewn body may lie beside its faces
  // The corners of a mesh file are the truth; those of a B-rep's faces meet within the kernel's tolerance.
  const { mesh, kept } = weldWith({ positions, triangles: body.mesh.triangles }, curved ? WELD : 1e-7);
  const faces = kept.map((t) => faceOf[t]);
  // What still stands out of an edge is taken in by a corner of its own.
  const split = isStuck ? splitEdgesAt(mesh, faces, body.skin, body.skinEdges) : { mesh, faceOf: faces, greatest: 0 };
  const growth = measure(body, positions, split.mesh);
  return { mesh: split.mesh, faceOf: split.faceOf, growth: { ...growth, max: growth.max + split.greatest } };
}

function facesOfTriangles({ faceStart, mesh }: SampledBody): Uint32Array {
  const out = new Uint32Array(mesh.triangles.length / 3);
  for (let f = 0; f + 1 < faceStart.length; f++) out.fill(f, faceStart[f], faceStart[f + 1]);
  return out;
}

// Points of the true edges belong to no one triangle: how far they stand outside of the pushed mesh, by the face that is nearest there.
function edgesOutside(body: SampledBody, positions: Float64Array, faceOf: Uint32Array): Map<number, number> {
  if (body.skinEdges === body.skin.length) return new Map();
  const { mesh, kept } = weldWith({ positions, triangles: body.mesh.triangles });
  const signed = new SignedDistance(mesh);
  const out = new Map<number, number>();
  for (let i = body.skinEdges; i < body.skin.length; i += 3) {
    const outside = signed.at(body.skin[i], body.skin[i + 1], body.skin[i + 2]);
    if (outside <= FLAT) continue;
    const face = faceOf[kept[signed.tree.triangle]];
    out.set(face, Math.max(out.get(face) ?? 0, outside));
  }
  return out;
}

// Per face, how far a sampled point of the true face stands outside its triangle; negative where none does.
function outwardSag(body: SampledBody, positions: Float64Array, faceOf: Uint32Array): Float64Array {
  const { points, pointTriangle, mesh, surfaces } = body;
  const sag = new Float64Array(surfaces.length).fill(-Infinity);
  for (let i = 0; i < pointTriangle.length; i++) {
    const t = pointTriangle[i];
    const d = distanceToTrianglePlane(positions, mesh.triangles, t, points[3 * i], points[3 * i + 1], points[3 * i + 2]);
    if (d > sag[faceOf[t]]) sag[faceOf[t]] = d;
  }
  return sag;
}

// Per group the normals of the triangles around it, joined where they belong to one face and nearly agree: [face, nx, ny, nz].
function cornerNormals(mesh: TriMesh, groups: Uint32Array, faceOf: Uint32Array): [number, number, number, number][][] {
  const { positions: p, triangles: t } = mesh;
  const out: [number, number, number, number][][] = [];
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const l = Math.hypot(n[0], n[1], n[2]);
    if (l < 1e-14) continue;
    const unit: [number, number, number, number] = [faceOf[i / 3], n[0] / l, n[1] / l, n[2] / l];
    for (let k = 0; k < 3; k++) {
      out[groups[t[i + k]]] ??= [];
      const list = out[groups[t[i + k]]];
      if (!list.some((m) => m[0] === unit[0] && m[1] * unit[1] + m[2] * unit[2] + m[3] * unit[3] > 1 - 1e-12)) list.push(unit);
    }
  }
  return out;
}

// The smallest move of each corner that carries every plane around it out by at least its face's push, and no flat face inwards. Demanding
// that flat faces stay in their plane would send a corner on a tangent edge far along that plane.
function pushCorners(original: Float64Array, groups: Uint32Array, normals: [number, number, number, number][][], push: Float64Array): Float64Array {
  const moves = normals.map((list) => {
    if (!list.some(([face]) => push[face] > 0)) return [0, 0, 0];
    return smallestMove(list.map(([face, x, y, z]): HalfSpace => [x, y, z, push[face]]));
  });
  const out = Float64Array.from(original);
  for (let i = 0; i < groups.length; i++) {
    const d = moves[groups[i]];
    if (d) for (let k = 0; k < 3; k++) out[3 * i + k] += d[k];
  }
  return out;
}

// Against the triangle over each point, before any edge was split; of what stands out of that, whether it stands out of the whole.
function measure(body: SampledBody, positions: Float64Array, whole: TriMesh): Growth {
  const { points, pointTriangle, mesh } = body;
  let [min, max, sum] = [0, 0, 0];
  let signed: SignedDistance | undefined;
  const n = pointTriangle.length;
  if (n > 0) [min, max] = [Infinity, -Infinity];
  for (let i = 0; i < n; i++) {
    let growth = -distanceToTrianglePlane(positions, mesh.triangles, pointTriangle[i], points[3 * i], points[3 * i + 1], points[3 * i + 2]);
    if (growth < -FLAT) {
      signed ??= new SignedDistance(whole);
      growth = -signed.at(points[3 * i], points[3 * i + 1], points[3 * i + 2]);
    }
    min = Math.min(min, growth);
    max = Math.max(max, growth);
    sum += growth;
  }
  return { min, mean: n > 0 ? sum / n : 0, max: Math.max(0, max) };
}
