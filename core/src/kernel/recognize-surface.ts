// What a surface or a curve is, whatever it was written as: some systems write every plane and cylinder as a spline.
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import type { OpenCascadeInstance } from 'replicad-opencascadejs';
import { addScaled, cross, distance, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import { type Curve, fitSphere, guessCone, guessesAbout, normalAt, type Primitive, refinePrimitive, type Surface, type Unfitted, worstOf } from '#core/mesh';
import { type PutPoint, surfacePoints } from './surface-points.ts';

type SurfaceAdaptor = InstanceType<OpenCascadeInstance['BRepAdaptor_Surface']>;

// mm. As near as all looked at places must be to a surface or a curve to be it.
const EXACT = 1e-3;
// mm, and of the size. How far first guesses may be off: the normals of splines that go on for metres are a little off.
const CLOSE = 0.2;
const CLOSE_SHARE = 5e-4;
// mm. Larger ones are planes or lines to anybody.
const LARGEST_RADIUS = 3000;
const SHARES = [0, 0.13, 0.31, 0.5, 0.69, 0.87, 1];
// Of a range: so far apart are places that a normal is found by.
const STEP = 1e-4;

interface Looked {
  readonly points: Float64Array;
  readonly places: readonly Vec3[];
  /** Unit, out of the material; of the places that have one. */
  readonly normals: readonly Vec3[];
}

/** Plane, cylinder, cone, ball or torus, where a face written as something else is one within a micrometre; undefined where it is none. `reversed`: the face against its surface. */
export function recognizeSurface(adaptor: SurfaceAdaptor, reversed: boolean): Surface | undefined {
  const ranges = [adaptor.FirstUParameter(), adaptor.LastUParameter(), adaptor.FirstVParameter(), adaptor.LastVParameter()];
  if (!ranges.every((r) => Math.abs(r) < 1e9)) return undefined;
  return recognizePlaces(surfacePoints(adaptor), ranges, reversed);
}

/** The same of what puts places with coordinates in `ranges` (u from, to, v from, to). */
export function recognizePlaces(put: PutPoint, ranges: readonly number[], reversed: boolean): Surface | undefined {
  const looked = look(put, ranges, reversed);
  if (looked.normals.length < 9) return undefined;
  return asPlane(looked) ?? asRound(looked);
}

function look(put: PutPoint, [u0, u1, v0, v1]: readonly number[], reversed: boolean): Looked {
  const points = new Float64Array(3 * SHARES.length ** 2);
  const places: Vec3[] = [];
  const normals: Vec3[] = [];
  const [a, b] = [new Float64Array(3), new Float64Array(3)];
  let at = 0;
  for (const s of SHARES)
    for (const t of SHARES) {
      const [u, v] = [u0 + s * (u1 - u0), v0 + t * (v1 - v0)];
      put(u, v, points, at);
      const p: Vec3 = [points[at], points[at + 1], points[at + 2]];
      at += 3;
      // Inwards from the ends of the ranges.
      const [du, dv] = [(s < 0.5 ? 1 : -1) * STEP * (u1 - u0), (t < 0.5 ? 1 : -1) * STEP * (v1 - v0)];
      put(u + du, v, a, 0);
      put(u, v + dv, b, 0);
      const n = cross(subtract([a[0], a[1], a[2]], p), subtract([b[0], b[1], b[2]], p));
      const l = length(n);
      if (!(l > 1e-14)) continue;
      places.push(p);
      normals.push(scale(n, (Math.sign(du * dv) * (reversed ? -1 : 1)) / l));
    }
  return { points, places, normals };
}

function asPlane({ points, places, normals }: Looked): Surface | undefined {
  const normal = normalize(normals.reduce<Vec3>((sum, n) => [sum[0] + n[0], sum[1] + n[1], sum[2] + n[2]], [0, 0, 0]));
  const [origin] = places;
  for (let i = 0; i < points.length; i += 3) if (Math.abs(dot(subtract([points[i], points[i + 1], points[i + 2]], origin), normal)) > EXACT) return undefined;
  return { kind: 'plane', origin, normal };
}

function asRound(looked: Looked): Surface | undefined {
  const { points, normals, places } = looked;
  const size = Math.max(...places.map((p) => distance(p, places[0])));
  const close = Math.max(CLOSE, CLOSE_SHARE * size);
  const guesses: (() => readonly (Unfitted | undefined)[])[] = [
    () => [guessCone(normals, places, points)],
    () => [fitSphere(points)],
    () => {
      const axis = axisOfNormals(looked);
      return axis ? guessesAbout(axis, points, close, EXACT) : [];
    },
  ];
  for (const guess of guesses)
    for (const start of guess()) {
      // What is far off is not refined.
      const fitted = start && worstOf(start, points) < close ? refinePrimitive(start, points) : undefined;
      if (fitted && fitted.residual < EXACT && fitted.radius < (fitted.kind === 'cone' ? Math.max(LARGEST_RADIUS, size) : LARGEST_RADIUS))
        return asSurface(fitted, looked);
    }
  return undefined;
}

// The line that all normals of what turns about it meet: of its Pluecker coordinates (d, m) each normal n at p asks that d (p x n) + m n is 0.
function axisOfNormals({ places, normals }: Looked): { origin: Vec3; axis: Vec3 } | undefined {
  const middle = scale(
    places.reduce<Vec3>((s, p) => [s[0] + p[0], s[1] + p[1], s[2] + p[2]], [0, 0, 0]),
    1 / places.length,
  );
  const size = places.reduce((m, p) => Math.max(m, distance(p, middle)), 1e-9);
  const sums = Matrix.zeros(6, 6);
  for (const [i, p] of places.entries()) {
    const n = normals[i];
    const row = [...cross(scale(subtract(p, middle), 1 / size), n), ...n];
    for (let r = 0; r < 6; r++) for (let c = 0; c < 6; c++) sums.set(r, c, sums.get(r, c) + row[r] * row[c]);
  }
  const own = new EigenvalueDecomposition(sums, { assumeSymmetric: true });
  const least = own.realEigenvalues.indexOf(Math.min(...own.realEigenvalues));
  const v = [0, 1, 2, 3, 4, 5].map((k) => own.eigenvectorMatrix.get(k, least));
  const d: Vec3 = [v[0], v[1], v[2]];
  const l = length(d);
  if (l < 1e-3) return undefined;
  const axis = scale(d, 1 / l);
  // The place of the line that is nearest to the middle: d x m.
  return { origin: addScaled(middle, cross(axis, scale([v[3], v[4], v[5]], 1 / l)), size), axis };
}

function asSurface(s: Primitive, { places, normals }: Looked): Surface {
  // Against the side that looks away from axis, centre or ring: material is outside.
  const inward = places.reduce((sum, p, i) => sum + dot(normals[i], normalAt(s, p)), 0) < 0;
  if (s.kind === 'sphere') return { kind: 'sphere', centre: s.origin, radius: s.radius, concave: inward };
  if (s.kind === 'torus') return { kind: 'torus', centre: s.origin, axis: s.axis, majorRadius: s.majorRadius, minorRadius: s.radius, concave: inward };
  const along = places.map((p) => dot(subtract(p, s.origin), s.axis));
  const [from, to] = [Math.min(...along), Math.max(...along)];
  if (s.kind === 'cylinder')
    return { kind: 'cylinder', origin: addScaled(s.origin, s.axis, from), axis: s.axis, radius: s.radius, length: to - from, concave: inward };
  const [large, small] = s.slope > 0 ? [to, from] : [from, to];
  return {
    kind: 'cone',
    origin: addScaled(s.origin, s.axis, large),
    axis: s.slope > 0 ? scale(s.axis, -1) : s.axis,
    halfAngleRad: Math.atan(Math.abs(s.slope)),
    radiusLarge: s.radius + s.slope * large,
    radiusSmall: Math.max(0, s.radius + s.slope * small),
    length: to - from,
    concave: inward,
  };
}

// Of a curve's range.
const ALONG = [0, 0.11, 0.27, 0.5, 0.73, 0.89, 1];

/** Line or circle, where a curve written as something else is one within a micrometre; `at`: places of it by share of its range. */
export function recognizeCurve(at: (share: number) => Vec3): Curve | undefined {
  const places = ALONG.map(at);
  const [start, end] = [places[0], places[places.length - 1]];
  const long = distance(start, end);
  if (long > EXACT) {
    const way = normalize(subtract(end, start));
    if (places.every((p) => length(cross(subtract(p, start), way)) < EXACT)) return { kind: 'line', length: long };
  }
  // Through three places that are not near one another, a whole turn's too.
  const [a, b, c] = [places[0], places[2], places[4]];
  const [ab, ac] = [subtract(b, a), subtract(c, a)];
  const n = cross(ab, ac);
  const n2 = dot(n, n);
  if (!(n2 > 1e-12)) return undefined;
  const centre = addScaled(a, addScaled(scale(cross(n, ab), dot(ac, ac)), cross(ac, n), dot(ab, ab)), 1 / (2 * n2));
  const axis = normalize(n);
  const radius = distance(centre, a);
  if (radius > LARGEST_RADIUS || !places.every((p) => Math.abs(distance(p, centre) - radius) < EXACT && Math.abs(dot(subtract(p, centre), axis)) < EXACT))
    return undefined;
  const x = normalize(subtract(a, centre));
  const y = cross(axis, x);
  const turnOf = (p: Vec3) => {
    const d = subtract(p, centre);
    const t = Math.atan2(dot(d, y), dot(d, x));
    return t < -1e-9 ? t + 2 * Math.PI : t;
  };
  const sweepRad = long < EXACT ? 2 * Math.PI : turnOf(end);
  return { kind: 'circle', centre, axis, radius, sweepRad, middle: places[3] };
}
