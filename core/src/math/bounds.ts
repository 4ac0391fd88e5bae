import type { Vec3 } from './vec3.ts';

/** An axis-parallel box in mm. */
export interface Bounds {
  readonly min: Vec3;
  readonly max: Vec3;
}

/** The box around packed points [x, y, z, x, y, z, ...]; undefined where there are none. */
export function boundsOfPoints(points: ArrayLike<number>): Bounds | undefined {
  if (points.length < 3) return undefined;
  const min = [Infinity, Infinity, Infinity];
  const max = [-Infinity, -Infinity, -Infinity];
  for (let i = 0; i < points.length; i++) {
    const axis = i % 3;
    const v = points[i];
    if (v < min[axis]) min[axis] = v;
    if (v > max[axis]) max[axis] = v;
  }
  return { min: [min[0], min[1], min[2]], max: [max[0], max[1], max[2]] };
}

/** The box around boxes; undefined for none. */
export function joinBounds(boxes: readonly Bounds[]): Bounds | undefined {
  return boundsOfPoints(boxes.flatMap((b) => [...b.min, ...b.max]));
}

export const boundsCentre = (b: Bounds): Vec3 => [(b.min[0] + b.max[0]) / 2, (b.min[1] + b.max[1]) / 2, (b.min[2] + b.max[2]) / 2];

/** Length of the box's diagonal. */
export const boundsDiagonal = (b: Bounds): number => Math.hypot(b.max[0] - b.min[0], b.max[1] - b.min[1], b.max[2] - b.min[2]);

/** The eight corners. */
export function boundsCorners({ min, max }: Bounds): Vec3[] {
  return [min[0], max[0]].flatMap((x) => [min[1], max[1]].flatMap((y) => [min[2], max[2]].map((z): Vec3 => [x, y, z])));
}
