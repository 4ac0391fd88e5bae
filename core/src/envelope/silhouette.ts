import type { FlatBooleans } from '#core/kernel';
import { type Frame, frameFromWorld } from '#core/math';
import { movePoints, nextHalf, pairHalfEdges, type TriMesh } from '#core/mesh';
import type { FlatPoint } from '#core/outline';

/**
 * What meshes cover as seen along Y of a frame, as polygons in its (z, x): counter-clockwise around material, clockwise around holes. The
 * border of the triangles that look up, edge by edge: the winding number of these edges says how many layers lie over a place, so that their union is
 * found without one triangle being clipped.
 */
export function silhouetteOf(meshes: readonly TriMesh[], frame: Frame, flat: FlatBooleans): FlatPoint[][] {
  const frameFromMesh = frameFromWorld(frame);
  const loops: FlatPoint[][] = [];
  for (const mesh of meshes) {
    const p = movePoints(frameFromMesh, mesh.positions);
    const { triangles: t } = mesh;
    const partner = pairHalfEdges(mesh);
    // Seen from +Y, with z to the right and x up, a triangle that looks up runs counter-clockwise.
    const isUp = new Uint8Array(t.length / 3);
    for (let i = 0; i < isUp.length; i++) {
      const [a, b, c] = [3 * t[3 * i], 3 * t[3 * i + 1], 3 * t[3 * i + 2]];
      if ((p[b + 2] - p[a + 2]) * (p[c] - p[a]) - (p[b] - p[a]) * (p[c + 2] - p[a + 2]) > 0) isUp[i] = 1;
    }
    const from = new Map<number, number[]>();
    const borders: number[] = [];
    for (let h = 0; h < t.length; h++) {
      if (!isUp[(h - (h % 3)) / 3] || (partner[h] >= 0 && isUp[(partner[h] - (partner[h] % 3)) / 3])) continue;
      borders.push(h);
      const list = from.get(t[h]);
      if (list) list.push(h);
      else from.set(t[h], [h]);
    }
    const used = new Set<number>();
    for (const first of borders) {
      if (used.has(first)) continue;
      const loop: FlatPoint[] = [];
      for (let h: number | undefined = first; h !== undefined && !used.has(h); h = from.get(t[nextHalf(h)])?.find((g) => !used.has(g))) {
        used.add(h);
        loop.push([p[3 * t[h] + 2], p[3 * t[h]]]);
      }
      loops.push(loop);
    }
  }
  return flat.unite(loops);
}
