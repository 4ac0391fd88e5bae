import { cross, dot, length, subtract } from '#core/math';
import type { Surface } from '#core/mesh';
import { isSameLine } from '../axis.ts';

// mm, and sines of angles. What differs by less is one surface that the file has cut in two.
const SAME_MM = 1e-5;
const SAME_RAD = 1e-7;

/** Whether two faces lie on the same plane, cylinder or cone, with the material on the same side. */
export function isSameSurface(a: Surface, b: Surface): boolean {
  if (a.kind === 'plane' && b.kind === 'plane')
    return length(cross(a.normal, b.normal)) < SAME_RAD && dot(a.normal, b.normal) > 0 && Math.abs(dot(a.normal, subtract(b.origin, a.origin))) < SAME_MM;
  if (a.kind === 'cylinder' && b.kind === 'cylinder')
    return (
      a.concave === b.concave &&
      Math.abs(a.radius - b.radius) < SAME_MM &&
      isSameLine({ origin: a.origin, direction: a.axis }, b.origin, b.axis, SAME_MM, SAME_RAD)
    );
  if (a.kind !== 'cone' || b.kind !== 'cone') return false;
  // The same way round, and as wide at the same place along the axis.
  return (
    a.concave === b.concave &&
    isSameLine({ origin: a.origin, direction: a.axis }, b.origin, b.axis, SAME_MM, SAME_RAD) &&
    dot(a.axis, b.axis) > 0 &&
    Math.abs(a.halfAngleRad - b.halfAngleRad) < SAME_RAD &&
    Math.abs(a.radiusLarge - dot(a.axis, subtract(b.origin, a.origin)) * Math.tan(a.halfAngleRad) - b.radiusLarge) < SAME_MM
  );
}
