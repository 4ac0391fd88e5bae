// Distances from edges in the half section: four numbers each, packed, with boxes around some of them together.

// Edges in a box.
const TOGETHER = 8;

/** Boxes around some edges each, in their order: [z0, z1, r0, r1] packed. */
export function boxesOf(edges: Float64Array): Float64Array {
  const boxes = new Float64Array(4 * Math.ceil(edges.length / (4 * TOGETHER)));
  for (let b = 0; b < boxes.length; b += 4) {
    let [z0, z1, r0, r1] = [Infinity, -Infinity, Infinity, -Infinity];
    for (let k = b * TOGETHER; k < Math.min(edges.length, (b + 4) * TOGETHER); k += 2) {
      z0 = Math.min(z0, edges[k]);
      z1 = Math.max(z1, edges[k]);
      r0 = Math.min(r0, edges[k + 1]);
      r1 = Math.max(r1, edges[k + 1]);
    }
    boxes[b] = z0;
    boxes[b + 1] = z1;
    boxes[b + 2] = r0;
    boxes[b + 3] = r1;
  }
  return boxes;
}

/** The least distance of a rectangle from edges, where it is below `most`: between their ends and the rectangle, and its corners and them; 0 where they cross. `boxes`: of the edges. */
export function rectToEdges(edges: Float64Array, boxes: Float64Array, z0: number, z1: number, r0: number, r1: number, most: number): number {
  let best = most * most;
  for (let b = 0; b < boxes.length; b += 4) {
    if (boxToRect(boxes, b, z0, z1, r0, r1) >= best) continue;
    best = fewToRect(edges, b * TOGETHER, Math.min(edges.length, (b + 4) * TOGETHER), z0, z1, r0, r1, best);
    if (best === 0) return 0;
  }
  return Math.sqrt(best);
}

// Squared, between a box and a rectangle.
function boxToRect(boxes: Float64Array, b: number, z0: number, z1: number, r0: number, r1: number): number {
  const bz = boxes[b] > z1 ? boxes[b] - z1 : boxes[b + 1] < z0 ? z0 - boxes[b + 1] : 0;
  const br = boxes[b + 2] > r1 ? boxes[b + 2] - r1 : boxes[b + 3] < r0 ? r0 - boxes[b + 3] : 0;
  return bz * bz + br * br;
}

// Squared, between the box of an edge and a rectangle.
function edgeBoxToRect(ax: number, ay: number, bx: number, by: number, z0: number, z1: number, r0: number, r1: number): number {
  const gx = ax < bx ? (ax > z1 ? ax - z1 : bx < z0 ? z0 - bx : 0) : bx > z1 ? bx - z1 : ax < z0 ? z0 - ax : 0;
  const gy = ay < by ? (ay > r1 ? ay - r1 : by < r0 ? r0 - by : 0) : by > r1 ? by - r1 : ay < r0 ? r0 - ay : 0;
  return gx * gx + gy * gy;
}

// The same of some of them, squared.
function fewToRect(edges: Float64Array, from: number, to: number, z0: number, z1: number, r0: number, r1: number, most: number): number {
  let best = most;
  for (let k = from; k < to; k += 4) {
    const ax = edges[k];
    const ay = edges[k + 1];
    const bx = edges[k + 2];
    const by = edges[k + 3];
    if (edgeBoxToRect(ax, ay, bx, by, z0, z1, r0, r1) >= best) continue;
    const d = segmentToRect(ax, ay, bx, by, z0, z1, r0, r1);
    if (d < best) best = d;
    if (best === 0) return 0;
  }
  return best;
}

function segmentToRect(ax: number, ay: number, bx: number, by: number, z0: number, z1: number, r0: number, r1: number): number {
  const dx = bx - ax;
  const dy = by - ay;
  if (crosses(ax, ay, dx, dy, z0, z1, r0, r1)) return 0;
  const l2 = dx * dx + dy * dy || 1;
  return Math.min(
    pointToRect(ax, ay, z0, z1, r0, r1),
    pointToRect(bx, by, z0, z1, r0, r1),
    pointToSegment(z0, r0, ax, ay, dx, dy, l2),
    pointToSegment(z1, r0, ax, ay, dx, dy, l2),
    pointToSegment(z0, r1, ax, ay, dx, dy, l2),
    pointToSegment(z1, r1, ax, ay, dx, dy, l2),
  );
}

// Clipped by the rectangle (Liang and Barsky): whether anything of a segment is left.
function crosses(ax: number, ay: number, dx: number, dy: number, z0: number, z1: number, r0: number, r1: number): boolean {
  let t0 = 0;
  let t1 = 1;
  if (dx === 0) {
    if (ax < z0 || ax > z1) return false;
  } else {
    const a = (z0 - ax) / dx;
    const b = (z1 - ax) / dx;
    t0 = Math.max(t0, Math.min(a, b));
    t1 = Math.min(t1, Math.max(a, b));
  }
  if (dy === 0) {
    if (ay < r0 || ay > r1) return false;
  } else {
    const a = (r0 - ay) / dy;
    const b = (r1 - ay) / dy;
    t0 = Math.max(t0, Math.min(a, b));
    t1 = Math.min(t1, Math.max(a, b));
  }
  return t0 <= t1;
}

// Squared.
function pointToRect(x: number, y: number, z0: number, z1: number, r0: number, r1: number): number {
  const gx = x < z0 ? z0 - x : x > z1 ? x - z1 : 0;
  const gy = y < r0 ? r0 - y : y > r1 ? y - r1 : 0;
  return gx * gx + gy * gy;
}

/** The squared distance of a place from a segment: its start, its way and the square of that. */
export function pointToSegment(x: number, y: number, ax: number, ay: number, dx: number, dy: number, l2: number): number {
  const t = Math.max(0, Math.min(1, ((x - ax) * dx + (y - ay) * dy) / l2));
  const ex = ax + t * dx - x;
  const ey = ay + t * dy - y;
  return ex * ex + ey * ey;
}

/**
 * The least distance of a convex polygon from edges, where it is below `most`; 0 where they meet. `corners`: [z, r] packed, counter-clockwise, the first `count` of them;
 * of one or two the place or the stretch. `boxes`: of the edges.
 */
export function convexToEdges(edges: Float64Array, boxes: Float64Array, corners: Float64Array, count: number, most: number): number {
  let [z0, z1, r0, r1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < 2 * count; i += 2) {
    z0 = Math.min(z0, corners[i]);
    z1 = Math.max(z1, corners[i]);
    r0 = Math.min(r0, corners[i + 1]);
    r1 = Math.max(r1, corners[i + 1]);
  }
  let best = most * most;
  for (let b = 0; b < boxes.length; b += 4) {
    if (boxToRect(boxes, b, z0, z1, r0, r1) >= best) continue;
    for (let k = b * TOGETHER; k < Math.min(edges.length, (b + 4) * TOGETHER); k += 4) {
      const ax = edges[k];
      const ay = edges[k + 1];
      const bx = edges[k + 2];
      const by = edges[k + 3];
      if (edgeBoxToRect(ax, ay, bx, by, z0, z1, r0, r1) >= best) continue;
      best = Math.min(best, convexToEdge(corners, count, ax, ay, bx, by, best, z0, z1, r0, r1));
      if (best === 0) return 0;
    }
  }
  return Math.sqrt(best);
}

// Squared. All corners on one side of an edge's line: either one of them is nearest to it, or one of its ends to a side.
function convexToEdge(
  corners: Float64Array,
  count: number,
  ax: number,
  ay: number,
  bx: number,
  by: number,
  most: number,
  z0: number,
  z1: number,
  r0: number,
  r1: number,
): number {
  const ux = bx - ax;
  const uy = by - ay;
  const u2 = ux * ux + uy * uy || 1;
  let best = most;
  let left = 0;
  for (let i = 0; i < 2 * count; i += 2) {
    const x = corners[i] - ax;
    const y = corners[i + 1] - ay;
    if (ux * y - uy * x >= 0) left++;
    const t = Math.max(0, Math.min(1, (x * ux + y * uy) / u2));
    const ex = t * ux - x;
    const ey = t * uy - y;
    const d = ex * ex + ey * ey;
    if (d < best) best = d;
  }
  if (left > 0 && left < count && crossesConvex(corners, count, ax, ay, bx, by)) return 0;
  for (let end = 0; end < 2; end++) {
    const x = end === 0 ? ax : bx;
    const y = end === 0 ? ay : by;
    if (pointToRect(x, y, z0, z1, r0, r1) >= best) continue;
    for (let i = 0, j = 2 * (count - 1); i < 2 * count; j = i, i += 2) {
      const vx = corners[i] - corners[j];
      const vy = corners[i + 1] - corners[j + 1];
      const d = pointToSegment(x, y, corners[j], corners[j + 1], vx, vy, vx * vx + vy * vy || 1);
      if (d < best) best = d;
    }
  }
  return best;
}

// Whether an edge goes through a convex polygon, or begins in it.
function crossesConvex(corners: Float64Array, count: number, ax: number, ay: number, bx: number, by: number): boolean {
  if (count > 2 && isInConvex(corners, count, ax, ay)) return true;
  for (let i = 0, j = 2 * (count - 1); i < 2 * count; j = i, i += 2)
    if (segmentsCross(ax, ay, bx, by, corners[j], corners[j + 1], corners[i], corners[i + 1])) return true;
  return false;
}

function isInConvex(corners: Float64Array, count: number, x: number, y: number): boolean {
  for (let i = 0, j = 2 * (count - 1); i < 2 * count; j = i, i += 2)
    if ((corners[i] - corners[j]) * (y - corners[j + 1]) - (corners[i + 1] - corners[j + 1]) * (x - corners[j]) < 0) return false;
  return true;
}

function segmentsCross(ax: number, ay: number, bx: number, by: number, cx: number, cy: number, dx: number, dy: number): boolean {
  const ux = bx - ax;
  const uy = by - ay;
  const vx = dx - cx;
  const vy = dy - cy;
  const sideC = ux * (cy - ay) - uy * (cx - ax);
  const sideD = ux * (dy - ay) - uy * (dx - ax);
  if (sideC > 0 === sideD > 0) return false;
  const sideA = vx * (ay - cy) - vy * (ax - cx);
  const sideB = vx * (by - cy) - vy * (bx - cx);
  return sideA > 0 !== sideB > 0;
}
