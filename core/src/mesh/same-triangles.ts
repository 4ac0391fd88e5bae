import { distance, type Vec3 } from '#core/math';
import type { TriMesh } from './tri-mesh.ts';

/** Where two meshes are not the same triangles. */
export interface MeshDifference {
  readonly kind: 'corner moved' | 'turned over' | 'missing';
  /** On the first mesh, or where only the second has a triangle, on that. */
  readonly at: Vec3;
  /** mm. How far a corner is from where it should be. */
  readonly by?: number;
  /** Triangles of each that the other does not have. */
  readonly onlyFirst: number;
  readonly onlySecond: number;
}

/**
 * Compares two meshes triangle by triangle, in any order, as single precision keeps their corners: undefined where they are the same. Else says of the
 * first triangle that differs how.
 */
export function meshDifference(first: TriMesh, second: TriMesh): MeshDifference | undefined {
  const rest = new Map<string, number[]>();
  for (let i = 0; i < second.triangles.length; i += 3) {
    const key = keyOf(second, i);
    const list = rest.get(key);
    if (list) list.push(i);
    else rest.set(key, [i]);
  }
  const onlyFirst: number[] = [];
  for (let i = 0; i < first.triangles.length; i += 3) {
    const key = keyOf(first, i);
    const list = rest.get(key);
    if (!list) onlyFirst.push(i);
    else if (list.length === 1) rest.delete(key);
    else list.pop();
  }
  const onlySecond = [...rest.values()].flat();
  const counts = { onlyFirst: onlyFirst.length, onlySecond: onlySecond.length };
  if (onlyFirst.length === 0) return onlySecond.length > 0 ? { kind: 'missing', at: cornerAt(second, onlySecond[0]), ...counts } : undefined;
  // The nearest of what is left of the other one.
  let best: Omit<MeshDifference, 'onlyFirst' | 'onlySecond'> = { kind: 'missing', at: cornerAt(first, onlyFirst[0]) };
  let nearest = Infinity;
  for (const i of onlyFirst.slice(0, MOST_COMPARED))
    for (const j of onlySecond.slice(0, MOST_COMPARED)) {
      const turned = keyOf(first, i) === keyOf(second, j, true);
      if (turned) return { kind: 'turned over', at: cornerAt(first, i), ...counts };
      for (let turn = 0; turn < 3; turn++) {
        const ways = [0, 1, 2].map((k) => distance(cornerAt(first, i + k), cornerAt(second, j + ((k + turn) % 3))));
        const sum = ways[0] + ways[1] + ways[2];
        if (sum >= nearest) continue;
        nearest = sum;
        const k = ways.indexOf(Math.max(...ways));
        // Two corners of it are where they were: the third one has moved.
        if (ways.filter((w) => w <= precisionOf(first)).length === 2) best = { kind: 'corner moved', at: cornerAt(first, i + k), by: ways[k] };
      }
    }
  return { ...best, ...counts };
}

// Triangles that differ beyond these need not be compared with each other to say where the first ones are.
const MOST_COMPARED = 100;

/** mm. What single precision leaves of the corners of a mesh: two of its steps at the largest coordinate. */
export function precisionOf({ positions }: TriMesh): number {
  let largest = 1;
  for (const v of positions) largest = Math.max(largest, Math.abs(v));
  return largest * 2 ** -22;
}

const cornerAt = ({ positions: p, triangles: t }: TriMesh, i: number): Vec3 => [p[3 * t[i]], p[3 * t[i] + 1], p[3 * t[i] + 2]];

// The corners in single precision, beginning with the least, so that it does not matter which came first; -0 is 0.
function keyOf(mesh: TriMesh, i: number, isTurned = false): string {
  const order = isTurned ? [0, 2, 1] : [0, 1, 2];
  const keys = order.map((k) =>
    cornerAt(mesh, i + k)
      .map((v) => Math.fround(v) + 0)
      .join(),
  );
  const least = keys[0] <= keys[1] && keys[0] <= keys[2] ? 0 : keys[1] <= keys[2] ? 1 : 2;
  return `${keys[least]};${keys[(least + 1) % 3]};${keys[(least + 2) % 3]}`;
}
