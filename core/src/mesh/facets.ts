import type { Vec3 } from '#core/math';
import { orderBySize } from './order-by-size.ts';
import type { TriMesh } from './tri-mesh.ts';

/** Flat pieces of a mesh: neighbouring triangles in one plane, together. Triangles of facet f are list[start[f]] .. list[start[f + 1] - 1]. */
export interface Facets {
  readonly of: Int32Array;
  readonly start: Uint32Array;
  readonly list: Uint32Array;
  /** Unit normals, packed, and areas in mm2. */
  readonly normal: Float64Array;
  readonly area: Float64Array;
  readonly count: number;
}

/** Unit normals (packed; zero for a sliver) and areas of the triangles. */
export function triangleNormals({ positions: p, triangles: t }: TriMesh): { normal: Float64Array; area: Float64Array } {
  const count = t.length / 3;
  const normal = new Float64Array(t.length);
  const area = new Float64Array(count);
  for (let i = 0; i < count; i++) {
    const [a, b, c] = [3 * t[3 * i], 3 * t[3 * i + 1], 3 * t[3 * i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const [x, y, z] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const l = Math.sqrt(x * x + y * y + z * z);
    area[i] = l / 2;
    if (l > 0) normal.set([x / l, y / l, z / l], 3 * i);
  }
  return { normal, area };
}

/**
 * Joins neighbouring triangles that lie in one plane: all corners within `flat` mm of the plane of the largest triangle among them, which
 * starts each facet. `partner` pairs the half-edges.
 */
export function findFacets(mesh: TriMesh, partner: Int32Array, flat: number): Facets {
  const { positions: p, triangles: t } = mesh;
  const count = t.length / 3;
  const { normal, area } = triangleNormals(mesh);
  const order = orderBySize(area);
  const of = new Int32Array(count).fill(-1);
  const list = new Uint32Array(count);
  const start: number[] = [0];
  const normals: number[] = [];
  const areas: number[] = [];
  let at = 0;
  for (const seed of order) {
    if (of[seed] >= 0) continue;
    const id = areas.length;
    const [nx, ny, nz] = [normal[3 * seed], normal[3 * seed + 1], normal[3 * seed + 2]];
    const c = 3 * t[3 * seed];
    const offset = nx * p[c] + ny * p[c + 1] + nz * p[c + 2];
    of[seed] = id;
    list[at] = seed;
    let end = at + 1;
    let [sx, sy, sz] = [0, 0, 0];
    for (; at < end; at++) {
      const i = list[at];
      sx += normal[3 * i] * area[i];
      sy += normal[3 * i + 1] * area[i];
      sz += normal[3 * i + 2] * area[i];
      for (let k = 0; k < 3; k++) {
        const other = partner[3 * i + k];
        if (other < 0) continue;
        const n = (other - (other % 3)) / 3;
        if (of[n] >= 0) continue;
        // Only the corner across the shared edge is new.
        const q = 3 * t[3 * n + ((other + 2) % 3)];
        if (Math.abs(nx * p[q] + ny * p[q + 1] + nz * p[q + 2] - offset) > flat) continue;
        if (area[n] > 1e-9 && nx * normal[3 * n] + ny * normal[3 * n + 1] + nz * normal[3 * n + 2] < 0.9) continue;
        of[n] = id;
        list[end++] = n;
      }
    }
    const l = Math.hypot(sx, sy, sz) || 1;
    normals.push(sx / l, sy / l, sz / l);
    areas.push(l);
    start.push(at);
  }
  return { of, start: Uint32Array.from(start), list, normal: Float64Array.from(normals), area: Float64Array.from(areas), count: areas.length };
}

export const facetNormal = (f: Facets, i: number): Vec3 => [f.normal[3 * i], f.normal[3 * i + 1], f.normal[3 * i + 2]];
