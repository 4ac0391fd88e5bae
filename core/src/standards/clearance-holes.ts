/** Clearance holes for metric bolts, fine series (ISO 273): thread and hole, mm. */
export const CLEARANCE_HOLES: readonly (readonly [thread: number, hole: number])[] = [
  [3, 3.2],
  [4, 4.3],
  [5, 5.3],
  [6, 6.4],
  [8, 8.4],
  [10, 10.5],
  [12, 13],
  [14, 15],
  [16, 17],
  [20, 21],
  [24, 25],
  [30, 31],
  [36, 37],
];

// mm. Holes of models are as exact as they are drawn.
const AS_DRAWN = 0.01;

/** The widest metric thread that a hole lets through; undefined for one that lets none through. */
export const threadThrough = (hole: number): number | undefined => CLEARANCE_HOLES.findLast(([, least]) => least <= hole + AS_DRAWN)?.[0];
