import { PLANE_SIZE, planeOfTriangle, type TriMesh } from '#core/mesh';

// mm. A tenth of what counts as enclosed.
const FLAT = 1e-7;

/** Whether some triangles lie in one plane: what is called a plane of a mesh file is whatever its triangles are. */
export function isFlat({ positions: p, triangles: t }: TriMesh, first: number, last: number): boolean {
  const plane = new Float64Array(PLANE_SIZE);
  const largest = new Float64Array(PLANE_SIZE);
  for (let f = first; f < last; f++) {
    planeOfTriangle(p, t, f, plane);
    if (plane[4] > largest[4]) largest.set(plane);
  }
  const [nx, ny, nz, offset] = largest;
  for (let i = 3 * first; i < 3 * last; i++) {
    const v = 3 * t[i];
    if (Math.abs(nx * p[v] + ny * p[v + 1] + nz * p[v + 2] - offset) > FLAT) return false;
  }
  return true;
}

/** The edges of one face's triangles, each once. */
export class FaceEdges {
  // Chains of edges by their lower corner: head by corner, next by edge; -1 ends a chain.
  private readonly head: Int32Array;
  private readonly next: number[] = [];
  private readonly low: number[] = [];
  private readonly high: number[] = [];
  private readonly uses: number[] = [];
  private readonly counts: boolean[] = [];

  constructor(corners: number) {
    this.head = new Int32Array(corners).fill(-1);
  }

  /** One side of a triangle; an edge of two triangles counts where it does for one of them. */
  add(a: number, b: number, counts: boolean): void {
    const [low, high] = a < b ? [a, b] : [b, a];
    let e = this.head[low];
    while (e >= 0 && this.high[e] !== high) e = this.next[e];
    if (e >= 0) {
      this.uses[e]++;
      if (counts) this.counts[e] = true;
      return;
    }
    this.next.push(this.head[low]);
    this.head[low] = this.low.push(low) - 1;
    this.high.push(high);
    this.uses.push(1);
    this.counts.push(counts);
  }

  /** Gives the edges that count, of a flat face those on its border, and forgets them. */
  take(isFlat: () => boolean, give: (a: number, b: number) => void): void {
    const onlyBorder = this.low.length > 0 && isFlat();
    for (let e = 0; e < this.low.length; e++) {
      this.head[this.low[e]] = -1;
      if (this.counts[e] && (!onlyBorder || this.uses[e] === 1)) give(this.low[e], this.high[e]);
    }
    for (const list of [this.next, this.low, this.high, this.uses, this.counts]) list.length = 0;
  }
}
