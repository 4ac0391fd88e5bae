// First guesses at round surfaces from a patch of facets; they are refined and tried by growing (regions.ts).
import { EigenvalueDecomposition, Matrix } from 'ml-matrix';
import { addScaled, anyAcross, cross, dot, length, normalize, subtract, type Vec3 } from '#core/math';
import { distanceFrom, fitCircle2, type Unfitted } from './fit-surfaces.ts';
import { solveNormal } from './normal-equations.ts';

/** A cylinder along a direction through packed points, if they lie within `close` mm of a circle seen that way. */
export function guessCylinder(axis: Vec3, points: Float64Array, close: number): Unfitted | undefined {
  const u = anyAcross(axis);
  const v = cross(axis, u);
  const circle = fitCircle2(alongBoth(points, u, v));
  if (!circle || circle.radius > 2000 || circle.residual > close) return undefined;
  return { kind: 'cylinder', origin: addScaled(addScaled([0, 0, 0], u, circle.centre[0]), v, circle.centre[1]), axis, radius: circle.radius };
}

/**
 * A cone (or a cylinder) from facets' unit normals and middles, the first of them its own: the normals lean alike against its axis, so they
 * lie in a plane of the unit ball, and the planes through the facets meet in its tip. `points` are the facets' corners, packed.
 */
export function guessCone(normals: readonly Vec3[], middles: readonly Vec3[], points: Float64Array): Unfitted | undefined {
  if (normals.length < 3) return undefined;
  const mean = [0, 1, 2].map((k) => normals.reduce((s, n) => s + n[k], 0) / normals.length) as unknown as Vec3;
  const spread = Matrix.zeros(3, 3);
  for (const n of normals) for (let r = 0; r < 3; r++) for (let c = 0; c < 3; c++) spread.set(r, c, spread.get(r, c) + (n[r] - mean[r]) * (n[c] - mean[c]));
  const own = new EigenvalueDecomposition(spread, { assumeSymmetric: true });
  const values = own.realEigenvalues;
  const least = values.indexOf(Math.min(...values));
  // All normals alike, or all over the ball.
  if (Math.max(...values) < 1e-8 || values[least] > 1e-3 * Math.max(...values)) return undefined;
  let axis = normalize([own.eigenvectorMatrix.get(0, least), own.eigenvectorMatrix.get(1, least), own.eigenvectorMatrix.get(2, least)]);
  const lean = dot(mean, axis);
  if (Math.abs(lean) > 0.995) return undefined;
  if (Math.abs(lean) < 2e-3) return guessCylinder(axis, points, 0.05);
  const a = new Float64Array(9);
  const tip = new Float64Array(3);
  const [middle] = middles;
  middles.forEach((m, i) => {
    const n = normals[i];
    const d = dot(n, subtract(m, middle));
    for (let r = 0; r < 3; r++) {
      tip[r] += n[r] * d;
      for (let c = r; c < 3; c++) a[3 * r + c] += n[r] * n[c];
    }
  });
  if (!solveNormal(a, tip, 3)) return undefined;
  const toMiddle: Vec3 = [-tip[0], -tip[1], -tip[2]];
  // The axis from the tip towards the wide side.
  if (dot(toMiddle, axis) < 0) axis = [-axis[0], -axis[1], -axis[2]];
  const along = dot(toMiddle, axis);
  if (!(along > 1e-6) || along > 1e4) return undefined;
  const radius = length(addScaled(toMiddle, axis, -along));
  const origin = addScaled([middle[0] + tip[0], middle[1] + tip[1], middle[2] + tip[2]], axis, along);
  return radius > 1e-6 ? { kind: 'cone', origin, axis, radius, slope: radius / along } : undefined;
}

/** About a known axis a cylinder or a cone is a line in (r, z), a torus a circle. A small patch may be taken for both. */
export function guessesAbout(
  { origin, axis }: { readonly origin: Vec3; readonly axis: Vec3 },
  points: Float64Array,
  close: number,
  tolerance: number,
): Unfitted[] {
  const n = points.length / 3;
  const [ox, oy, oz] = origin;
  const [ax, ay, az] = axis;
  const flat = new Float64Array(2 * n);
  let [mr, mz] = [0, 0];
  for (let i = 0; i < n; i++) {
    const [x, y, z] = [points[3 * i] - ox, points[3 * i + 1] - oy, points[3 * i + 2] - oz];
    const along = x * ax + y * ay + z * az;
    const [px, py, pz] = [x - along * ax, y - along * ay, z - along * az];
    flat[2 * i] = Math.sqrt(px * px + py * py + pz * pz);
    flat[2 * i + 1] = along;
    mr += flat[2 * i] / n;
    mz += along / n;
  }
  let [szz, srz] = [0, 0];
  for (let i = 0; i < n; i++) {
    const z = flat[2 * i + 1] - mz;
    szz += z * z;
    srz += z * (flat[2 * i] - mr);
  }
  const slope = szz > 1e-9 ? srz / szz : 0;
  let off = 0;
  for (let i = 0; i < n; i++) off = Math.max(off, Math.abs(flat[2 * i] - mr - slope * (flat[2 * i + 1] - mz)));
  off /= Math.sqrt(1 + slope * slope);
  const out: Unfitted[] = [];
  if (off < close && Math.abs(slope) < 50)
    out.push(
      Math.abs(slope) < 1e-3 ? { kind: 'cylinder', origin, axis, radius: mr } : { kind: 'cone', origin: addScaled(origin, axis, mz), axis, radius: mr, slope },
    );
  // What a line goes through as well is no torus.
  const circle = off > tolerance ? fitCircle2(flat) : undefined;
  if (circle && circle.radius < 100 && circle.residual < Math.min(close, 0.3 * off) && circle.centre[0] > 1e-3)
    out.push({ kind: 'torus', origin: addScaled(origin, axis, circle.centre[1]), axis, majorRadius: circle.centre[0], radius: circle.radius });
  return out;
}

// Packed points as places along two directions, packed again.
function alongBoth(points: Float64Array, [ux, uy, uz]: Vec3, [vx, vy, vz]: Vec3): Float64Array {
  const out = new Float64Array((points.length / 3) * 2);
  for (let i = 0, j = 0; i < points.length; i += 3, j += 2) {
    const [x, y, z] = [points[i], points[i + 1], points[i + 2]];
    out[j] = x * ux + y * uy + z * uz;
    out[j + 1] = x * vx + y * vy + z * vz;
  }
  return out;
}

/** The largest distance of packed points from a surface, mm. */
export function worstOf(surface: Unfitted, points: Float64Array): number {
  let worst = 0;
  for (let i = 0; i < points.length; i += 3) worst = Math.max(worst, Math.abs(distanceFrom(surface, points[i], points[i + 1], points[i + 2])));
  return worst;
}

/** Packed points, one after the other. */
export function eachPoint<T>(points: Float64Array, use: (p: Vec3) => T): T[] {
  const out = new Array<T>(points.length / 3);
  for (let i = 0; i < out.length; i++) out[i] = use([points[3 * i], points[3 * i + 1], points[3 * i + 2]]);
  return out;
}

/** Radians that angles cover: a whole turn less the largest gap between them. */
export function sweepOf(angles: Float64Array): number {
  const sorted = angles.slice().sort();
  let gap = 2 * Math.PI - (sorted[sorted.length - 1] - sorted[0]);
  for (let i = 1; i < sorted.length; i++) gap = Math.max(gap, sorted[i] - sorted[i - 1]);
  return 2 * Math.PI - gap;
}
