import type { SampledBody } from '#core/kernel';
import { PLANE_SIZE, planeOfTriangle } from '#core/mesh';

// The plane of the triangle that the points belong to, one after the other.
const PLANE = new Float64Array(PLANE_SIZE);

/**
 * How far, per face, the true face stands outside its triangles (mm); 0 where the triangles lie outside, as in a bore.
 * Measured at the middles and the centre of each triangle, where a chord loses most, and raised by a fifth for what lies
 * between the measured points. Gains are the other way, per triangle: how far it stands outside the face.
 */
export function measureLosses(
  { surfaces, faceStart, mesh, points, pointTriangle }: SampledBody,
  isLeftOut: (face: number) => boolean,
): { losses: Float64Array; gains: Float64Array } {
  const losses = new Float64Array(surfaces.length);
  const gains = new Float64Array(points.length > 0 ? mesh.triangles.length / 3 : 0);
  const { positions: p, triangles: v } = mesh;
  let i = 0;
  for (let face = 0; face < surfaces.length; face++) {
    if (isLeftOut(face)) {
      i = firstPointOf(pointTriangle, faceStart[face + 1], i);
      continue;
    }
    let before = -1;
    for (; i < pointTriangle.length && pointTriangle[i] < faceStart[face + 1]; i++) {
      const t = pointTriangle[i];
      if (t !== before) {
        before = t;
        planeOfTriangle(p, v, t, PLANE);
      }
      const d = PLANE[0] * points[3 * i] + PLANE[1] * points[3 * i + 1] + PLANE[2] * points[3 * i + 2] - PLANE[3];
      if (d > losses[face]) losses[face] = d;
      if (-d > gains[t]) gains[t] = -d;
    }
  }
  return { losses: losses.map((d) => (d > 1e-9 ? 1.2 * d + 1e-6 : 0)), gains };
}

// The first of the points, which come triangle after triangle, that belongs to a triangle or a later one.
function firstPointOf(pointTriangle: Uint32Array, triangle: number, from: number): number {
  let [low, high] = [from, pointTriangle.length];
  while (low < high) {
    const middle = (low + high) >> 1;
    if (pointTriangle[middle] < triangle) low = middle + 1;
    else high = middle;
  }
  return low;
}
