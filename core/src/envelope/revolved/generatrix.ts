import type { SampledBody } from '#core/kernel';
import { dot, type Vec3 } from '#core/math';
import type { Surface } from '#core/mesh';
import { type Axis, driftOf, isSameLine, zrOf } from '../axis.ts';
import { type Ring, RING_SAG } from './fewest-pieces.ts';
import type { SegmentList } from './segment-list.ts';

const COAXIAL_MM = 1e-5;
const COAXIAL_RAD = 1e-7;
// mm. A face whose axis drifts by less from the one it is turned about is about that one, far within what the proof allows.
const NO_DRIFT = 2e-7;

/**
 * Adds the generatrix of a face of revolution about the axis, over the range that the face has; a fillet's or ball's circle as well. What its own axis
 * drifts from that one, by the last digits of a file, is allowed for. False for any other face.
 */
export function pushGeneratrix(
  out: SegmentList,
  rings: Ring[],
  axis: Axis,
  s: Surface,
  zr: Float64Array,
  triangles: Uint32Array,
  first: number,
  last: number,
): boolean {
  let drift = 0;
  let end = 0;
  const line = (z0: number, r0: number, z1: number, r1: number) =>
    z0 <= z1 ? out.push(z0, z1, r0, 0, r1 - r0, 0, drift, end) : out.push(z1, z0, r1, 0, r0 - r1, 0, drift, end);
  const allowFor = (point: Vec3, direction: Vec3, z0: number, z1: number, radius: number) => {
    const by = driftOf(axis, point, direction, z0, z1, radius);
    drift = by > NO_DRIFT ? by : 0;
    // A cylinder ends where its corners end; anything else is steeper than that, and what lifts it along the axis moves it out.
    end = s.kind === 'cylinder' ? 0 : drift;
  };
  if (s.kind === 'cylinder' && isSameLine(axis, s.origin, s.axis, COAXIAL_MM, COAXIAL_RAD)) {
    const [z0, z1] = heightsOf(zr, triangles, first, last);
    allowFor(s.origin, s.axis, z0, z1, 0);
    line(z0, s.radius, z1, s.radius);
    return true;
  }
  if (s.kind === 'cone' && isSameLine(axis, s.origin, s.axis, COAXIAL_MM, COAXIAL_RAD)) {
    const [z0, z1] = heightsOf(zr, triangles, first, last);
    allowFor(s.origin, s.axis, z0, z1, s.radiusLarge);
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
  const { middle, a0, a1 } = anglesOf(zr, triangles, first, last, ring);
  if (a1 - a0 > 1.9 * Math.PI) return false; // a whole ring: its tessellation serves as well
  if (s.kind === 'torus') allowFor(s.centre, s.axis, ring.z - s.minorRadius, ring.z + s.minorRadius, s.majorRadius + s.minorRadius);
  else if (s.kind === 'sphere') allowFor(s.centre, axis.direction, ring.z, ring.z, 0);
  // A circle of its own that holds the face's wherever it has drifted to.
  const wide = { ...ring, radius: ring.radius + (ring.concave ? -drift : drift) };
  const more = drift / wide.radius;
  drift = 0;
  end = 0;
  rings.push(pushArc(line, wide, middle + a0 - more, middle + a1 + more));
  return true;
}

// From where to where the corners of a face reach along the axis.
function heightsOf(zr: Float64Array, triangles: Uint32Array, first: number, last: number): [number, number] {
  let low = Infinity;
  let high = -Infinity;
  for (let i = 3 * first; i < 3 * last; i++) {
    const z = zr[2 * triangles[i]];
    if (z < low) low = z;
    if (z > high) high = z;
  }
  return [low, high];
}

// From where to where they go around a circle in the half plane. Angles are measured from the middle of the face's own directions, so that no range runs over
// the cut of atan2; corners that are no further from that middle than others were need none (a tenth of the time of all of them).
function anglesOf(zr: Float64Array, triangles: Uint32Array, first: number, last: number, { z, r }: { z: number; r: number }) {
  let mz = 0;
  let mr = 0;
  for (let i = 3 * first; i < 3 * last; i++) {
    mz += zr[2 * triangles[i]] - z;
    mr += zr[2 * triangles[i] + 1] - r;
  }
  const middle = Math.atan2(mz, mr);
  const along = Math.cos(middle);
  const across = Math.sin(middle);
  let a0 = Infinity;
  let a1 = -Infinity;
  // Slope of the line from the centre on either side, where it is less than a quarter turn off.
  let steepest = -Infinity;
  let least = Infinity;
  for (let i = 3 * first; i < 3 * last; i++) {
    const dz = zr[2 * triangles[i]] - z;
    const dr = zr[2 * triangles[i] + 1] - r;
    const forth = dr * along + dz * across;
    const aside = dz * along - dr * across;
    if (forth > 0) {
      const slope = aside / forth;
      if (slope <= steepest && slope >= least) continue;
      if (slope > steepest) steepest = slope;
      if (slope < least) least = slope;
    }
    const angle = Math.atan2(aside, forth);
    if (angle < a0) a0 = angle;
    if (angle > a1) a1 = angle;
  }
  return { middle, a0, a1 };
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

// mm. A corner this near to a face of revolution lies on it.
const ON_FACE = 1e-6;

/**
 * The faces of revolution that corners lie on, as bits (more than 31 faces share some): an edge with both ends on one of them is its border
 * where the triangle's third corner is not on it. Looked up where it is asked for: most corners lie deep.
 */
export class RoundMarks {
  private readonly zr: Float64Array;
  private readonly known: Int32Array;
  private readonly faces: { readonly low: number; readonly high: number; readonly mark: number; readonly off: (z: number, r: number) => number }[] = [];

  constructor({ mesh, surfaces, faceStart }: SampledBody, axis: Axis, zr: Float64Array, round: readonly boolean[]) {
    this.zr = zr;
    this.known = new Int32Array(zr.length / 2).fill(UNKNOWN);
    surfaces.forEach((s, face) => {
      if (!round[face]) return;
      const [low, high] = heightsOf(zr, mesh.triangles, faceStart[face], faceStart[face + 1]);
      this.faces.push({ low: low - ON_FACE, high: high + ON_FACE, mark: 1 << (this.faces.length % 31), off: distanceInHalfPlane(s, axis) });
    });
  }

  of(corner: number): number {
    if (this.known[corner] !== UNKNOWN) return this.known[corner];
    const [z, r] = [this.zr[2 * corner], this.zr[2 * corner + 1]];
    let marks = 0;
    for (const { low, high, mark, off } of this.faces) if (z > low && z < high && Math.abs(off(z, r)) < ON_FACE) marks |= mark;
    this.known[corner] = marks;
    return marks;
  }
}

// The one number that no marks make: they are 31 bits.
const UNKNOWN = -(2 ** 31);

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
