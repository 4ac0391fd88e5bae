import type { OverlapSolver } from '#core/kernel';
import { boundsCorners, compose, DISPLAY_CHORD, distance, invert, type Motion, move, type Vec3 } from '#core/math';
import { type BodyGeometry, distanceToTriangle, faceOfTriangle, SignedDistance, type TriMesh, weldWith } from '#core/mesh';
import { surfaceDistance } from './surface-distance.ts';

/** A solid where it stands: `worldFromFile` takes its own coordinates to those that all share. */
export interface PlacedSolid {
  readonly body: BodyGeometry;
  readonly worldFromFile: Motion;
}

/** Where two solids go through each other. */
export interface Overlap {
  /** mm: how deep a face of one of them lies in the other at most, on the true faces. */
  readonly depth: number;
  /** mm3, of the meshes. */
  readonly volume: number;
  /** The deepest place, in shared coordinates. */
  readonly at: Vec3;
}

// mm. Less is what faces that touch differ by.
const LEAST_DEPTH = 0.001;
// mm. A point of what is common lies on a solid's mesh if it is nearer than single precision.
const ON_MESH = 2e-4;
// mm. As far as a chord may be from its true face: beyond that the nearest triangle's face is not the one that the point is near.
const MOST_SAG = 0.08;
// Places that are looked at of what is common, and triangles of each of its faces in which the deepest one is then sought.
const MOST_PLACES = 6000;
const MOST_CLIMBED = 2;
// mm: nearer to the deepest place it is not sought.
const CLIMBED_TO = 0.002;

/** A triangle of what is common, and how deep its middle lies, mm. */
interface Patch {
  readonly corners: readonly [Vec3, Vec3, Vec3];
  readonly deep: number;
}

/**
 * How deep two solids go through each other; undefined where they do not, null where one of them is not closed. Faces that touch have chords that cross:
 * how deep a place is is told on the true faces, so that a shank in its bore is no overlap.
 */
export function overlapOf(solver: OverlapSolver, one: PlacedSolid, other: PlacedSolid): Overlap | undefined | null {
  const oneFromOther = compose(invert(one.worldFromFile), other.worldFromFile);
  if (!boxesMeet(one.body, other.body, oneFromOther)) return undefined;
  const common = solver.common(one.body, other.body, oneFromOther);
  if (!common) return common;
  const otherFromOne = invert(oneFromOther);
  const [a, b] = [new TrueDistance(one.body), new TrueDistance(other.body)];
  let [depth, at]: [number, Vec3 | undefined] = [0, undefined];
  const depthAt = (p: Vec3): number => {
    const q = move(otherFromOne, p);
    const [da, db] = [a.meshAt(p), b.meshAt(q)];
    const [onA, onB] = [Math.abs(da) < ON_MESH, Math.abs(db) < ON_MESH];
    const [ta, tb] = [a.trueAt(p), b.trueAt(q)];
    // On the one's mesh it is as deep as it lies in the other, less what the one's chord is in front of its true face. Within both, as the nearer one says.
    const deep = onA || onB ? Math.max(onA ? -tb - Math.max(0, ta) : 0, onB ? -ta - Math.max(0, tb) : 0) : Math.min(-ta, -tb);
    if (deep > depth) [depth, at] = [deep, p];
    return deep;
  };
  const faceAt = (p: Vec3): string => {
    const [onA, onB] = [Math.abs(a.meshAt(p)) < ON_MESH, Math.abs(b.meshAt(move(otherFromOne, p))) < ON_MESH];
    return onA ? `one ${a.faceThere()}` : onB ? `other ${b.faceThere()}` : '';
  };
  const step = Math.max(1, Math.ceil(((common.mesh.triangles.length / 3) * 2.5) / MOST_PLACES));
  for (const p of cornersAndEdges(common.mesh, step)) depthAt(p);
  const deeps: number[] = [];
  for (const corners of trianglesOf(common.mesh, step)) deeps.push(depthAt(middle(corners)));
  if (!at || depth < LEAST_DEPTH) return undefined;
  // Between the places that were looked at it may be deeper: of each face that bounds what is common, where the middles of its triangles lie deepest.
  const sampled = { depth, at };
  const faces = new Map<string, Patch[]>();
  let k = 0;
  for (const corners of trianglesOf(common.mesh, step)) {
    const [deep, centre] = [deeps[k++], middle(corners)];
    // Depths differ by no more than places do.
    if (deep + Math.max(...corners.map((c) => distance(c, centre))) < sampled.depth + DISPLAY_CHORD) continue;
    const face = faceAt(centre);
    faces.set(face, [...(faces.get(face) ?? []), { corners, deep }].sort((x, y) => y.deep - x.deep).slice(0, MOST_CLIMBED));
  }
  for (const patches of faces.values()) for (const { corners } of patches) climb(corners, depthAt);
  // Less than a chord more is what chords feign: corners lie on the true faces, places between do not.
  if (depth < sampled.depth + DISPLAY_CHORD) ({ depth, at } = sampled);
  return { depth, volume: common.volume, at: move(one.worldFromFile, at) };
}

function boxesMeet(one: BodyGeometry, other: BodyGeometry, oneFromOther: Motion): boolean {
  const corners = boundsCorners(other.bbox).map((c) => move(oneFromOther, c));
  return [0, 1, 2].every((k) => {
    const [low, high] = [Math.min(...corners.map((c) => c[k])), Math.max(...corners.map((c) => c[k]))];
    return high > one.bbox.min[k] && low < one.bbox.max[k];
  });
}

// Of every so many triangles: a wall that is gone through has its deepest places between corners.
function* cornersAndEdges({ positions: p, triangles: t }: TriMesh, step: number): Generator<Vec3> {
  for (let i = 0; i < p.length / 3; i += step) yield cornerAt(p, i);
  for (let k = 0; k < t.length; k += 3 * step)
    for (let e = 0; e < 3; e++) {
      const [a, b] = [t[k + e], t[k + ((e + 1) % 3)]];
      if (a < b) yield middle([cornerAt(p, a), cornerAt(p, b)]);
    }
}

function* trianglesOf({ positions: p, triangles: t }: TriMesh, step: number): Generator<Patch['corners']> {
  for (let k = 0; k < t.length; k += 3 * step) yield [cornerAt(p, t[k]), cornerAt(p, t[k + 1]), cornerAt(p, t[k + 2])];
}

const cornerAt = (p: TriMesh['positions'], i: number): Vec3 => [p[3 * i], p[3 * i + 1], p[3 * i + 2]];
// Six ways from a place of a triangle, as shares of its corners.
const WAYS = [
  [1, -1, 0],
  [-1, 1, 0],
  [0, 1, -1],
  [0, -1, 1],
  [1, 0, -1],
  [-1, 0, 1],
] as const;

/** Goes from the middle of a triangle to where a value is highest, by ever smaller steps within it. */
function climb(corners: Patch['corners'], valueAt: (p: Vec3) => number): void {
  const placeOf = (w: readonly number[]): Vec3 => [0, 1, 2].map((k) => w[0] * corners[0][k] + w[1] * corners[1][k] + w[2] * corners[2][k]) as unknown as Vec3;
  const long = Math.max(distance(corners[0], corners[1]), distance(corners[1], corners[2]), distance(corners[2], corners[0]));
  let at: readonly number[] = [1 / 3, 1 / 3, 1 / 3];
  let highest = valueAt(placeOf(at));
  for (let step = 1 / 3; step * long > CLIMBED_TO; ) {
    const next = WAYS.map((way) => at.map((w, k) => w + step * way[k]))
      .filter((w) => w.every((share) => share >= 0))
      .map((w) => ({ w, value: valueAt(placeOf(w)) }))
      .find(({ value }) => value > highest + 1e-6);
    if (next) [at, highest] = [next.w, next.value];
    else step /= 2;
  }
}

const middle = (points: readonly Vec3[]): Vec3 => [0, 1, 2].map((k) => points.reduce((s, p) => s + p[k], 0) / points.length) as unknown as Vec3;

const welded = new WeakMap<BodyGeometry, ReturnType<typeof weldWith>>();

// Signed distances from a body: of its mesh, and of the true face that the nearest triangle belongs to.
class TrueDistance {
  private readonly body: BodyGeometry;
  private readonly mesh: SignedDistance;
  // The number that each triangle has in the body: those that collapse are not in the mesh.
  private readonly kept: Uint32Array;

  constructor(body: BodyGeometry) {
    this.body = body;
    const known = welded.get(body) ?? weldWith(body.mesh, 1e-7);
    welded.set(body, known);
    this.kept = known.kept;
    this.mesh = SignedDistance.of(known.mesh);
  }

  meshAt([x, y, z]: Vec3): number {
    return this.mesh.at(x, y, z);
  }

  /** The face that was nearest to the last place. */
  faceThere(): number {
    return faceOfTriangle(this.body, this.kept[this.mesh.tree.triangle]);
  }

  // Of several faces that are near, the one that leaves least material: right for edges that stick out, and within a chord for others.
  trueAt(p: Vec3): number {
    const far = this.meshAt(p);
    const { tree } = this.mesh;
    const faceOf = (t: number) => faceOfTriangle(this.body, this.kept[t]);
    const near = new Map([[faceOf(tree.triangle), tree.triangle]]);
    if (Math.abs(far) < 2 * MOST_SAG)
      tree.inBox(p, p, Math.abs(far) + MOST_SAG, (t) => {
        const face = faceOf(t);
        if (!near.has(face) && distanceToTriangle(tree.mesh, 3 * t, p) < Math.abs(far) + MOST_SAG) near.set(face, t);
      });
    let most = -Infinity;
    for (const [face, t] of near) {
      const exact = surfaceDistance(this.body.faces[face].surface, p, this.mesh.normalOf(t));
      // A face that goes on beyond its edge as if it did not end is none of those that bound the place.
      if (exact !== undefined && Math.abs(exact - far) < 2 * MOST_SAG) most = Math.max(most, exact);
    }
    return most === -Infinity ? far : most;
  }
}
