import { nextHalf, pairHalfEdges, PLANE_SIZE, planeOfTriangle, type TriMesh } from '#core/mesh';
import { coordinatesAt } from './face-poles.ts';
import type { PutPoint } from './surface-points.ts';

/** The mesh of one face: corners, packed, with their coordinates on its surface, two each, and which of these do not matter (`polesOf`); triangles by corners. */
export interface FaceMesh {
  readonly positions: Float64Array;
  readonly uv: Float64Array;
  readonly poles: Uint8Array;
  readonly triangles: Uint32Array;
}

// Halvings of a side; each takes its chord to a quarter.
const MOST_ROUNDS = 6;
// Times as many triangles as there were, and some more: a surface with a step in it never comes within its chords.
const MOST_TIMES = 8;
const SOME_MORE = 2000;

const PLANE = new Float64Array(PLANE_SIZE);
const PLACE = new Float64Array(3);

/**
 * Halves the inner sides of triangles that stand off their surface by more than `most` mm, until none does. The kernel's mesher leaves some such triangles in the
 * midst of faces that are written as splines (eleven times the chord was seen). Borders stay as they are: the next face has the same. `rounds`: how often a side is halved at most.
 */
export function refineFace(face: FaceMesh, put: PutPoint, most: number, rounds = MOST_ROUNDS): FaceMesh {
  const limit = (MOST_TIMES * face.triangles.length) / 3 + SOME_MORE;
  let mesh = face;
  let isNew = new Uint8Array(face.triangles.length / 3).fill(1);
  for (let round = 0; round < rounds && mesh.triangles.length / 3 < limit; round++) {
    const partner = pairHalfEdges(mesh);
    const halved = sidesToHalve(mesh, put, most, partner, isNew);
    if (halved.size === 0) break;
    [mesh, isNew] = withHalved(mesh, put, halved, partner);
  }
  return mesh;
}

// A mesh with corners in the middle of half-edges, and which of its triangles are new.
function withHalved(mesh: FaceMesh, put: PutPoint, halved: ReadonlySet<number>, partner: Int32Array): [FaceMesh, Uint8Array<ArrayBuffer>] {
  const positions = Array.from(mesh.positions);
  const uv = Array.from(mesh.uv);
  // Both halves of an edge have the same.
  const middleOf = new Map<number, number>();
  for (const h of halved) {
    if (middleOf.has(h)) continue;
    middleOf.set(h, uv.length / 2).set(partner[h], uv.length / 2);
    const [u, v] = middleOfSide(mesh, h);
    uv.push(u, v);
    put(u, v, PLACE, 0);
    positions.push(...PLACE);
  }
  const triangles: number[] = [];
  const isNew: number[] = [];
  for (let t = 0; t < mesh.triangles.length; t += 3) {
    const parts = partsOf(mesh.triangles, t, middleOf, positions);
    triangles.push(...parts);
    for (let k = 0; k < parts.length; k += 3) isNew.push(parts.length > 3 ? 1 : 0);
  }
  const poles = new Uint8Array(uv.length / 2);
  poles.set(mesh.poles);
  return [{ positions: Float64Array.from(positions), uv: Float64Array.from(uv), poles, triangles: Uint32Array.from(triangles) }, Uint8Array.from(isNew)];
}

// Coordinates of the middle of a half-edge, as its triangle sees them.
function middleOfSide({ uv, poles, triangles }: FaceMesh, h: number): [number, number] {
  const first = h - (h % 3);
  const [a, b, c] = [2 * triangles[first], 2 * triangles[first + 1], 2 * triangles[first + 2]];
  const us = coordinatesAt(uv, poles, a, b, c, 0);
  const vs = coordinatesAt(uv, poles, a, b, c, 1);
  const [i, j] = [h - first, nextHalf(h) - first];
  return [(us[i] + us[j]) / 2, (vs[i] + vs[j]) / 2];
}

// Half-edges over whose middles the surface is off, the longest one of a triangle that it is off in the middle only. (Of a triangle at the border it may be so for the border's own chord.)
function sidesToHalve(face: FaceMesh, put: PutPoint, most: number, partner: Int32Array, isNew: Uint8Array): Set<number> {
  const { positions: p, uv, poles, triangles } = face;
  const out = new Set<number>();
  // From the plane of the triangle: beside the line between its corners the middle may lie, where coordinates are skewed.
  const isOff = (u: number, v: number) => {
    put(u, v, PLACE, 0);
    return Math.abs(PLANE[0] * PLACE[0] + PLANE[1] * PLACE[1] + PLANE[2] * PLACE[2] - PLANE[3]) > most;
  };
  for (let t = 0; t < isNew.length; t++) {
    if (isNew[t] === 0) continue;
    planeOfTriangle(p, triangles, t, PLANE);
    const inner = [3 * t, 3 * t + 1, 3 * t + 2].filter((h) => partner[h] >= 0);
    const off = inner.filter((h) => isOff(...middleOfSide(face, h)));
    if (off.length === 0 && inner.length === 3) {
      const [a, b, c] = [2 * triangles[3 * t], 2 * triangles[3 * t + 1], 2 * triangles[3 * t + 2]];
      const centre = (which: 0 | 1) => coordinatesAt(uv, poles, a, b, c, which).reduce((s, x) => s + x / 3, 0);
      if (isOff(centre(0), centre(1)))
        off.push(inner.reduce((x, y) => (lengthOf(p, triangles[y], triangles[nextHalf(y)]) > lengthOf(p, triangles[x], triangles[nextHalf(x)]) ? y : x)));
    }
    for (const h of off) out.add(h).add(partner[h]);
  }
  return out;
}

const lengthOf = (p: ArrayLike<number>, a: number, b: number): number =>
  Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]);

// A triangle with some of its sides halved, as triangles that look the same way.
function partsOf(triangles: Uint32Array, first: number, middleOf: ReadonlyMap<number, number>, p: readonly number[]): number[] {
  const middles = [0, 1, 2].map((k) => middleOf.get(first + k));
  const count = middles.filter((m) => m !== undefined).length;
  // Turned so that the side that stands alone comes first: the halved one of one, the whole one of two.
  const lone = count === 1 ? middles.findIndex((m) => m !== undefined) : count === 2 ? middles.indexOf(undefined) : 0;
  const [a, b, c] = [0, 1, 2].map((k) => triangles[first + ((lone + k) % 3)]);
  const [ab, bc, ca] = [0, 1, 2].map((k) => middles[(lone + k) % 3] ?? -1);
  if (count === 0) return [a, b, c];
  if (count === 1) return [a, ab, c, ab, b, c];
  if (count === 3) return [a, ab, ca, ab, b, bc, ca, bc, c, ab, bc, ca];
  const corner = [bc, c, ca];
  return lengthOf(p, a, bc) < lengthOf(p, b, ca) ? [a, b, bc, a, bc, ca, ...corner] : [a, b, ca, b, bc, ca, ...corner];
}

/** The mesh of a body of its faces, some of which have other triangles than they came with; `faceStart` and `nodeStart` tell where those of each began. */
export function joinFaces(
  mesh: TriMesh,
  faceStart: Uint32Array,
  nodeStart: Uint32Array,
  refined: ReadonlyMap<number, FaceMesh>,
): { readonly mesh: TriMesh; readonly faceStart: Uint32Array } {
  if (refined.size === 0) return { mesh, faceStart };
  const starts = new Uint32Array(faceStart.length);
  const nodes = new Uint32Array(nodeStart.length);
  for (let f = 0; f + 1 < starts.length; f++) {
    const fine = refined.get(f);
    starts[f + 1] = starts[f] + (fine ? fine.triangles.length / 3 : faceStart[f + 1] - faceStart[f]);
    nodes[f + 1] = nodes[f] + (fine ? fine.positions.length / 3 : nodeStart[f + 1] - nodeStart[f]);
  }
  const positions = new Float64Array(3 * nodes[nodes.length - 1]);
  const triangles = new Uint32Array(3 * starts[starts.length - 1]);
  for (let f = 0; f + 1 < starts.length; f++) {
    const fine = refined.get(f);
    positions.set(fine ? fine.positions : mesh.positions.subarray(3 * nodeStart[f], 3 * nodeStart[f + 1]), 3 * nodes[f]);
    const own = fine ? fine.triangles : mesh.triangles.subarray(3 * faceStart[f], 3 * faceStart[f + 1]);
    const shift = fine ? nodes[f] : nodes[f] - nodeStart[f];
    triangles.set(
      own.map((v) => v + shift),
      3 * starts[f],
    );
  }
  return { mesh: { positions, triangles }, faceStart: starts };
}
