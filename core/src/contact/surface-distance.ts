import { addScaled, cross, dot, length, subtract, type Vec3 } from '#core/math';
import type { Surface } from '#core/mesh';

/** Distance of a point from a true surface, mm: positive on the side without material; undefined of a free-form one. A cone's distance is square to its flank. */
export function surfaceDistance(s: Surface, point: Vec3, outward: Vec3): number | undefined {
  switch (s.kind) {
    case 'plane': {
      // Its normal may look either way: the mesh tells where the material is.
      const d = dot(subtract(point, s.origin), s.normal);
      return dot(s.normal, outward) > 0 ? d : -d;
    }
    case 'cylinder': {
      const d = fromAxis(point, s.origin, s.axis) - s.radius;
      return s.concave ? -d : d;
    }
    case 'sphere': {
      const d = length(subtract(point, s.centre)) - s.radius;
      return s.concave ? -d : d;
    }
    case 'cone': {
      // At a height along the axis from the large end the radius is less by the tangent of the half angle.
      const h = dot(subtract(point, s.origin), s.axis);
      const d = (fromAxis(point, s.origin, s.axis) - (s.radiusLarge - h * Math.tan(s.halfAngleRad))) * Math.cos(s.halfAngleRad);
      return s.concave ? -d : d;
    }
    case 'torus': {
      const v = subtract(point, s.centre);
      const h = dot(v, s.axis);
      const d = Math.hypot(length(addScaled(v, s.axis, -h)) - s.majorRadius, h) - s.minorRadius;
      return s.concave ? -d : d;
    }
    case 'free':
      return undefined;
  }
}

const fromAxis = (point: Vec3, origin: Vec3, axis: Vec3): number => length(cross(subtract(point, origin), axis));
