// mm along the axis, and mm2 of what squared radii are made of: a nanometre at a radius of 50 mm.
const ALIKE_HEIGHT = 1e-9;
const ALIKE_SQUARE = 1e-7;
// Values that are hashed together, in those units: of twins on two sides of a border between such parts both are kept.
const COARSE = 1024;
// What is kept of an edge: z0, z1, |a|2, a b, |b|2 - what it sweeps depends on nothing else - and its loss and end.
const SIZE = 7;

/**
 * Tells swept edges (see `SegmentList`) that sweep the same as one before them: what is turned has each edge once for every flat around it, and each
 * edge belongs to two triangles. Measured on a turned mesh of a million triangles: the envelope takes 1 second instead of 2.6.
 */
export class TwinFilter {
  private table = new Int32Array(1024).fill(-1);
  private shapes = new Float64Array(SIZE * 512);
  private count = 0;

  /** Whether there was none like it before; then it is remembered. */
  isNew(z0: number, z1: number, ax: number, ay: number, bx: number, by: number, loss: number, end: number): boolean {
    const aa = ax * ax + ay * ay;
    const ab = ax * bx + ay * by;
    const bb = bx * bx + by * by;
    let { shapes, table } = this;
    let slot = hash(z0, z1, aa) & (table.length - 1);
    for (let k = table[slot]; k >= 0; k = table[slot]) {
      if (
        Math.abs(shapes[k] - z0) <= ALIKE_HEIGHT &&
        Math.abs(shapes[k + 1] - z1) <= ALIKE_HEIGHT &&
        Math.abs(shapes[k + 2] - aa) <= ALIKE_SQUARE &&
        Math.abs(shapes[k + 3] - ab) <= ALIKE_SQUARE &&
        Math.abs(shapes[k + 4] - bb) <= ALIKE_SQUARE &&
        shapes[k + 5] === loss &&
        shapes[k + 6] === end
      )
        return false;
      slot = (slot + 1) & (table.length - 1);
    }
    const k = SIZE * this.count++;
    if (2 * this.count > table.length) {
      this.grow();
      ({ shapes, table } = this);
      slot = freeSlot(table, hash(z0, z1, aa));
    }
    table[slot] = k;
    shapes[k] = z0;
    shapes[k + 1] = z1;
    shapes[k + 2] = aa;
    shapes[k + 3] = ab;
    shapes[k + 4] = bb;
    shapes[k + 5] = loss;
    shapes[k + 6] = end;
    return true;
  }

  private grow(): void {
    const shapes = new Float64Array(2 * this.shapes.length);
    shapes.set(this.shapes);
    const table = new Int32Array(2 * this.table.length).fill(-1);
    for (const k of this.table) if (k >= 0) table[freeSlot(table, hash(shapes[k], shapes[k + 1], shapes[k + 2]))] = k;
    this.shapes = shapes;
    this.table = table;
  }
}

function freeSlot(table: Int32Array, from: number): number {
  let slot = from & (table.length - 1);
  while (table[slot] >= 0) slot = (slot + 1) & (table.length - 1);
  return slot;
}

// Of whole numbers near three values.
function hash(z0: number, z1: number, aa: number): number {
  const x = Math.round(z0 * (1 / (COARSE * ALIKE_HEIGHT))) | 0;
  const y = Math.round(z1 * (1 / (COARSE * ALIKE_HEIGHT))) | 0;
  const z = Math.round(aa * (1 / (COARSE * ALIKE_SQUARE))) | 0;
  const h = Math.imul(x, 73856093) ^ Math.imul(y, 19349663) ^ Math.imul(z, 83492791);
  return h ^ (h >>> 15) ^ (h >>> 7);
}
