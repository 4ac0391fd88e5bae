// How a tree of boxes over triangles is divided (triangle-tree.ts).

/** Puts the box of triangles' boxes into `into`, from `at` on. */
export function boundAll(order: Uint32Array, from: number, to: number, boxes: Float64Array, into: Float64Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    let low = Infinity;
    let high = -Infinity;
    for (let i = from; i < to; i++) {
      const b = 6 * order[i] + k;
      if (boxes[b] < low) low = boxes[b];
      if (boxes[b + 3] > high) high = boxes[b + 3];
    }
    into[at + k] = low;
    into[at + 3 + k] = high;
  }
}

// Bins along each axis between which a node may be divided.
const BINS = 12;
const BIN_COUNT = new Uint32Array(BINS);
const BIN_BOX = new Float64Array(6 * BINS);
const RIGHT_COST = new Float64Array(BINS);
const SIDE_BOX = new Float64Array(6);

/**
 * Divides triangles in two where the boxes of both halves, times what they hold, have the least surface (the surface area heuristic: MacDonald and Booth,
 * Heuristics for ray tracing using space subdivision, 1990), and gives where the second half begins. It looks along the axis over which their middles are spread
 * most: along all three makes trees that are hardly better, in three times the time. (In the middle, as before, three times as many boxes were looked at.)
 */
export function divide(order: Uint32Array, from: number, to: number, boxes: Float64Array): number {
  let k = 0;
  let low = 0;
  let high = 0;
  for (let axis = 0; axis < 3; axis++) {
    let least = Infinity;
    let most = -Infinity;
    for (let i = from; i < to; i++) {
      const at = 6 * order[i] + axis;
      const m = boxes[at] + boxes[at + 3];
      if (m < least) least = m;
      if (m > most) most = m;
    }
    if (most - least <= high - low) continue;
    k = axis;
    low = least;
    high = most;
  }
  if (!(high > low)) return (from + to) >> 1;
  const scale = BINS / (high - low);
  BIN_COUNT.fill(0);
  for (let b = 0; b < BINS; b++) emptyBox(BIN_BOX, 6 * b);
  for (let i = from; i < to; i++) {
    const at = 6 * order[i];
    const bin = Math.min(BINS - 1, Math.floor((boxes[at + k] + boxes[at + 3 + k] - low) * scale));
    BIN_COUNT[bin]++;
    growBox(BIN_BOX, 6 * bin, boxes, at);
  }
  emptyBox(SIDE_BOX, 0);
  let held = 0;
  for (let b = BINS - 1; b > 0; b--) {
    if (BIN_COUNT[b] > 0) growBox(SIDE_BOX, 0, BIN_BOX, 6 * b);
    held += BIN_COUNT[b];
    RIGHT_COST[b] = held > 0 ? held * surfaceOf(SIDE_BOX) : Infinity;
  }
  emptyBox(SIDE_BOX, 0);
  held = 0;
  let best = Infinity;
  let split = high;
  for (let b = 0; b < BINS - 1; b++) {
    if (BIN_COUNT[b] > 0) growBox(SIDE_BOX, 0, BIN_BOX, 6 * b);
    held += BIN_COUNT[b];
    const cost = held > 0 ? held * surfaceOf(SIDE_BOX) + RIGHT_COST[b + 1] : Infinity;
    if (cost >= best) continue;
    best = cost;
    split = low + (b + 1) / scale;
  }
  let half = from;
  for (let i = from; i < to; i++) {
    const at = 6 * order[i] + k;
    if (boxes[at] + boxes[at + 3] >= split) continue;
    const swap = order[i];
    order[i] = order[half];
    order[half++] = swap;
  }
  // Rounding may put all on one side.
  return half > from && half < to ? half : (from + to) >> 1;
}

function emptyBox(box: Float64Array, at: number): void {
  for (let k = 0; k < 3; k++) {
    box[at + k] = Infinity;
    box[at + 3 + k] = -Infinity;
  }
}

function growBox(box: Float64Array, at: number, by: Float64Array, b: number): void {
  for (let k = 0; k < 3; k++) {
    if (by[b + k] < box[at + k]) box[at + k] = by[b + k];
    if (by[b + 3 + k] > box[at + 3 + k]) box[at + 3 + k] = by[b + 3 + k];
  }
}

function surfaceOf(box: Float64Array): number {
  const x = box[3] - box[0];
  const y = box[4] - box[1];
  const z = box[5] - box[2];
  return x * y + y * z + z * x;
}
