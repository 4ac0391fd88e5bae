import { addScaled, convexHull, cross, dot, type Frame, fromZAndX, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';

/** Where a body is to be cut so that some of its faces come off as a body of their own; see the kernel's `Cut`. */
export interface CutPlace {
  readonly body: string;
  readonly frame: Frame;
  readonly outline: [number, number][];
  readonly from: number;
  readonly to: number;
}

// mm. How far the prism goes beyond the faces, so that it never runs along them.
const BEYOND = 0.02;
// mm2. A flat face seen along itself, with the rounding of its corners.
const SLIVER = 1e-3;
// What a rake face alone is cut off with, as a share of its width: about what an insert is thick.
const USUAL_DEPTH = 0.35;

/**
 * The prism around faces of a body: as wide as they are seen along `up` (out of the rake face; without it, out of the largest flat face among
 * them), from their lowest to their highest point. Undefined for no faces, and for faces that are seen as a line.
 */
export function cutAroundFaces(body: BodyGeometry, faces: readonly number[], up?: Vec3): CutPlace | undefined {
  if (faces.length === 0) return undefined;
  const z = up ?? largestNormal(body, faces);
  const frame = fromZAndX(body.bbox.min, z);
  const y = cross(frame.z, frame.x);
  const flat: [number, number][] = [];
  let [low, high] = [Infinity, -Infinity];
  for (const f of faces)
    for (let i = 3 * body.faceStart[f]; i < 3 * body.faceStart[f + 1]; i++) {
      const v = 3 * body.mesh.triangles[i];
      const p = addScaled([body.mesh.positions[v], body.mesh.positions[v + 1], body.mesh.positions[v + 2]], frame.origin, -1);
      flat.push([dot(p, frame.x), dot(p, y)]);
      low = Math.min(low, dot(p, frame.z));
      high = Math.max(high, dot(p, frame.z));
    }
  const hull = convexHull(flat);
  const area = hull.reduce((s, p, i) => s + crossOf(p, hull[(i + 1) % hull.length]), 0) / 2;
  if (hull.length < 3 || area < SLIVER) return undefined;
  const middle = [0, 1].map((k) => hull.reduce((s, p) => s + p[k], 0) / hull.length);
  const outline = hull.map(([u, v]): [number, number] => {
    const [du, dv] = [u - middle[0], v - middle[1]];
    const grown = 1 + BEYOND / Math.hypot(du, dv);
    return [middle[0] + du * grown, middle[1] + dv * grown];
  });
  const width = Math.sqrt(area);
  const depth = high - low < 0.05 * width ? USUAL_DEPTH * width : 0;
  return { body: body.id, frame, outline, from: low - depth - BEYOND, to: high + BEYOND };
}

const crossOf = (a: readonly [number, number], b: readonly [number, number]): number => a[0] * b[1] - a[1] * b[0];

// Out of the largest flat face: the sum of its triangles' normals.
function largestNormal({ mesh: { positions: p, triangles: t }, faceStart }: BodyGeometry, faces: readonly number[]): Vec3 {
  const sums = faces.map((f): Vec3 => {
    const sum = [0, 0, 0];
    for (let i = 3 * faceStart[f]; i < 3 * faceStart[f + 1]; i += 3) {
      const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
      const n = cross([p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]], [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]]);
      for (let k = 0; k < 3; k++) sum[k] += n[k];
    }
    return sum as unknown as Vec3;
  });
  return sums.reduce((a, b) => (Math.hypot(...b) > Math.hypot(...a) ? b : a));
}
