import { addScaled, dot, length, scale, subtract, type Vec3 } from '#core/math';

/** A line in space: a point in mm and a unit direction. */
export interface Axis {
  readonly origin: Vec3;
  readonly direction: Vec3;
}

/** Position along the axis and distance from it, in mm. */
export function zrOf(axis: Axis, p: Vec3): [z: number, r: number] {
  const d = subtract(p, axis.origin);
  const z = dot(d, axis.direction);
  return [z, length(addScaled(d, axis.direction, -z))];
}

/** Calls `visit` with the position along the axis, mm, and the squared distance from it of each of packed points. */
export function eachAbout({ origin, direction }: Axis, points: Float64Array, visit: (z: number, rSq: number, index: number) => void): void {
  const [ox, oy, oz] = origin;
  const [dx, dy, dz] = direction;
  for (let i = 0; i < points.length; i += 3) {
    const x = points[i] - ox;
    const y = points[i + 1] - oy;
    const w = points[i + 2] - oz;
    const z = x * dx + y * dy + w * dz;
    const ax = x - z * dx;
    const ay = y - z * dy;
    const az = w - z * dz;
    visit(z, ax * ax + ay * ay + az * az, i / 3);
  }
}

/** Packed [z, r, ...] of packed points. */
export function zrOfPoints(axis: Axis, points: Float64Array): Float64Array {
  const out = new Float64Array((points.length / 3) * 2);
  eachAbout(axis, points, (z, rSq, i) => {
    out[2 * i] = z;
    out[2 * i + 1] = Math.sqrt(rSq);
  });
  return out;
}

/** True where the line (point, unit direction) is the axis itself, within the tolerances in mm and radians. */
export function isSameLine(axis: Axis, point: Vec3, direction: Vec3, mm: number, rad: number): boolean {
  const across = length(subtract(direction, scale(axis.direction, dot(direction, axis.direction))));
  return across <= rad && zrOf(axis, point)[1] <= mm;
}

/**
 * mm. How far places about another line, up to `radius` from it, may be from where they would be about the axis, between two heights: by the line's distance
 * from the axis there, and by what its lean lifts them along it.
 */
export function driftOf(axis: Axis, point: Vec3, direction: Vec3, z0: number, z1: number, radius: number): number {
  const along = dot(direction, axis.direction);
  const lean = length(subtract(direction, scale(axis.direction, along)));
  const [z] = zrOf(axis, point);
  const at = (height: number) => zrOf(axis, addScaled(point, direction, (height - z) / along))[1];
  return Math.max(at(z0), at(z1)) + lean * radius;
}

/** Two unit directions across an axis and each other. */
export function acrossAxes({ direction: d }: Axis): [Vec3, Vec3] {
  const seed: Vec3 = Math.abs(d[0]) < 0.6 ? [1, 0, 0] : [0, 1, 0];
  const raw = addScaled(seed, d, -dot(seed, d));
  const l = Math.hypot(...raw);
  const u: Vec3 = [raw[0] / l, raw[1] / l, raw[2] / l];
  return [u, [d[1] * u[2] - d[2] * u[1], d[2] * u[0] - d[0] * u[2], d[0] * u[1] - d[1] * u[0]]];
}

/** Packed places across the axis of packed points, along the two directions. */
export function flatCoordinates({ origin: o }: Axis, u: Vec3, v: Vec3, p: Float64Array): Float64Array {
  const out = new Float64Array((p.length / 3) * 2);
  for (let i = 0, k = 0; i < p.length; i += 3, k += 2) {
    const [x, y, z] = [p[i] - o[0], p[i + 1] - o[1], p[i + 2] - o[2]];
    out[k] = x * u[0] + y * u[1] + z * u[2];
    out[k + 1] = x * v[0] + y * v[1] + z * v[2];
  }
  return out;
}
