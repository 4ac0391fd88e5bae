// Least squares: surfaces and circles through the corners of a mesh. Corners of a tessellated CAD face lie on its true surface, so what
// remains is the file's own rounding.
import { addScaled, anyAcross, cross, dot, normalize, scale, subtract, type Vec3 } from '#core/math';
import { solveNormal } from './normal-equations.ts';

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

// Points to fit to: more than this many are thinned out evenly. Corners are exact to rounding, so more would not make it better.
const MOST_POINTS = 100;

/** Improves a surface by Gauss-Newton on the distances of `most` of the packed points; undefined where it does not settle. */
export function refinePrimitive(start: Unfitted, points: Float64Array, most = MOST_POINTS): Primitive | undefined {
  const thin = thinOut(points, most);
  let s = start;
  const n = thin.length / 3;
  const slopes = new Float64Array(MOST_PARAMETERS);
  const normal = new Float64Array(MOST_PARAMETERS * MOST_PARAMETERS);
  const change = new Float64Array(MOST_PARAMETERS);
  let before = Infinity;
  for (let round = 0; round < 8; round++) {
    const { build, count, steps, slope } = parametersOf(s, thin);
    normal.fill(0);
    change.fill(0);
    let worst = 0;
    for (let i = 0; i < n; i++) {
      const off = slope(thin[3 * i], thin[3 * i + 1], thin[3 * i + 2], slopes);
      worst = Math.max(worst, Math.abs(off));
      for (let r = 0; r < count; r++) {
        for (let c = r; c < count; c++) normal[r * count + c] += slopes[r] * slopes[c];
        change[r] -= slopes[r] * off;
      }
    }
    // A guess that does not get better is no guess at this surface.
    if (round >= 3 && worst > 0.7 * before) break;
    before = worst;
    for (let r = 0; r < count; r++) normal[r * (count + 1)] += 1e-9 * normal[r * (count + 1)] + 1e-14;
    if (!solveNormal(normal, change, count) || !change.every(Number.isFinite)) return undefined;
    s = build(change);
    // A hundredth of a micrometre, or a thousandth of a second of arc.
    if (steps.every((step, k) => Math.abs(change[k]) < step * (step > 5e-6 ? 1 : 5e-3))) break;
  }
  if (!(s.radius > 1e-6) && s.kind !== 'cone') return undefined;
  if (s.radius > 1e5) return undefined;
  let residual = 0;
  for (let i = 0; i < points.length; i += 3) residual = Math.max(residual, Math.abs(distanceFrom(s, points[i], points[i + 1], points[i + 2])));
  return Number.isFinite(residual) ? { ...s, residual } : undefined;
}

// Slope of a cone that may be a cylinder.
const NO_SLOPE = 1e-3;

/** The cylinder that packed points lie on as well as on a cone of nearly no slope, within `tolerance` mm; the surface itself where there is none. */
export function plainest(surface: Primitive, points: Float64Array, tolerance: number): Primitive {
  if (surface.kind !== 'cone' || Math.abs(surface.slope) > NO_SLOPE) return surface;
  const { origin, axis, radius } = surface;
  const cylinder = refinePrimitive({ kind: 'cylinder', origin, axis, radius }, points);
  return cylinder && cylinder.residual <= tolerance ? cylinder : surface;
}

// Of a torus: three shifts, two tilts, two radii.
const MOST_PARAMETERS = 7;

function thinOut(points: Float64Array, most: number): Float64Array {
  const n = points.length / 3;
  if (n <= most) return points;
  const out = new Float64Array(3 * most);
  for (let i = 0; i < most; i++) {
    // Uneven steps: even ones would take the same corner of each pair of triangles, and see one rim of a cylinder only.
    const from = 3 * Math.min(n - 1, Math.floor(((i + ((i * 0.6180339887) % 1)) * n) / most));
    out.set(points.subarray(from, from + 3), 3 * i);
  }
  return out;
}

interface Parameters {
  /** The surface after a small change. */
  readonly build: (change: Float64Array) => Unfitted;
  readonly count: number;
  /** What counts as no change: mm, or radians. */
  readonly steps: readonly number[];
  /** Distance of a point from the surface, mm; how it changes with each parameter is written to `out`. */
  readonly slope: (x: number, y: number, z: number, out: Float64Array) => number;
}

// A small change of a surface as numbers: shifts across (and along) its axis, tilts, radii. Its origin is first moved to the points'
// middle, so that shifts and tilts do not mix.
function parametersOf(s: Unfitted, points: Float64Array): Parameters {
  if (s.kind === 'sphere') {
    const [ox, oy, oz] = s.origin;
    return {
      count: 4,
      steps: [1e-5, 1e-5, 1e-5, 1e-5],
      build: ([x, y, z, r]) => ({ kind: 'sphere', origin: [ox + x, oy + y, oz + z], radius: s.radius + r }),
      slope: (x, y, z, out) => {
        const l = Math.hypot(x - ox, y - oy, z - oz) || 1;
        out[0] = (ox - x) / l;
        out[1] = (oy - y) / l;
        out[2] = (oz - z) / l;
        out[3] = -1;
        return l - s.radius;
      },
    };
  }
  const { axis } = s;
  let sum = 0;
  for (let i = 0; i < points.length; i += 3) sum += dot(subtract([points[i], points[i + 1], points[i + 2]], s.origin), axis);
  const middle = s.kind === 'torus' ? 0 : sum / (points.length / 3);
  const origin = addScaled(s.origin, axis, middle);
  const u = anyAcross(axis);
  const v = cross(axis, u);
  const moved = (x: number, y: number, z = 0): Vec3 => addScaled(addScaled(addScaled(origin, u, x), v, y), axis, z);
  const tilted = (x: number, y: number): Vec3 => normalize(addScaled(addScaled(axis, u, x), v, y));
  const [ox, oy, oz] = origin;
  const [ax, ay, az] = axis;
  const [ux, uy, uz] = u;
  const [vx, vy, vz] = v;
  // Height along the axis and place across it of the point last asked for: [along, across u, across v, radius].
  const at = new Float64Array(4);
  const see = (x: number, y: number, z: number) => {
    const [dx, dy, dz] = [x - ox, y - oy, z - oz];
    at[0] = dx * ax + dy * ay + dz * az;
    const [p, q] = [dx * ux + dy * uy + dz * uz, dx * vx + dy * vy + dz * vz];
    const r = Math.sqrt(p * p + q * q);
    at[1] = r > 0 ? p / r : 1;
    at[2] = r > 0 ? q / r : 0;
    at[3] = r;
  };
  if (s.kind === 'cylinder')
    return {
      count: 5,
      steps: [1e-5, 1e-5, 1e-6, 1e-6, 1e-5],
      build: ([x, y, a, b, r]) => ({ kind: 'cylinder', origin: moved(x, y), axis: tilted(a, b), radius: s.radius + r }),
      slope: (x, y, z, out) => {
        see(x, y, z);
        out[0] = -at[1];
        out[1] = -at[2];
        out[2] = -at[0] * at[1];
        out[3] = -at[0] * at[2];
        out[4] = -1;
        return at[3] - s.radius;
      },
    };
  if (s.kind === 'cone') {
    const radius = s.radius + s.slope * middle;
    const l = Math.sqrt(1 + s.slope * s.slope);
    return {
      count: 6,
      steps: [1e-5, 1e-5, 1e-6, 1e-6, 1e-5, 1e-6],
      build: ([x, y, a, b, r, m]) => ({ kind: 'cone', origin: moved(x, y), axis: tilted(a, b), radius: radius + r, slope: s.slope + m }),
      slope: (x, y, z, out) => {
        see(x, y, z);
        const off = at[3] - radius - s.slope * at[0];
        // A tilt lowers the radius by the height, and raises the height by the radius.
        const tilt = -(at[0] + s.slope * at[3]) / l;
        out[0] = -at[1] / l;
        out[1] = -at[2] / l;
        out[2] = tilt * at[1];
        out[3] = tilt * at[2];
        out[4] = -1 / l;
        out[5] = -at[0] / l - (off * s.slope) / (l * l * l);
        return off / l;
      },
    };
  }
  return {
    count: 7,
    steps: [1e-5, 1e-5, 1e-5, 1e-6, 1e-6, 1e-5, 1e-5],
    build: ([x, y, z, a, b, R, r]) => ({ kind: 'torus', origin: moved(x, y, z), axis: tilted(a, b), majorRadius: s.majorRadius + R, radius: s.radius + r }),
    slope: (x, y, z, out) => {
      see(x, y, z);
      const across = at[3] - s.majorRadius;
      const l = Math.hypot(across, at[0]) || 1;
      const [c, h] = [across / l, at[0] / l];
      const tilt = h * at[3] - c * at[0];
      out[0] = -c * at[1];
      out[1] = -c * at[2];
      out[2] = -h;
      out[3] = tilt * at[1];
      out[4] = tilt * at[2];
      out[5] = -c;
      out[6] = -1;
      return l - s.radius;
    },
  };
}

/** The circle of least algebraic error (Kasa 1976) through packed points of a plane; undefined for fewer than three or a line. */
export function fitCircle2(points: Float64Array): { centre: [number, number]; radius: number; residual: number } | undefined {
  const n = points.length / 2;
  if (n < 3) return undefined;
  let [mx, my] = [0, 0];
  for (let i = 0; i < 2 * n; i += 2) {
    mx += points[i] / n;
    my += points[i + 1] / n;
  }
  let [suu, suv, svv, suuu, svvv, suvv, svuu] = [0, 0, 0, 0, 0, 0, 0];
  for (let i = 0; i < 2 * n; i += 2) {
    const u = points[i] - mx;
    const v = points[i + 1] - my;
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
  const [cx, cy] = [mx + cu, my + cv];
  let residual = 0;
  for (let i = 0; i < 2 * n; i += 2) {
    const [x, y] = [points[i] - cx, points[i + 1] - cy];
    residual = Math.max(residual, Math.abs(Math.sqrt(x * x + y * y) - radius));
  }
  return { centre: [cx, cy], radius, residual };
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
  const a = new Float64Array(16);
  const b = new Float64Array(4);
  const q = new Float64Array(4);
  for (let i = 0; i < n; i++) {
    for (let k = 0; k < 3; k++) q[k] = points[3 * i + k] - m[k];
    q[3] = 1;
    const sq = q[0] * q[0] + q[1] * q[1] + q[2] * q[2];
    for (let r = 0; r < 4; r++) {
      b[r] += q[r] * sq;
      for (let c = r; c < 4; c++) a[4 * r + c] += q[r] * q[c];
    }
  }
  if (!solveNormal(a, b, 4)) return undefined;
  const [x, y, z, w] = b;
  const radius = Math.sqrt(w + (x * x + y * y + z * z) / 4);
  if (!Number.isFinite(radius)) return undefined;
  return { kind: 'sphere', origin: [m[0] + x / 2, m[1] + y / 2, m[2] + z / 2], radius };
}
