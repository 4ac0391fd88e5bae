/** Numbers as they come, packed; twice as much room is made when it is used up. */
export class PackedList {
  protected data: Float64Array<ArrayBuffer>;
  length = 0;

  constructor(capacity: number) {
    this.data = new Float64Array(Math.max(64, capacity));
  }

  /** Where the next `count` numbers go. */
  protected makeRoom(count: number): number {
    const at = this.length;
    if (at + count > this.data.length) {
      const larger = new Float64Array(2 * this.data.length);
      larger.set(this.data);
      this.data = larger;
    }
    this.length = at + count;
    return at;
  }

  /** What there is, not a copy. */
  packed(): Float64Array {
    return this.data.subarray(0, this.length);
  }
}
