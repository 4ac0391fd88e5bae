import { type Frame, frameFromWorld, move, scale, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';

/** How a component without a mount is looked at: the file's Z up. */
const FILE_VIEW: Frame = { origin: [0, 0, 0], z: [0, -1, 0], x: [1, 0, 0] };

/**
 * The frame that a view of a component stands by: its mount, with the rake side up - a left-hand tool lies above its
 * turning plane, and is turned over to be looked at. In the frame's own coordinates.
 */
export function viewFrameOf(model: Model, mount: Frame | undefined, hasTip: boolean): Frame {
  if (!mount) return FILE_VIEW;
  if (!hasTip) return mount;
  const volume = model.bodies.reduce((v, b) => v + b.volume, 0) || 1;
  const mountFromFile = frameFromWorld(mount);
  const middleY = model.bodies.reduce((y, b) => y + (b.volume / volume) * move(mountFromFile, b.centroid)[1], 0);
  const x: Vec3 = scale(mount.x, -1);
  return middleY > 0.5 ? { ...mount, x } : mount;
}
