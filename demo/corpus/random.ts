/** Seeded chance (mulberry32): the same seed gives the same model. */
export class Random {
  private state: number;
  constructor(seed: number) {
    this.state = (seed * 0x9e3779b1) >>> 0;
    for (let i = 0; i < 4; i++) this.next();
  }
  /** 0 to 1. */
  next(): number {
    this.state = (this.state + 0x6d2b79f5) >>> 0;
    let t = this.state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  }
  between(low: number, high: number): number {
    return low + (high - low) * this.next();
  }
  whole(low: number, high: number): number {
    return Math.floor(this.between(low, high + 1 - 1e-9));
  }
  pick<T>(list: readonly T[]): T {
    return list[Math.min(list.length - 1, Math.floor(this.next() * list.length))];
  }
  chance(share: number): boolean {
    return this.next() < share;
  }
  /** A round number of a hundredth. */
  round(low: number, high: number): number {
    return Math.round(this.between(low, high) * 100) / 100;
  }
}
