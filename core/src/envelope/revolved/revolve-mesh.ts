import { addScaled, anyAcross, cross, type Vec3 } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { flattenPath, type HalfProfile, type ProfilePoint } from '#core/outline';
import type { Axis } from '../axis.ts';

/** How many flats around keep a circle of `radius` enclosed by no more than `allowance` (mm). */
export function flatsAround(radius: number, allowance: number): number {
  const half = Math.acos(radius / (radius + allowance));
  return Math.min(720, Math.max(12, Math.ceil(Math.PI / half)));
}

/** How far corners stand outside the circle that the flats touch. */
export const flatsGrowth = (radius: number, flats: number): number => radius / Math.cos(Math.PI / flats) - radius;

/**
 * A profile turned about the axis into a closed mesh that encloses the true solid: flats of outside surfaces touch their circle from outside, those
 * of bores have their corners on it; arcs become straight pieces on the outside of them, at most `sag` mm away.
 */
export function revolveToMesh(profile: HalfProfile, axis: Axis, flats: number, sag = 0.001): TriMesh {
  const u = anyAcross(axis.direction);
  const v = cross(axis.direction, u);
  const positions: number[] = [];
  const triangles: number[] = [];
  const ring = Array.from({ length: flats }, (_, k) => {
    const angle = (2 * Math.PI * (k + 0.5)) / flats;
    return [Math.cos(angle), Math.sin(angle)];
  });
  const push = (p: Vec3) => positions.push(...p) / 3 - 1;
  for (const loop of profile) {
    // Each corner gives one place (on the axis) or a ring of places.
    const rings = widened(flattenPath(loop, sag, true), 1 / Math.cos(Math.PI / flats)).map(([z, r]): number[] => {
      const centre = addScaled(axis.origin, axis.direction, z);
      return r < 1e-9 ? [push(centre)] : ring.map(([c, s]) => push(addScaled(addScaled(centre, u, c * r), v, s * r)));
    });
    for (let i = 0; i < rings.length; i++) {
      const [a, b] = [rings[i], rings[(i + 1) % rings.length]];
      if (a.length === 1 && b.length === 1) continue;
      for (let k = 0; k < flats; k++) {
        const n = (k + 1) % flats;
        if (b.length > 1) triangles.push(a.length > 1 ? a[k] : a[0], b[k], b[n]);
        if (a.length > 1) triangles.push(a[k], b.length > 1 ? b[n] : b[0], a[n]);
      }
    }
  }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}

// Corners of outside surfaces (which run against z) moved out so that flats between them touch the circle; where an outside surface and a bore meet
// in a sharp rim there are two corners.
function widened(corners: readonly ProfilePoint[], widen: number): ProfilePoint[] {
  const n = corners.length;
  // Of a wall the neighbour tells: 1 outside, -1 bore, 0 wall.
  const sense = (i: number) => {
    const [p, q] = [corners[(i + n) % n], corners[(i + 1 + n) % n]];
    return Math.abs(q[0] - p[0]) < 1e-9 || (p[1] < 1e-9 && q[1] < 1e-9) ? 0 : q[0] < p[0] ? 1 : -1;
  };
  return corners.flatMap(([z, r], i): ProfilePoint[] => {
    const [before, after] = [sense(i - 1), sense(i)];
    const out: ProfilePoint = [z, r * widen];
    if (before * after < 0) return before > 0 ? [out, [z, r]] : [[z, r], out];
    return before > 0 || after > 0 ? [out] : before < 0 || after < 0 ? [[z, r]] : [out];
  });
}
