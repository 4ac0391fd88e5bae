// Places on the kernel's surfaces without asking it for each: five microseconds a place, and a hundred thousand places a model.
import type { Geom_BSplineSurface, OpenCascadeInstance } from 'replicad-opencascadejs';
import { vecOfPoint } from './gp.ts';
import { withScope } from './scope.ts';
import { SplinePoints } from './spline-surface.ts';

type SurfaceAdaptor = InstanceType<OpenCascadeInstance['BRepAdaptor_Surface']>;
type CurveAdaptor = InstanceType<OpenCascadeInstance['BRepAdaptor_Curve']>;

/** Puts the place with two coordinates into `out`, from `at` on. */
export type PutPoint = (u: number, v: number, out: Float64Array, at: number) => void;

// mm. As near as rounding lets two ways of evaluating the same surface be.
const SAME = 1e-9;
// Where in its ranges a surface is looked at, to see whether both ways agree.
const LOOKS = [
  [0.137, 0.291],
  [0.523, 0.868],
  [0.911, 0.447],
] as const;

/** How places of a face's surface are found: by formula where the kernel, asked at some places, agrees with it, else by the kernel. */
export function surfacePoints(adaptor: SurfaceAdaptor): PutPoint {
  const slow: PutPoint = (u, v, out, at) => out.set(vecOfPoint(adaptor.Value(u, v)), at);
  const quick = byFormula(adaptor, adaptor.GetType(), slow);
  return quick && agree(adaptor, quick, slow) ? quick : slow;
}

function byFormula(adaptor: SurfaceAdaptor, kind: string, slow: PutPoint): PutPoint | undefined {
  switch (kind) {
    case 'GeomAbs_Cylinder':
    case 'GeomAbs_Cone':
      return roundAlong(sharesOf(slow, PLAIN));
    case 'GeomAbs_Sphere':
    case 'GeomAbs_Torus':
      return roundBothWays(sharesOf(slow, ROUND));
    case 'GeomAbs_BSplineSurface':
      return splinePoints(adaptor);
    default:
      return undefined;
  }
}

function agree(adaptor: SurfaceAdaptor, quick: PutPoint, slow: PutPoint): boolean {
  const [u0, u1, v0, v1] = [adaptor.FirstUParameter(), adaptor.LastUParameter(), adaptor.FirstVParameter(), adaptor.LastVParameter()];
  const within = (from: number, to: number, share: number) => from + share * (to - from);
  const [a, b] = [new Float64Array(3), new Float64Array(3)];
  return LOOKS.every(([s, t]) => {
    quick(within(u0, u1, s), within(v0, v1, t), a, 0);
    slow(within(u0, u1, s), within(v0, v1, t), b, 0);
    return a.every((x, k) => Math.abs(x - b[k]) < SAME);
  });
}

/** A function of one coordinate as shares of three others, and where it is looked at to find these. */
interface Shape {
  readonly at: readonly number[];
  /** From the values at these places what stands before 1, the second and the third function. */
  readonly solve: (values: readonly Float64Array[]) => readonly Float64Array[];
}

const combine = (...terms: readonly (readonly [number, Float64Array])[]): Float64Array =>
  Float64Array.from(terms[0][1], (_, i) => terms.reduce((s, [share, v]) => s + share * v[i], 0));

// a + b cos t + c sin t.
const ROUND: Shape = {
  at: [0, Math.PI, Math.PI / 2],
  solve: ([zero, half, quarter]) => {
    const mean = combine([0.5, zero], [0.5, half]);
    return [mean, combine([0.5, zero], [-0.5, half]), combine([1, quarter], [-1, mean])];
  },
};
// a + b t.
const PLAIN: Shape = {
  at: [0, 1],
  solve: ([zero, one]) => [zero, combine([1, one], [-1, zero]), new Float64Array(zero.length)],
};

// Elementary surfaces are sums of products of such functions, round in u: nine vectors, found from the kernel's own answers at a few places.
function sharesOf(slow: PutPoint, inV: Shape): Float64Array {
  const rows = ROUND.at.map((u) => {
    const values = inV.at.map((v) => {
      const p = new Float64Array(3);
      slow(u, v, p, 0);
      return p;
    });
    return inV.solve(values);
  });
  // By the function of v, then by that of u.
  const parts = [0, 1, 2].map((k) => ROUND.solve(rows.map((row) => row[k])));
  return Float64Array.from([0, 1, 2].flatMap((k) => [0, 1, 2].flatMap((j) => [...parts[k][j]])));
}

// Of what is straight in v; a cylinder's or a cone's places are most of what is asked.
function roundAlong(c: Float64Array): PutPoint {
  return (u, v, out, at) => {
    const u2 = Math.cos(u);
    const u3 = Math.sin(u);
    for (let k = 0; k < 3; k++) out[at + k] = c[k] + u2 * c[3 + k] + u3 * c[6 + k] + v * (c[9 + k] + u2 * c[12 + k] + u3 * c[15 + k]);
  };
}

function roundBothWays(c: Float64Array): PutPoint {
  return (u, v, out, at) => {
    const u2 = Math.cos(u);
    const u3 = Math.sin(u);
    const v2 = Math.cos(v);
    const v3 = Math.sin(v);
    for (let k = 0; k < 3; k++)
      out[at + k] =
        c[k] + u2 * c[3 + k] + u3 * c[6 + k] + v2 * (c[9 + k] + u2 * c[12 + k] + u3 * c[15 + k]) + v3 * (c[18 + k] + u2 * c[21 + k] + u3 * c[24 + k]);
  };
}

// Periodic ones are left to the kernel: their poles and knots are numbered in a way of their own.
function splinePoints(adaptor: SurfaceAdaptor): PutPoint | undefined {
  return withScope((own) => {
    const spline: Geom_BSplineSurface = own(adaptor.BSpline());
    if (spline.IsUPeriodic() || spline.IsVPeriodic()) return undefined;
    const [countU, countV] = [spline.NbUPoles(), spline.NbVPoles()];
    const isRational = spline.IsURational() || spline.IsVRational();
    const poles = new Float64Array(3 * countU * countV);
    const weights = isRational ? new Float64Array(countU * countV) : undefined;
    for (let i = 0; i < countU; i++)
      for (let j = 0; j < countV; j++) {
        poles.set(vecOfPoint(spline.Pole(i + 1, j + 1)), 3 * (i * countV + j));
        if (weights) weights[i * countV + j] = spline.Weight(i + 1, j + 1);
      }
    const knots = (count: number, knot: (i: number) => number, times: (i: number) => number) =>
      Float64Array.from(Array.from({ length: count }, (_, i) => Array.from({ length: times(i + 1) }, () => knot(i + 1))).flat());
    const points = new SplinePoints({
      degreeU: spline.UDegree(),
      degreeV: spline.VDegree(),
      knotsU: knots(
        spline.NbUKnots(),
        (i) => spline.UKnot(i),
        (i) => spline.UMultiplicity(i),
      ),
      knotsV: knots(
        spline.NbVKnots(),
        (i) => spline.VKnot(i),
        (i) => spline.VMultiplicity(i),
      ),
      countU,
      countV,
      poles,
      ...(weights ? { weights } : {}),
    });
    return (u: number, v: number, out: Float64Array, at: number) => points.put(u, v, out, at);
  });
}

/** Puts so many steps of a curve, ends included, into `out`, from `at` on: a circle by formula where the kernel agrees. */
export function putCurvePoints(curve: CurveAdaptor, steps: number, out: Float64Array, at: number): void {
  const [from, to] = [curve.FirstParameter(), curve.LastParameter()];
  const slow = (t: number, where: number) => out.set(vecOfPoint(curve.Value(t)), where);
  const put = (curve.GetType() as unknown as string) === 'GeomAbs_Circle' ? (circlePoints(curve, out) ?? slow) : slow;
  for (let i = 0; i <= steps; i++) put(from + ((to - from) * i) / steps, at + 3 * i);
}

function circlePoints(curve: CurveAdaptor, out: Float64Array): ((t: number, where: number) => void) | undefined {
  const valueAt = (t: number) => Float64Array.from(vecOfPoint(curve.Value(t)));
  const [a, b, c] = ROUND.solve(ROUND.at.map(valueAt));
  const look = curve.FirstParameter() + 0.37 * (curve.LastParameter() - curve.FirstParameter());
  const there = valueAt(look);
  const put = (t: number, into: Float64Array, where: number) => {
    const [x, y] = [Math.cos(t), Math.sin(t)];
    for (let k = 0; k < 3; k++) into[where + k] = a[k] + x * b[k] + y * c[k];
  };
  const mine = new Float64Array(3);
  put(look, mine, 0);
  return mine.every((x, k) => Math.abs(x - there[k]) < SAME) ? (t, where) => put(t, out, where) : undefined;
}
