import type { Motion } from '#core/math';
import type { TriMesh } from './tri-mesh.ts';

/** Packed points, moved into new memory. */
export function movePoints({ r, t }: Motion, points: Float64Array): Float64Array {
  const out = new Float64Array(points.length);
  for (let i = 0; i < points.length; i += 3) {
    const [x, y, z] = [points[i], points[i + 1], points[i + 2]];
    out[i] = r[0] * x + r[1] * y + r[2] * z + t[0];
    out[i + 1] = r[3] * x + r[4] * y + r[5] * z + t[1];
    out[i + 2] = r[6] * x + r[7] * y + r[8] * z + t[2];
  }
  return out;
}

export const moveMesh = (motion: Motion, mesh: TriMesh): TriMesh => ({ positions: movePoints(motion, mesh.positions), triangles: mesh.triangles });
