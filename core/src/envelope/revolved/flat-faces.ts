import { nextHalf, PLANE_SIZE, planeOfTriangle, type TriMesh } from '#core/mesh';

// mm. A tenth of what counts as enclosed.
const FLAT = 1e-7;

/** Whether some triangles lie in one plane: what is called a plane of a mesh file is whatever its triangles are. */
export function isFlat({ positions: p, triangles: t }: TriMesh, first: number, last: number): boolean {
  const plane = new Float64Array(PLANE_SIZE);
  const largest = new Float64Array(PLANE_SIZE);
  for (let f = first; f < last; f++) {
    planeOfTriangle(p, t, f, plane);
    if (plane[4] > largest[4]) largest.set(plane);
  }
  const [nx, ny, nz, offset] = largest;
  for (let i = 3 * first; i < 3 * last; i++) {
    const v = 3 * t[i];
    if (Math.abs(nx * p[v] + ny * p[v + 1] + nz * p[v + 2] - offset) > FLAT) return false;
  }
  return true;
}

/** By triangle of a face, which of its sides (from its first corner to its second, and so on, as bits) no other triangle of the face has. */
export function borderOf(t: Uint32Array, first: number, last: number): Uint8Array {
  const border = new Uint8Array(last - first);
  const seen = new Map<number, number>();
  for (let h = 3 * first; h < 3 * last; h++) {
    const [a, b] = [t[h], t[nextHalf(h)]];
    const key = a < b ? a * 2 ** 26 + b : b * 2 ** 26 + a;
    const other = seen.get(key);
    if (other === undefined) {
      seen.set(key, h);
      border[Math.floor(h / 3) - first] |= 1 << (h % 3);
    } else border[Math.floor(other / 3) - first] &= ~(1 << (other % 3));
  }
  return border;
}
