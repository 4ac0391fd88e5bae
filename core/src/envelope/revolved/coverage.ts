// Levels of halved buckets: 4096 of them at the finest.
const LEVELS = 12;
const FINEST = 1 << LEVELS;

/**
 * The greatest value that is surely reached over each stretch of z, from many values that hold over stretches of their own: a pyramid of buckets, in
 * which a long stretch counts in few large buckets and a short one in few small ones.
 */
export class Coverage {
  private readonly low: number;
  private readonly high: number;
  private readonly fineness: number;
  private readonly levels: Float64Array[];

  /** `fineness`: buckets that a stretch is told by; more are tighter, fewer are faster. */
  constructor(low: number, high: number, fineness: number) {
    this.low = low;
    this.high = high;
    this.fineness = fineness;
    this.levels = Array.from({ length: LEVELS + 1 }, (_, l) => new Float64Array(1 << l).fill(-Infinity));
  }

  private levelFor(span: number): number {
    const buckets = (this.fineness * (this.high - this.low)) / span;
    // The logarithm to base 2, rounded up.
    return buckets >= FINEST ? LEVELS : buckets <= 1 ? 0 : 32 - Math.clz32(Math.ceil(buckets) - 1);
  }

  /** Something holds from z0 to z1; `least` gives the least value of it between two places there. */
  add(z0: number, z1: number, least: (from: number, to: number) => number): void {
    const buckets = this.levels[this.levelFor(z1 - z0)];
    const width = (this.high - this.low) / buckets.length;
    const last = Math.min(buckets.length - 1, Math.floor((z1 - this.low) / width + 1e-9) - 1);
    for (let b = Math.max(0, Math.ceil((z0 - this.low) / width - 1e-9)); b <= last; b++) {
      const value = least(Math.max(z0, this.low + b * width), Math.min(z1, this.low + (b + 1) * width));
      if (value > buckets[b]) buckets[b] = value;
    }
  }

  /** As `add`, of the distance from the axis of a straight edge that runs from (ax, ay) at z0 to (bx, by) further at z1. */
  addEdge(z0: number, z1: number, ax: number, ay: number, bx: number, by: number): void {
    const buckets = this.levels[this.levelFor(z1 - z0)];
    const width = (this.high - this.low) / buckets.length;
    const first = Math.max(0, Math.ceil((z0 - this.low) / width - 1e-9));
    const last = Math.min(buckets.length - 1, Math.floor((z1 - this.low) / width + 1e-9) - 1);
    if (first > last) return;
    const bb = bx * bx + by * by;
    const nearest = bb > 0 ? -(ax * bx + ay * by) / bb : 0;
    const perShare = 1 / (z1 - z0);
    for (let b = first; b <= last; b++) {
      const from = Math.max(0, (this.low + b * width - z0) * perShare);
      const to = Math.min(1, (this.low + (b + 1) * width - z0) * perShare);
      const t = nearest < from ? from : nearest > to ? to : nearest;
      const x = ax + t * bx;
      const y = ay + t * by;
      const value = Math.sqrt(x * x + y * y);
      if (value > buckets[b]) buckets[b] = value;
    }
  }

  /** To be called once after the last `add`. */
  finish(): void {
    for (let l = 1; l <= LEVELS; l++) {
      const [coarse, fine] = [this.levels[l - 1], this.levels[l]];
      for (let b = 0; b < fine.length; b++) fine[b] = Math.max(fine[b], coarse[b >> 1]);
    }
    for (let l = LEVELS; l > 0; l--) {
      const [coarse, fine] = [this.levels[l - 1], this.levels[l]];
      for (let b = 0; b < coarse.length; b++) coarse[b] = Math.min(fine[2 * b], fine[2 * b + 1]);
    }
  }

  /** Whether what reaches up to `greatest` between two places is passed over everywhere from z0 to z1; nothing is beyond the ends. */
  hides(z0: number, z1: number, greatest: (from: number, to: number) => number): boolean {
    if (z0 < this.low || z1 > this.high) return false;
    const buckets = this.levels[this.levelFor(Math.max(z1 - z0, (this.high - this.low) * 1e-9))];
    const width = (this.high - this.low) / buckets.length;
    const last = Math.min(buckets.length - 1, Math.floor((z1 - this.low) / width));
    for (let b = Math.max(0, Math.min(buckets.length - 1, Math.floor((z0 - this.low) / width))); b <= last; b++)
      if (greatest(this.low + b * width, this.low + (b + 1) * width) >= buckets[b]) return false;
    return true;
  }

  /** Whether what reaches up to `greatest` somewhere is passed over everywhere from z0 to z1. */
  hidesAll(z0: number, z1: number, greatest: number): boolean {
    if (z0 < this.low || z1 > this.high) return false;
    const buckets = this.levels[this.levelFor(Math.max(z1 - z0, (this.high - this.low) * 1e-9))];
    const width = (this.high - this.low) / buckets.length;
    const last = Math.min(buckets.length - 1, Math.floor((z1 - this.low) / width));
    for (let b = Math.min(buckets.length - 1, Math.floor((z0 - this.low) / width)); b <= last; b++) if (greatest >= buckets[b]) return false;
    return true;
  }
}
