/** An edge that may be collapsed, as it was when it was looked at. */
export interface Edge {
  readonly cost: number;
  readonly a: number;
  readonly b: number;
  readonly stampA: number;
  readonly stampB: number;
  readonly touchA: number;
  readonly touchB: number;
  readonly place: Float64Array;
}

/** Edges by their cost, the cheapest first. */
export class Heap {
  private readonly items: Edge[] = [];

  push(edge: Edge): void {
    const { items } = this;
    let i = items.push(edge) - 1;
    while (i > 0) {
      const up = (i - 1) >> 1;
      if (items[up].cost <= edge.cost) break;
      items[i] = items[up];
      i = up;
    }
    items[i] = edge;
  }

  pop(): Edge | undefined {
    const { items } = this;
    const top = items[0];
    const last = items.pop();
    if (!last || items.length === 0) return top;
    let i = 0;
    for (;;) {
      let down = 2 * i + 1;
      if (down >= items.length) break;
      if (down + 1 < items.length && items[down + 1].cost < items[down].cost) down++;
      if (items[down].cost >= last.cost) break;
      items[i] = items[down];
      i = down;
    }
    items[i] = last;
    return top;
  }
}
