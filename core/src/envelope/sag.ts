import type { SampledBody } from '#core/kernel';
import { PLANE_SIZE, planeOfTriangle, weldWith } from '#core/mesh';

// The plane of the triangle that was looked at last.
const PLANE = new Float64Array(PLANE_SIZE);
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
  planeOfTriangle(p, triangles, t, PLANE);
  return PLANE[0] * x + PLANE[1] * y + PLANE[2] * z - PLANE[3];
}
