// Numbers of an edge: its corners, and when it was looked at.
const EDGE = 3;

/**
 * Edges that may be collapsed by their cost, the cheapest first; packed, because hundreds of thousands come and go. What `pop` gives is the place in
 * `edges` (EDGE numbers each) and `places` (three each) where the edge's own numbers are, until the next push.
 */
export class CollapseHeap {
  edges = new Int32Array(EDGE * 1024);
  places = new Float64Array(3 * 1024);
  /** The heap: costs and slots, from the cheapest down, four below each. */
  private cost = new Float64Array(1024);
  private slot = new Int32Array(1024);
  private free = new Int32Array(1024);
  private freeCount = 0;
  private used = 0;
  private length = 0;

  push(cost: number, a: number, b: number, time: number, place: Float64Array): void {
    if (this.freeCount === 0 && this.used === this.cost.length) this.grow();
    const slot = this.freeCount > 0 ? this.free[--this.freeCount] : this.used++;
    const e = EDGE * slot;
    const { edges, places } = this;
    edges[e] = a;
    edges[e + 1] = b;
    edges[e + 2] = time;
    places[3 * slot] = place[0];
    places[3 * slot + 1] = place[1];
    places[3 * slot + 2] = place[2];
    const { cost: costs, slot: slots } = this;
    let i = this.length++;
    while (i > 0) {
      const up = (i - 1) >> 2;
      if (costs[up] <= cost) break;
      costs[i] = costs[up];
      slots[i] = slots[up];
      i = up;
    }
    costs[i] = cost;
    slots[i] = slot;
  }

  /** The place of the cheapest edge, which is taken out; -1 where there is none. */
  pop(): number {
    if (this.length === 0) return -1;
    const { cost: costs, slot: slots } = this;
    const top = slots[0];
    this.free[this.freeCount++] = top;
    const length = --this.length;
    const value = costs[length];
    const last = slots[length];
    let i = 0;
    for (;;) {
      const first = 4 * i + 1;
      if (first >= length) break;
      const end = first + 4 < length ? first + 4 : length;
      let down = first;
      for (let k = first + 1; k < end; k++) if (costs[k] < costs[down]) down = k;
      if (costs[down] >= value) break;
      costs[i] = costs[down];
      slots[i] = slots[down];
      i = down;
    }
    costs[i] = value;
    slots[i] = last;
    return top;
  }

  private grow(): void {
    const count = 2 * this.cost.length;
    const [edges, places, cost] = [new Int32Array(EDGE * count), new Float64Array(3 * count), new Float64Array(count)];
    const [free, slots] = [new Int32Array(count), new Int32Array(count)];
    edges.set(this.edges);
    places.set(this.places);
    cost.set(this.cost);
    free.set(this.free);
    slots.set(this.slot);
    [this.edges, this.places, this.cost, this.free, this.slot] = [edges, places, cost, free, slots];
  }
}
