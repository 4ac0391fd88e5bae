import { dot, type Vec3 } from '#core/math';

/** The six directions along the axes, by what they are called on the screen. */
export const SIGNED_AXES: Record<string, Vec3> = {
  '+X': [1, 0, 0],
  '-X': [-1, 0, 0],
  '+Y': [0, 1, 0],
  '-Y': [0, -1, 0],
  '+Z': [0, 0, 1],
  '-Z': [0, 0, -1],
};

/** The name of a unit vector along an axis; null for one that is askew. */
export const axisName = (d: Vec3): string | null => Object.entries(SIGNED_AXES).find(([, a]) => dot(a, d) > 1 - 1e-9)?.[0] ?? null;
