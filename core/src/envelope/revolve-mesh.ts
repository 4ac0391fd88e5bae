import { addScaled, anyAcross, cross, type Vec3 } from '#core/math';
import type { TriMesh } from '#core/mesh';
import type { OuterProfile } from '#core/outline';
import type { Axis } from './axis.ts';

/** How many flats around keep a circle of `radius` enclosed by no more than `allowance` (mm). */
export function flatsAround(radius: number, allowance: number): number {
  const half = Math.acos(radius / (radius + allowance));
  return Math.min(720, Math.max(12, Math.ceil(Math.PI / half)));
}

/** How far corners stand outside the circle that the flats touch. */
export const flatsGrowth = (radius: number, flats: number): number => radius / Math.cos(Math.PI / flats) - radius;

/** A profile turned about the axis into a closed mesh whose flats touch the true solid from outside. */
export function revolveToMesh(profile: OuterProfile, axis: Axis, flats: number): TriMesh {
  const u = anyAcross(axis.direction);
  const v = cross(axis.direction, u);
  const positions: number[] = [];
  const triangles: number[] = [];
  const widen = 1 / Math.cos(Math.PI / flats);
  const ring = Array.from({ length: flats }, (_, k) => {
    const angle = (2 * Math.PI * (k + 0.5)) / flats;
    return [Math.cos(angle) * widen, Math.sin(angle) * widen];
  });
  const push = (p: Vec3) => positions.push(...p) / 3 - 1;
  for (const run of profile) {
    // Each profile point gives one corner (on the axis) or a ring of corners.
    const rings = run.map(([z, r]): number[] => {
      const centre = addScaled(axis.origin, axis.direction, z);
      return r < 1e-9 ? [push(centre)] : ring.map(([c, s]) => push(addScaled(addScaled(centre, u, c * r), v, s * r)));
    });
    for (let i = 1; i < rings.length; i++) {
      const [a, b] = [rings[i - 1], rings[i]];
      for (let k = 0; k < flats; k++) {
        const n = (k + 1) % flats;
        if (b.length > 1) triangles.push(a.length > 1 ? a[k] : a[0], b[n], b[k]);
        if (a.length > 1) triangles.push(a[k], a[n], b.length > 1 ? b[n] : b[0]);
      }
    }
  }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}
