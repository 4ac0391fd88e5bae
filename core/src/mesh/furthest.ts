import { type Vec3 } from '#core/math';
import type { TriMesh } from './tri-mesh.ts';

// Corners that lie one after the other mostly lie near each other: so many have one box.
const BLOCK = 48;

const KNOWN = new WeakMap<TriMesh, Float64Array>();

/** How far a mesh reaches along a direction, mm from the origin; -Infinity where it has no corners. Boxes around its corners are kept: asked again and again it looks at few. */
export function furthestAlong(mesh: TriMesh, [dx, dy, dz]: Vec3): number {
  const { positions: p } = mesh;
  let boxes = KNOWN.get(mesh);
  if (!boxes) {
    boxes = boxesOf(p);
    KNOWN.set(mesh, boxes);
  }
  let most = -Infinity;
  for (let b = 0; b < boxes.length; b += 6) {
    const reach = dx * boxes[dx > 0 ? b + 3 : b] + dy * boxes[dy > 0 ? b + 4 : b + 1] + dz * boxes[dz > 0 ? b + 5 : b + 2];
    if (reach <= most) continue;
    const end = Math.min(p.length, (b / 6 + 1) * 3 * BLOCK);
    for (let i = (b / 6) * 3 * BLOCK; i < end; i += 3) {
      const along = dx * p[i] + dy * p[i + 1] + dz * p[i + 2];
      if (along > most) most = along;
    }
  }
  return most;
}

// Low x y z, high x y z of each block.
function boxesOf(p: Float64Array): Float64Array {
  const count = Math.ceil(p.length / (3 * BLOCK));
  const boxes = new Float64Array(6 * count);
  for (let b = 0; b < count; b++)
    for (let k = 0; k < 3; k++) {
      let [low, high] = [Infinity, -Infinity];
      for (let i = 3 * BLOCK * b + k; i < Math.min(p.length, 3 * BLOCK * (b + 1)); i += 3) {
        if (p[i] < low) low = p[i];
        if (p[i] > high) high = p[i];
      }
      boxes[6 * b + k] = low;
      boxes[6 * b + 3 + k] = high;
    }
  return boxes;
}
