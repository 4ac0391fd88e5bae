/** A point or a direction, mm or unitless: [x, y, z]. */
export type Vec3 = readonly [number, number, number];

export const add = (a: Vec3, b: Vec3): Vec3 => [a[0] + b[0], a[1] + b[1], a[2] + b[2]];
export const subtract = (a: Vec3, b: Vec3): Vec3 => [a[0] - b[0], a[1] - b[1], a[2] - b[2]];
export const scale = (a: Vec3, factor: number): Vec3 => [a[0] * factor, a[1] * factor, a[2] * factor];
export const dot = (a: Vec3, b: Vec3): number => a[0] * b[0] + a[1] * b[1] + a[2] * b[2];
export const cross = (a: Vec3, b: Vec3): Vec3 => [a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]];
export const length = (a: Vec3): number => Math.hypot(a[0], a[1], a[2]);
export const distance = (a: Vec3, b: Vec3): number => length(subtract(a, b));

/** `a + factor * b`. */
export const addScaled = (a: Vec3, b: Vec3, factor: number): Vec3 => [a[0] + b[0] * factor, a[1] + b[1] * factor, a[2] + b[2] * factor];

/** The point between `a` and `b` at `t` (0 is `a`, 1 is `b`). */
export const mix = (a: Vec3, b: Vec3, t: number): Vec3 => addScaled(a, subtract(b, a), t);

/** The unit vector along `a`. Throws where `a` has no direction. */
export function normalize(a: Vec3): Vec3 {
  const l = length(a);
  if (!(l > 1e-12) || !Number.isFinite(l)) throw new Error(`math.normalize: a vector without direction; got [${a.join(', ')}]`);
  return scale(a, 1 / l);
}

/** Angle between two directions in radians, exact also near 0 and pi. */
export function angleBetweenRad(a: Vec3, b: Vec3): number {
  return Math.atan2(length(cross(a, b)), dot(a, b));
}

/** Any unit vector across `direction`, the same one each time; near the X axis it takes Y. */
export function anyAcross(direction: Vec3): Vec3 {
  const z = normalize(direction);
  const seed: Vec3 = Math.abs(z[0]) < 0.9 ? [1, 0, 0] : [0, 1, 0];
  return normalize(subtract(seed, scale(z, dot(seed, z))));
}

/** Point of the line (origin, unit direction) nearest to `point`. */
export function projectOnLine(point: Vec3, origin: Vec3, direction: Vec3): Vec3 {
  return addScaled(origin, direction, dot(subtract(point, origin), direction));
}
