import type { SampledBody } from '#core/kernel';
import { dot } from '#core/math';
import type { Surface, TriMesh } from '#core/mesh';
import { type Axis, acrossAxes, flatCoordinates, isSameLine, zrOf, zrOfPoints } from './axis.ts';
import { Coverage } from './coverage.ts';
import { type Ring, RING_SAG } from './fewest-pieces.ts';
import { SAME_HEIGHT } from './upper-envelope.ts';

/**
 * A piece of what spins: at height z its largest radius is |a + t b| + loss, t from 0 at z0 to 1 at z1 - the distance
 * of a straight edge from the axis, which is convex in z. Packed 8 numbers a piece:
 *   z0, z1 (z0 <= z1), ax, ay (across the axis at z0), bx, by (change until z1), loss (mm, added outside),
 *   end (mm, how far beyond z0 and z1 it can reach)
 */
export const SEGMENT_SIZE = 8;

const COAXIAL_MM = 1e-5;
const COAXIAL_RAD = 1e-7;

// Segments as they come, packed.
class SegmentList {
  private data: Float64Array<ArrayBuffer>;
  length = 0;

  constructor(count: number) {
    this.data = new Float64Array(SEGMENT_SIZE * count);
  }

  push(z0: number, z1: number, ax: number, ay: number, bx: number, by: number, loss: number, end: number): void {
    if (this.length + SEGMENT_SIZE > this.data.length) {
      const larger = new Float64Array(2 * this.data.length);
      larger.set(this.data);
      this.data = larger;
    }
    const { data, length: i } = this;
    data[i] = z0;
    data[i + 1] = z1;
    data[i + 2] = ax;
    data[i + 3] = ay;
    data[i + 4] = bx;
    data[i + 5] = by;
    data[i + 6] = loss;
    data[i + 7] = end;
    this.length += SEGMENT_SIZE;
  }

  packed(): Float64Array {
    return this.data.subarray(0, this.length);
  }
}

/** The swept pieces of a body, the circles that some of them follow, and how far (mm) they may stand outside its true faces by what the tessellation blurs. */
export interface SweptBody {
  readonly segments: Float64Array;
  /** Length of those at the beginning that are exact generatrices: straight lines in the half plane. */
  readonly exactLength: number;
  readonly rings: readonly Ring[];
  readonly blur: number;
}

/** The corners of a body as seen from an axis: [z, r] and [x, y] across it, packed. */
export interface PlacesAbout {
  readonly zr: Float64Array;
  readonly flat: Float64Array;
}

export function placesAbout({ mesh }: SampledBody, axis: Axis): PlacesAbout {
  const [u, v] = acrossAxes(axis);
  return { zr: zrOfPoints(axis, mesh.positions), flat: flatCoordinates(axis, u, v, mesh.positions) };
}

interface SweptOptions {
  readonly innermost?: boolean;
  readonly withBorders?: boolean;
  readonly places?: PlacesAbout;
  /** Triangles that lie below this are left out: see `coverOf`. */
  readonly cover?: Coverage;
}

/**
 * What bodies surely sweep: the edge of each triangle that is longest along the axis. Most triangles of screws and pockets lie far below what spins
 * around them; they are told at once by their corners (a triangle is furthest from the axis at one of them).
 */
export function coverOf(bodies: readonly SampledBody[], places: readonly PlacesAbout[]): Coverage {
  let [low, high] = [Infinity, -Infinity];
  for (const { zr } of places)
    for (let i = 0; i < zr.length; i += 2) {
      if (zr[i] < low) low = zr[i];
      if (zr[i] > high) high = zr[i];
    }
  const cover = new Coverage(low, Math.max(high, low + LEVEL), COVER_FINENESS);
  bodies.forEach(({ mesh }, i) => addLongest(cover, mesh.triangles, places[i]));
  cover.finish();
  return cover;
}

function addLongest(cover: Coverage, t: Uint32Array, { zr, flat }: PlacesAbout): void {
  for (let i = 0; i < t.length; i += 3) {
    let first = 2 * t[i];
    let last = first;
    for (let k = i + 1; k < i + 3; k++) {
      const v = 2 * t[k];
      if (zr[v] < zr[first]) first = v;
      if (zr[v] > zr[last]) last = v;
    }
    if (zr[last] - zr[first] < LEVEL) continue;
    cover.addEdge(zr[first], zr[last], flat[first], flat[first + 1], flat[last] - flat[first], flat[last + 1] - flat[first + 1]);
  }
}

// Buckets that an edge is told by.
const COVER_FINENESS = 4;
// mm. A triangle must not bury itself by rounding.
const SURELY_BELOW = 1e-9;

function isBuried(cover: Coverage, zr: Float64Array, t: Uint32Array, i: number, loss: number, end: number): boolean {
  const a = 2 * t[i];
  const b = 2 * t[i + 1];
  const c = 2 * t[i + 2];
  const low = Math.min(zr[a], zr[b], zr[c]);
  const high = Math.max(zr[a], zr[b], zr[c]);
  const r = Math.max(zr[a + 1], zr[b + 1], zr[c + 1]);
  return cover.hidesAll(low - end, high + end, r + loss + SURELY_BELOW);
}

// mm. More than any tessellation that a tolerance was asked for has lost.
const DEEP = 0.2;

function isFaceBuried(cover: Coverage, zr: Float64Array, t: Uint32Array, first: number, last: number): boolean {
  for (let i = 3 * first; i < 3 * last; i += 3) if (!isBuried(cover, zr, t, i, DEEP, DEEP)) return false;
  return true;
}

/**
 * Everything of a body that can be outermost when it spins. Faces of revolution about the axis give their own
 * generatrix, exact; planes give their triangles' edges, exact; any other face gives its triangles' edges and what
 * its tessellation has lost, measured on the true face. Where such a face borders on a face of revolution, the border lies on that one, which its
 * chords do not: they are left out, unless `withBorders` (whoever leaves them out looks at the result). With `innermost` also everything that can
 * be nearest to the axis: the line in each triangle that is nearest to it at each height.
 */
export function sweptSegments(
  body: SampledBody,
  axis: Axis,
  { innermost = false, withBorders = true, places = placesAbout(body, axis), cover }: SweptOptions = {},
): SweptBody {
  const { mesh, faceStart, surfaces } = body;
  const out = new SegmentList(cover ? 1024 : 3 * (mesh.triangles.length / 3) + 64);
  const rings: Ring[] = [];
  const { zr, flat } = places;
  let blur = 0;
  const round = surfaces.map((surface, face) => {
    const [first, last] = [faceStart[face], faceStart[face + 1]];
    return first < last && pushGeneratrix(out, rings, axis, surface, zr, mesh.triangles, first, last);
  });
  const exactLength = out.length;
  // What lies deep below the outside is not even measured (whoever leaves out borders looks at the result).
  const isDeep = surfaces.map(
    (_, face) => cover !== undefined && !withBorders && !round[face] && isFaceBuried(cover, zr, mesh.triangles, faceStart[face], faceStart[face + 1]),
  );
  const { losses, gains } = measureLosses(body, (face) => round[face] || isDeep[face]);
  const edges = new FaceEdges(mesh.positions.length / 3);
  const marks = withBorders ? undefined : roundMarks(body, axis, zr, round);
  surfaces.forEach((surface, face) => {
    const [first, last] = [faceStart[face], faceStart[face + 1]];
    if (first === last || round[face] || isDeep[face]) return;
    // A cylinder along the axis ends where its edges end.
    const along = surface.kind === 'cylinder' && Math.abs(dot(surface.axis, axis.direction)) > 1 - 1e-12;
    const end = along ? 0 : losses[face];
    blur = Math.max(blur, Math.hypot(losses[face], end) + gains[face]);
    for (let i = 3 * first; i < 3 * last; i += 3) {
      if (cover && isBuried(cover, zr, mesh.triangles, i, losses[face], end)) continue;
      for (let k = 0; k < 3; k++) {
        const a = mesh.triangles[i + k];
        const b = mesh.triangles[i + ((k + 1) % 3)];
        edges.add(a, b, marks === undefined || (marks[a] & marks[b] & ~marks[mesh.triangles[i + ((k + 2) % 3)]]) === 0);
      }
      if (innermost) pushNearest(out, zr, flat, mesh.triangles.subarray(i, i + 3), losses[face], end);
    }
    // At each height a flat face is furthest out at its border, and nearest there or at a foot of the axis.
    edges.take(
      () => surface.kind === 'plane' && isFlat(mesh, first, last),
      (a, b) => {
        const [lo, hi] = zr[2 * a] <= zr[2 * b] ? [a, b] : [b, a];
        // An edge across the axis has no height, and what has none bounds nothing that its neighbours do not.
        if (end === 0 && zr[2 * hi] - zr[2 * lo] <= SAME_HEIGHT) return;
        const [ax, ay] = [flat[2 * lo], flat[2 * lo + 1]];
        out.push(zr[2 * lo], zr[2 * hi], ax, ay, flat[2 * hi] - ax, flat[2 * hi + 1] - ay, losses[face], end);
      },
    );
  });
  return { segments: out.packed(), exactLength, rings, blur };
}

// mm. A tenth of what counts as enclosed.
const FLAT = 1e-7;

// Whether some triangles lie in one plane: what is called a plane of a mesh file is whatever its triangles are.
function isFlat({ positions: p, triangles: t }: TriMesh, first: number, last: number): boolean {
  // The plane of the largest triangle.
  let [nx, ny, nz, most, at] = [0, 0, 0, 0, 0];
  for (let i = 3 * first; i < 3 * last; i += 3) {
    const a = 3 * t[i];
    const b = 3 * t[i + 1];
    const c = 3 * t[i + 2];
    const ux = p[b] - p[a];
    const uy = p[b + 1] - p[a + 1];
    const uz = p[b + 2] - p[a + 2];
    const wx = p[c] - p[a];
    const wy = p[c + 1] - p[a + 1];
    const wz = p[c + 2] - p[a + 2];
    const x = uy * wz - uz * wy;
    const y = uz * wx - ux * wz;
    const z = ux * wy - uy * wx;
    const area = x * x + y * y + z * z;
    if (area <= most) continue;
    [nx, ny, nz, most, at] = [x, y, z, area, a];
  }
  const slack = FLAT * Math.sqrt(most);
  for (let i = 3 * first; i < 3 * last; i++) {
    const v = 3 * t[i];
    if (Math.abs(nx * (p[v] - p[at]) + ny * (p[v + 1] - p[at + 1]) + nz * (p[v + 2] - p[at + 2])) > slack) return false;
  }
  return true;
}

// The edges of one face's triangles, each once.
class FaceEdges {
  // Chains of edges by their lower corner: head by corner, next by edge; -1 ends a chain.
  private readonly head: Int32Array;
  private readonly next: number[] = [];
  private readonly low: number[] = [];
  private readonly high: number[] = [];
  private readonly uses: number[] = [];
  private readonly counts: boolean[] = [];

  constructor(corners: number) {
    this.head = new Int32Array(corners).fill(-1);
  }

  /** One side of a triangle; an edge of two triangles counts where it does for one of them. */
  add(a: number, b: number, counts: boolean): void {
    const [low, high] = a < b ? [a, b] : [b, a];
    let e = this.head[low];
    while (e >= 0 && this.high[e] !== high) e = this.next[e];
    if (e >= 0) {
      this.uses[e]++;
      if (counts) this.counts[e] = true;
      return;
    }
    this.next.push(this.head[low]);
    this.head[low] = this.low.push(low) - 1;
    this.high.push(high);
    this.uses.push(1);
    this.counts.push(counts);
  }

  /** Gives the edges that count, of a flat face those on its border, and forgets them. */
  take(isFlat: () => boolean, give: (a: number, b: number) => void): void {
    const onlyBorder = this.low.length > 0 && isFlat();
    for (let e = 0; e < this.low.length; e++) {
      this.head[this.low[e]] = -1;
      if (this.counts[e] && (!onlyBorder || this.uses[e] === 1)) give(this.low[e], this.high[e]);
    }
    for (const list of [this.next, this.low, this.high, this.uses, this.counts]) list.length = 0;
  }
}

// mm. A corner this near to a face of revolution lies on it.
const ON_FACE = 1e-6;

/**
 * The faces of revolution that each corner lies on, as bits (more than 31 faces share some): an edge with both ends on one of them is its border
 * where the triangle's third corner is not on it.
 */
function roundMarks({ mesh, surfaces, faceStart }: SampledBody, axis: Axis, zr: Float64Array, round: readonly boolean[]): Int32Array {
  const on = new Int32Array(zr.length / 2);
  const others = cornersOfOthers(mesh, faceStart, round);
  let bit = 0;
  surfaces.forEach((s, face) => {
    if (!round[face]) return;
    let [low, high] = [Infinity, -Infinity];
    for (let i = 3 * faceStart[face]; i < 3 * faceStart[face + 1]; i++) {
      low = Math.min(low, zr[2 * mesh.triangles[i]]);
      high = Math.max(high, zr[2 * mesh.triangles[i]]);
    }
    const off = distanceInHalfPlane(s, axis);
    const mark = 1 << (bit++ % 31);
    for (const v of others) {
      const z = zr[2 * v];
      if (z > low - ON_FACE && z < high + ON_FACE && Math.abs(off(z, zr[2 * v + 1])) < ON_FACE) on[v] |= mark;
    }
  });
  return on;
}

// The corners of all faces that are not of revolution about the axis.
function cornersOfOthers({ positions, triangles }: TriMesh, faceStart: Uint32Array, round: readonly boolean[]): number[] {
  const seen = new Uint8Array(positions.length / 3);
  const out: number[] = [];
  round.forEach((isRound, face) => {
    if (isRound) return;
    for (let i = 3 * faceStart[face]; i < 3 * faceStart[face + 1]; i++) {
      if (seen[triangles[i]]) continue;
      seen[triangles[i]] = 1;
      out.push(triangles[i]);
    }
  });
  return out;
}

// How far a place of the half plane is from a face of revolution about the axis.
function distanceInHalfPlane(s: Surface, axis: Axis): (z: number, r: number) => number {
  if (s.kind === 'cylinder') return (_, r) => r - s.radius;
  if (s.kind === 'cone') {
    const sense = dot(s.axis, axis.direction) > 0 ? 1 : -1;
    const from = zrOf(axis, s.origin)[0];
    return (z, r) => (r - s.radiusLarge + sense * (z - from) * Math.tan(s.halfAngleRad)) * Math.cos(s.halfAngleRad);
  }
  if (s.kind === 'sphere') {
    const from = zrOf(axis, s.centre)[0];
    return (z, r) => Math.hypot(z - from, r) - s.radius;
  }
  if (s.kind === 'torus') {
    const from = zrOf(axis, s.centre)[0];
    return (z, r) => Math.hypot(z - from, r - s.majorRadius) - s.minorRadius;
  }
  return () => Infinity;
}

// mm. A triangle that spans less than this along the axis has no nearest line of its own.
const LEVEL = 1e-9;

// At each height a triangle is a straight stretch; where the foot of the axis' perpendicular lies within it, it is nearest there. Over all
// heights these feet lie on one straight line in the triangle's plane: its part within the triangle is one more swept edge.
function pushNearest(out: SegmentList, zr: Float64Array, flat: Float64Array, triangle: Uint32Array, loss: number, end: number): void {
  const [a, b, c] = [...triangle].sort((p, q) => zr[2 * p] - zr[2 * q]);
  const [za, zb, zc] = [zr[2 * a], zr[2 * b], zr[2 * c]];
  if (zc - za < LEVEL) return;
  // The stretch at height z runs from the long edge a-c to the short ones, always the same way.
  const onLong = (z: number): [number, number] => between(flat, a, c, (z - za) / (zc - za));
  const onShort = (z: number): [number, number] => (z < zb ? between(flat, a, b, (z - za) / (zb - za || 1)) : between(flat, b, c, (z - zb) / (zc - zb || 1)));
  const [lx, ly] = onLong(zb);
  const [mx, my] = [flat[2 * b] - lx, flat[2 * b + 1] - ly];
  const width = Math.hypot(mx, my);
  if (width < LEVEL) return;
  const [dx, dy] = [mx / width, my / width];
  // Where the foot is, along the stretch, from either of its ends: it is within while these have two signs.
  const alongOf = ([x, y]: [number, number]) => x * dx + y * dy;
  const stops = [za, zb, zc];
  for (const [from, to] of [
    [za, zb],
    [zb, zc],
  ] as const) {
    if (to - from < LEVEL) continue;
    for (const edge of [onLong, onShort]) {
      const [s0, s1] = [alongOf(edge(from)), alongOf(edge(to - 1e-12 * (to - from)))];
      if (s0 * s1 < 0) stops.push(from + ((to - from) * s0) / (s0 - s1));
    }
  }
  stops.sort((p, q) => p - q);
  const foot = (z: number): [number, number] => {
    const [x, y] = onLong(z);
    const s = x * dx + y * dy;
    return [x - s * dx, y - s * dy];
  };
  for (let k = 0; k + 1 < stops.length; k++) {
    const [z0, z1] = [stops[k], stops[k + 1]];
    if (z1 - z0 < LEVEL) continue;
    const z = (z0 + z1) / 2;
    if (alongOf(onLong(z)) * alongOf(onShort(z)) > 0) continue;
    const [p, q] = [foot(z0), foot(z1)];
    out.push(z0, z1, p[0], p[1], q[0] - p[0], q[1] - p[1], loss, end);
  }
}

const between = (flat: Float64Array, a: number, b: number, s: number): [number, number] => [
  flat[2 * a] + s * (flat[2 * b] - flat[2 * a]),
  flat[2 * a + 1] + s * (flat[2 * b + 1] - flat[2 * a + 1]),
];

/**
 * How far, per face, the true face stands outside its triangles (mm); 0 where the triangles lie outside, as in a bore.
 * Measured at the middles and the centre of each triangle, where a chord loses most, and raised by a fifth for what lies
 * between the measured points. Gains are the other way: how far the triangles stand outside the face.
 */
function measureLosses(
  { surfaces, faceStart, mesh, points, pointTriangle }: SampledBody,
  isLeftOut: (face: number) => boolean,
): { losses: Float64Array; gains: Float64Array } {
  const losses = new Float64Array(surfaces.length);
  const gains = new Float64Array(surfaces.length);
  const { positions: p, triangles: v } = mesh;
  let i = 0;
  for (let face = 0; face < surfaces.length; face++) {
    if (isLeftOut(face)) {
      i = firstPointOf(pointTriangle, faceStart[face + 1], i);
      continue;
    }
    let before = -1;
    // The plane of the triangle that the points belong to, one after the other.
    let [nx, ny, nz, offset] = [0, 0, 0, 0];
    for (; i < pointTriangle.length && pointTriangle[i] < faceStart[face + 1]; i++) {
      const t = pointTriangle[i];
      if (t !== before) {
        before = t;
        const a = 3 * v[3 * t];
        const b = 3 * v[3 * t + 1];
        const c = 3 * v[3 * t + 2];
        const ux = p[b] - p[a];
        const uy = p[b + 1] - p[a + 1];
        const uz = p[b + 2] - p[a + 2];
        const wx = p[c] - p[a];
        const wy = p[c + 1] - p[a + 1];
        const wz = p[c + 2] - p[a + 2];
        nx = uy * wz - uz * wy;
        ny = uz * wx - ux * wz;
        nz = ux * wy - uy * wx;
        const long = Math.sqrt(nx * nx + ny * ny + nz * nz);
        const unit = long < 1e-14 ? 0 : 1 / long;
        nx *= unit;
        ny *= unit;
        nz *= unit;
        offset = nx * p[a] + ny * p[a + 1] + nz * p[a + 2];
      }
      const d = nx * points[3 * i] + ny * points[3 * i + 1] + nz * points[3 * i + 2] - offset;
      if (d > losses[face]) losses[face] = d;
      if (-d > gains[face]) gains[face] = -d;
    }
  }
  return { losses: losses.map((d) => (d > 1e-9 ? 1.2 * d + 1e-6 : 0)), gains };
}

// The first of the points, which come triangle after triangle, that belongs to a triangle or a later one.
function firstPointOf(pointTriangle: Uint32Array, triangle: number, from: number): number {
  let [low, high] = [from, pointTriangle.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (pointTriangle[middle] < triangle) low = middle + 1;
    else high = middle;
  }
  return low;
}

// The generatrix of a face of revolution about the axis, over the range that the face has. False for any other face.
function pushGeneratrix(
  out: SegmentList,
  rings: Ring[],
  axis: Axis,
  s: Surface,
  zr: Float64Array,
  triangles: Uint32Array,
  first: number,
  last: number,
): boolean {
  const line = (z0: number, r0: number, z1: number, r1: number) =>
    z0 <= z1 ? out.push(z0, z1, r0, 0, r1 - r0, 0, 0, 0) : out.push(z1, z0, r1, 0, r0 - r1, 0, 0, 0);
  const rangeOf = (value: (z: number, r: number) => number): [number, number] => {
    let [low, high] = [Infinity, -Infinity];
    for (let i = 3 * first; i < 3 * last; i++) {
      const q = value(zr[2 * triangles[i]], zr[2 * triangles[i] + 1]);
      low = Math.min(low, q);
      high = Math.max(high, q);
    }
    return [low, high];
  };
  if (s.kind === 'cylinder' && isSameLine(axis, s.origin, s.axis, COAXIAL_MM, COAXIAL_RAD)) {
    const [z0, z1] = rangeOf((z) => z);
    line(z0, s.radius, z1, s.radius);
    return true;
  }
  if (s.kind === 'cone' && isSameLine(axis, s.origin, s.axis, COAXIAL_MM, COAXIAL_RAD)) {
    const [z0, z1] = rangeOf((z) => z);
    const sense = dot(s.axis, axis.direction) > 0 ? 1 : -1;
    const zLarge = zrOf(axis, s.origin)[0];
    const radiusAt = (z: number) => Math.max(0, s.radiusLarge - sense * (z - zLarge) * Math.tan(s.halfAngleRad));
    line(z0, radiusAt(z0), z1, radiusAt(z1));
    return true;
  }
  const ring =
    s.kind === 'sphere' && zrOf(axis, s.centre)[1] <= COAXIAL_MM
      ? { z: zrOf(axis, s.centre)[0], r: 0, radius: s.radius, concave: s.concave }
      : s.kind === 'torus' && isSameLine(axis, s.centre, s.axis, COAXIAL_MM, COAXIAL_RAD)
        ? { z: zrOf(axis, s.centre)[0], r: s.majorRadius, radius: s.minorRadius, concave: s.concave }
        : undefined;
  if (!ring) return false;
  // Angles are measured from the middle of the face's own directions, so that no range runs over the cut of atan2.
  let [mz, mr] = [0, 0];
  for (let i = 3 * first; i < 3 * last; i++) {
    mz += zr[2 * triangles[i]] - ring.z;
    mr += zr[2 * triangles[i] + 1] - ring.r;
  }
  const middle = Math.atan2(mz, mr);
  const [a0, a1] = rangeOf((z, r) => {
    const a = Math.atan2(z - ring.z, r - ring.r) - middle;
    return a > Math.PI ? a - 2 * Math.PI : a < -Math.PI ? a + 2 * Math.PI : a;
  });
  if (a1 - a0 > 1.9 * Math.PI) return false; // a whole ring: its tessellation serves as well
  rings.push(pushArc(line, ring, middle + a0, middle + a1));
  return true;
}

// A convex arc as its tangents, a concave one as its chords: both lie on the outside. Gives the circle that they follow.
function pushArc(
  line: (z0: number, r0: number, z1: number, r1: number) => void,
  { z, r, radius, concave }: { z: number; r: number; radius: number; concave: boolean },
  from: number,
  to: number,
): Ring {
  const n = Math.max(1, Math.ceil((to - from) / (2 * Math.acos(radius / (radius + RING_SAG)))));
  const step = (to - from) / n;
  const at = (angle: number, reach: number): [number, number] => [z + reach * Math.sin(angle), Math.max(0, r + reach * Math.cos(angle))];
  const corners = [at(from, radius)];
  for (let i = 0; i < n; i++) corners.push(concave ? at(from + (i + 1) * step, radius) : at(from + (i + 0.5) * step, radius / Math.cos(step / 2)));
  if (!concave) corners.push(at(to, radius));
  for (let i = 1; i < corners.length; i++) line(...corners[i - 1], ...corners[i]);
  return { centre: [z, r], radius, reach: concave ? radius * Math.cos(step / 2) : radius, convex: !concave };
}
