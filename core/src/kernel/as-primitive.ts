import type { Surface, Unfitted } from '#core/mesh';

/** A round surface by what distances are told of; undefined for any other. */
export function asPrimitive(s: Surface | undefined): Unfitted | undefined {
  switch (s?.kind) {
    case 'cylinder':
      return { kind: 'cylinder', origin: s.origin, axis: s.axis, radius: s.radius };
    case 'cone':
      return { kind: 'cone', origin: s.origin, axis: s.axis, radius: s.radiusLarge, slope: -Math.tan(s.halfAngleRad) };
    case 'sphere':
      return { kind: 'sphere', origin: s.centre, radius: s.radius };
    case 'torus':
      return { kind: 'torus', origin: s.centre, axis: s.axis, majorRadius: s.majorRadius, radius: s.minorRadius };
    default:
      return undefined;
  }
}
