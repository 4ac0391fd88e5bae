import type { SampledBody } from '#core/kernel';
import { weldWith } from '#core/mesh';

// mm. Rounding.
const NOTHING = 1e-9;

// What lies between the places that were sampled may be a little further.
const BETWEEN = 1.2;

/** By triangle, how far the true face may be from it, mm: a chord of a shaft lies inside of it, a chord of a bore stands out of it. 0 for flat faces. */
export const sagOfTriangles = (body: SampledBody): Float64Array => greatestByTriangle(body, (outside) => Math.abs(outside));

/** By triangle, how far the true face may stand outside of it, mm. */
export const lossOfTriangles = (body: SampledBody): Float64Array => greatestByTriangle(body, (outside) => (outside > NOTHING ? outside : 0));

function greatestByTriangle({ mesh, points, pointTriangle }: SampledBody, worth: (outside: number) => number): Float64Array {
  const most = new Float64Array(mesh.triangles.length / 3);
  for (let i = 0; i < pointTriangle.length; i++) {
    const t = pointTriangle[i];
    const w = worth(distanceToTrianglePlane(mesh.positions, mesh.triangles, t, points[3 * i], points[3 * i + 1], points[3 * i + 2]));
    if (w > most[t]) most[t] = w;
  }
  for (let t = 0; t < most.length; t++) most[t] *= BETWEEN;
  return most;
}

/**
 * By triangle, how far it stands out of the body, mm: only chords of bores do, and the flat faces around them as far as their borders are such
 * chords. Such a place is none of the body's.
 */
export function gainsOfTriangles(body: SampledBody): Float64Array {
  const gains = greatestByTriangle(body, (outside) => (outside < 0 ? -outside : 0));
  if (!gains.some((g) => g > NOTHING)) return new Float64Array(gains.length);
  // Corners at one place are one: what a bore's triangle stands out, its neighbour across the border does along their common side.
  const { cornerOf } = weldWith(body.mesh);
  const atCorner = new Float64Array(cornerOf.length);
  const { triangles: t } = body.mesh;
  for (let i = 0; i < t.length; i++) {
    const corner = cornerOf[t[i]];
    atCorner[corner] = Math.max(atCorner[corner], gains[(i - (i % 3)) / 3]);
  }
  return gains.map((g, i) => {
    const [a, b, c] = [0, 1, 2].map((k) => atCorner[cornerOf[t[3 * i + k]]]);
    const most = Math.max(g, Math.min(a, b), Math.min(b, c), Math.min(c, a));
    return most > NOTHING ? most : 0;
  });
}

/** Signed distance of a point from the plane of a triangle, positive outside; 0 for a degenerate triangle. */
export function distanceToTrianglePlane(p: Float64Array, triangles: Uint32Array, t: number, x: number, y: number, z: number): number {
  const a = 3 * triangles[3 * t];
  const b = 3 * triangles[3 * t + 1];
  const c = 3 * triangles[3 * t + 2];
  const ux = p[b] - p[a];
  const uy = p[b + 1] - p[a + 1];
  const uz = p[b + 2] - p[a + 2];
  const vx = p[c] - p[a];
  const vy = p[c + 1] - p[a + 1];
  const vz = p[c + 2] - p[a + 2];
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const l = Math.sqrt(nx * nx + ny * ny + nz * nz);
  return l < 1e-14 ? 0 : ((x - p[a]) * nx + (y - p[a + 1]) * ny + (z - p[a + 2]) * nz) / l;
}
