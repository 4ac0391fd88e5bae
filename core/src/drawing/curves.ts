import { distanceFromSegment, type FlatPoint } from '#core/outline';

// Times that a stretch is halved at most.
const DEEPEST = 14;

/**
 * Points along a curve from `start` to `end` of its parameter, so close that chords are off it by no more than `sag`; it is divided at `breaks` in any case.
 * `at` gives its place at a parameter.
 */
export function alongCurve(at: (t: number) => FlatPoint, start: number, end: number, sag: number, breaks: readonly number[] = []): FlatPoint[] {
  const stops = [start, ...breaks.filter((t) => t > Math.min(start, end) && t < Math.max(start, end)), end];
  const points: FlatPoint[] = [at(start)];
  const divide = (t0: number, p0: FlatPoint, t1: number, p1: FlatPoint, depth: number) => {
    const tm = (t0 + t1) / 2;
    const pm = at(tm);
    // A point at an uneven share too: an S has its middle on its chord.
    const pq = at(t0 + 0.3 * (t1 - t0));
    const isFlat = depth > 1 && distanceFromSegment(p0, p1, pm) <= sag && distanceFromSegment(p0, p1, pq) <= sag;
    if (isFlat || depth >= DEEPEST) {
      points.push(p1);
      return;
    }
    divide(t0, p0, tm, pm, depth + 1);
    divide(tm, pm, t1, p1, depth + 1);
  };
  for (let i = 1; i < stops.length; i++) divide(stops[i - 1], points[points.length - 1], stops[i], at(stops[i]), 0);
  return points;
}

/** A spline of a drawing file: control points with their weights, knots, degree. */
export interface Spline {
  readonly degree: number;
  readonly knots: readonly number[];
  readonly points: readonly FlatPoint[];
  readonly weights?: readonly number[];
}

/** What is wrong with a spline's numbers, in words; undefined for a good one. */
export function splineFault({ degree, knots, points, weights }: Spline): string | undefined {
  if (!(degree >= 1 && degree <= 25)) return `a spline of degree ${degree}`;
  if (points.length <= degree) return `a spline of degree ${degree} with ${points.length} control points`;
  if (knots.length !== points.length + degree + 1) return `a spline with ${knots.length} knots for ${points.length} control points of degree ${degree}`;
  if (knots.some((k, i) => i > 0 && k < knots[i - 1])) return 'a spline whose knots do not grow';
  if (weights && (weights.length !== points.length || weights.some((w) => !(w > 0)))) return 'a spline with bad weights';
  return undefined;
}

/** Points of a spline, chords off it by no more than `sag` (de Boor's algorithm, homogeneous where it has weights). */
export function pointsOfSpline(spline: Spline, sag: number): FlatPoint[] {
  const { degree, knots, points, weights } = spline;
  const [start, end] = [knots[degree], knots[points.length]];
  const at = (t: number): FlatPoint => {
    let span = degree;
    while (span < points.length - 1 && t >= knots[span + 1]) span++;
    const d = Array.from({ length: degree + 1 }, (_, j) => {
      const i = j + span - degree;
      const w = weights ? weights[i] : 1;
      return [points[i][0] * w, points[i][1] * w, w];
    });
    for (let r = 1; r <= degree; r++)
      for (let j = degree; j >= r; j--) {
        const i = j + span - degree;
        const wide = knots[i + degree - r + 1] - knots[i];
        const s = wide > 0 ? (t - knots[i]) / wide : 0;
        for (let k = 0; k < 3; k++) d[j][k] = (1 - s) * d[j - 1][k] + s * d[j][k];
      }
    const [x, y, w] = d[degree];
    return [x / w, y / w];
  };
  return alongCurve(at, start, end, sag, [...new Set(knots)]);
}

/** Points of an ellipse from one parameter to another (rad, the larger one may be more than a turn on): centre, the way to the end of its first half axis, and of the other. */
export function pointsOfEllipse(centre: FlatPoint, first: FlatPoint, second: FlatPoint, start: number, end: number, sag: number): FlatPoint[] {
  const at = (t: number): FlatPoint => [
    centre[0] + Math.cos(t) * first[0] + Math.sin(t) * second[0],
    centre[1] + Math.cos(t) * first[1] + Math.sin(t) * second[1],
  ];
  const quarters = Array.from({ length: 8 }, (_, i) => start + ((end - start) * (i + 1)) / 9);
  return alongCurve(at, start, end, sag, quarters);
}
