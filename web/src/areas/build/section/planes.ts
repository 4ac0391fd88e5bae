import type { PlacedTip } from '#core/assembly';
import { degFromRad, type Frame, frameFromWorld, IDENTITY_FRAME, move, radFromDeg, rotationAbout, roundTo, turn, type Vec3 } from '#core/math';

/** The plane through the gauge axis that is turned from the turning plane by so many degrees. */
export const planeAt = (deg: number): Frame => {
  if (deg === 0) return IDENTITY_FRAME;
  const turned = rotationAbout([0, 0, 0], [0, 0, 1], radFromDeg(deg));
  return { origin: [0, 0, 0], z: [0, 0, 1], x: turn(turned, [1, 0, 0]) };
};

// mm. A tip nearer than this to the axis lies in every plane.
const ON_AXIS = 0.01;

/** By how many degrees the plane is turned that a tip lies in, -180 to 180. */
export const planeOfTip = ({ Q, Y }: Pick<PlacedTip, 'Q' | 'Y'>): number => (Math.hypot(Q, Y) < ON_AXIS ? 0 : roundTo(degFromRad(Math.atan2(Y, Q)), 3) + 0);

// mm. How far a point may be off the plane and still be drawn as one in it.
const IN_PLANE = 0.1;

/** Whether a point of the stage lies in a plane. */
export const isInPlane = (point: Vec3, plane: Frame): boolean => Math.abs(move(frameFromWorld(plane), point)[1]) < IN_PLANE;
