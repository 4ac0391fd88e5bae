import { fromZAndX, type Vec3 } from '#core/math';
import type { TriMesh } from './tri-mesh.ts';

// No edge of a tool lies in this direction.
const RAY: Vec3 = [0.41272, 0.63914, 0.64899];

/**
 * How far a point lies outside a closed mesh, mm; 0 inside or on it. By counting the crossings of a ray, then the distance to
 * the nearest triangle: slow (every triangle), and on purpose not the way any builder works.
 */
export function distanceOutside(mesh: TriMesh, point: Vec3): number {
  const { triangles: t } = mesh;
  // Bodies of one part may overlap (a screw in its thread): crossings out count +1, crossings in -1.
  let winding = 0;
  for (let i = 0; i < t.length; i += 3) winding += crossing(mesh, i, point);
  if (winding > 0) return 0;
  let least = Infinity;
  for (let i = 0; i < t.length; i += 3) least = Math.min(least, distanceToTriangle(mesh, i, point));
  return least;
}

// +1 where the ray leaves through the triangle, -1 where it enters, else 0 (Moeller and Trumbore, 1997).
function crossing({ positions: p, triangles: t }: TriMesh, i: number, o: Vec3): number {
  const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [hx, hy, hz] = [RAY[1] * vz - RAY[2] * vy, RAY[2] * vx - RAY[0] * vz, RAY[0] * vy - RAY[1] * vx];
  const det = ux * hx + uy * hy + uz * hz;
  if (det === 0) return 0;
  const [sx, sy, sz] = [o[0] - p[a], o[1] - p[a + 1], o[2] - p[a + 2]];
  const u = (sx * hx + sy * hy + sz * hz) / det;
  if (u < 0 || u > 1) return 0;
  const [qx, qy, qz] = [sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux];
  const v = (RAY[0] * qx + RAY[1] * qy + RAY[2] * qz) / det;
  if (v < 0 || u + v > 1 || (vx * qx + vy * qy + vz * qz) / det <= 0) return 0;
  return det < 0 ? 1 : -1;
}

/** Distance of a point from triangle number i / 3, mm (Ericson, Real-Time Collision Detection, 5.1.5). */
export function distanceToTriangle({ positions: p, triangles: t }: TriMesh, i: number, o: Vec3): number {
  const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
  const at = (k: number): Vec3 => [p[k], p[k + 1], p[k + 2]];
  const minus = (x: Vec3, y: Vec3): Vec3 => [x[0] - y[0], x[1] - y[1], x[2] - y[2]];
  const dot = (x: Vec3, y: Vec3) => x[0] * y[0] + x[1] * y[1] + x[2] * y[2];
  const [A, B, C] = [at(a), at(b), at(c)];
  const [ab, ac, ao] = [minus(B, A), minus(C, A), minus(o, A)];
  const [d1, d2] = [dot(ab, ao), dot(ac, ao)];
  const to = (s: number, r: number) => Math.hypot(...minus(ao, [s * ab[0] + r * ac[0], s * ab[1] + r * ac[1], s * ab[2] + r * ac[2]]));
  if (d1 <= 0 && d2 <= 0) return to(0, 0);
  const bo = minus(o, B);
  const [d3, d4] = [dot(ab, bo), dot(ac, bo)];
  if (d3 >= 0 && d4 <= d3) return to(1, 0);
  const vc = d1 * d4 - d3 * d2;
  if (vc <= 0 && d1 >= 0 && d3 <= 0) return to(d1 / (d1 - d3), 0);
  const co = minus(o, C);
  const [d5, d6] = [dot(ab, co), dot(ac, co)];
  if (d6 >= 0 && d5 <= d6) return to(0, 1);
  const vb = d5 * d2 - d1 * d6;
  if (vb <= 0 && d2 >= 0 && d6 <= 0) return to(0, d2 / (d2 - d6));
  const va = d3 * d6 - d5 * d4;
  if (va <= 0 && d4 - d3 >= 0 && d5 - d6 >= 0) {
    const w = (d4 - d3) / (d4 - d3 + (d5 - d6));
    return to(1 - w, w);
  }
  const denominator = 1 / (va + vb + vc);
  return to(vb * denominator, vc * denominator);
}

/**
 * `distanceOutside` for many points of one mesh: the same answers. The mesh is turned so that the ray points up, and a grid across
 * it tells which few triangles a ray can meet; only points that turn out to lie outside look for the nearest triangle.
 */
export function outsideFinder(mesh: TriMesh): (point: Vec3) => number {
  const { positions: p, triangles: t } = mesh;
  const { z, x } = fromZAndX([0, 0, 0], RAY);
  const y: Vec3 = [z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]];
  const count = t.length / 3;
  const cells = Math.max(1, Math.min(400, Math.ceil(Math.sqrt(count))));
  const flat = new Float64Array((p.length / 3) * 2);
  let [u0, v0, u1, v1] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0, k = 0; i < p.length; i += 3, k += 2) {
    const u = p[i] * x[0] + p[i + 1] * x[1] + p[i + 2] * x[2];
    const v = p[i] * y[0] + p[i + 1] * y[1] + p[i + 2] * y[2];
    flat[k] = u;
    flat[k + 1] = v;
    u0 = Math.min(u0, u);
    u1 = Math.max(u1, u);
    v0 = Math.min(v0, v);
    v1 = Math.max(v1, v);
  }
  const [du, dv] = [(u1 - u0) / cells || 1, (v1 - v0) / cells || 1];
  const cellOf = (value: number, low: number, step: number) => Math.min(cells - 1, Math.max(0, Math.floor((value - low) / step)));
  const lists: number[][] = Array.from({ length: cells * cells }, () => []);
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [2 * t[i], 2 * t[i + 1], 2 * t[i + 2]];
    const [i0, i1] = [cellOf(Math.min(flat[a], flat[b], flat[c]), u0, du), cellOf(Math.max(flat[a], flat[b], flat[c]), u0, du)];
    const [j0, j1] = [cellOf(Math.min(flat[a + 1], flat[b + 1], flat[c + 1]), v0, dv), cellOf(Math.max(flat[a + 1], flat[b + 1], flat[c + 1]), v0, dv)];
    for (let u = i0; u <= i1; u++) for (let v = j0; v <= j1; v++) lists[u * cells + v].push(i);
  }
  return (point) => {
    const u = point[0] * x[0] + point[1] * x[1] + point[2] * x[2];
    const v = point[0] * y[0] + point[1] * y[1] + point[2] * y[2];
    let winding = 0;
    if (u >= u0 && u <= u1 && v >= v0 && v <= v1) for (const i of lists[cellOf(u, u0, du) * cells + cellOf(v, v0, dv)]) winding += crossing(mesh, i, point);
    if (winding > 0) return 0;
    let least = Infinity;
    for (let i = 0; i < t.length; i += 3) least = Math.min(least, distanceToTriangle(mesh, i, point));
    return least;
  };
}
