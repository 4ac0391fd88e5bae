import type { FlatPoint } from '#core/outline';

/** A map of the plane: x' = a x + c y + e, y' = b x + d y + f. */
export type Affine = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

export const STAY: Affine = [1, 0, 0, 1, 0, 0];

/** First `inner`, then `outer`. */
export const chainAffine = ([a, b, c, d, e, f]: Affine, [p, q, r, s, t, u]: Affine): Affine => [
  a * p + c * q,
  b * p + d * q,
  a * r + c * s,
  b * r + d * s,
  a * t + c * u + e,
  b * t + d * u + f,
];

export const mapPoint = ([a, b, c, d, e, f]: Affine, [x, y]: FlatPoint): FlatPoint => [a * x + c * y + e, b * x + d * y + f];

export const shiftBy = (x: number, y: number): Affine => [1, 0, 0, 1, x, y];
export const scaleBy = (x: number, y = x): Affine => [x, 0, 0, y, 0, 0];
export const turnBy = (rad: number): Affine => [Math.cos(rad), Math.sin(rad), -Math.sin(rad), Math.cos(rad), 0, 0];

/** What circles grow by where they stay circles; undefined where they become ellipses. */
export function circleScale([a, b, c, d]: Affine): number | undefined {
  const [u, v] = [Math.hypot(a, b), Math.hypot(c, d)];
  const isAlike = Math.abs(u - v) <= 1e-9 * (u + v) && Math.abs(a * c + b * d) <= 1e-9 * u * v;
  return isAlike ? u : undefined;
}

/** Whether it turns left into right. */
export const isMirror = ([a, b, c, d]: Affine): boolean => a * d - b * c < 0;
