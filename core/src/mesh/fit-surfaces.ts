// Least squares: surfaces and circles through the corners of a mesh. Corners of a tessellated CAD face lie on its true surface, so what
// remains is the file's own rounding.
import { Matrix, solve } from 'ml-matrix';
import { addScaled, anyAcross, cross, dot, normalize, scale, subtract, type Vec3 } from '#core/math';

/** A round surface with the greatest distance of its points from it, mm. */
export type Primitive = (
  | { readonly kind: 'cylinder'; readonly origin: Vec3; readonly axis: Vec3; readonly radius: number }
  /** Radius at `origin`, growing by `slope` along the axis. */
  | { readonly kind: 'cone'; readonly origin: Vec3; readonly axis: Vec3; readonly radius: number; readonly slope: number }
  | { readonly kind: 'sphere'; readonly origin: Vec3; readonly radius: number }
  | { readonly kind: 'torus'; readonly origin: Vec3; readonly axis: Vec3; readonly majorRadius: number; readonly radius: number }
) & { readonly residual: number };
export type Unfitted = Primitive extends infer P ? (P extends Primitive ? Omit<P, 'residual'> : never) : never;

/** Distance of a point from the surface, mm, positive away from its axis, centre or ring. */
export function distanceFrom(s: Unfitted, x: number, y: number, z: number): number {
  const [dx, dy, dz] = [x - s.origin[0], y - s.origin[1], z - s.origin[2]];
  if (s.kind === 'sphere') return Math.sqrt(dx * dx + dy * dy + dz * dz) - s.radius;
  const along = dx * s.axis[0] + dy * s.axis[1] + dz * s.axis[2];
  const r = Math.sqrt(Math.max(0, dx * dx + dy * dy + dz * dz - along * along));
  if (s.kind === 'cylinder') return r - s.radius;
  if (s.kind === 'cone') return (r - s.radius - s.slope * along) / Math.sqrt(1 + s.slope * s.slope);
  return Math.hypot(r - s.majorRadius, along) - s.radius;
}

/** Unit normal of the surface at a point near it, away from its axis, centre or ring. */
export function normalAt(s: Unfitted, p: Vec3): Vec3 {
  const d = subtract(p, s.origin);
  if (s.kind === 'sphere') return unitOr(d, [0, 0, 1]);
  const along = dot(d, s.axis);
  const radial = unitOr(addScaled(d, s.axis, -along), anyAcross(s.axis));
  if (s.kind === 'cylinder') return radial;
  if (s.kind === 'cone') return normalize(addScaled(radial, s.axis, -s.slope));
  return unitOr(subtract(d, scale(radial, s.majorRadius)), radial);
}
const unitOr = (v: Vec3, other: Vec3): Vec3 => (Math.hypot(...v) > 1e-12 ? normalize(v) : other);

/** Points to fit to: packed. More than this many are thinned out evenly. */
const MOST_POINTS = 300;

/** Improves a surface by Gauss-Newton on the distances of packed points; undefined where it does not settle. */
export function refinePrimitive(start: Unfitted, points: Float64Array): Primitive | undefined {
  const thin = thinOut(points);
  let s = start;
  for (let round = 0; round < 8; round++) {
    const { build, count, steps } = parametersOf(s, thin);
    const zero = new Array<number>(count).fill(0);
    const n = thin.length / 3;
    const base = residuals(build(zero), thin);
    const jacobian = new Matrix(n, count);
    for (let k = 0; k < count; k++) {
      const ahead = residuals(build(zero.map((_, i) => (i === k ? steps[k] : 0))), thin);
      for (let i = 0; i < n; i++) jacobian.set(i, k, (ahead[i] - base[i]) / steps[k]);
    }
    const transposed = jacobian.transpose();
    const normal = transposed.mmul(jacobian);
    for (let k = 0; k < count; k++) normal.set(k, k, normal.get(k, k) * (1 + 1e-9) + 1e-14);
    let change: number[];
    try {
      change = solve(normal, transposed.mmul(Matrix.columnVector(base)).mul(-1)).to1DArray();
    } catch {
      return undefined;
    }
    if (!change.every(Number.isFinite)) return undefined;
    s = build(change);
    if (change.every((c, k) => Math.abs(c) < steps[k] * 1e-3)) break;
  }
  if (!(s.radius > 1e-6) && s.kind !== 'cone') return undefined;
  if (s.radius > 1e5) return undefined;
  let residual = 0;
  for (const d of residuals(s, points)) residual = Math.max(residual, Math.abs(d));
  return Number.isFinite(residual) ? { ...s, residual } : undefined;
}

function thinOut(points: Float64Array): Float64Array {
  const n = points.length / 3;
  if (n <= MOST_POINTS) return points;
  const out = new Float64Array(3 * MOST_POINTS);
  for (let i = 0; i < MOST_POINTS; i++) {
    const from = 3 * Math.floor((i * n) / MOST_POINTS);
    out.set(points.subarray(from, from + 3), 3 * i);
  }
  return out;
}

function residuals(s: Unfitted, points: Float64Array): number[] {
  const out = new Array<number>(points.length / 3);
  for (let i = 0; i < out.length; i++) out[i] = distanceFrom(s, points[3 * i], points[3 * i + 1], points[3 * i + 2]);
  return out;
}

// A small change of a surface as numbers: shifts across (and along) its axis, tilts, radii. Its origin is first moved to the points'
// middle, so that shifts and tilts do not mix.
function parametersOf(s: Unfitted, points: Float64Array): { build: (c: readonly number[]) => Unfitted; count: number; steps: number[] } {
  if (s.kind === 'sphere')
    return {
      count: 4,
      steps: [1e-5, 1e-5, 1e-5, 1e-5],
      build: ([x, y, z, r]) => ({ kind: 'sphere', origin: [s.origin[0] + x, s.origin[1] + y, s.origin[2] + z], radius: s.radius + r }),
    };
  const { axis } = s;
  let sum = 0;
  for (let i = 0; i < points.length; i += 3) sum += dot(subtract([points[i], points[i + 1], points[i + 2]], s.origin), axis);
  const middle = s.kind === 'torus' ? 0 : sum / (points.length / 3);
  const origin = addScaled(s.origin, axis, middle);
  const u = anyAcross(axis);
  const v = cross(axis, u);
  const moved = (x: number, y: number, z = 0): Vec3 => addScaled(addScaled(addScaled(origin, u, x), v, y), axis, z);
  const tilted = (x: number, y: number): Vec3 => normalize(addScaled(addScaled(axis, u, x), v, y));
  if (s.kind === 'cylinder')
    return {
      count: 5,
      steps: [1e-5, 1e-5, 1e-6, 1e-6, 1e-5],
      build: ([x, y, a, b, r]) => ({ kind: 'cylinder', origin: moved(x, y), axis: tilted(a, b), radius: s.radius + r }),
    };
  if (s.kind === 'cone')
    return {
      count: 6,
      steps: [1e-5, 1e-5, 1e-6, 1e-6, 1e-5, 1e-6],
      build: ([x, y, a, b, r, m]) => ({
        kind: 'cone',
        origin: moved(x, y),
        axis: tilted(a, b),
        radius: s.radius + s.slope * middle + r,
        slope: s.slope + m,
      }),
    };
  return {
    count: 7,
    steps: [1e-5, 1e-5, 1e-5, 1e-6, 1e-6, 1e-5, 1e-5],
    build: ([x, y, z, a, b, R, r]) => ({ kind: 'torus', origin: moved(x, y, z), axis: tilted(a, b), majorRadius: s.majorRadius + R, radius: s.radius + r }),
  };
}

/** The circle of least algebraic error (Kasa 1976) through points of a plane; undefined for fewer than three or a line. */
export function fitCircle2(points: readonly (readonly [number, number])[]): { centre: [number, number]; radius: number; residual: number } | undefined {
  if (points.length < 3) return undefined;
  const n = points.length;
  const [mx, my] = [points.reduce((s, p) => s + p[0], 0) / n, points.reduce((s, p) => s + p[1], 0) / n];
  let [suu, suv, svv, suuu, svvv, suvv, svuu] = [0, 0, 0, 0, 0, 0, 0];
  for (const [x, y] of points) {
    const [u, v] = [x - mx, y - my];
    suu += u * u;
    suv += u * v;
    svv += v * v;
    suuu += u * u * u;
    svvv += v * v * v;
    suvv += u * v * v;
    svuu += v * u * u;
  }
  const det = suu * svv - suv * suv;
  if (!(det > 1e-12 * (suu + svv) * (suu + svv))) return undefined;
  const [a, b] = [(suuu + suvv) / 2, (svvv + svuu) / 2];
  const [cu, cv] = [(a * svv - b * suv) / det, (b * suu - a * suv) / det];
  const radius = Math.sqrt(cu * cu + cv * cv + (suu + svv) / n);
  const residual = Math.max(...points.map(([x, y]) => Math.abs(Math.hypot(x - mx - cu, y - my - cv) - radius)));
  return { centre: [mx + cu, my + cv], radius, residual };
}

/** The sphere of least algebraic error through packed points. */
export function fitSphere(points: Float64Array): Unfitted | undefined {
  const n = points.length / 3;
  if (n < 4) return undefined;
  const m: Vec3 = [0, 1, 2].map((k) => {
    let s = 0;
    for (let i = 0; i < n; i++) s += points[3 * i + k];
    return s / n;
  }) as unknown as Vec3;
  const a = Matrix.zeros(4, 4);
  const b = Matrix.zeros(4, 1);
  for (let i = 0; i < n; i++) {
    const q = [points[3 * i] - m[0], points[3 * i + 1] - m[1], points[3 * i + 2] - m[2], 1];
    const sq = q[0] * q[0] + q[1] * q[1] + q[2] * q[2];
    for (let r = 0; r < 4; r++) {
      b.set(r, 0, b.get(r, 0) + q[r] * sq);
      for (let c = 0; c < 4; c++) a.set(r, c, a.get(r, c) + q[r] * q[c]);
    }
  }
  try {
    const [x, y, z, w] = solve(a, b).to1DArray();
    const radius = Math.sqrt(w + (x * x + y * y + z * z) / 4);
    if (!Number.isFinite(radius)) return undefined;
    return { kind: 'sphere', origin: [m[0] + x / 2, m[1] + y / 2, m[2] + z / 2], radius };
  } catch {
    return undefined;
  }
}
