import { type HalfProfile, lengthOfPiece, type PathPiece, placeOnPiece } from '#core/outline';

// Bins along the axis, few enough to stay in the fastest memory.
const BINS = 1024;
const ARC_STEPS = 16;
// mm. A piece with both ends this near to the axis is on it.
const ON_AXIS = 1e-9;

/**
 * Up to which distance from the axis a place is surely inside a half profile, and at least `margin` mm deep, by its place along the axis: most places of
 * what spins are told by one look. Bins that a profile's end, a bore or a gap reaches into tell nothing.
 */
export class DeepPlaces {
  private readonly low: number;
  private readonly perWidth: number;
  /** By bin, squared; 0 where nothing is sure. */
  private readonly sureSq = new Float64Array(BINS);

  constructor(profile: HalfProfile, margin: number) {
    const pieces = profile.flat().filter((p) => !(p.from[1] < ON_AXIS && p.to[1] < ON_AXIS));
    const ends = pieces.flatMap((p) => [p.from[0], p.to[0]]);
    this.low = Math.min(...ends);
    const high = Math.max(...ends);
    this.perWidth = BINS / (high - this.low || 1);
    for (let b = 0; b < BINS; b++) {
      const from = this.low + b / this.perWidth - margin;
      const to = this.low + (b + 1) / this.perWidth + margin;
      const near = pieces.filter((p) => reachOf(p, from, to) !== undefined);
      // Where a line parallel to the axis, from the axis outwards, crosses the profile just once, what is below it is inside.
      const isPlain =
        near.length > 0 && [from, to].every((z) => near.filter((p) => Math.min(p.from[0], p.to[0]) <= z && z < Math.max(p.from[0], p.to[0])).length === 1);
      const least = isPlain ? Math.min(...near.map((p) => reachOf(p, from, to) as number)) - margin : 0;
      this.sureSq[b] = least > 0 ? least * least : 0;
    }
  }

  /** By squared distance from the axis. */
  has(z: number, rSq: number): boolean {
    const b = Math.floor((z - this.low) * this.perWidth);
    return b >= 0 && b < BINS && rSq < this.sureSq[b];
  }
}

// The least distance from the axis that a piece surely keeps between two places along it; undefined where it is beside them.
function reachOf(p: PathPiece, from: number, to: number): number | undefined {
  const ends = [p.from[0], p.to[0]];
  let [left, right, least] = [Math.min(...ends), Math.max(...ends), Math.min(p.from[1], p.to[1])];
  if (p.kind === 'arc') {
    // By places along it: between two of them it is out by no more than an eighth of the way squared over its radius.
    const radius = Math.hypot(p.from[0] - p.centre[0], p.from[1] - p.centre[1]);
    const step = lengthOfPiece(p) / ARC_STEPS;
    const out = (step * step) / (8 * radius) + ON_AXIS;
    for (let k = 0; k <= ARC_STEPS; k++) {
      const [z, r] = placeOnPiece(p, k / ARC_STEPS);
      left = Math.min(left, z - out);
      right = Math.max(right, z + out);
      least = Math.min(least, r - out);
    }
  }
  if (right < from || left > to) return undefined;
  if (p.kind === 'arc' || right - left < ON_AXIS) return least;
  const at = (z: number) => p.from[1] + ((p.to[1] - p.from[1]) * (Math.min(right, Math.max(left, z)) - p.from[0])) / (p.to[0] - p.from[0]);
  return Math.min(at(from), at(to));
}
