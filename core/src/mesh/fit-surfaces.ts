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
  const dx = x - s.origin[0];
  const dy = y - s.origin[1];
  const dz = z - s.origin[2];
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

/**
 * Whether a point lies within `tolerance` of the surface and a unit normal (packed at `at` in `normals`, times `sense`) leans from the
 * surface's own by less than `leanCos` says. One pass without vectors: this is the inner loop of growing faces.
 */
export function liesOn(
  s: Unfitted,
  x: number,
  y: number,
  z: number,
  tolerance: number,
  normals: Float64Array,
  at: number,
  sense: number,
  leanCos: number,
): boolean {
  const [ox, oy, oz] = s.origin;
  const dx = x - ox;
  const dy = y - oy;
  const dz = z - oz;
  const nx = normals[at];
  const ny = normals[at + 1];
  const nz = normals[at + 2];
  if (s.kind === 'sphere') {
    const l = Math.sqrt(dx * dx + dy * dy + dz * dz);
    return Math.abs(l - s.radius) <= tolerance && sense * (dx * nx + dy * ny + dz * nz) >= leanCos * l;
  }
  const [ax, ay, az] = s.axis;
  const along = dx * ax + dy * ay + dz * az;
  const rx = dx - along * ax;
  const ry = dy - along * ay;
  const rz = dz - along * az;
  const r = Math.sqrt(rx * rx + ry * ry + rz * rz);
  if (r < 1e-12) return false;
  const radial = (rx * nx + ry * ny + rz * nz) / r;
  if (s.kind === 'cylinder') return Math.abs(r - s.radius) <= tolerance && sense * radial >= leanCos;
  const axial = ax * nx + ay * ny + az * nz;
  if (s.kind === 'cone') {
    const l = Math.sqrt(1 + s.slope * s.slope);
    return Math.abs(r - s.radius - s.slope * along) <= tolerance * l && (sense * (radial - s.slope * axial)) / l >= leanCos;
  }
  const out = r - s.majorRadius;
  const l = Math.sqrt(out * out + along * along);
  return Math.abs(l - s.radius) <= tolerance && sense * (out * radial + along * axial) >= leanCos * l;
}

// Points to fit to: more than this many are thinned out evenly. Corners are exact to rounding, so more would not make it better.
const MOST_POINTS = 100;

/** Improves a surface by Gauss-Newton on the distances of packed points; undefined where it does not settle. */
export function refinePrimitive(start: Unfitted, points: Float64Array): Primitive | undefined {
  const thin = thinOut(points);
  let s = start;
  const n = thin.length / 3;
  const base = new Float64Array(n);
  const ahead = new Float64Array(n);
  let before = Infinity;
  for (let round = 0; round < 8; round++) {
    const { build, count, steps } = parametersOf(s, thin);
    const zero = new Array<number>(count).fill(0);
    measure(s, thin, base);
    let worst = 0;
    for (let i = 0; i < n; i++) worst = Math.max(worst, Math.abs(base[i]));
    // A guess that does not get better is no guess at this surface.
    if (round >= 3 && worst > 0.7 * before) break;
    before = worst;
    const columns = zero.map((_, k) => {
      measure(build(zero.map((z, i) => (i === k ? steps[k] : z))), thin, ahead);
      return ahead.map((v, i) => (v - base[i]) / steps[k]);
    });
    const normal = Matrix.zeros(count, count);
    const right = Matrix.zeros(count, 1);
    for (let r = 0; r < count; r++) {
      let sum = 0;
      for (let i = 0; i < n; i++) sum -= columns[r][i] * base[i];
      right.set(r, 0, sum);
      for (let c = r; c < count; c++) {
        let cell = 0;
        for (let i = 0; i < n; i++) cell += columns[r][i] * columns[c][i];
        normal.set(r, c, cell);
        normal.set(c, r, cell);
      }
      normal.set(r, r, normal.get(r, r) * (1 + 1e-9) + 1e-14);
    }
    let change: number[];
    try {
      change = solve(normal, right).to1DArray();
    } catch {
      return undefined;
    }
    if (!change.every(Number.isFinite)) return undefined;
    s = build(change);
    // A hundredth of a micrometre, or a thousandth of a second of arc.
    if (change.every((c, k) => Math.abs(c) < steps[k] * (steps[k] > 5e-6 ? 1 : 5e-3))) break;
  }
  if (!(s.radius > 1e-6) && s.kind !== 'cone') return undefined;
  if (s.radius > 1e5) return undefined;
  let residual = 0;
  for (let i = 0; i < points.length; i += 3) residual = Math.max(residual, Math.abs(distanceFrom(s, points[i], points[i + 1], points[i + 2])));
  return Number.isFinite(residual) ? { ...s, residual } : undefined;
}

function thinOut(points: Float64Array): Float64Array {
  const n = points.length / 3;
  if (n <= MOST_POINTS) return points;
  const out = new Float64Array(3 * MOST_POINTS);
  for (let i = 0; i < MOST_POINTS; i++) {
    // Uneven steps: even ones would take the same corner of each pair of triangles, and see one rim of a cylinder only.
    const from = 3 * Math.min(n - 1, Math.floor(((i + ((i * 0.6180339887) % 1)) * n) / MOST_POINTS));
    out.set(points.subarray(from, from + 3), 3 * i);
  }
  return out;
}

function measure(s: Unfitted, points: Float64Array, dst: Float64Array): void {
  for (let i = 0; i < dst.length; i++) dst[i] = distanceFrom(s, points[3 * i], points[3 * i + 1], points[3 * i + 2]);
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
