import { eachPlace, type TriMesh, TriangleTree } from '#core/mesh';

export interface HullOptions {
  /** mm. How far the result may stand outside `mesh`. */
  readonly tolerance: number;
  /** Ends early when no more triangles than this are left. */
  readonly triangles?: number;
  readonly onProgress?: (share: number) => void;
}

// mm. How far a new corner may be behind a plane: rounding of the projections, far below what the proof allows.
const ON_PLANE = 1e-9;
// Cosine. A triangle that a collapse turns by more than this is folding over.
const MOST_TURN = 0.2;
// Steps along the sides of a triangle that is looked at for the tolerance.
const MOST_CUTS = 12;
// A triangle's height over its longest side, below which it is a sliver that a collapse must not make.
const THINNEST = 1e-4;

/**
 * A closed mesh of fewer triangles around a closed mesh, never inside it (Sander and others, Silhouette clipping, 2000: progressive hulls).
 * Edges are collapsed, cheapest first, each to a place that lies outside the planes of all triangles around it: the tetrahedra between that
 * place and the old triangles then all add to the solid, so that nothing is ever lost. The place is sought with the least volume added.
 */
export function progressiveHull(mesh: TriMesh, options: HullOptions): TriMesh {
  const tree = new TriangleTree(mesh);
  let allowed = 0.97 * options.tolerance;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const hull = new Hull(mesh, tree, { ...options, tolerance: allowed }).run();
    let greatest = 0;
    eachPlace(hull, CHECKED, (x, y, z) => {
      if (tree.nearest(x, y, z)) greatest = Math.max(greatest, tree.distance);
    });
    if (greatest <= options.tolerance) return hull;
    // Between the places that a collapse looks at it stands out further: again, with less.
    allowed *= (0.95 * options.tolerance) / greatest;
  }
  return mesh;
}

// How often a hull is made anew with a smaller tolerance, and at how many places it is looked over.
const MOST_ROUNDS = 4;
const CHECKED = 30_000;

class Hull {
  private readonly p: Float64Array;
  private readonly t: Int32Array;
  private readonly alive: Uint8Array;
  private readonly around: number[][];
  /** By corner: how often it was collapsed to (older edges of it are not there any more), and how often something beside it changed. */
  private readonly stamp: Uint32Array;
  private readonly touch: Uint32Array;
  private readonly reference: TriangleTree;
  private heap = new Heap();
  private readonly options: HullOptions;
  private left: number;
  /** Where the edge that was looked at last would collapse to. */
  private readonly place = new Float64Array(3);

  constructor(mesh: TriMesh, reference: TriangleTree, options: HullOptions) {
    this.options = options;
    this.reference = reference;
    this.p = Float64Array.from(mesh.positions);
    this.t = Int32Array.from(mesh.triangles);
    this.left = mesh.triangles.length / 3;
    this.alive = new Uint8Array(this.left).fill(1);
    this.around = Array.from({ length: mesh.positions.length / 3 }, () => []);
    for (let i = 0; i < this.t.length; i++) this.around[this.t[i]].push((i - (i % 3)) / 3);
    this.stamp = new Uint32Array(mesh.positions.length / 3);
    this.touch = new Uint32Array(mesh.positions.length / 3);
  }

  // What was not allowed at first may be later: over all edges again, until that gives little.
  private pass(all: number): void {
    const { triangles = 4, onProgress } = this.options;
    this.heap = new Heap();
    const { t, alive } = this;
    for (let h = 0; h < t.length; h++) {
      if (!alive[(h - (h % 3)) / 3]) continue;
      const [a, b] = [t[h], t[h % 3 === 2 ? h - 2 : h + 1]];
      if (a < b) this.consider(a, b);
    }
    for (let round = 0; this.left > triangles; round++) {
      const edge = this.heap.pop();
      if (!edge) return;
      const { a, b } = edge;
      if (this.stamp[a] !== edge.stampA || this.stamp[b] !== edge.stampB) continue;
      if (this.touch[a] !== edge.touchA || this.touch[b] !== edge.touchB) {
        this.consider(a, b);
        continue;
      }
      this.place.set(edge.place);
      if (!this.isAllowed(a, b)) continue;
      this.collapse(a, b);
      if ((round & 1023) === 0) onProgress?.((all - this.left) / Math.max(1, all - triangles));
    }
  }

  run(): TriMesh {
    const { triangles = 4 } = this.options;
    const all = this.left;
    for (let before = Infinity; this.left < 0.99 * before && this.left > triangles; ) {
      before = this.left;
      this.pass(all);
    }
    return this.compact();
  }

  private consider(a: number, b: number): void {
    const cost = this.bestPlace(a, b);
    if (cost === Infinity) return;
    this.heap.push({
      cost,
      a,
      b,
      stampA: this.stamp[a],
      stampB: this.stamp[b],
      touchA: this.touch[a],
      touchB: this.touch[b],
      place: Float64Array.from(this.place),
    });
  }

  // The planes of the triangles around an edge, packed: normal (its length twice the area), offset.
  private readonly planes = new Float64Array(4 * 512);
  private planeCount = 0;

  private gatherPlanes(a: number, b: number): void {
    const { p, t } = this;
    this.planeCount = 0;
    for (const [v, other] of [
      [a, -1],
      [b, a],
    ])
      for (const f of this.around[v]) {
        if (other >= 0 && (t[3 * f] === other || t[3 * f + 1] === other || t[3 * f + 2] === other)) continue;
        if (this.planeCount >= 512) return;
        const [i, j, k] = [3 * t[3 * f], 3 * t[3 * f + 1], 3 * t[3 * f + 2]];
        const ux = p[j] - p[i];
        const uy = p[j + 1] - p[i + 1];
        const uz = p[j + 2] - p[i + 2];
        const vx = p[k] - p[i];
        const vy = p[k + 1] - p[i + 1];
        const vz = p[k + 2] - p[i + 2];
        const nx = uy * vz - uz * vy;
        const ny = uz * vx - ux * vz;
        const nz = ux * vy - uy * vx;
        const l = Math.sqrt(nx * nx + ny * ny + nz * nz);
        if (l < 1e-14) continue;
        const at = 4 * this.planeCount++;
        this.planes[at] = nx;
        this.planes[at + 1] = ny;
        this.planes[at + 2] = nz;
        this.planes[at + 3] = nx * p[i] + ny * p[i + 1] + nz * p[i + 2];
      }
  }

  // Puts the best place for an edge to collapse to in `place`; its cost is the volume that it adds, and a little for long ways.
  private bestPlace(a: number, b: number): number {
    const { p, place } = this;
    this.gatherPlanes(a, b);
    if (this.planeCount >= 512) return Infinity;
    const long = Math.hypot(p[3 * a] - p[3 * b], p[3 * a + 1] - p[3 * b + 1], p[3 * a + 2] - p[3 * b + 2]);
    let best = Infinity;
    const found = [0, 0, 0];
    for (const share of [0, 1, 0.5]) {
      for (let k = 0; k < 3; k++) place[k] = p[3 * a + k] + share * (p[3 * b + k] - p[3 * a + k]);
      const isEnd = share !== 0.5;
      if (isEnd ? !this.isOutside() : !this.pushOut()) continue;
      if (!isEnd) this.slideIn();
      const volume = this.volumeAdded();
      if (volume < best) {
        best = volume;
        for (let k = 0; k < 3; k++) found[k] = place[k];
      }
      // An end that costs nothing is not bettered.
      if (isEnd && volume < 1e-12 * long) break;
    }
    if (best === Infinity) return Infinity;
    for (let k = 0; k < 3; k++) place[k] = found[k];
    return Math.max(0, best) + 1e-7 * long * long * long;
  }

  private isOutside(): boolean {
    const { planes, place } = this;
    for (let i = 0; i < 4 * this.planeCount; i += 4) {
      const l = Math.sqrt(planes[i] * planes[i] + planes[i + 1] * planes[i + 1] + planes[i + 2] * planes[i + 2]);
      if (planes[i] * place[0] + planes[i + 1] * place[1] + planes[i + 2] * place[2] - planes[i + 3] < -ON_PLANE * l) return false;
    }
    return true;
  }

  private volumeAdded(): number {
    const { planes, place } = this;
    let six = 0;
    for (let i = 0; i < 4 * this.planeCount; i += 4) six += planes[i] * place[0] + planes[i + 1] * place[1] + planes[i + 2] * place[2] - planes[i + 3];
    return six / 6;
  }

  // To a place outside all planes, by going straight out of the one that it is furthest behind, again and again.
  private pushOut(): boolean {
    const { planes, place } = this;
    for (let round = 0; round < 40; round++) {
      let worst = ON_PLANE / 2;
      let at = -1;
      let lack = 0;
      for (let i = 0; i < 4 * this.planeCount; i += 4) {
        const l = Math.sqrt(planes[i] * planes[i] + planes[i + 1] * planes[i + 1] + planes[i + 2] * planes[i + 2]);
        const behind = (planes[i + 3] - planes[i] * place[0] - planes[i + 1] * place[1] - planes[i + 2] * place[2]) / l;
        if (behind <= worst) continue;
        worst = behind;
        at = i;
        lack = behind / l;
      }
      if (at < 0) return true;
      for (let k = 0; k < 3; k++) place[k] += 1.0000001 * lack * planes[at + k];
    }
    return this.isOutside();
  }

  // From an outside place towards less volume, along up to two planes, to where three of them meet: a walk over the corners' neighbourhood of
  // the linear programme, not its optimum in all cases.
  private slideIn(): void {
    const { planes, place } = this;
    const g = [0, 0, 0];
    for (let i = 0; i < 4 * this.planeCount; i += 4) for (let k = 0; k < 3; k++) g[k] -= planes[i + k];
    const held: number[][] = [];
    for (let step = 0; step < 3; step++) {
      const d = [...g];
      for (const h of held) {
        const s = d[0] * h[0] + d[1] * h[1] + d[2] * h[2];
        for (let k = 0; k < 3; k++) d[k] -= s * h[k];
      }
      const l = Math.hypot(d[0], d[1], d[2]);
      if (l < 1e-9 * Math.hypot(g[0], g[1], g[2]) || l === 0) return;
      for (let k = 0; k < 3; k++) d[k] /= l;
      let [reach, at] = [Infinity, -1];
      for (let i = 0; i < 4 * this.planeCount; i += 4) {
        const n = Math.sqrt(planes[i] * planes[i] + planes[i + 1] * planes[i + 1] + planes[i + 2] * planes[i + 2]);
        const along = (planes[i] * d[0] + planes[i + 1] * d[1] + planes[i + 2] * d[2]) / n;
        if (along > -1e-6) continue;
        const room = Math.max(0, (planes[i] * place[0] + planes[i + 1] * place[1] + planes[i + 2] * place[2] - planes[i + 3]) / n);
        if (room / -along < reach) {
          reach = room / -along;
          at = i;
        }
      }
      if (at < 0 || reach > 1e3) return;
      for (let k = 0; k < 3; k++) place[k] += reach * d[k];
      // The plane that was reached joins those that are held, made square to them.
      const h = [planes[at], planes[at + 1], planes[at + 2]];
      for (const o of held) {
        const s = h[0] * o[0] + h[1] * o[1] + h[2] * o[2];
        for (let k = 0; k < 3; k++) h[k] -= s * o[k];
      }
      const m = Math.hypot(h[0], h[1], h[2]);
      if (m === 0) return;
      held.push(h.map((v) => v / m));
    }
  }

  // Whether the mesh stays a good one: a surface without folds and slivers, within the tolerance.
  private isAllowed(a: number, b: number): boolean {
    const { t, p, place } = this;
    let shared = 0;
    for (const f of this.around[a]) if (t[3 * f] === b || t[3 * f + 1] === b || t[3 * f + 2] === b) shared++;
    if (shared !== 2) return false;
    // Only the two corners across the edge may be neighbours of both ends.
    const near = new Set<number>();
    for (const f of this.around[a]) for (let k = 0; k < 3; k++) near.add(t[3 * f + k]);
    const both = new Set<number>();
    for (const f of this.around[b]) for (let k = 0; k < 3; k++) if (near.has(t[3 * f + k])) both.add(t[3 * f + k]);
    if (both.size !== 4) return false;
    const { tolerance } = this.options;
    const far = (x: number, y: number, z: number) => !this.reference.isNear(x, y, z, tolerance);
    const [px, py, pz] = place;
    if (far(px, py, pz)) return false;
    const samples: number[] = [];
    // Between places this far apart a surface of 2 mm radius stands out by a tenth of the tolerance more.
    const step = 1.3 * Math.sqrt(tolerance);
    for (const v of [a, b])
      for (const f of this.around[v]) {
        const other = v === a ? b : a;
        if (t[3 * f] === other || t[3 * f + 1] === other || t[3 * f + 2] === other) continue;
        const k = t[3 * f] === v ? 0 : t[3 * f + 1] === v ? 1 : 2;
        const [c, d] = [3 * t[3 * f + ((k + 1) % 3)], 3 * t[3 * f + ((k + 2) % 3)]];
        const [ux, uy, uz] = [p[c] - px, p[c + 1] - py, p[c + 2] - pz];
        const [wx, wy, wz] = [p[d] - px, p[d + 1] - py, p[d + 2] - pz];
        const [nx, ny, nz] = [uy * wz - uz * wy, uz * wx - ux * wz, ux * wy - uy * wx];
        const twice = Math.sqrt(nx * nx + ny * ny + nz * nz);
        const side = Math.max(Math.hypot(ux, uy, uz), Math.hypot(wx, wy, wz), Math.hypot(ux - wx, uy - wy, uz - wz));
        if (twice < THINNEST * side * side) return false;
        const i = 3 * v;
        const [ox, oy, oz] = [p[c] - p[i], p[c + 1] - p[i + 1], p[c + 2] - p[i + 2]];
        const [qx, qy, qz] = [p[d] - p[i], p[d + 1] - p[i + 1], p[d + 2] - p[i + 2]];
        const [mx, my, mz] = [oy * qz - oz * qy, oz * qx - ox * qz, ox * qy - oy * qx];
        const was = Math.sqrt(mx * mx + my * my + mz * mz);
        if (was > 1e-12 && nx * mx + ny * my + nz * mz < MOST_TURN * twice * was) return false;
        // A triangle that stays in its plane covers what others of that plane covered before.
        const height = Math.abs(mx * (px - p[i]) + my * (py - p[i + 1]) + mz * (pz - p[i + 2]));
        if (was > 1e-12 && height < 1e-7 * was) continue;
        samples.push(ux, uy, uz, wx, wy, wz, Math.max(2, Math.min(MOST_CUTS, Math.ceil(side / step))));
      }
    // Each triangle between its corners: its middle and the middles of its new sides, and for a large one places between.
    for (let i = 0; i < samples.length; i += 7) {
      const [ux, uy, uz, wx, wy, wz, cuts] = [samples[i], samples[i + 1], samples[i + 2], samples[i + 3], samples[i + 4], samples[i + 5], samples[i + 6]];
      for (let r = 0; r < cuts; r++)
        for (let s = r === 0 ? 1 : 0; r + s <= cuts && s < cuts; s++)
          if (far(px + (r * ux + s * wx) / cuts, py + (r * uy + s * wy) / cuts, pz + (r * uz + s * wz) / cuts)) return false;
      if (far(px + (ux + wx) / 3, py + (uy + wy) / 3, pz + (uz + wz) / 3)) return false;
    }
    return true;
  }

  private collapse(a: number, b: number): void {
    const { t, p, alive, around } = this;
    for (let k = 0; k < 3; k++) p[3 * a + k] = this.place[k];
    const kept: number[] = [];
    for (const f of around[a]) {
      if (t[3 * f] === b || t[3 * f + 1] === b || t[3 * f + 2] === b) {
        alive[f] = 0;
        this.left--;
        for (let k = 0; k < 3; k++) {
          const v = t[3 * f + k];
          if (v !== a && v !== b) around[v] = around[v].filter((g) => g !== f);
        }
      } else kept.push(f);
    }
    for (const f of around[b]) {
      if (!alive[f]) continue;
      for (let k = 0; k < 3; k++) if (t[3 * f + k] === b) t[3 * f + k] = a;
      kept.push(f);
    }
    around[a] = kept;
    around[b] = [];
    this.stamp[b]++;
    // What the edges around would cost has changed: those of `a` are looked at now, those of its neighbours when they come up.
    const ring = new Set<number>();
    for (const f of kept) for (let k = 0; k < 3; k++) if (t[3 * f + k] !== a) ring.add(t[3 * f + k]);
    this.stamp[a]++;
    for (const v of ring) this.touch[v]++;
    for (const v of ring) this.consider(Math.min(a, v), Math.max(a, v));
  }

  private compact(): TriMesh {
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
    return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
  }
}

interface Edge {
  readonly cost: number;
  readonly a: number;
  readonly b: number;
  readonly stampA: number;
  readonly stampB: number;
  readonly touchA: number;
  readonly touchB: number;
  readonly place: Float64Array;
}

class Heap {
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
