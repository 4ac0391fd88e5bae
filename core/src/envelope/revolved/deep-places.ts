import { type HalfProfile, lengthOfPiece, type PathPiece, placeOnPiece } from '#core/outline';
import type { Axis } from '../axis.ts';

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
    const least = new Float64Array(BINS).fill(Infinity);
    // Where a line parallel to the axis, from the axis outwards, crosses the profile just once, what is below it is inside.
    const crossings = [new Uint8Array(BINS), new Uint8Array(BINS)];
    for (const piece of pieces) {
      const [z0, z1] = [Math.min(piece.from[0], piece.to[0]), Math.max(piece.from[0], piece.to[0])];
      const places = placesOf(piece);
      const first = Math.max(0, Math.floor((places.left - margin - this.low) * this.perWidth) - 1);
      const last = Math.min(BINS - 1, Math.ceil((places.right + margin - this.low) * this.perWidth) + 1);
      for (let b = first; b <= last; b++) {
        const from = this.low + b / this.perWidth - margin;
        const to = this.low + (b + 1) / this.perWidth + margin;
        if (places.right < from || places.left > to) continue;
        least[b] = Math.min(least[b], leastBetween(piece, places, from, to));
        if (z0 <= from && from < z1) crossings[0][b]++;
        if (z0 <= to && to < z1) crossings[1][b]++;
      }
    }
    for (let b = 0; b < BINS; b++) {
      const sure = crossings[0][b] === 1 && crossings[1][b] === 1 ? least[b] - margin : 0;
      this.sureSq[b] = sure > 0 ? sure * sure : 0;
    }
  }

  /**
   * Calls `visit` with those of packed points that are not surely deep: place along the axis, mm, and squared distance from it.
   * The arithmetic of `eachAbout`, once more: a call for each of a million points, nearly all of which are deep, took as long as all the rest.
   */
  eachOther({ origin: [ox, oy, oz], direction: [dx, dy, dz] }: Axis, points: Float64Array, visit: (z: number, rSq: number) => void): void {
    const { low, perWidth, sureSq } = this;
    for (let i = 0; i < points.length; i += 3) {
      const x = points[i] - ox;
      const y = points[i + 1] - oy;
      const w = points[i + 2] - oz;
      const z = x * dx + y * dy + w * dz;
      const ax = x - z * dx;
      const ay = y - z * dy;
      const az = w - z * dz;
      const rSq = ax * ax + ay * ay + az * az;
      const b = Math.floor((z - low) * perWidth);
      if (b < 0 || b >= BINS || rSq >= sureSq[b]) visit(z, rSq);
    }
  }
}

interface Places {
  readonly left: number;
  readonly right: number;
  readonly least: number;
}

// From where to where a piece reaches, and the least distance from the axis that it surely keeps.
function placesOf(p: PathPiece): Places {
  const ends = [p.from[0], p.to[0]];
  let [left, right, least] = [Math.min(...ends), Math.max(...ends), Math.min(p.from[1], p.to[1])];
  if (p.kind === 'line') return { left, right, least };
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
  return { left, right, least };
}

// The same between two places along the axis.
function leastBetween(p: PathPiece, { left, right, least }: Places, from: number, to: number): number {
  if (p.kind === 'arc' || right - left < ON_AXIS) return least;
  const at = (z: number) => p.from[1] + ((p.to[1] - p.from[1]) * (Math.min(right, Math.max(left, z)) - p.from[0])) / (p.to[0] - p.from[0]);
  return Math.min(at(from), at(to));
}
