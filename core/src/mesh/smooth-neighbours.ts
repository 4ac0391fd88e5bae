import type { BodyGeometry } from './model.ts';

const SMOOTH = Math.cos((20 * Math.PI) / 180);

/** Faces of a body that run smoothly (within 20 degrees along their border) into a face. */
export function smoothNeighbours(body: BodyGeometry, face: number): number[] {
  const own = normalsByCorner(body, face);
  const near = new Set(body.faces[face].edges.flatMap((e) => body.edges[e].faces).filter((f) => f !== face));
  return [...near].filter((f) => {
    // At the corners that both have the normals must agree everywhere.
    let [shared, smooth] = [0, 0];
    for (const [key, n] of normalsByCorner(body, f)) {
      const m = own.get(key);
      if (!m) continue;
      shared++;
      const l = Math.hypot(...n) * Math.hypot(...m);
      if (l > 0 && (n[0] * m[0] + n[1] * m[1] + n[2] * m[2]) / l > SMOOTH) smooth++;
    }
    return shared > 0 && smooth >= 0.8 * shared;
  });
}

/** Faces of a body that have an edge with one of `faces` and are not among them. */
export function neighbourFaces(body: BodyGeometry, faces: readonly number[]): number[] {
  const own = new Set(faces);
  return [...new Set(faces.flatMap((f) => body.faces[f].edges).flatMap((e) => body.edges[e].faces))].filter((f) => !own.has(f));
}

/** Those of `faces` that lie within: all their edges are between two of them. */
export function withoutRim(body: BodyGeometry, faces: readonly number[]): number[] {
  const own = new Set(faces);
  return faces.filter((f) => body.faces[f].edges.every((e) => body.edges[e].faces.every((g) => own.has(g))));
}

// Sums of the normals of a face's triangles at each of its corners, by place.
function normalsByCorner({ mesh: { positions: p, triangles: t }, faceStart }: BodyGeometry, face: number): Map<string, [number, number, number]> {
  const out = new Map<string, [number, number, number]>();
  for (let i = 3 * faceStart[face]; i < 3 * faceStart[face + 1]; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const n = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    for (const k of [a, b, c]) {
      const key = `${Math.round(p[k] * 1e3)},${Math.round(p[k + 1] * 1e3)},${Math.round(p[k + 2] * 1e3)}`;
      const sum = out.get(key);
      if (sum) for (let j = 0; j < 3; j++) sum[j] += n[j];
      else out.set(key, [n[0], n[1], n[2]]);
    }
  }
  return out;
}
