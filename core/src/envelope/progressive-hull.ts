import { eachPlace, PLANE_SIZE, planeOfTriangle, type TriMesh, TriangleTree } from '#core/mesh';
import { Heap } from './collapse-heap.ts';
import { greatestOver } from './overlap-height.ts';

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
const MOST_CUTS = 8;
// Cosine. Triangles that lean further from a common direction are not told by it.
const LEAST_ALONG = 0.3;
// How often such a direction is turned before there is said to be none.
const MOST_TURNS = 12;
// A triangle's height over its longest side, below which it is a sliver that a collapse must not make.
const THINNEST = 1e-4;

/**
 * A closed mesh of fewer triangles around a closed mesh, never inside it (Sander and others, Silhouette clipping, 2000: progressive hulls).
 * Edges are collapsed, cheapest first, each to a place that lies outside the planes of all triangles around it: the tetrahedra between that
 * place and the old triangles then all add to the solid, so that nothing is ever lost. The place is sought with the least volume added.
 */
export function progressiveHull(mesh: TriMesh, options: HullOptions): TriMesh {
  const tree = new TriangleTree(mesh);
  const { triangles = 4, onProgress } = options;
  const all = mesh.triangles.length / 3;
  const progress = (left: number) => onProgress?.((all - left) / Math.max(1, all - triangles));
  // At first only what surely keeps the tolerance, which is told without looking at the mesh; most triangles go there.
  const sure = new Hull(mesh, tree, { tolerance: SURE * options.tolerance, triangles, isSure: true, progress });
  sure.pass();
  const start = sure.compact();
  let allowed = 0.97 * options.tolerance;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const hull = new Hull(start.mesh, tree, { tolerance: allowed, triangles, isSure: false, progress }, start.outside).run();
    let greatest = 0;
    eachPlace(hull, CHECKED, (x, y, z) => {
      if (!tree.isNear(x, y, z, options.tolerance) && tree.nearest(x, y, z)) greatest = Math.max(greatest, tree.distance);
    });
    if (greatest <= options.tolerance) return hull;
    // Between the places that a collapse looks at it stands out further: again, with less.
    allowed *= (0.95 * options.tolerance) / greatest;
  }
  return start.mesh;
}

// Share of the tolerance that is used up by what surely keeps it.
const SURE = 0.9;
// Planes around an edge at most.
const PLANE = PLANE_SIZE;
const MOST_AROUND = 512;

// How often a hull is made anew with a smaller tolerance, and at how many places it is looked over.
const MOST_ROUNDS = 4;
const CHECKED = 30_000;

interface HullMeans {
  readonly tolerance: number;
  readonly triangles: number;
  /** Only what surely keeps the tolerance is done. */
  readonly isSure: boolean;
  readonly progress: (left: number) => void;
}

class Hull {
  private readonly p: Float64Array;
  private readonly t: Int32Array;
  private readonly alive: Uint8Array;
  private readonly around: number[][];
  /** By corner: how often it was collapsed to (older edges of it are not there any more), and how often something beside it changed. */
  private readonly stamp: Uint32Array;
  private readonly touch: Uint32Array;
  /** By triangle: how far it stands outside the reference at most, mm. */
  private readonly outside: Float64Array;
  private readonly reference: TriangleTree;
  private heap = new Heap();
  private readonly options: HullMeans;
  private left: number;
  /** Where the edge that was looked at last would collapse to. */
  private readonly place = new Float64Array(3);

  constructor(mesh: TriMesh, reference: TriangleTree, options: HullMeans, outside?: Float64Array) {
    this.options = options;
    this.reference = reference;
    this.p = Float64Array.from(mesh.positions);
    this.t = Int32Array.from(mesh.triangles);
    this.left = mesh.triangles.length / 3;
    this.alive = new Uint8Array(this.left).fill(1);
    this.outside = outside ? outside.slice() : new Float64Array(this.left);
    this.planeOf = new Float64Array(PLANE * this.left);
    for (let f = 0; f < this.left; f++) planeOfTriangle(this.p, this.t, f, this.planeOf, PLANE * f);
    this.around = Array.from({ length: mesh.positions.length / 3 }, () => []);
    for (let i = 0; i < this.t.length; i++) this.around[this.t[i]].push((i - (i % 3)) / 3);
    this.stamp = new Uint32Array(mesh.positions.length / 3);
    this.touch = new Uint32Array(mesh.positions.length / 3);
  }

  // What was not allowed at first may be later: over all edges again, until that gives little.
  pass(): void {
    const { triangles, progress } = this.options;
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
      if ((round & 1023) === 0) progress(this.left);
    }
  }

  run(): TriMesh {
    const { triangles } = this.options;
    for (let before = Infinity; this.left < 0.99 * before && this.left > triangles; ) {
      before = this.left;
      this.pass();
    }
    return this.compact().mesh;
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

  /** By triangle: unit normal, offset, twice the area (0 where it has none). */
  private readonly planeOf: Float64Array;
  // The triangles around an edge, and their planes.
  private readonly near = new Int32Array(MOST_AROUND);
  private readonly planes = new Float64Array(PLANE * MOST_AROUND);
  private planeCount = 0;

  private gatherPlanes(a: number, b: number): void {
    const { t, planes, planeOf, near } = this;
    this.planeCount = 0;
    for (let side = 0; side < 2; side++) {
      const list = this.around[side === 0 ? a : b];
      for (let n = 0; n < list.length; n++) {
        const f = list[n];
        // Those at the edge itself were met from its other end.
        if (side === 1 && (t[3 * f] === a || t[3 * f + 1] === a || t[3 * f + 2] === a)) continue;
        if (this.planeCount >= MOST_AROUND) return;
        if (planeOf[PLANE * f + 4] === 0) continue;
        near[this.planeCount] = f;
        const at = PLANE * this.planeCount++;
        for (let k = 0; k < PLANE; k++) planes[at + k] = planeOf[PLANE * f + k];
      }
    }
  }

  // Puts the best place for an edge to collapse to in `place`; its cost is the volume that it adds, and a little for long ways.
  private bestPlace(a: number, b: number): number {
    const { p, place } = this;
    this.gatherPlanes(a, b);
    if (this.planeCount >= MOST_AROUND) return Infinity;
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
    const { planes, planeCount } = this;
    const [x, y, z] = this.place;
    for (let i = 0; i < PLANE * planeCount; i += PLANE) if (planes[i] * x + planes[i + 1] * y + planes[i + 2] * z - planes[i + 3] < -ON_PLANE) return false;
    return true;
  }

  private volumeAdded(): number {
    const { planes, planeCount } = this;
    const [x, y, z] = this.place;
    let six = 0;
    for (let i = 0; i < PLANE * planeCount; i += PLANE) six += (planes[i] * x + planes[i + 1] * y + planes[i + 2] * z - planes[i + 3]) * planes[i + 4];
    return six / 6;
  }

  // To a place outside all planes, by going straight out of the one that it is furthest behind, again and again.
  private pushOut(): boolean {
    const { planes, planeCount, place } = this;
    let [x, y, z] = place;
    let isOut = false;
    for (let round = 0; round < 40 && !isOut; round++) {
      let worst = ON_PLANE / 2;
      let at = -1;
      for (let i = 0; i < PLANE * planeCount; i += PLANE) {
        const behind = planes[i + 3] - planes[i] * x - planes[i + 1] * y - planes[i + 2] * z;
        if (behind <= worst) continue;
        worst = behind;
        at = i;
      }
      isOut = at < 0;
      if (isOut) break;
      const way = 1.0000001 * worst;
      x += way * planes[at];
      y += way * planes[at + 1];
      z += way * planes[at + 2];
    }
    place[0] = x;
    place[1] = y;
    place[2] = z;
    return isOut || this.isOutside();
  }

  // From an outside place towards less volume, along up to two planes, to where three of them meet: a walk over the corners' neighbourhood of
  // the linear programme, not its optimum in all cases.
  private slideIn(): void {
    const { planes, planeCount, place, down, way, held } = this;
    down.fill(0);
    for (let i = 0; i < PLANE * planeCount; i += PLANE) for (let k = 0; k < 3; k++) down[k] -= planes[i + k] * planes[i + 4];
    const steepest = Math.sqrt(down[0] * down[0] + down[1] * down[1] + down[2] * down[2]);
    for (let step = 0; step < 3; step++) {
      way.set(down);
      for (let h = 0; h < 3 * step; h += 3) {
        const s = way[0] * held[h] + way[1] * held[h + 1] + way[2] * held[h + 2];
        for (let k = 0; k < 3; k++) way[k] -= s * held[h + k];
      }
      const l = Math.sqrt(way[0] * way[0] + way[1] * way[1] + way[2] * way[2]);
      if (l < 1e-9 * steepest || l === 0) return;
      for (let k = 0; k < 3; k++) way[k] /= l;
      let [reach, at] = [Infinity, -1];
      for (let i = 0; i < PLANE * planeCount; i += PLANE) {
        const along = planes[i] * way[0] + planes[i + 1] * way[1] + planes[i + 2] * way[2];
        if (along > -1e-6) continue;
        const room = Math.max(0, planes[i] * place[0] + planes[i + 1] * place[1] + planes[i + 2] * place[2] - planes[i + 3]);
        if (room / -along < reach) {
          reach = room / -along;
          at = i;
        }
      }
      if (at < 0 || reach > 1e3) return;
      for (let k = 0; k < 3; k++) place[k] += reach * way[k];
      // The plane that was reached joins those that are held, made square to them.
      const own = 3 * step;
      for (let k = 0; k < 3; k++) held[own + k] = planes[at + k];
      for (let h = 0; h < own; h += 3) {
        const s = held[own] * held[h] + held[own + 1] * held[h + 1] + held[own + 2] * held[h + 2];
        for (let k = 0; k < 3; k++) held[own + k] -= s * held[h + k];
      }
      const m = Math.sqrt(held[own] * held[own] + held[own + 1] * held[own + 1] + held[own + 2] * held[own + 2]);
      if (m === 0) return;
      for (let k = 0; k < 3; k++) held[own + k] /= m;
    }
  }

  private readonly down = new Float64Array(3);
  private readonly way = new Float64Array(3);
  private readonly held = new Float64Array(9);

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
    const { tolerance, isSure } = this.options;
    const [px, py, pz] = place;
    if (!isSure && !this.reference.isNear(px, py, pz, tolerance)) return false;
    this.prepareBound(a, b);
    this.changed.length = 0;
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
        const side = Math.sqrt(
          Math.max(ux * ux + uy * uy + uz * uz, wx * wx + wy * wy + wz * wz, (ux - wx) * (ux - wx) + (uy - wy) * (uy - wy) + (uz - wz) * (uz - wz)),
        );
        if (twice < THINNEST * side * side) return false;
        const i = 3 * v;
        const [ox, oy, oz] = [p[c] - p[i], p[c + 1] - p[i + 1], p[c + 2] - p[i + 2]];
        const [qx, qy, qz] = [p[d] - p[i], p[d + 1] - p[i + 1], p[d + 2] - p[i + 2]];
        const [mx, my, mz] = [oy * qz - oz * qy, oz * qx - ox * qz, ox * qy - oy * qx];
        const was = Math.sqrt(mx * mx + my * my + mz * mz);
        if (was > 1e-12 && nx * mx + ny * my + nz * mz < MOST_TURN * twice * was) return false;
        const outside = this.boundFor(c, d, nx / twice, ny / twice, nz / twice);
        if (isSure && outside > tolerance) return false;
        // Between places this far apart a surface of 2 mm radius stands out by a tenth of the tolerance more.
        const cuts = outside <= tolerance ? 0 : Math.max(2, Math.min(MOST_CUTS, Math.ceil(side / (1.3 * Math.sqrt(tolerance)))));
        this.changed.push({ triangle: f, c, d, cuts, outside: Math.min(outside, tolerance) });
      }
    for (const { c, d, cuts } of this.changed) if (cuts > 0 && !this.isNearAll(c, d, cuts)) return false;
    return true;
  }

  /** What the last collapse that was looked at would make of the triangles around it: how it was told, and how far each stands out then. */
  private readonly changed: { triangle: number; c: number; d: number; cuts: number; outside: number }[] = [];

  // A triangle from the new place to two corners, at places of it: its middle and the middles of its new sides, and for a large one places between.
  private isNearAll(c: number, d: number, cuts: number): boolean {
    const { p, reference } = this;
    const { tolerance } = this.options;
    const [px, py, pz] = this.place;
    const [ux, uy, uz] = [p[c] - px, p[c + 1] - py, p[c + 2] - pz];
    const [wx, wy, wz] = [p[d] - px, p[d + 1] - py, p[d + 2] - pz];
    for (let r = 0; r < cuts; r++)
      for (let s = r === 0 ? 1 : 0; r + s <= cuts && s < cuts; s++)
        if (!reference.isNear(px + (r * ux + s * wx) / cuts, py + (r * uy + s * wy) / cuts, pz + (r * uz + s * wz) / cuts, tolerance)) return false;
    return reference.isNear(px + (ux + wx) / 3, py + (uy + wy) / 3, pz + (uz + wz) / 3, tolerance);
  }

  // Seen along one direction that all triangles around an edge look along, old and new ones cover the same: each new one stands above an old one that it
  // lies over by no more than its corners stand above that one's plane, along that direction, and outside of the reference by what that stood out more.
  private readonly up = new Float64Array(3);
  private readonly east = new Float64Array(3);
  private readonly north = new Float64Array(3);
  private readonly perHeight = new Float64Array(MOST_AROUND);
  /** The corners of the old triangles as seen along that direction, six numbers each, and of a new one. */
  private readonly flat = new Float64Array(6 * MOST_AROUND);
  private readonly flatNew = new Float64Array(6);
  private isBounded = false;

  private prepareBound(a: number, b: number): void {
    this.gatherPlanes(a, b);
    const { planes, planeCount, up, east, north, perHeight, near, flat, t } = this;
    this.isBounded = this.findUp();
    if (!this.isBounded) return;
    for (let i = 0; i < planeCount; i++) perHeight[i] = 1 / (planes[PLANE * i] * up[0] + planes[PLANE * i + 1] * up[1] + planes[PLANE * i + 2] * up[2]);
    const least = Math.abs(up[0]) < 0.6 ? 0 : 1;
    const l = Math.sqrt(1 - up[least] * up[least]);
    for (let k = 0; k < 3; k++) east[k] = ((k === least ? 1 : 0) - up[least] * up[k]) / l;
    north[0] = up[1] * east[2] - up[2] * east[1];
    north[1] = up[2] * east[0] - up[0] * east[2];
    north[2] = up[0] * east[1] - up[1] * east[0];
    for (let i = 0; i < planeCount; i++) for (let k = 0; k < 3; k++) this.project(this.p, 3 * t[3 * near[i] + k], flat, 6 * i + 2 * k);
  }

  // A direction that all planes look along: the mean of their normals, turned towards the one that looks away most, again and again.
  private findUp(): boolean {
    const { planes, planeCount, up } = this;
    up.fill(0);
    for (let round = 0; round < MOST_TURNS; round++) {
      let [worst, least] = [-1, Infinity];
      for (let i = 0; i < PLANE * planeCount; i += PLANE) {
        if (round === 0) for (let k = 0; k < 3; k++) up[k] += planes[i + k];
        else {
          const along = planes[i] * up[0] + planes[i + 1] * up[1] + planes[i + 2] * up[2];
          if (along < least) [worst, least] = [i, along];
        }
      }
      if (round > 0) {
        if (least >= LEAST_ALONG) return true;
        for (let k = 0; k < 3; k++) up[k] += (1.2 * LEAST_ALONG - least) * planes[worst + k];
      }
      const long = Math.sqrt(up[0] * up[0] + up[1] * up[1] + up[2] * up[2]);
      if (long < 1e-9) return false;
      for (let k = 0; k < 3; k++) up[k] /= long;
    }
    return false;
  }

  private project(from: Float64Array, at: number, into: Float64Array, to: number): void {
    const { east, north } = this;
    into[to] = from[at] * east[0] + from[at + 1] * east[1] + from[at + 2] * east[2];
    into[to + 1] = from[at] * north[0] + from[at + 1] * north[1] + from[at + 2] * north[2];
  }

  private boundFor(c: number, d: number, nx: number, ny: number, nz: number): number {
    const { p, planes, planeCount, up, perHeight, near, outside, place, flatNew } = this;
    if (!this.isBounded || nx * up[0] + ny * up[1] + nz * up[2] < LEAST_ALONG) return Infinity;
    this.project(place, 0, flatNew, 0);
    this.project(p, c, flatNew, 2);
    this.project(p, d, flatNew, 4);
    let most = 0;
    for (let i = 0; i < planeCount; i++) {
      const x = planes[PLANE * i];
      const y = planes[PLANE * i + 1];
      const z = planes[PLANE * i + 2];
      const offset = planes[PLANE * i + 3];
      const h0 = x * place[0] + y * place[1] + z * place[2] - offset;
      const h1 = x * p[c] + y * p[c + 1] + z * p[c + 2] - offset;
      const h2 = x * p[d] + y * p[d + 1] + z * p[d + 2] - offset;
      const before = outside[near[i]];
      if (Math.max(0, h0, h1, h2) * perHeight[i] + before <= most) continue;
      const stands = greatestOver(this.flat, 6 * i, flatNew, 0, h0, h1, h2) * perHeight[i] + before;
      if (stands > most) most = stands;
    }
    return most;
  }

  private collapse(a: number, b: number): void {
    const { t, p, alive, around } = this;
    for (const { triangle, outside } of this.changed) this.outside[triangle] = outside;
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
    for (const f of kept) planeOfTriangle(this.p, this.t, f, this.planeOf, PLANE * f);
    this.stamp[b]++;
    // What the edges around would cost has changed: those of `a` are looked at now, those of its neighbours when they come up.
    const ring = new Set<number>();
    for (const f of kept) for (let k = 0; k < 3; k++) if (t[3 * f + k] !== a) ring.add(t[3 * f + k]);
    this.stamp[a]++;
    for (const v of ring) this.touch[v]++;
    for (const v of ring) this.consider(Math.min(a, v), Math.max(a, v));
  }

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
