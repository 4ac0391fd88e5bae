// A spline that is a plane, cylinder, cone, ball or torus, as that surface with coordinates that fit what the spline's are.
import { addScaled, anyAcross, cross, distance, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import { refinePrimitive, type Surface } from '#core/mesh';
import { asPrimitive } from './as-primitive.ts';
import { recognizePlaces } from './recognize-surface.ts';
import { SplinePoints, type SplineSurface } from './spline-surface.ts';

/** A surface as ISO 10303-42 places it: z is its axis or normal, its coordinates begin at x. Lengths in mm, angles in rad. */
export interface PlainSurface {
  readonly kind: Exclude<Surface['kind'], 'free'>;
  readonly origin: Vec3;
  readonly z: Vec3;
  readonly x: Vec3;
  /** Radius (of a torus the major one), then of a cone half its angle, of a torus its minor radius. */
  readonly numbers: readonly number[];
  /** Whether the spline's own normal looks the other way than this surface's. */
  readonly isFlipped: boolean;
}

// mm. Far within what is proven; the numbers of a file are no better.
const ROUNDING = 2e-7;
// Places a stretch between knots in each direction, none of them where the surface was fitted; and stretches that are looked at.
const SHARES = [0.04, 0.27, 0.46, 0.71, 0.96];
const MOST_STRETCHES = 16;
// That the surface is fitted to once more.
const MOST_PLACES = 600;
// Radians. A larger gap in what is seen about an axis is left free by the surface.
const GAP = 0.6;
// Of the size: closed where first and last poles are nearer.
const CLOSED = 1e-7;

/** The plain surface that a spline lies on everywhere, within a rounding; undefined where there is none. */
export function splineAsPlain(spline: SplineSurface): PlainSurface | undefined {
  const points = new SplinePoints(spline);
  const ranges = [spline.knotsU[spline.degreeU], spline.knotsU[spline.countU], spline.knotsV[spline.degreeV], spline.knotsV[spline.countV]];
  const put = (u: number, v: number, out: Float64Array, at: number) => points.put(u, v, out, at);
  const found = recognizePlaces(put, ranges, false);
  if (!found || found.kind === 'free') return undefined;
  const places = placesOf(spline, points);
  if (found.kind === 'plane') return asPlane(found.normal, spline, places);
  const near = asPrimitive(found);
  // Once more over places that it was not found by: of a surface that goes on for metres a thousandth of a second of arc is too much.
  const fitted = near && refinePrimitive(near, Float64Array.from(places.flat()), MOST_PLACES);
  if (!fitted || fitted.residual > ROUNDING) return undefined;
  const lines = middleLines(points, ranges);
  const { origin, radius } = fitted;
  const made = (z: Vec3, numbers: readonly number[]): PlainSurface => ({
    kind: fitted.kind,
    origin,
    z,
    x: startAbout(origin, z, places, lines),
    numbers,
    isFlipped: found.concave,
  });
  switch (fitted.kind) {
    case 'cylinder':
      return made(fitted.axis, [radius]);
    case 'cone':
      // The radius grows along z.
      return made(scale(fitted.axis, Math.sign(fitted.slope)), [radius, Math.atan(Math.abs(fitted.slope))]);
    case 'sphere':
      return made(axisOfBall(origin, spline, places), [radius]);
    case 'torus': {
      const { axis, majorRadius } = fitted;
      // One that meets itself is another surface; and about its tube a torus begins outside.
      if (radius > 0.999 * majorRadius) return undefined;
      const tube = tubeOf(origin, axis, majorRadius);
      const isWhole = widestGap(places.map(tube)).width < GAP;
      return isWhole && Math.abs(windingStart(tube, lines)) > 1e-6 ? undefined : made(axis, [majorRadius, radius]);
    }
  }
}

function placeAt(points: SplinePoints, u: number, v: number): Vec3 {
  const p = new Float64Array(3);
  points.put(u, v, p, 0);
  return [p[0], p[1], p[2]];
}

function placesOf(spline: SplineSurface, points: SplinePoints): Vec3[] {
  const us = placesBetween(spline.knotsU, spline.degreeU, spline.countU);
  const vs = placesBetween(spline.knotsV, spline.degreeV, spline.countV);
  return us.flatMap((u) => vs.map((v) => placeAt(points, u, v)));
}

// Of at most so many stretches, the first and the last among them, places inside.
function placesBetween(knots: Float64Array, degree: number, count: number): number[] {
  const stretches: (readonly [number, number])[] = [];
  for (let i = degree; i < count; i++) if (knots[i] < knots[i + 1]) stretches.push([knots[i], knots[i + 1]]);
  const n = Math.min(stretches.length, MOST_STRETCHES);
  return Array.from({ length: n }, (_, i) => stretches[n === 1 ? 0 : Math.round((i * (stretches.length - 1)) / (n - 1))]).flatMap(([from, to]) =>
    SHARES.map((share) => from + share * (to - from)),
  );
}

// A plane by all poles: what lies between poles lies on it.
function asPlane(normal: Vec3, { poles }: SplineSurface, places: readonly Vec3[]): PlainSurface | undefined {
  const corners: Vec3[] = [];
  for (let i = 0; i < poles.length; i += 3) corners.push([poles[i], poles[i + 1], poles[i + 2]]);
  const all = [...corners, ...places];
  const origin = all[0];
  const furthest = (by: (p: Vec3) => number) => all.reduce((a, b) => (by(b) > by(a) ? b : a));
  const far = furthest((p) => distance(p, origin));
  const x = normalize(subtract(far, origin));
  const beside = furthest((p) => length(cross(subtract(p, origin), x)));
  const across = cross(x, subtract(beside, origin));
  const size = length(across);
  if (!(size > 1e-9)) return undefined;
  const z = scale(across, Math.sign(dot(across, normal)) / size);
  if (!all.every((p) => Math.abs(dot(subtract(p, origin), z)) < ROUNDING)) return undefined;
  return { kind: 'plane', origin, z, x, numbers: [], isFlipped: false };
}

// Places along each of its two coordinates, in the middle of the other.
function middleLines(points: SplinePoints, [u0, u1, v0, v1]: readonly number[]): Vec3[][] {
  const shares = Array.from({ length: 13 }, (_, i) => i / 12);
  return [shares.map((s) => placeAt(points, u0 + s * (u1 - u0), (v0 + v1) / 2)), shares.map((s) => placeAt(points, (u0 + u1) / 2, v0 + s * (v1 - v0)))];
}

// The turn at which that of the lines begins that goes round most.
function windingStart(turnOf: (p: Vec3) => number, lines: readonly Vec3[][]): number {
  const round = (d: number) => Math.abs(d - 2 * Math.PI * Math.round(d / (2 * Math.PI)));
  const wound = lines.map((line) => {
    const turns = line.map(turnOf);
    return { from: turns[0], by: turns.slice(1).reduce((sum, t, i) => sum + round(t - turns[i]), 0) };
  });
  return wound.reduce((a, b) => (b.by > a.by ? b : a)).from;
}

// Where coordinates about an axis begin: in the midst of what the surface leaves free about it, or where the spline's do.
function startAbout(origin: Vec3, z: Vec3, places: readonly Vec3[], lines: readonly Vec3[][]): Vec3 {
  const x = anyAcross(z);
  const y = cross(z, x);
  const turnOf = (p: Vec3) => Math.atan2(dot(subtract(p, origin), y), dot(subtract(p, origin), x));
  const { width, middle } = widestGap(places.map(turnOf));
  const turn = width < GAP ? windingStart(turnOf, lines) : middle;
  return addScaled(scale(x, Math.cos(turn)), y, Math.sin(turn));
}

function widestGap(turns: readonly number[]): { readonly width: number; readonly middle: number } {
  const sorted = [...turns].sort((a, b) => a - b);
  let [width, middle] = [0, 0];
  sorted.forEach((turn, i) => {
    const next = i + 1 < sorted.length ? sorted[i + 1] : sorted[0] + 2 * Math.PI;
    if (next - turn > width) [width, middle] = [next - turn, (turn + next) / 2];
  });
  return { width, middle };
}

// About the ring of a torus, 0 outside.
const tubeOf =
  (centre: Vec3, z: Vec3, majorRadius: number) =>
  (p: Vec3): number => {
    const d = subtract(p, centre);
    const along = dot(d, z);
    return Math.atan2(along, length(addScaled(d, z, -along)) - majorRadius);
  };

// Through its pole where the spline has one, else about what it closes around; of a patch across its middle, so that no pole lies on it.
function axisOfBall(centre: Vec3, spline: SplineSurface, places: readonly Vec3[]): Vec3 {
  const { countU, countV } = spline;
  const pole = (i: number, j: number): Vec3 => {
    const at = 3 * (i * countV + j);
    return [spline.poles[at], spline.poles[at + 1], spline.poles[at + 2]];
  };
  const near = (a: Vec3, b: Vec3) => distance(a, b) < CLOSED * (1 + distance(a, centre));
  const alongU = (j: number) => Array.from({ length: countU }, (_, i) => pole(i, j));
  const alongV = (i: number) => Array.from({ length: countV }, (_, j) => pole(i, j));
  for (const row of [alongU(0), alongU(countV - 1), alongV(0), alongV(countU - 1)])
    if (row.every((p) => near(p, row[0]))) return normalize(subtract(row[0], centre));
  for (const row of [alongU(countV >> 1), alongV(countU >> 1)]) {
    if (!near(row[0], row[row.length - 1])) continue;
    const about = row.slice(1).reduce<Vec3>((sum, p, i) => addScaled(sum, cross(subtract(row[i], centre), subtract(p, centre)), 1), [0, 0, 0]);
    if (length(about) > 1e-9) return normalize(about);
  }
  return anyAcross(normalize(places.reduce<Vec3>((sum, p) => addScaled(sum, subtract(p, centre), 1), [0, 0, 0])));
}
