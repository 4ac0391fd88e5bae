import { meshArea, type TriMesh } from './tri-mesh.ts';

/** Places spread over a mesh: all corners of its triangles and, by area, places inside them, about `most` in all; each with the area that it stands for and its triangle. */
export function eachPlace(mesh: TriMesh, most: number, visit: (x: number, y: number, z: number, area: number, triangle: number) => void): void {
  const { positions: p, triangles: t } = mesh;
  const count = t.length / 3;
  if (count === 0) return;
  const spacing = Math.sqrt((2 * meshArea(mesh)) / Math.max(1, most - 3 * count, most / 4));
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const area = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    const longest = Math.max(Math.hypot(ux, uy, uz), Math.hypot(vx, vy, vz), Math.hypot(ux - vx, uy - vy, uz - vz));
    // A long thin triangle is cut by its length along and by its width across.
    const n = Math.max(1, Math.min(200, Math.ceil(Math.max(longest / (4 * spacing), Math.sqrt(2 * area) / spacing))));
    const share = area / (((n + 1) * (n + 2)) / 2);
    for (let r = 0; r <= n; r++)
      for (let s = 0; r + s <= n; s++) visit(p[a] + (r * ux + s * vx) / n, p[a + 1] + (r * uy + s * vy) / n, p[a + 2] + (r * uz + s * vz) / n, share, i / 3);
  }
}
