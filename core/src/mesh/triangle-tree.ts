import type { Vec3 } from '#core/math';
import type { TriMesh } from './tri-mesh.ts';

// Triangles in a leaf. 4 and 16 were slower by a tenth on 100,000 triangles.
const LEAF = 8;

/**
 * A tree of boxes over the triangles of a mesh, in doubles: the nearest point of the mesh, and the triangles in a box. Nodes are packed:
 *
 *   box[6 n ..]: low x y z, high x y z;  first[n], count[n]: triangles order[first ..] of a leaf;  count 0: children first[n], first[n] + 1
 */
export class TriangleTree {
  readonly mesh: TriMesh;
  private readonly order: Uint32Array;
  private readonly box: Float64Array;
  private readonly first: Uint32Array;
  private readonly count: Uint32Array;
  private nodes = 1;
  private readonly stack = new Uint32Array(128);

  /** Of the last `nearest`: distance (mm), triangle, the point, and where on the triangle it lies: weights of its corners. */
  distance = Infinity;
  triangle = -1;
  readonly point = new Float64Array(3);
  readonly weights = new Float64Array(3);

  constructor(mesh: TriMesh) {
    this.mesh = mesh;
    const { positions: p, triangles: t } = mesh;
    const n = t.length / 3;
    this.order = Uint32Array.from({ length: n }, (_, i) => i);
    const most = Math.max(1, 2 * Math.ceil(n / (LEAF / 2)) + 1);
    this.box = new Float64Array(6 * most);
    this.first = new Uint32Array(most);
    this.count = new Uint32Array(most);
    const middle = new Float64Array(3 * n);
    for (let i = 0; i < 3 * n; i += 3) for (let k = 0; k < 3; k++) middle[i + k] = p[3 * t[i] + k] + p[3 * t[i + 1] + k] + p[3 * t[i + 2] + k];
    this.build(0, 0, n, middle);
  }

  private build(node: number, from: number, to: number, middle: Float64Array): void {
    if (to - from <= LEAF) {
      this.first[node] = from;
      this.count[node] = to - from;
      this.boundLeaf(node);
      return;
    }
    const half = (from + to) >> 1;
    selectMiddle(this.order, from, to, half, middle, widestAxis(this.order, from, to, middle));
    const child = this.nodes;
    this.nodes += 2;
    this.first[node] = child;
    this.count[node] = 0;
    this.build(child, from, half, middle);
    this.build(child + 1, half, to, middle);
    const { box } = this;
    const one = 6 * child;
    for (let k = 0; k < 3; k++) {
      box[6 * node + k] = Math.min(box[one + k], box[one + 6 + k]);
      box[6 * node + 3 + k] = Math.max(box[one + 3 + k], box[one + 9 + k]);
    }
  }

  private boundLeaf(node: number): void {
    const { box, order, first, count } = this;
    const { positions: p, triangles: t } = this.mesh;
    for (let k = 0; k < 3; k++) {
      let low = Infinity;
      let high = -Infinity;
      for (let i = first[node]; i < first[node] + count[node]; i++)
        for (let h = 3 * order[i]; h < 3 * order[i] + 3; h++) {
          const v = p[3 * t[h] + k];
          if (v < low) low = v;
          if (v > high) high = v;
        }
      box[6 * node + k] = low;
      box[6 * node + 3 + k] = high;
    }
  }

  private boxDistanceSq(node: number, x: number, y: number, z: number): number {
    const b = 6 * node;
    const { box } = this;
    const dx = x < box[b] ? box[b] - x : x > box[b + 3] ? x - box[b + 3] : 0;
    const dy = y < box[b + 1] ? box[b + 1] - y : y > box[b + 4] ? y - box[b + 4] : 0;
    const dz = z < box[b + 2] ? box[b + 2] - z : z > box[b + 5] ? z - box[b + 5] : 0;
    return dx * dx + dy * dy + dz * dz;
  }

  /** Looks for the nearest point of the mesh that is nearer than `within` mm; the answer is in the fields. False where there is none. */
  nearest(x: number, y: number, z: number, within = Infinity): boolean {
    let best = within * within;
    let found = -1;
    const { stack, first, count, order } = this;
    let top = 0;
    if (this.order.length === 0) return false;
    // Places that are asked for one after the other are near each other: the last answer bounds this one (a third of the time on long thin triangles).
    if (this.triangle >= 0) {
      const d = nearestOnTriangle(this.mesh, this.triangle, x, y, z);
      if (d < best) {
        best = d;
        found = this.triangle;
        this.point.set(PLACE);
        this.weights.set(SHARE);
      }
    }
    stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top];
      if (this.boxDistanceSq(node, x, y, z) >= best) continue;
      if (count[node] > 0) {
        for (let i = first[node]; i < first[node] + count[node]; i++) {
          const d = nearestOnTriangle(this.mesh, order[i], x, y, z);
          if (d < best) {
            best = d;
            found = order[i];
            this.point.set(PLACE);
            this.weights.set(SHARE);
          }
        }
        continue;
      }
      const [a, b] = [first[node], first[node] + 1];
      const [da, db] = [this.boxDistanceSq(a, x, y, z), this.boxDistanceSq(b, x, y, z)];
      // The nearer child is looked at first.
      if (da <= db) {
        stack[top++] = b;
        stack[top++] = a;
      } else {
        stack[top++] = a;
        stack[top++] = b;
      }
    }
    if (found < 0) return false;
    this.triangle = found;
    this.distance = Math.sqrt(best);
    return true;
  }

  /** Whether any point of the mesh is nearer than `within` mm: stops at the first (a sixth of the time of `nearest` in a hull). */
  isNear(x: number, y: number, z: number, within: number): boolean {
    const { stack, first, count, order } = this;
    const limit = within * within;
    let top = 0;
    // Places that are asked for one after the other are often near the same triangle.
    if (this.triangle >= 0 && nearestOnTriangle(this.mesh, this.triangle, x, y, z) < limit) return true;
    if (order.length > 0) stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top];
      if (this.boxDistanceSq(node, x, y, z) >= limit) continue;
      if (count[node] > 0) {
        for (let i = first[node]; i < first[node] + count[node]; i++) {
          if (nearestOnTriangle(this.mesh, order[i], x, y, z) >= limit) continue;
          this.triangle = order[i];
          return true;
        }
        continue;
      }
      const [a, b] = [first[node], first[node] + 1];
      const isFirst = this.boxDistanceSq(a, x, y, z) <= this.boxDistanceSq(b, x, y, z);
      stack[top++] = isFirst ? b : a;
      stack[top++] = isFirst ? a : b;
    }
    return false;
  }

  /** Calls `visit` with each triangle whose box meets the box of another, grown by `by` mm. Gives how many boxes were looked at. */
  inBox(low: Vec3, high: Vec3, by: number, visit: (triangle: number) => void): number {
    const { stack, first, count, order, box } = this;
    let top = 0;
    let looked = 0;
    if (order.length > 0) stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top];
      const b = 6 * node;
      looked++;
      if (box[b] > high[0] + by || box[b + 3] < low[0] - by || box[b + 1] > high[1] + by || box[b + 4] < low[1] - by) continue;
      if (box[b + 2] > high[2] + by || box[b + 5] < low[2] - by) continue;
      if (count[node] > 0) for (let i = first[node]; i < first[node] + count[node]; i++) visit(order[i]);
      else {
        stack[top++] = first[node];
        stack[top++] = first[node] + 1;
      }
    }
    return looked;
  }
}

// Along which the middles of triangles are spread most.
function widestAxis(order: Uint32Array, from: number, to: number, middle: Float64Array): number {
  let axis = 0;
  let widest = -1;
  for (let k = 0; k < 3; k++) {
    let low = Infinity;
    let high = -Infinity;
    for (let i = from; i < to; i++) {
      const m = middle[3 * order[i] + k];
      if (m < low) low = m;
      if (m > high) high = m;
    }
    if (high - low <= widest) continue;
    widest = high - low;
    axis = k;
  }
  return axis;
}

// Quickselect: the triangles with the smaller middles before `half`.
function selectMiddle(order: Uint32Array, from: number, to: number, half: number, middle: Float64Array, axis: number): void {
  let [low, high] = [from, to - 1];
  while (low < high) {
    const pivot = middle[3 * order[(low + high) >> 1] + axis];
    let [i, j] = [low, high];
    while (i <= j) {
      while (middle[3 * order[i] + axis] < pivot) i++;
      while (middle[3 * order[j] + axis] > pivot) j--;
      if (i <= j) {
        const swap = order[i];
        order[i] = order[j];
        order[j] = swap;
        i++;
        j--;
      }
    }
    if (half <= j) high = j;
    else if (half >= i) low = i;
    else return;
  }
}

// What `nearestOnTriangle` found last.
const PLACE = new Float64Array(3);
const SHARE = new Float64Array(3);

// Squared distance of a point from a triangle; the nearest point and its weights are left in PLACE and SHARE. Whether the point is over the
// triangle is told by cross products: the usual products of scalar products lose a needle of 60 by 0.0001 mm by six micrometres.
function nearestOnTriangle({ positions: p, triangles: t }: TriMesh, f: number, x: number, y: number, z: number): number {
  const a = 3 * t[3 * f];
  const b = 3 * t[3 * f + 1];
  const c = 3 * t[3 * f + 2];
  const ax = p[a];
  const ay = p[a + 1];
  const az = p[a + 2];
  const ux = p[b] - ax;
  const uy = p[b + 1] - ay;
  const uz = p[b + 2] - az;
  const vx = p[c] - ax;
  const vy = p[c + 1] - ay;
  const vz = p[c + 2] - az;
  const wx = x - ax;
  const wy = y - ay;
  const wz = z - az;
  const nx = uy * vz - uz * vy;
  const ny = uz * vx - ux * vz;
  const nz = ux * vy - uy * vx;
  const nn = nx * nx + ny * ny + nz * nz;
  if (nn > 0) {
    const s = ((wy * vz - wz * vy) * nx + (wz * vx - wx * vz) * ny + (wx * vy - wy * vx) * nz) / nn;
    const r = ((uy * wz - uz * wy) * nx + (uz * wx - ux * wz) * ny + (ux * wy - uy * wx) * nz) / nn;
    if (s >= 0 && r >= 0 && s + r <= 1) {
      const h = (nx * wx + ny * wy + nz * wz) / nn;
      PLACE[0] = x - h * nx;
      PLACE[1] = y - h * ny;
      PLACE[2] = z - h * nz;
      SHARE[0] = 1 - s - r;
      SHARE[1] = s;
      SHARE[2] = r;
      return h * h * nn;
    }
  }
  // Over none of it: on one of its sides.
  const s0 = along(wx, wy, wz, ux, uy, uz);
  const s1 = along(wx, wy, wz, vx, vy, vz);
  const s2 = along(wx - ux, wy - uy, wz - uz, vx - ux, vy - uy, vz - uz);
  const d0 = squared(wx - s0 * ux, wy - s0 * uy, wz - s0 * uz);
  const d1 = squared(wx - s1 * vx, wy - s1 * vy, wz - s1 * vz);
  const d2 = squared(wx - ux - s2 * (vx - ux), wy - uy - s2 * (vy - uy), wz - uz - s2 * (vz - uz));
  if (d0 <= d1 && d0 <= d2) {
    place(ax + s0 * ux, ay + s0 * uy, az + s0 * uz, 1 - s0, s0, 0);
    return d0;
  }
  if (d1 <= d2) {
    place(ax + s1 * vx, ay + s1 * vy, az + s1 * vz, 1 - s1, 0, s1);
    return d1;
  }
  place(ax + ux + s2 * (vx - ux), ay + uy + s2 * (vy - uy), az + uz + s2 * (vz - uz), 0, 1 - s2, s2);
  return d2;
}

// Where along a side the nearest point lies, 0 to 1. (No function within another one here: with names kept, each call would name it anew.)
function along(wX: number, wY: number, wZ: number, dx: number, dy: number, dz: number): number {
  const dd = dx * dx + dy * dy + dz * dz;
  return dd > 0 ? Math.min(1, Math.max(0, (wX * dx + wY * dy + wZ * dz) / dd)) : 0;
}

const squared = (x: number, y: number, z: number): number => x * x + y * y + z * z;

function place(x: number, y: number, z: number, w0: number, w1: number, w2: number): void {
  PLACE[0] = x;
  PLACE[1] = y;
  PLACE[2] = z;
  SHARE[0] = w0;
  SHARE[1] = w1;
  SHARE[2] = w2;
}
