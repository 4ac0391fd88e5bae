import { anyAcross, cross, dot, subtract, type Vec3 } from '#core/math';
import type { Surface } from '#core/mesh';

/** A place beside a face: along it, and outward of it (mm, away from the material). `s`, `t`, `out` are right-handed. */
export interface Unrolled {
  readonly s: number;
  readonly t: number;
  readonly out: number;
}

/** A face that can be laid flat: a plane, or a cylinder or cone whose `s` runs around its axis. */
export interface Unroller {
  readonly at: (p: Vec3) => Unrolled;
  /** mm of `s` once around; 0 for a plane. */
  readonly round: number;
}

/** How a face is laid flat; undefined for one that cannot be. Lines of equal `s` are straight. */
export function unrollerOf(surface: Surface): Unroller | undefined {
  if (surface.kind === 'plane') return planeUnroller(surface.origin, surface.normal);
  if (surface.kind !== 'cylinder' && surface.kind !== 'cone') return undefined;
  const { axis, origin, concave } = surface;
  const [radius, half] = surface.kind === 'cylinder' ? [surface.radius, 0] : [surface.radiusLarge, surface.halfAngleRad];
  const sense = concave ? -1 : 1;
  const [slope, across] = [Math.tan(half), Math.cos(half)];
  const u = anyAcross(axis);
  const v = cross(axis, u);
  return {
    at: (p) => {
      const d = subtract(p, origin);
      const [x, y, t] = [dot(d, u), dot(d, v), dot(d, axis)];
      return { s: sense * radius * Math.atan2(y, x), t, out: sense * across * (Math.hypot(x, y) - radius + slope * t) };
    },
    round: 2 * Math.PI * radius,
  };
}

/** A plane through a place, looking along its unit normal, as a face that can be laid flat. */
export function planeUnroller(origin: Vec3, n: Vec3): Unroller {
  const u = anyAcross(n);
  const v = cross(n, u);
  return {
    at: (p) => {
      const d = subtract(p, origin);
      return { s: dot(d, u), t: dot(d, v), out: dot(d, n) };
    },
    round: 0,
  };
}
