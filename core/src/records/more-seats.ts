import { add, addScaled, dot, type Frame, moveFrame, rotationAbout, subtract, type Vec3 } from '#core/math';

/** A seat as it stands on the other side of a mount: mirrored across the plane of the mount's Y and Z, its Y turned round so that it stays right-handed. */
export function mirroredSeat(seat: Frame, mount: Frame): Frame {
  const across = (d: Vec3): Vec3 => addScaled(d, mount.x, -2 * dot(d, mount.x));
  const moved = across(subtract(seat.origin, mount.origin));
  return { origin: add(mount.origin, moved), z: across(seat.z), x: across(seat.x) };
}

/** A seat again and again about a mount's Z, without the first: `count` places in all over a whole turn. */
export function repeatedSeats(seat: Frame, mount: Frame, count: number): Frame[] {
  return Array.from({ length: Math.max(0, count - 1) }, (_, i) => moveFrame(rotationAbout(mount.origin, mount.z, (2 * Math.PI * (i + 1)) / count), seat));
}
