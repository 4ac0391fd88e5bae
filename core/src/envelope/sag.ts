import type { SampledBody } from '#core/kernel';
import { weldWith } from '#core/mesh';

// mm. Rounding.
const NOTHING = 1e-9;

/** By triangle, how far the true face may be from it, mm: a chord of a shaft lies inside of it, a chord of a bore stands out of it. 0 for flat faces. */
export function sagOfTriangles({ mesh, points, pointTriangle }: SampledBody): Float64Array {
  const sag = new Float64Array(mesh.triangles.length / 3);
  for (let i = 0; i < pointTriangle.length; i++) {
    const t = pointTriangle[i];
    sag[t] = Math.max(sag[t], Math.abs(distanceToTrianglePlane(mesh.positions, mesh.triangles, t, points[3 * i], points[3 * i + 1], points[3 * i + 2])));
  }
  // Places between those that were sampled may be a little further.
  return sag.map((s) => 1.2 * s);
}

/**
 * By triangle, how far it stands out of the body, mm: only chords of bores do, and the flat faces around them as far as their borders are such
 * chords. Such a place is none of the body's.
 */
export function gainsOfTriangles({ mesh, points, pointTriangle }: SampledBody): Float64Array {
  const gains = new Float64Array(mesh.triangles.length / 3);
  for (let i = 0; i < pointTriangle.length; i++) {
    const t = pointTriangle[i];
    gains[t] = Math.max(gains[t], -distanceToTrianglePlane(mesh.positions, mesh.triangles, t, points[3 * i], points[3 * i + 1], points[3 * i + 2]));
  }
  if (!gains.some((g) => g > NOTHING)) return new Float64Array(gains.length);
  // Corners at one place are one: what a bore's triangle stands out, its neighbour across the border does along their common side.
  const { cornerOf } = weldWith(mesh);
  const atCorner = new Float64Array(cornerOf.length);
  const { triangles: t } = mesh;
  for (let i = 0; i < t.length; i++) {
    const corner = cornerOf[t[i]];
    atCorner[corner] = Math.max(atCorner[corner], gains[(i - (i % 3)) / 3]);
  }
  return gains.map((g, i) => {
    const [a, b, c] = [0, 1, 2].map((k) => atCorner[cornerOf[t[3 * i + k]]]);
    const most = Math.max(g, Math.min(a, b), Math.min(b, c), Math.min(c, a));
    return most > NOTHING ? 1.2 * most : 0;
  });
}

/** Signed distance of a point from the plane of a triangle, positive outside; 0 for a degenerate triangle. */
export function distanceToTrianglePlane(p: Float64Array, triangles: Uint32Array, t: number, x: number, y: number, z: number): number {
  const [a, b, c] = [3 * triangles[3 * t], 3 * triangles[3 * t + 1], 3 * triangles[3 * t + 2]];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const l = Math.hypot(nx, ny, nz);
  return l < 1e-14 ? 0 : ((x - p[a]) * nx + (y - p[a + 1]) * ny + (z - p[a + 2]) * nz) / l;
}
