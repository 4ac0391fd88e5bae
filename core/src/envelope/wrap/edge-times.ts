/** When each edge of a mesh was looked at last: a hash table with open addressing, because hundreds of thousands are asked for. Its numbers are of corners. */
export class EdgeTimes {
  private from = new Int32Array(1024).fill(-1);
  private to = new Int32Array(1024);
  private time = new Int32Array(1024);
  private used = 0;

  /** The time of an edge, -1 where it has none. */
  of(a: number, b: number): number {
    const at = this.slotOf(a < b ? a : b, a < b ? b : a);
    return this.from[at] < 0 ? -1 : this.time[at];
  }

  set(a: number, b: number, time: number): void {
    const low = a < b ? a : b;
    const high = a < b ? b : a;
    let at = this.slotOf(low, high);
    if (this.from[at] < 0) {
      if (2 * this.used >= this.from.length) {
        this.grow();
        at = this.slotOf(low, high);
      }
      this.used++;
      this.from[at] = low;
      this.to[at] = high;
    }
    this.time[at] = time;
  }

  private slotOf(low: number, high: number): number {
    const { from, to } = this;
    const mask = from.length - 1;
    let at = (Math.imul(low, 0x9e3779b1) ^ Math.imul(high, 0x85ebca6b)) >>> 0;
    at = (at ^ (at >>> 15)) & mask;
    while (from[at] >= 0 && (from[at] !== low || to[at] !== high)) at = (at + 1) & mask;
    return at;
  }

  private grow(): void {
    const { from, to, time } = this;
    this.from = new Int32Array(2 * from.length).fill(-1);
    this.to = new Int32Array(2 * from.length);
    this.time = new Int32Array(2 * from.length);
    for (let i = 0; i < from.length; i++) {
      if (from[i] < 0) continue;
      const at = this.slotOf(from[i], to[i]);
      this.from[at] = from[i];
      this.to[at] = to[i];
      this.time[at] = time[i];
    }
  }
}
