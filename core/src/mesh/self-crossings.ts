import type { Vec3 } from '#core/math';
import type { TriMesh } from './tri-mesh.ts';
import type { TriangleTree } from './triangle-tree.ts';

// An edge that only touches a triangle, at its rim or end, does not cross it; shares of the edge and of the triangle.
const TOUCH = 1e-7;

// Places that are told at most.
const MOST_PLACES = 200;

/** How many pairs of an edge and a triangle without a common corner cross each other, and where the first ones do. */
export function findSelfCrossings(tree: TriangleTree): { count: number; places: Vec3[] } {
  const { positions: p, triangles: t } = tree.mesh;
  let count = 0;
  const places: Vec3[] = [];
  for (let h = 0; h < t.length; h++) {
    const [v, w] = [t[h], t[h % 3 === 2 ? h - 2 : h + 1]];
    // Each edge once: from its lower corner.
    if (v > w) continue;
    const [a, b] = [3 * v, 3 * w];
    const low: Vec3 = [Math.min(p[a], p[b]), Math.min(p[a + 1], p[b + 1]), Math.min(p[a + 2], p[b + 2])];
    const high: Vec3 = [Math.max(p[a], p[b]), Math.max(p[a + 1], p[b + 1]), Math.max(p[a + 2], p[b + 2])];
    tree.inBox(low, high, 0, (f) => {
      if (t[3 * f] === v || t[3 * f + 1] === v || t[3 * f + 2] === v || t[3 * f] === w || t[3 * f + 1] === w || t[3 * f + 2] === w) return;
      const s = crossingAt(tree.mesh, f, a, b);
      if (s === undefined) return;
      count++;
      if (places.length < MOST_PLACES) places.push([0, 1, 2].map((k) => p[a + k] + s * (p[b + k] - p[a + k])) as unknown as Vec3);
    });
  }
  return { count, places };
}

// Moller and Trumbore, for a segment: where along it the triangle is crossed from side to side.
function crossingAt({ positions: p, triangles: t }: TriMesh, f: number, from: number, to: number): number | undefined {
  const [a, b, c] = [3 * t[3 * f], 3 * t[3 * f + 1], 3 * t[3 * f + 2]];
  const [dx, dy, dz] = [p[to] - p[from], p[to + 1] - p[from + 1], p[to + 2] - p[from + 2]];
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
  const [hx, hy, hz] = [dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx];
  const det = ux * hx + uy * hy + uz * hz;
  const scale = Math.hypot(dx, dy, dz) * Math.hypot(ux, uy, uz) * Math.hypot(vx, vy, vz);
  if (Math.abs(det) < 1e-12 * scale) return undefined;
  const [sx, sy, sz] = [p[from] - p[a], p[from + 1] - p[a + 1], p[from + 2] - p[a + 2]];
  const u = (sx * hx + sy * hy + sz * hz) / det;
  if (u < TOUCH || u > 1 - TOUCH) return undefined;
  const [qx, qy, qz] = [sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux];
  const v = (dx * qx + dy * qy + dz * qz) / det;
  if (v < TOUCH || u + v > 1 - TOUCH) return undefined;
  const s = (vx * qx + vy * qy + vz * qz) / det;
  return s > TOUCH && s < 1 - TOUCH ? s : undefined;
}
