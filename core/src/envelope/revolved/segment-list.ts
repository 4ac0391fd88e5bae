import { PackedList } from '../packed-list.ts';

/**
 * A piece of what spins: at height z its largest radius is |a + t b| + loss, t from 0 at z0 to 1 at z1 - the distance
 * of a straight edge from the axis, which is convex in z. Packed 8 numbers a piece:
 *   z0, z1 (z0 <= z1), ax, ay (across the axis at z0), bx, by (change until z1), loss (mm, added outside),
 *   end (mm, how far beyond z0 and z1 it can reach)
 */
export const SEGMENT_SIZE = 8;

/** Segments as they come, packed. */
export class SegmentList extends PackedList {
  /** `count`: how many there is room for at first. */
  constructor(count: number) {
    super(SEGMENT_SIZE * count);
  }

  push(z0: number, z1: number, ax: number, ay: number, bx: number, by: number, loss: number, end: number): void {
    const i = this.makeRoom(SEGMENT_SIZE);
    const { data } = this;
    data[i] = z0;
    data[i + 1] = z1;
    data[i + 2] = ax;
    data[i + 3] = ay;
    data[i + 4] = bx;
    data[i + 5] = by;
    data[i + 6] = loss;
    data[i + 7] = end;
  }
}
