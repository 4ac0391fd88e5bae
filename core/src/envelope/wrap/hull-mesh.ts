import { PLANE_SIZE, planeOfTriangle, type TriMesh } from '#core/mesh';

/** Triangles that a collapse turns: their numbers, the two corners (times 3) that each keeps, and how far it stands out at most, mm. */
export class ChangedTriangles {
  readonly triangle: number[] = [];
  readonly c: number[] = [];
  readonly d: number[] = [];
  readonly outside: number[] = [];
  count = 0;

  clear(): void {
    this.count = 0;
  }

  add(triangle: number, c: number, d: number, outside: number): void {
    const i = this.count++;
    this.triangle[i] = triangle;
    this.c[i] = c;
    this.d[i] = d;
    this.outside[i] = outside;
  }
}

/**
 * A closed mesh whose edges collapse. The triangles around a corner hang in a chain: `head[v]` is the first place in `t` that holds v, `next` of a place the
 * following one; -1 ends it. Places of triangles that are gone are taken out when their chain is gone through.
 */
export class HullMesh {
  readonly p: Float64Array;
  readonly t: Int32Array;
  readonly alive: Uint8Array;
  /** By triangle: unit normal, offset, twice the area (0 where it has none). */
  readonly planeOf: Float64Array;
  /** By triangle: how far it stands outside the reference at most, mm. */
  readonly outside: Float64Array;
  /** How many collapses there were, and by corner when something beside it changed last. */
  time = 0;
  readonly touched: Int32Array;
  /** What each corner has become. */
  private readonly became: Int32Array;
  left: number;
  private readonly head: Int32Array;
  private readonly next: Int32Array;
  /** Corners that were met in a look around carry its number. */
  private readonly mark: Int32Array;
  private looks = 0;

  constructor(mesh: TriMesh, outside?: Float64Array) {
    this.p = Float64Array.from(mesh.positions);
    this.t = Int32Array.from(mesh.triangles);
    this.left = mesh.triangles.length / 3;
    this.alive = new Uint8Array(this.left).fill(1);
    this.outside = outside ? outside.slice() : new Float64Array(this.left);
    this.planeOf = new Float64Array(PLANE_SIZE * this.left);
    for (let f = 0; f < this.left; f++) planeOfTriangle(this.p, this.t, f, this.planeOf, PLANE_SIZE * f);
    const corners = mesh.positions.length / 3;
    this.head = new Int32Array(corners).fill(-1);
    this.next = new Int32Array(this.t.length);
    for (let h = this.t.length - 1; h >= 0; h--) {
      this.next[h] = this.head[this.t[h]];
      this.head[this.t[h]] = h;
    }
    this.touched = new Int32Array(corners);
    this.became = Int32Array.from({ length: corners }, (_, v) => v);
    this.mark = new Int32Array(corners);
  }

  /** The first place of a corner that belongs to a triangle, -1 where there is none; `following` gives the others. */
  first(v: number): number {
    let h = this.head[v];
    while (h >= 0 && this.alive[triangleAt(h)] === 0) h = this.next[h];
    this.head[v] = h;
    return h;
  }

  following(h: number): number {
    let n = this.next[h];
    while (n >= 0 && this.alive[triangleAt(n)] === 0) n = this.next[n];
    this.next[h] = n;
    return n;
  }

  /** The corner that one is now, after what it collapsed to. */
  now(v: number): number {
    const { became } = this;
    let end = v;
    while (became[end] !== end) end = became[end];
    while (became[v] !== end) {
      const next = became[v];
      became[v] = end;
      v = next;
    }
    return end;
  }

  has(f: number, v: number): boolean {
    const { t } = this;
    return t[3 * f] === v || t[3 * f + 1] === v || t[3 * f + 2] === v;
  }

  /** Whether an edge can go without pinching the surface: two triangles share it, and only their other corners are neighbours of both ends. */
  isLinked(a: number, b: number): boolean {
    const { t, mark } = this;
    const seen = ++this.looks;
    let shared = 0;
    for (let h = this.first(a); h >= 0; h = this.following(h)) {
      const f = triangleAt(h);
      if (this.has(f, b)) shared++;
      for (let k = 3 * f; k < 3 * f + 3; k++) mark[t[k]] = seen;
    }
    if (shared !== 2) return false;
    const twice = ++this.looks;
    let both = 0;
    for (let h = this.first(b); h >= 0; h = this.following(h)) {
      const f = triangleAt(h);
      for (let k = 3 * f; k < 3 * f + 3; k++) {
        if (mark[t[k]] !== seen) continue;
        mark[t[k]] = twice;
        both++;
      }
    }
    // The two ends themselves are among them.
    return both === 4;
  }

  /** Moves edge a-b to a place, which is a then. */
  collapse(a: number, b: number, place: Float64Array, changed: ChangedTriangles): void {
    const { t, p, alive, next, head, touched } = this;
    for (let i = 0; i < changed.count; i++) this.outside[changed.triangle[i]] = changed.outside[i];
    for (let k = 0; k < 3; k++) p[3 * a + k] = place[k];
    let last = -1;
    for (let h = this.first(a); h >= 0; h = this.following(h)) {
      const f = triangleAt(h);
      if (this.has(f, b)) {
        alive[f] = 0;
        this.left--;
      } else last = h;
    }
    const own = this.first(b);
    for (let h = own; h >= 0; h = this.following(h)) t[h] = a;
    if (last >= 0) next[last] = own;
    else head[a] = own;
    head[b] = -1;
    this.became[b] = a;
    const time = ++this.time;
    for (let h = this.first(a); h >= 0; h = this.following(h)) {
      const f = triangleAt(h);
      planeOfTriangle(p, t, f, this.planeOf, PLANE_SIZE * f);
      for (let k = 3 * f; k < 3 * f + 3; k++) touched[t[k]] = time;
    }
    touched[a] = time;
  }

  /** What is left, with corners numbered anew, and how far each triangle stands out. */
  compact(): { mesh: TriMesh; outside: Float64Array } {
    const place = new Int32Array(this.p.length / 3).fill(-1);
    const positions: number[] = [];
    const triangles: number[] = [];
    for (let f = 0; f < this.alive.length; f++) {
      if (!this.alive[f]) continue;
      for (let k = 0; k < 3; k++) {
        const v = this.t[3 * f + k];
        if (place[v] < 0) {
          place[v] = positions.length / 3;
          positions.push(this.p[3 * v], this.p[3 * v + 1], this.p[3 * v + 2]);
        }
        triangles.push(place[v]);
      }
    }
    return {
      mesh: { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) },
      outside: this.outside.filter((_, f) => this.alive[f] === 1),
    };
  }
}

/** The triangle that a place in the list of corners belongs to. */
export const triangleAt = (h: number): number => (h / 3) | 0;
