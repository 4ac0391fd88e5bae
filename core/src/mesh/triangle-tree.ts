import type { Vec3 } from '#core/math';
import { boundAll, divide } from './divide-triangles.ts';
import type { TriMesh } from './tri-mesh.ts';

// Triangles in a leaf. 4 and 16 were slower by a tenth on 100,000 triangles.
const LEAF = 8;
// Boxes that wait to be looked at, at most: the depth of the tree, twice.
const DEEPEST = 128;

// Numbers of a packed triangle: a corner, the two sides from there, their cross product, and one over the squares of: that product, the two sides, the third.
const PACKED = 16;

const KNOWN = new WeakMap<TriMesh, TriangleTree>();

/**
 * A tree of boxes over the triangles of a mesh, in doubles: the nearest point of the mesh, and the triangles in a box. Nodes are packed:
 *
 *   box[6 n ..]: low x y z, high x y z;  first[n], count[n]: triangles order[first ..] of a leaf;  count 0: children first[n], first[n] + 1
 */
export class TriangleTree {
  readonly mesh: TriMesh;
  readonly order: Uint32Array;
  readonly box: Float64Array;
  readonly first: Uint32Array;
  readonly count: Uint32Array;
  nodes = 1;
  private readonly stack = new Uint32Array(DEEPEST);
  /** Of each box that waits, how far it is, squared. */
  private readonly away = new Float64Array(DEEPEST);
  /** In the order of the leaves; made when a distance is first asked for. */
  private packed: Float64Array | undefined;
  /** Where in `order` each triangle is. */
  private slots: Uint32Array | undefined;
  /** Where in `order` the triangle is that was found last. */
  private last = -1;

  /** Of the last `nearest`: distance (mm), triangle, the point, and where on the triangle it lies: weights of its corners. */
  distance = Infinity;
  triangle = -1;
  readonly point = new Float64Array(3);
  readonly weights = new Float64Array(3);

  /** That of a mesh that is asked again and again, made once; gone when the mesh is. Who asks holds on to no answer: each new question takes its place. */
  static of(mesh: TriMesh): TriangleTree {
    const known = KNOWN.get(mesh) ?? new TriangleTree(mesh);
    KNOWN.set(mesh, known);
    return known;
  }

  constructor(mesh: TriMesh) {
    this.mesh = mesh;
    const { positions: p, triangles: t } = mesh;
    const n = t.length / 3;
    this.order = new Uint32Array(n);
    for (let i = 0; i < n; i++) this.order[i] = i;
    const most = Math.max(1, 2 * n);
    this.box = new Float64Array(6 * most);
    this.first = new Uint32Array(most);
    this.count = new Uint32Array(most);
    const boxes = new Float64Array(6 * n);
    for (let i = 0; i < n; i++)
      for (let k = 0; k < 3; k++) {
        const a = p[3 * t[3 * i] + k];
        const b = p[3 * t[3 * i + 1] + k];
        const c = p[3 * t[3 * i + 2] + k];
        boxes[6 * i + k] = a < b ? (a < c ? a : c) : b < c ? b : c;
        boxes[6 * i + 3 + k] = a > b ? (a > c ? a : c) : b > c ? b : c;
      }
    this.build(0, 0, n, boxes, 0);
  }

  private build(node: number, from: number, to: number, boxes: Float64Array, depth: number): void {
    boundAll(this.order, from, to, boxes, this.box, 6 * node);
    if (to - from <= LEAF) {
      this.first[node] = from;
      this.count[node] = to - from;
      return;
    }
    // Halves of very different size make a deep tree; one that is deep already is divided evenly.
    const half = depth < DEEPEST / 2 ? divide(this.order, from, to, boxes) : (from + to) >> 1;
    const child = this.nodes;
    this.nodes += 2;
    this.first[node] = child;
    this.count[node] = 0;
    this.build(child, from, half, boxes, depth + 1);
    this.build(child + 1, half, to, boxes, depth + 1);
  }

  get isEmpty(): boolean {
    return this.order.length === 0;
  }

  /** Looks for the nearest point of the mesh that is nearer than `within` mm; the answer is in the fields. False where there is none. */
  nearest(x: number, y: number, z: number, within = Infinity): boolean {
    const { order } = this;
    if (order.length === 0) return false;
    const packed = (this.packed ??= packTriangles(this.mesh, order));
    let best = within * within;
    let found = -1;
    // Places that are asked for one after the other are near each other: the last answer bounds this one (a third of the time on long thin triangles).
    if (this.last >= 0) {
      const d = distanceSq(packed, this.last, x, y, z, best);
      if (d < best) {
        best = d;
        found = this.last;
      }
    }
    const { stack, away, first, count, box } = this;
    let top = 0;
    stack[0] = 0;
    away[0] = boxDistanceSq(box, 0, x, y, z);
    top = 1;
    while (top > 0) {
      top--;
      if (away[top] >= best) continue;
      let node = stack[top];
      // Down to a leaf, always into the nearer child; the other one waits.
      while (count[node] === 0) {
        const a = first[node];
        const da = boxDistanceSq(box, 6 * a, x, y, z);
        const db = boxDistanceSq(box, 6 * a + 6, x, y, z);
        const isFirst = da <= db;
        const far = isFirst ? db : da;
        if (far < best) {
          stack[top] = isFirst ? a + 1 : a;
          away[top++] = far;
        }
        if ((isFirst ? da : db) >= best) {
          node = -1;
          break;
        }
        node = isFirst ? a : a + 1;
      }
      if (node < 0) continue;
      const end = first[node] + count[node];
      for (let i = first[node]; i < end; i++) {
        const d = distanceSq(packed, i, x, y, z, best);
        if (d < best) {
          best = d;
          found = i;
        }
      }
    }
    if (found < 0) return false;
    this.last = found;
    this.triangle = order[found];
    this.distance = Math.sqrt(best);
    nearestOnTriangle(packed, found, x, y, z, this.point, this.weights);
    return true;
  }

  /** As if a triangle had been found: the nearest point of it. False where it is not nearer than `within` mm. */
  nearestOf(triangle: number, x: number, y: number, z: number, within: number): boolean {
    const packed = (this.packed ??= packTriangles(this.mesh, this.order));
    const slot = (this.slots ??= slotsOf(this.order))[triangle];
    const d = distanceSq(packed, slot, x, y, z, within * within);
    if (d >= within * within) return false;
    this.last = slot;
    this.triangle = triangle;
    this.distance = Math.sqrt(d);
    nearestOnTriangle(packed, slot, x, y, z, this.point, this.weights);
    return true;
  }

  /** The squared distance of a point from the triangle that was found last. */
  fromLastSq(x: number, y: number, z: number): number {
    return distanceSq(this.packed as Float64Array, this.last, x, y, z, Infinity);
  }

  /** Whether any point of the mesh is nearer than `within` mm: stops at the first (a sixth of the time of `nearest` in a hull). */
  isNear(x: number, y: number, z: number, within: number): boolean {
    const { order } = this;
    if (order.length === 0) return false;
    const packed = (this.packed ??= packTriangles(this.mesh, order));
    const limit = within * within;
    // Places that are asked for one after the other are often near the same triangle.
    if (this.last >= 0 && distanceSq(packed, this.last, x, y, z, limit) < limit) return true;
    const { stack, first, count, box } = this;
    let top = 0;
    if (boxDistanceSq(box, 0, x, y, z) < limit) stack[top++] = 0;
    while (top > 0) {
      const node = stack[--top];
      if (count[node] > 0) {
        const end = first[node] + count[node];
        for (let i = first[node]; i < end; i++) {
          if (distanceSq(packed, i, x, y, z, limit) >= limit) continue;
          this.last = i;
          return true;
        }
        continue;
      }
      const a = first[node];
      const da = boxDistanceSq(box, 6 * a, x, y, z);
      const db = boxDistanceSq(box, 6 * a + 6, x, y, z);
      const isFirst = da <= db;
      if ((isFirst ? db : da) < limit) stack[top++] = isFirst ? a + 1 : a;
      if ((isFirst ? da : db) < limit) stack[top++] = isFirst ? a : a + 1;
    }
    return false;
  }

  /**
   * The least of something over all triangles, as far as it is below `within`: `ofBox` gives what no triangle in a box (six numbers from `at`) can be below, `ofTriangle`
   * the value of one where that is below the best so far. Gives the best, `within` where nothing is below it.
   */
  leastOver(ofBox: (box: Float64Array, at: number) => number, ofTriangle: (triangle: number, within: number) => number, within = Infinity): number {
    const { stack, away, first, count, order, box } = this;
    if (order.length === 0) return within;
    let best = within;
    stack[0] = 0;
    away[0] = ofBox(box, 0);
    let top = 1;
    while (top > 0) {
      top--;
      if (away[top] >= best) continue;
      const node = stack[top];
      if (count[node] > 0) {
        for (let i = first[node]; i < first[node] + count[node]; i++) best = Math.min(best, ofTriangle(order[i], best));
        continue;
      }
      const a = first[node];
      const [da, db] = [ofBox(box, 6 * a), ofBox(box, 6 * a + 6)];
      const nearer = da <= db ? a : a + 1;
      // The nearer one is looked at first.
      stack[top] = nearer === a ? a + 1 : a;
      away[top++] = Math.max(da, db);
      stack[top] = nearer;
      away[top++] = Math.min(da, db);
    }
    return best;
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

// The squared distance of a point from the box that begins at `b`.
function boxDistanceSq(box: Float64Array, b: number, x: number, y: number, z: number): number {
  const dx = x < box[b] ? box[b] - x : x > box[b + 3] ? x - box[b + 3] : 0;
  const dy = y < box[b + 1] ? box[b + 1] - y : y > box[b + 4] ? y - box[b + 4] : 0;
  const dz = z < box[b + 2] ? box[b + 2] - z : z > box[b + 5] ? z - box[b + 5] : 0;
  return dx * dx + dy * dy + dz * dz;
}

// Square of a sine. Needles that are thinner are their sides: the direction across them is rounding.
const NEEDLE = 1e-16;

function slotsOf(order: Uint32Array): Uint32Array {
  const slots = new Uint32Array(order.length);
  for (let i = 0; i < order.length; i++) slots[order[i]] = i;
  return slots;
}

const oneOver = (square: number): number => (square > 0 ? 1 / square : 0);

function packTriangles({ positions: p, triangles: t }: TriMesh, order: Uint32Array): Float64Array {
  const packed = new Float64Array(PACKED * order.length);
  for (let i = 0; i < order.length; i++) {
    const at = PACKED * i;
    const [a, b, c] = [3 * t[3 * order[i]], 3 * t[3 * order[i] + 1], 3 * t[3 * order[i] + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    const [wx, wy, wz] = [vx - ux, vy - uy, vz - uz];
    packed[at] = p[a];
    packed[at + 1] = p[a + 1];
    packed[at + 2] = p[a + 2];
    packed[at + 3] = ux;
    packed[at + 4] = uy;
    packed[at + 5] = uz;
    packed[at + 6] = vx;
    packed[at + 7] = vy;
    packed[at + 8] = vz;
    packed[at + 9] = nx;
    packed[at + 10] = ny;
    packed[at + 11] = nz;
    const nn = nx * nx + ny * ny + nz * nz;
    const uu = ux * ux + uy * uy + uz * uz;
    const vv = vx * vx + vy * vy + vz * vz;
    packed[at + 12] = nn > NEEDLE * uu * vv ? 1 / nn : 0;
    packed[at + 13] = oneOver(uu);
    packed[at + 14] = oneOver(vv);
    packed[at + 15] = oneOver(wx * wx + wy * wy + wz * wz);
  }
  return packed;
}

// Squared distance of a point from a packed triangle, or some number that is not below `best` where it is not nearer than that. Whether the point is over
// the triangle is told by cross products: the usual products of scalar products lose a needle of 60 by 0.0001 mm by six micrometres.
function distanceSq(q: Float64Array, i: number, x: number, y: number, z: number, best: number): number {
  const at = PACKED * i;
  const wx = x - q[at];
  const wy = y - q[at + 1];
  const wz = z - q[at + 2];
  const nx = q[at + 9];
  const ny = q[at + 10];
  const nz = q[at + 11];
  const inn = q[at + 12];
  const h = wx * nx + wy * ny + wz * nz;
  const over = h * h * inn;
  // No nearer than its plane.
  if (over >= best) return over;
  const ux = q[at + 3];
  const uy = q[at + 4];
  const uz = q[at + 5];
  const vx = q[at + 6];
  const vy = q[at + 7];
  const vz = q[at + 8];
  const s = ((wy * vz - wz * vy) * nx + (wz * vx - wx * vz) * ny + (wx * vy - wy * vx) * nz) * inn;
  const r = ((uy * wz - uz * wy) * nx + (uz * wx - ux * wz) * ny + (ux * wy - uy * wx) * nz) * inn;
  const hasArea = inn > 0;
  if (hasArea && s >= 0 && r >= 0 && s + r <= 1) return over;
  // Over none of it: on one of the sides that it is beyond.
  let least = Infinity;
  if (r < 0 || !hasArea) least = fromSideSq(wx, wy, wz, ux, uy, uz, q[at + 13]);
  if (s < 0 || !hasArea) {
    const d = fromSideSq(wx, wy, wz, vx, vy, vz, q[at + 14]);
    if (d < least) least = d;
  }
  if (s + r > 1 || !hasArea) {
    const d = fromSideSq(wx - ux, wy - uy, wz - uz, vx - ux, vy - uy, vz - uz, q[at + 15]);
    if (d < least) least = d;
  }
  return least;
}

// The squared distance from a side: of a way from its start, with its direction and one over that one's square.
function fromSideSq(wx: number, wy: number, wz: number, dx: number, dy: number, dz: number, over: number): number {
  const share = along(wx, wy, wz, dx, dy, dz, over);
  const x = wx - share * dx;
  const y = wy - share * dy;
  const z = wz - share * dz;
  return x * x + y * y + z * z;
}

// Where along a side the nearest point lies, 0 to 1. (No function within another one here: with names kept, each call would name it anew.)
function along(wx: number, wy: number, wz: number, dx: number, dy: number, dz: number, over: number): number {
  const share = (wx * dx + wy * dy + wz * dz) * over;
  return share > 0 ? (share < 1 ? share : 1) : 0;
}

// The nearest point of a packed triangle, and its weights.
function nearestOnTriangle(q: Float64Array, i: number, x: number, y: number, z: number, point: Float64Array, weights: Float64Array): void {
  const at = PACKED * i;
  const ax = q[at];
  const ay = q[at + 1];
  const az = q[at + 2];
  const ux = q[at + 3];
  const uy = q[at + 4];
  const uz = q[at + 5];
  const vx = q[at + 6];
  const vy = q[at + 7];
  const vz = q[at + 8];
  const nx = q[at + 9];
  const ny = q[at + 10];
  const nz = q[at + 11];
  const inn = q[at + 12];
  const iuu = q[at + 13];
  const ivv = q[at + 14];
  const iww = q[at + 15];
  const wx = x - ax;
  const wy = y - ay;
  const wz = z - az;
  const s = ((wy * vz - wz * vy) * nx + (wz * vx - wx * vz) * ny + (wx * vy - wy * vx) * nz) * inn;
  const r = ((uy * wz - uz * wy) * nx + (uz * wx - ux * wz) * ny + (ux * wy - uy * wx) * nz) * inn;
  if (inn > 0 && s >= 0 && r >= 0 && s + r <= 1) {
    const h = (nx * wx + ny * wy + nz * wz) * inn;
    point[0] = x - h * nx;
    point[1] = y - h * ny;
    point[2] = z - h * nz;
    weights[0] = 1 - s - r;
    weights[1] = s;
    weights[2] = r;
    return;
  }
  const d0 = fromSideSq(wx, wy, wz, ux, uy, uz, iuu);
  const d1 = fromSideSq(wx, wy, wz, vx, vy, vz, ivv);
  const d2 = fromSideSq(wx - ux, wy - uy, wz - uz, vx - ux, vy - uy, vz - uz, iww);
  let [w1, w2] = [0, 0];
  if (d0 <= d1 && d0 <= d2) w1 = along(wx, wy, wz, ux, uy, uz, iuu);
  else if (d1 <= d2) w2 = along(wx, wy, wz, vx, vy, vz, ivv);
  else {
    w2 = along(wx - ux, wy - uy, wz - uz, vx - ux, vy - uy, vz - uz, iww);
    w1 = 1 - w2;
  }
  point[0] = ax + w1 * ux + w2 * vx;
  point[1] = ay + w1 * uy + w2 * vy;
  point[2] = az + w1 * uz + w2 * vz;
  weights[0] = 1 - w1 - w2;
  weights[1] = w1;
  weights[2] = w2;
}
