import { Clipper, FillRule, type PathsD } from 'clipper2-ts';
import { boundsCentre, boundsOfPoints, type Frame, frameFromWorld, joinBounds } from '#core/math';
import { movePoints, nextHalf, pairHalfEdges, type TriMesh } from '#core/mesh';
import type { FlatPoint } from '#core/outline';

// Digits after the point that the polygon clipping counts with, in whole numbers: its products of two lengths of a tool stay exact in a double.
const DIGITS = 5;

/**
 * What meshes cover as seen along Y of a frame, as polygons in its (z, x): counter-clockwise around material, clockwise around holes. The
 * border of the triangles that look up, edge by edge: the winding number of these edges says how many layers lie over a place, so that their union is
 * found without one triangle being clipped.
 */
export function silhouetteOf(meshes: readonly TriMesh[], frame: Frame): FlatPoint[][] {
  const frameFromMesh = frameFromWorld(frame);
  // About their middle, where the whole numbers are smallest.
  const box = joinBounds(meshes.map((m) => boundsOfPoints(movePoints(frameFromMesh, m.positions))).filter((b) => b !== undefined));
  const [x0, , z0] = box ? boundsCentre(box) : [0, 0, 0];
  const loops: PathsD = [];
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
      const loop: PathsD[number] = [];
      for (let h: number | undefined = first; h !== undefined && !used.has(h); h = from.get(t[nextHalf(h)])?.find((g) => !used.has(g))) {
        used.add(h);
        loop.push({ x: p[3 * t[h] + 2] - z0, y: p[3 * t[h]] - x0 });
      }
      loops.push(loop);
    }
  }
  return Clipper.unionD(loops, [], FillRule.Positive, DIGITS).map((path) => path.map((q): FlatPoint => [q.x + z0, q.y + x0]));
}
