/** A point of a flat outline, mm. */
export type FlatPoint = readonly [number, number];

export const flatDistance = (a: FlatPoint, b: FlatPoint): number => Math.hypot(b[0] - a[0], b[1] - a[1]);

/** Distance of p from the straight way from a to b, its ends included. */
export function distanceFromSegment(a: FlatPoint, b: FlatPoint, p: FlatPoint): number {
  const [ux, uy] = [b[0] - a[0], b[1] - a[1]];
  const t = Math.max(0, Math.min(1, ((p[0] - a[0]) * ux + (p[1] - a[1]) * uy) / (ux * ux + uy * uy || 1)));
  return Math.hypot(p[0] - a[0] - t * ux, p[1] - a[1] - t * uy);
}

/** Twice the area of a triangle: positive where c lies on the left of the way from a to b. */
export const sideOf = (a: FlatPoint, b: FlatPoint, c: FlatPoint): number => (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]);

/** Where the lines a-b and c-d cross, and where that is on each as a share of its way; undefined for lines that are all but parallel. */
export function crossingOf(a: FlatPoint, b: FlatPoint, c: FlatPoint, d: FlatPoint): { at: FlatPoint; first: number; second: number } | undefined {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], d[0] - c[0], d[1] - c[1]];
  const det = ux * vy - uy * vx;
  if (Math.abs(det) < 1e-9 * Math.hypot(ux, uy) * Math.hypot(vx, vy)) return undefined;
  const [wx, wy] = [c[0] - a[0], c[1] - a[1]];
  const first = (wx * vy - wy * vx) / det;
  return { at: [a[0] + first * ux, a[1] + first * uy], first, second: (wx * uy - wy * ux) / det };
}

// mm. A circle of more is a line.
const LARGEST_RADIUS = 2000;

/** The circle through three points; undefined where they lie on a line, or all but. */
export function circleThrough(a: FlatPoint, b: FlatPoint, c: FlatPoint): { centre: FlatPoint; radius: number } | undefined {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - a[0], c[1] - a[1]];
  const det = 2 * (ux * vy - uy * vx);
  if (Math.abs(det) < 1e-12) return undefined;
  const [uu, vv] = [ux * ux + uy * uy, vx * vx + vy * vy];
  const [x, y] = [(vy * uu - uy * vv) / det, (ux * vv - vx * uu) / det];
  const radius = Math.hypot(x, y);
  return radius > LARGEST_RADIUS ? undefined : { centre: [a[0] + x, a[1] + y], radius };
}
