/** Numbers that `planeOfTriangle` writes: unit normal, offset along it (mm), twice the area (mm2). */
export const PLANE_SIZE = 5;

/** Writes the plane of a triangle, seen from outside, into an array from `at` on; all zero for a triangle without area. */
export function planeOfTriangle(p: Float64Array, triangles: Uint32Array | Int32Array, triangle: number, into: Float64Array, at = 0): void {
  const a = 3 * triangles[3 * triangle];
  const b = 3 * triangles[3 * triangle + 1];
  const c = 3 * triangles[3 * triangle + 2];
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a];
  const vy = p[c + 1] - p[a + 1];
  const vz = p[c + 2] - p[a + 2];
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const twice = Math.sqrt(nx * nx + ny * ny + nz * nz);
  const unit = twice < 1e-14 ? 0 : 1 / twice;
  into[at] = nx * unit;
  into[at + 1] = ny * unit;
  into[at + 2] = nz * unit;
  into[at + 3] = (nx * p[a] + ny * p[a + 1] + nz * p[a + 2]) * unit;
  into[at + 4] = twice < 1e-14 ? 0 : twice;
}
