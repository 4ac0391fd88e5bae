import { anyAcross, cross, dot, normalize, subtract, type Vec3 } from '#core/math';
import type { TriMesh } from './tri-mesh.ts';

/**
 * Partner of each half-edge of a welded mesh, or -1 at an open border. Half-edge h = 3 t + k runs from corner k of triangle t to the
 * next one. Where more than two triangles share an edge (bodies that touch), those are paired that have the same solid between them:
 * from each triangle through its inner side to the next one around the edge.
 */
export function pairHalfEdges({ positions, triangles: t }: TriMesh): Int32Array {
  const count = positions.length / 3;
  const partner = new Int32Array(t.length).fill(-1);
  // Half-edges by their lower corner: start[v] .. start[v + 1] in `order`.
  const start = new Uint32Array(count + 1);
  const lower = (h: number) => Math.min(t[h], t[nextHalf(h)]);
  for (let h = 0; h < t.length; h++) start[lower(h) + 1]++;
  for (let v = 0; v < count; v++) start[v + 1] += start[v];
  const order = new Uint32Array(t.length);
  const fill = start.slice();
  for (let h = 0; h < t.length; h++) order[fill[lower(h)]++] = h;
  for (let v = 0; v < count; v++)
    for (let i = start[v]; i < start[v + 1]; i++) {
      const h = order[i];
      if (partner[h] >= 0) continue;
      const forward = t[h] === v;
      const end = forward ? t[nextHalf(h)] : t[h];
      let found = -1;
      let same = 0;
      for (let j = start[v]; j < start[v + 1]; j++) {
        const g = order[j];
        if (g === h) continue;
        const gForward = t[g] === v;
        if ((gForward ? t[nextHalf(g)] : t[g]) !== end) continue;
        same++;
        if (gForward !== forward) found = g;
      }
      if (same === 1 && found >= 0) {
        partner[h] = found;
        partner[found] = h;
      } else if (same > 1) {
        const all: number[] = [];
        for (let j = start[v]; j < start[v + 1]; j++) {
          const g = order[j];
          if ((t[g] === v ? t[nextHalf(g)] : t[g]) === end) all.push(g);
        }
        pairAround(positions, t, v, end, all, partner);
      }
    }
  return partner;
}

export const nextHalf = (h: number): number => (h % 3 === 2 ? h - 2 : h + 1);

function pairAround(p: Float64Array, t: Uint32Array, from: number, to: number, halves: readonly number[], partner: Int32Array): void {
  const at = (v: number): Vec3 => [p[3 * v], p[3 * v + 1], p[3 * v + 2]];
  const z = subtract(at(to), at(from));
  const x = anyAcross(z);
  const y = cross(normalize(z), x);
  const angleOf = (h: number) => {
    const w = subtract(at(t[nextHalf(nextHalf(h))]), at(from));
    return Math.atan2(dot(w, y), dot(w, x));
  };
  // A forward triangle has its inner side at smaller angles, a backward one at larger ones.
  const forward = halves.filter((h) => t[h] === from).map((h) => ({ h, angle: angleOf(h) }));
  const backward = halves.filter((h) => t[h] !== from).map((h) => ({ h, angle: angleOf(h) }));
  const pairs = forward.flatMap((f) =>
    backward.map((b) => {
      let wedge = f.angle - b.angle;
      while (wedge <= 1e-6) wedge += 2 * Math.PI;
      while (wedge > 2 * Math.PI + 1e-6) wedge -= 2 * Math.PI;
      return { f: f.h, b: b.h, wedge };
    }),
  );
  for (const { f, b } of pairs.sort((a, c) => a.wedge - c.wedge)) {
    if (partner[f] >= 0 || partner[b] >= 0) continue;
    partner[f] = b;
    partner[b] = f;
  }
}

/** Connected pieces of a mesh by its paired half-edges: the number of each triangle's piece, and how many there are. */
export function labelShells(triangleCount: number, partner: Int32Array): { label: Int32Array; count: number } {
  const label = new Int32Array(triangleCount).fill(-1);
  const stack: number[] = [];
  let count = 0;
  for (let first = 0; first < triangleCount; first++) {
    if (label[first] >= 0) continue;
    label[first] = count;
    stack.push(first);
    for (let t = stack.pop(); t !== undefined; t = stack.pop())
      for (let k = 0; k < 3; k++) {
        const other = partner[3 * t + k];
        if (other < 0) continue;
        const n = Math.floor(other / 3);
        if (label[n] >= 0) continue;
        label[n] = count;
        stack.push(n);
      }
    count++;
  }
  return { label, count };
}
