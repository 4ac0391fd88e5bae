import { FRAME_ORTHONORMAL } from './tolerances.ts';
import { anyAcross, cross, dot, length, normalize, scale, subtract, type Vec3 } from './vec3.ts';

/** A right-handed frame: origin in mm, unit z, unit x; y = z cross x. */
export interface Frame {
  readonly origin: Vec3;
  readonly z: Vec3;
  readonly x: Vec3;
}

export const IDENTITY_FRAME: Frame = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] };

/** The frame's Y axis. */
export const yOf = (frame: Frame): Vec3 => cross(frame.z, frame.x);

/**
 * A frame from an origin, a Z direction of any length and a wish for X, which is made square to Z.
 * Without a wish, or with one along Z, X is any direction across Z (always the same one).
 */
export function fromZAndX(origin: Vec3, zWish: Vec3, xWish?: Vec3): Frame {
  const z = normalize(zWish);
  if (xWish) {
    const across = subtract(xWish, scale(z, dot(xWish, z)));
    if (length(across) > 1e-9 * Math.max(1, length(xWish))) {
      // Of two directions that are nearly one, the difference has few digits: made square once more it has all.
      const near = normalize(across);
      return { origin, z, x: normalize(subtract(near, scale(z, dot(near, z)))) };
    }
  }
  return { origin, z, x: anyAcross(z) };
}

/** True where z and x are unit and square to each other, within the stored precision. */
export function isOrthonormal(frame: Frame): boolean {
  return (
    Math.abs(length(frame.z) - 1) <= FRAME_ORTHONORMAL &&
    Math.abs(length(frame.x) - 1) <= FRAME_ORTHONORMAL &&
    Math.abs(dot(frame.z, frame.x)) <= FRAME_ORTHONORMAL
  );
}

/** The frame with Z (and so Y) turned round, X kept. */
export const flipZ = (frame: Frame): Frame => ({ origin: frame.origin, z: scale(frame.z, -1), x: frame.x });
