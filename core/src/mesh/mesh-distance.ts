import type { Motion, Vec3 } from '#core/math';
import { movedBox } from './moved-box.ts';
import type { TriangleTree } from './triangle-tree.ts';

/** How near two meshes get: mm, 0 where their surfaces meet; and where on the first one, about. */
export interface MeshDistance {
  readonly distance: number;
  readonly at: Vec3;
}

/**
 * The distance between the surfaces of two meshes, mm, `motion` taking the second one into the first one's coordinates; undefined where they stay farther apart than
 * `within`. Both trees are gone down at once, the larger box first (Gottschalk, Lin and Manocha, OBBTree, 1996, with boxes along the axes).
 */
export function meshDistance(one: TriangleTree, other: TriangleTree, motion: Motion, within = Infinity): MeshDistance | undefined {
  if (one.isEmpty || other.isEmpty) return undefined;
  const { r, t } = motion;
  let best = within * within;
  let at: Vec3 | undefined;
  const [ofOther, ofChild] = [new Float64Array(6), new Float64Array(6)];
  const corners = new Float64Array(9);
  const own = new Float64Array(9);
  movedBox(other.box, 0, motion, ofOther);
  const stack: [number, number, number][] = [[0, 0, boxesApartSq(one.box, 0, ofOther)]];
  for (let pair = stack.pop(); pair; pair = stack.pop()) {
    const [a, b, apart] = pair;
    if (apart >= best) continue;
    const [isLeafA, isLeafB] = [one.count[a] > 0, other.count[b] > 0];
    if (isLeafA && isLeafB) {
      for (let j = other.first[b]; j < other.first[b] + other.count[b]; j++) {
        cornersOf(other, j, corners);
        for (let k = 0; k < 9; k += 3) {
          const [x, y, z] = [corners[k], corners[k + 1], corners[k + 2]];
          corners[k] = r[0] * x + r[1] * y + r[2] * z + t[0];
          corners[k + 1] = r[3] * x + r[4] * y + r[5] * z + t[1];
          corners[k + 2] = r[6] * x + r[7] * y + r[8] * z + t[2];
        }
        for (let i = one.first[a]; i < one.first[a] + one.count[a]; i++) {
          cornersOf(one, i, own);
          const d = trianglesApartSq(own, corners, best);
          if (d >= best) continue;
          best = d;
          at = [PLACE[0], PLACE[1], PLACE[2]];
          if (best <= 0) return { distance: 0, at };
        }
      }
      continue;
    }
    movedBox(other.box, 6 * b, motion, ofOther);
    const isFirst = !isLeafA && (isLeafB || sizeOf(one.box, 6 * a) >= sizeOf(ofOther, 0));
    const child = isFirst ? one.first[a] : other.first[b];
    const next = [child, child + 1].map((c): [number, number, number] => {
      if (isFirst) return [c, b, boxesApartSq(one.box, 6 * c, ofOther)];
      movedBox(other.box, 6 * c, motion, ofChild);
      return [a, c, boxesApartSq(one.box, 6 * a, ofChild)];
    });
    // The nearer one is looked at first.
    if (next[0][2] < next[1][2]) next.reverse();
    for (const n of next) if (n[2] < best) stack.push(n);
  }
  return at && { distance: Math.sqrt(best), at };
}

function boxesApartSq(p: Float64Array, i: number, q: Float64Array): number {
  let sum = 0;
  for (let k = 0; k < 3; k++) {
    const gap = Math.max(p[i + k] - q[3 + k], q[k] - p[i + 3 + k]);
    if (gap > 0) sum += gap * gap;
  }
  return sum;
}

const sizeOf = (box: Float64Array, i: number): number => box[i + 3] - box[i] + box[i + 4] - box[i + 1] + box[i + 5] - box[i + 2];

function cornersOf({ mesh: { positions: p, triangles: t }, order }: TriangleTree, at: number, into: Float64Array): void {
  const f = 3 * order[at];
  for (let k = 0; k < 3; k++) for (let d = 0; d < 3; d++) into[3 * k + d] = p[3 * t[f + k] + d];
}

// Where two triangles were nearest, on the first one.
const PLACE = new Float64Array(3);

/** Squared distance of two triangles of nine numbers each; some number that is not below `best` where they are not nearer than that. The place is in PLACE. */
function trianglesApartSq(p: Float64Array, q: Float64Array, best: number): number {
  let gap = 0;
  for (let k = 0; k < 3; k++) {
    const g = Math.max(
      Math.min(p[k], p[k + 3], p[k + 6]) - Math.max(q[k], q[k + 3], q[k + 6]),
      Math.min(q[k], q[k + 3], q[k + 6]) - Math.max(p[k], p[k + 3], p[k + 6]),
    );
    if (g > 0) gap += g * g;
  }
  if (gap >= best) return gap;
  // Two triangles that meet: a side of one goes through the other. Else the nearest places are on two sides, or a corner and a face.
  for (let i = 0; i < 9; i += 3) if (goesThrough(q, i, (i + 3) % 9, p) || goesThrough(p, i, (i + 3) % 9, q)) return 0;
  let least = best;
  const take = (d: number, x: number, y: number, z: number) => {
    if (d >= least) return;
    least = d;
    PLACE[0] = x;
    PLACE[1] = y;
    PLACE[2] = z;
  };
  for (let i = 0; i < 9; i += 3) for (let j = 0; j < 9; j += 3) sidesApart(p, i, (i + 3) % 9, q, j, (j + 3) % 9, take);
  for (let i = 0; i < 9; i += 3) {
    cornerOver(q, i, p, take, true);
    cornerOver(p, i, q, take, false);
  }
  return least;
}

type Take = (d: number, x: number, y: number, z: number) => void;

// The nearest places of two segments (Ericson, Real-Time Collision Detection, 5.1.9).
function sidesApart(p: Float64Array, a: number, b: number, q: Float64Array, c: number, d: number, take: Take): void {
  const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [vx, vy, vz] = [q[d] - q[c], q[d + 1] - q[c + 1], q[d + 2] - q[c + 2]];
  const [wx, wy, wz] = [p[a] - q[c], p[a + 1] - q[c + 1], p[a + 2] - q[c + 2]];
  const uu = ux * ux + uy * uy + uz * uz;
  const vv = vx * vx + vy * vy + vz * vz;
  const uv = ux * vx + uy * vy + uz * vz;
  const uw = ux * wx + uy * wy + uz * wz;
  const vw = vx * wx + vy * wy + vz * wz;
  const det = uu * vv - uv * uv;
  let s = det > 1e-14 * uu * vv ? clamp((uv * vw - uw * vv) / det) : 0;
  let t = vv > 0 ? (uv * s + vw) / vv : 0;
  if (t < 0 || t > 1) {
    t = clamp(t);
    s = uu > 0 ? clamp((t * uv - uw) / uu) : 0;
  }
  const [x, y, z] = [wx + s * ux - t * vx, wy + s * uy - t * vy, wz + s * uz - t * vz];
  take(x * x + y * y + z * z, p[a] + s * ux, p[a + 1] + s * uy, p[a + 2] + s * uz);
}

const clamp = (v: number): number => (v > 0 ? (v < 1 ? v : 1) : 0);

// A corner over the inside of a triangle; beside it, its sides are nearer. `isOfOther`: the corner is the second triangle's.
function cornerOver(p: Float64Array, i: number, q: Float64Array, take: Take, isOfOther: boolean): void {
  const [ux, uy, uz] = [q[3] - q[0], q[4] - q[1], q[5] - q[2]];
  const [vx, vy, vz] = [q[6] - q[0], q[7] - q[1], q[8] - q[2]];
  const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
  const nn = nx * nx + ny * ny + nz * nz;
  if (nn <= 0) return;
  const [wx, wy, wz] = [p[i] - q[0], p[i + 1] - q[1], p[i + 2] - q[2]];
  const s = ((wy * vz - wz * vy) * nx + (wz * vx - wx * vz) * ny + (wx * vy - wy * vx) * nz) / nn;
  const t = ((uy * wz - uz * wy) * nx + (uz * wx - ux * wz) * ny + (ux * wy - uy * wx) * nz) / nn;
  if (s < 0 || t < 0 || s + t > 1) return;
  const h = (wx * nx + wy * ny + wz * nz) / nn;
  if (isOfOther) take(h * h * nn, p[i] - h * nx, p[i + 1] - h * ny, p[i + 2] - h * nz);
  else take(h * h * nn, p[i], p[i + 1], p[i + 2]);
}

// Whether a side from `a` to `b` of one triangle goes through another one (Moller and Trumbore 1997); the place is in PLACE.
function goesThrough(p: Float64Array, a: number, b: number, q: Float64Array): boolean {
  const [dx, dy, dz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
  const [ux, uy, uz] = [q[3] - q[0], q[4] - q[1], q[5] - q[2]];
  const [vx, vy, vz] = [q[6] - q[0], q[7] - q[1], q[8] - q[2]];
  const [hx, hy, hz] = [dy * vz - dz * vy, dz * vx - dx * vz, dx * vy - dy * vx];
  const det = ux * hx + uy * hy + uz * hz;
  if (det === 0) return false;
  const [sx, sy, sz] = [p[a] - q[0], p[a + 1] - q[1], p[a + 2] - q[2]];
  const u = (sx * hx + sy * hy + sz * hz) / det;
  if (u < 0 || u > 1) return false;
  const [qx, qy, qz] = [sy * uz - sz * uy, sz * ux - sx * uz, sx * uy - sy * ux];
  const v = (dx * qx + dy * qy + dz * qz) / det;
  if (v < 0 || u + v > 1) return false;
  const s = (vx * qx + vy * qy + vz * qz) / det;
  if (s < 0 || s > 1) return false;
  PLACE[0] = p[a] + s * dx;
  PLACE[1] = p[a + 1] + s * dy;
  PLACE[2] = p[a + 2] + s * dz;
  return true;
}
