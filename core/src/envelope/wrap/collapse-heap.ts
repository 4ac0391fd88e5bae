// Numbers of an edge: its corners, and when it was looked at.
const EDGE = 3;

/**
 * Edges that may be collapsed by their cost, the cheapest first; packed, because hundreds of thousands come and go. What `pop` gives is the place in
 * `edges` (EDGE numbers each) and `places` (three each) where the edge's own numbers are, until the next push.
 */
export class CollapseHeap {
  edges = new Int32Array(EDGE * 1024);
  places = new Float64Array(3 * 1024);
  private cost = new Float64Array(1024);
  private free = new Int32Array(1024);
  private order = new Int32Array(1024);
  private freeCount = 0;
  private used = 0;
  private length = 0;

  push(cost: number, a: number, b: number, time: number, place: Float64Array): void {
    if (this.freeCount === 0 && this.used === this.cost.length) this.grow();
    const slot = this.freeCount > 0 ? this.free[--this.freeCount] : this.used++;
    const e = EDGE * slot;
    const { edges, places, order } = this;
    edges[e] = a;
    edges[e + 1] = b;
    edges[e + 2] = time;
    places[3 * slot] = place[0];
    places[3 * slot + 1] = place[1];
    places[3 * slot + 2] = place[2];
    const costs = this.cost;
    costs[slot] = cost;
    let i = this.length++;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (costs[order[up]] <= cost) break;
      order[i] = order[up];
      i = up;
    }
    order[i] = slot;
  }

  /** The place of the cheapest edge, which is taken out; -1 where there is none. */
  pop(): number {
    if (this.length === 0) return -1;
    const { order, cost } = this;
    const top = order[0];
    this.free[this.freeCount++] = top;
    const last = order[--this.length];
    const value = cost[last];
    let i = 0;
    for (;;) {
      let down = 2 * i + 1;
      if (down >= this.length) break;
      if (down + 1 < this.length && cost[order[down + 1]] < cost[order[down]]) down++;
      if (cost[order[down]] >= value) break;
      order[i] = order[down];
      i = down;
    }
    order[i] = last;
    return top;
  }

  private grow(): void {
    const count = 2 * this.cost.length;
    const [edges, places, cost] = [new Int32Array(EDGE * count), new Float64Array(3 * count), new Float64Array(count)];
    const [free, order] = [new Int32Array(count), new Int32Array(count)];
    edges.set(this.edges);
    places.set(this.places);
    cost.set(this.cost);
    free.set(this.free);
    order.set(this.order);
    [this.edges, this.places, this.cost, this.free, this.order] = [edges, places, cost, free, order];
  }
}
