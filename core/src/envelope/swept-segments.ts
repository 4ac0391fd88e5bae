import type { SampledBody } from '#core/kernel';
import { addScaled, dot, type Vec3 } from '#core/math';
import type { Surface } from '#core/mesh';
import { type Axis, isSameLine, zrOf, zrOfPoints } from './axis.ts';

/**
 * A piece of what spins: at height z its largest radius is |a + t b| + loss, t from 0 at z0 to 1 at z1 - the distance
 * of a straight edge from the axis, which is convex in z. Packed 8 numbers a piece:
 *   z0, z1 (z0 <= z1), ax, ay (across the axis at z0), bx, by (change until z1), loss (mm, added outside),
 *   end (mm, how far beyond z0 and z1 it can reach)
 */
export const SEGMENT_SIZE = 8;

const COAXIAL_MM = 1e-5;
const COAXIAL_RAD = 1e-7;

/** The swept pieces of a body, and how far (mm) they may stand outside its true faces by what the tessellation blurs. */
export interface SweptBody {
  readonly segments: readonly number[];
  readonly blur: number;
}

/**
 * Everything of a body that can be outermost when it spins. Faces of revolution about the axis give their own
 * generatrix, exact; planes give their triangles' edges, exact; any other face gives its triangles' edges and what
 * its tessellation has lost, measured on the true face.
 */
export function sweptSegments(body: SampledBody, axis: Axis): SweptBody {
  const { mesh, faceStart, surfaces } = body;
  const out: number[] = [];
  const [u, v] = acrossAxes(axis);
  const zr = zrOfPoints(axis, mesh.positions);
  const flat = flatCoordinates(axis, u, v, mesh.positions);
  const { losses, gains } = measureLosses(body);
  let blur = 0;
  surfaces.forEach((surface, face) => {
    const [first, last] = [faceStart[face], faceStart[face + 1]];
    if (first === last) return;
    if (pushGeneratrix(out, axis, surface, zr, mesh.triangles, first, last)) return;
    // A cylinder along the axis ends where its edges end.
    const along = surface.kind === 'cylinder' && Math.abs(dot(surface.axis, axis.direction)) > 1 - 1e-12;
    const end = along ? 0 : losses[face];
    blur = Math.max(blur, Math.hypot(losses[face], end) + gains[face]);
    for (let i = 3 * first; i < 3 * last; i += 3) {
      for (let k = 0; k < 3; k++) {
        const a = mesh.triangles[i + k];
        const b = mesh.triangles[i + ((k + 1) % 3)];
        const [lo, hi] = zr[2 * a] <= zr[2 * b] ? [a, b] : [b, a];
        const [ax, ay] = [flat[2 * lo], flat[2 * lo + 1]];
        out.push(zr[2 * lo], zr[2 * hi], ax, ay, flat[2 * hi] - ax, flat[2 * hi + 1] - ay, losses[face], end);
      }
    }
  });
  return { segments: out, blur };
}

function acrossAxes({ direction: d }: Axis): [Vec3, Vec3] {
  const seed: Vec3 = Math.abs(d[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const raw = addScaled(seed, d, -dot(seed, d));
  const l = Math.hypot(...raw);
  const u: Vec3 = [raw[0] / l, raw[1] / l, raw[2] / l];
  return [u, [d[1] * u[2] - d[2] * u[1], d[2] * u[0] - d[0] * u[2], d[0] * u[1] - d[1] * u[0]]];
}

function flatCoordinates({ origin: o }: Axis, u: Vec3, v: Vec3, p: Float64Array): Float64Array {
  const out = new Float64Array((p.length / 3) * 2);
  for (let i = 0, k = 0; i < p.length; i += 3, k += 2) {
    const [x, y, z] = [p[i] - o[0], p[i + 1] - o[1], p[i + 2] - o[2]];
    out[k] = x * u[0] + y * u[1] + z * u[2];
    out[k + 1] = x * v[0] + y * v[1] + z * v[2];
  }
  return out;
}

/**
 * How far, per face, the true face stands outside its triangles (mm); 0 where the triangles lie outside, as in a bore.
 * Measured at the middles and the centre of each triangle, where a chord loses most, and raised by a fifth for what lies
 * between the measured points. Gains are the other way: how far the triangles stand outside the face.
 */
export function measureLosses({ surfaces, faceStart, mesh, points, pointTriangle }: SampledBody): { losses: Float64Array; gains: Float64Array } {
  const losses = new Float64Array(surfaces.length);
  const gains = new Float64Array(surfaces.length);
  let face = 0;
  for (let i = 0; i < pointTriangle.length; i++) {
    const t = pointTriangle[i];
    while (t >= faceStart[face + 1]) face++;
    if (t < faceStart[face]) face = faceStart.findLastIndex((start) => start <= t);
    const d = distanceToTrianglePlane(mesh.positions, mesh.triangles, t, points[3 * i], points[3 * i + 1], points[3 * i + 2]);
    if (d > losses[face]) losses[face] = d;
    if (-d > gains[face]) gains[face] = -d;
  }
  return { losses: losses.map((d) => (d > 1e-9 ? 1.2 * d + 1e-6 : 0)), gains };
}

/** Signed distance of a point from the plane of a triangle, positive outside; 0 for a degenerate triangle. */
export function distanceToTrianglePlane(p: Float64Array, triangles: Uint32Array, t: number, x: number, y: number, z: number): number {
  const [a, b, c] = [3 * triangles[3 * t], 3 * triangles[3 * t + 1], 3 * triangles[3 * t + 2]];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const l = Math.hypot(nx, ny, nz);
  return l < 1e-14 ? 0 : ((x - p[a]) * nx + (y - p[a + 1]) * ny + (z - p[a + 2]) * nz) / l;
}

// The generatrix of a face of revolution about the axis, over the range that the face has. False for any other face.
function pushGeneratrix(out: number[], axis: Axis, s: Surface, zr: Float64Array, triangles: Uint32Array, first: number, last: number): boolean {
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
  pushArc(line, ring, middle + a0, middle + a1);
  return true;
}

const ARC_STEP_RAD = (4 * Math.PI) / 180;

// A convex arc as its tangents, a concave one as its chords: both lie on the outside.
function pushArc(
  line: (z0: number, r0: number, z1: number, r1: number) => void,
  { z, r, radius, concave }: { z: number; r: number; radius: number; concave: boolean },
  from: number,
  to: number,
) {
  const n = Math.max(1, Math.ceil((to - from) / ARC_STEP_RAD));
  const step = (to - from) / n;
  const at = (angle: number, reach: number): [number, number] => [z + reach * Math.sin(angle), Math.max(0, r + reach * Math.cos(angle))];
  const corners = [at(from, radius)];
  for (let i = 0; i < n; i++) corners.push(concave ? at(from + (i + 1) * step, radius) : at(from + (i + 0.5) * step, radius / Math.cos(step / 2)));
  if (!concave) corners.push(at(to, radius));
  for (let i = 1; i < corners.length; i++) line(...corners[i - 1], ...corners[i]);
}
