import { cross, length, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { across, type FaceLook } from './face-table.ts';

/** A line, by a point and a unit direction. */
export interface Line {
  readonly origin: Vec3;
  readonly direction: Vec3;
}

/** Whether a face is a cylinder, cone, torus or ball about a line. */
export function isTurnedAbout({ surface: s }: Pick<FaceLook, 'surface'>, { origin, direction }: Line): boolean {
  if (s.kind === 'sphere') return length(across(subtract(s.centre, origin), direction)) < 0.02;
  if (s.kind !== 'cylinder' && s.kind !== 'cone' && s.kind !== 'torus') return false;
  const at = s.kind === 'torus' ? s.centre : s.origin;
  return length(cross(s.axis, direction)) < 1e-3 && length(across(subtract(at, origin), direction)) < 0.02;
}

/** How far the corners of a body are from a line at most, mm; only those that `counts` takes. */
export function radiusAbout({ mesh: { positions: p } }: BodyGeometry, { origin, direction }: Line, counts: (point: Vec3) => boolean = () => true): number {
  let most = 0;
  for (let i = 0; i < p.length; i += 3) {
    const at: Vec3 = [p[i], p[i + 1], p[i + 2]];
    if (counts(at)) most = Math.max(most, length(across(subtract(at, origin), direction)));
  }
  return most;
}
