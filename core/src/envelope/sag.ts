import type { SampledBody } from '#core/kernel';
import { type TriMesh, weldWith } from '#core/mesh';

// mm. Rounding.
const NOTHING = 1e-9;

/** By triangle, how far the true face may be from it, mm: a chord of a shaft lies inside of it, a chord of a bore stands out of it. 0 for flat faces. */
export function sagOfTriangles({ mesh, points, pointTriangle }: SampledBody): Float64Array {
  const sag = new Float64Array(mesh.triangles.length / 3);
  for (let i = 0; i < pointTriangle.length; i++) {
    const t = pointTriangle[i];
    sag[t] = Math.max(sag[t], Math.abs(heightOver(mesh, t, points, 3 * i)));
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
    gains[t] = Math.max(gains[t], -heightOver(mesh, t, points, 3 * i));
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

// Of a place over a triangle's plane.
function heightOver({ positions: p, triangles: t }: TriMesh, triangle: number, points: Float64Array, at: number): number {
  const [a, b, c] = [3 * t[3 * triangle], 3 * t[3 * triangle + 1], 3 * t[3 * triangle + 2]];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const l = Math.hypot(nx, ny, nz) || 1;
  return ((points[at] - p[a]) * nx + (points[at + 1] - p[a + 1]) * ny + (points[at + 2] - p[a + 2]) * nz) / l;
}
