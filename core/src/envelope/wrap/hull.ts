import type { Vec3 } from '#core/math';
import { PLANE_SIZE, type TriMesh } from '#core/mesh';
import { CollapseBound } from './collapse-bound.ts';
import type { CoverBound } from './cover-bound.ts';
import { CollapseHeap } from './collapse-heap.ts';
import { CollapsePlace } from './collapse-place.ts';
import { EdgeTimes } from './edge-times.ts';
import { ChangedTriangles, HullMesh, triangleAt } from './hull-mesh.ts';
import type { Reach } from './reach.ts';

// Cosine. A triangle that a collapse turns by more than this is folding over.
const MOST_TURN = 0.2;
// A triangle's height over its longest side, below which it is a sliver that a collapse must not make.
const THINNEST = 1e-4;
// Before the time of any change.
const NEVER = -1;
/** Where no triangle may be made: a centre, and a radius in mm. */
export interface Ball {
  readonly at: Vec3;
  radius: number;
}

/** What a pass over the edges keeps to. */
export interface HullMeans {
  readonly tolerance: number;
  readonly triangles: number;
  /** Only what surely keeps the tolerance is done. */
  readonly isSure: boolean;
  readonly keepOut: readonly Ball[];
  /** Tells of triangles how far they stand from the reference, where the planes around them do not. */
  readonly cover: CoverBound;
  readonly progress: (left: number) => void;
}

/** A hull while its edges collapse, the cheapest first, each as far as the mesh stays a good one within the tolerance. */
export class Hull {
  readonly mesh: HullMesh;
  private readonly reference: Reach;
  private readonly options: HullMeans;
  private readonly search: CollapsePlace;
  private readonly bound: CollapseBound;
  private heap = new CollapseHeap();
  private looks = new EdgeTimes();
  /** What the collapse that was looked at last would make of the triangles around it. */
  private readonly changed = new ChangedTriangles();
  /** Those of them of which only the reference tells how far they stand out. */
  private readonly untold: number[] = [];

  constructor(mesh: TriMesh, reference: Reach, options: HullMeans, outside?: Float64Array) {
    this.mesh = new HullMesh(mesh, outside);
    this.reference = reference;
    this.options = options;
    this.search = new CollapsePlace(this.mesh);
    this.bound = new CollapseBound(this.mesh, this.search);
  }

  // What was not allowed at first may be later: over all edges again, until that gives little.
  run(): TriMesh {
    const { mesh, options } = this;
    let since = -1;
    for (let before = Infinity; mesh.left < 0.99 * before && mesh.left > options.triangles; ) {
      before = mesh.left;
      const start = mesh.time;
      this.pass(since);
      since = start;
    }
    return mesh.compact().mesh;
  }

  /** Goes over all edges beside which something has changed since a time, the cheapest first. */
  pass(since = -1): void {
    const { triangles, progress } = this.options;
    const { mesh, search } = this;
    const { t, alive, touched } = mesh;
    const heap = new CollapseHeap();
    this.heap = heap;
    this.looks = new EdgeTimes();
    for (let h = 0; h < t.length; h++) {
      if (!alive[triangleAt(h)]) continue;
      const a = t[h];
      const b = t[h % 3 === 2 ? h - 2 : h + 1];
      // Many are gone before they come up, and need not be looked at.
      if (a < b && (touched[a] > since || touched[b] > since)) heap.push(search.guess(a, b), a, b, NEVER, search.place);
    }
    for (let round = 0; mesh.left > triangles; round++) {
      const slot = heap.pop();
      if (slot < 0) return;
      const { edges, places } = heap;
      const e = 3 * slot;
      const a = mesh.now(edges[e]);
      const b = mesh.now(edges[e + 1]);
      if (a === b) continue;
      // What was beside it has changed since it was looked at: it stays where it was among the others until it comes up, which is now.
      const changed = Math.max(touched[a], touched[b]);
      if (changed > edges[e + 2]) {
        // Two edges may have become the same one.
        if (this.looks.of(a, b) < changed) this.consider(a, b);
        continue;
      }
      for (let k = 0; k < 3; k++) search.place[k] = places[3 * slot + k];
      if (this.isAllowed(a, b)) mesh.collapse(a, b, search.place, this.changed);
      if ((round & 1023) === 0) progress(mesh.left);
    }
  }

  private consider(a: number, b: number): void {
    const cost = this.search.find(a, b);
    this.looks.set(a, b, this.mesh.time);
    if (cost !== Infinity) this.heap.push(cost, a, b, this.mesh.time, this.search.place);
  }

  // Whether the mesh stays a good one: a surface without folds and slivers, within the tolerance.
  private isAllowed(a: number, b: number): boolean {
    const { mesh, search, changed, reference } = this;
    if (!mesh.isLinked(a, b)) return false;
    const { tolerance, isSure } = this.options;
    const { place } = search;
    if (!isSure && !reference.isNear(place[0], place[1], place[2], tolerance)) return false;
    search.gather(a, b);
    this.bound.prepare();
    changed.clear();
    if (!this.isTurnedWell(a, b) || !this.isTurnedWell(b, a)) return false;
    // Where one of them cannot be told, old and new ones do not cover the same, and none of them is told.
    let isTold = true;
    for (let i = 0; i < changed.count; i++) if (changed.outside[i] === Infinity) isTold = false;
    // Of what was not told to keep it nothing is left then.
    if (isSure) return true;
    this.untold.length = 0;
    for (let i = 0; i < changed.count; i++) if (!isTold || changed.outside[i] > tolerance) this.untold.push(i);
    return this.areNear(this.untold);
  }

  // Looks at the triangles of one end without the other: what becomes of them is noted in `changed`.
  private isTurnedWell(v: number, other: number): boolean {
    const { mesh, bound, changed } = this;
    const { t, p, planeOf } = mesh;
    const { tolerance, isSure, keepOut } = this.options;
    const { place } = this.search;
    const px = place[0];
    const py = place[1];
    const pz = place[2];
    for (let h = mesh.first(v); h >= 0; h = mesh.following(h)) {
      const f = triangleAt(h);
      if (mesh.has(f, other)) continue;
      const k = h - 3 * f;
      const c = 3 * t[3 * f + ((k + 1) % 3)];
      const d = 3 * t[3 * f + ((k + 2) % 3)];
      const ux = p[c] - px;
      const uy = p[c + 1] - py;
      const uz = p[c + 2] - pz;
      const wx = p[d] - px;
      const wy = p[d + 1] - py;
      const wz = p[d + 2] - pz;
      const nx = uy * wz - uz * wy;
      const ny = uz * wx - ux * wz;
      const nz = ux * wy - uy * wx;
      const twice = Math.sqrt(nx * nx + ny * ny + nz * nz);
      const side = Math.sqrt(
        Math.max(ux * ux + uy * uy + uz * uz, wx * wx + wy * wy + wz * wz, (ux - wx) * (ux - wx) + (uy - wy) * (uy - wy) + (uz - wz) * (uz - wz)),
      );
      if (twice < THINNEST * side * side) return false;
      const was = PLANE_SIZE * f;
      if (planeOf[was + 4] > 0 && nx * planeOf[was] + ny * planeOf[was + 1] + nz * planeOf[was + 2] < MOST_TURN * twice) return false;
      if (keepOut.length > 0 && this.meetsBall(c, d, nx / twice, ny / twice, nz / twice)) return false;
      const outside = bound.of(c, d, nx / twice, ny / twice, nz / twice);
      if (isSure && outside > tolerance) return false;
      changed.add(f, c, d, outside);
    }
    return true;
  }

  // Whether the triangle from the new place to two corners comes near a place that is kept clear: by its plane and its box.
  private meetsBall(c: number, d: number, nx: number, ny: number, nz: number): boolean {
    const { p } = this.mesh;
    const { place } = this.search;
    return this.options.keepOut.some(({ at, radius }) => {
      const above = nx * (at[0] - place[0]) + ny * (at[1] - place[1]) + nz * (at[2] - place[2]);
      if (Math.abs(above) >= radius) return false;
      for (let k = 0; k < 3; k++) {
        if (at[k] - radius >= Math.max(place[k], p[c + k], p[d + k]) || at[k] + radius <= Math.min(place[k], p[c + k], p[d + k])) return false;
      }
      return true;
    });
  }

  // Whether changed triangles keep the tolerance: at a few places of each, which tells most that do not, then all over.
  private areNear(list: readonly number[]): boolean {
    const { changed } = this;
    const { tolerance, cover } = this.options;
    for (const i of list) if (!this.isNearAt(i)) return false;
    for (const i of list) {
      const [a, b, c] = this.cornersOf(i);
      changed.outside[i] = cover.of(a, b, c, tolerance);
      if (changed.outside[i] > tolerance) return false;
    }
    return true;
  }

  private cornersOf(i: number): [Vec3, Vec3, Vec3] {
    const { p } = this.mesh;
    const { place } = this.search;
    const [c, d] = [this.changed.c[i], this.changed.d[i]];
    return [
      [place[0], place[1], place[2]],
      [p[c], p[c + 1], p[c + 2]],
      [p[d], p[d + 1], p[d + 2]],
    ];
  }

  // A changed triangle at its middle and the middles of its new sides.
  private isNearAt(i: number): boolean {
    const { reference } = this;
    const { tolerance } = this.options;
    const [place, c, d] = this.cornersOf(i);
    return (
      reference.isNear((place[0] + c[0] + d[0]) / 3, (place[1] + c[1] + d[1]) / 3, (place[2] + c[2] + d[2]) / 3, tolerance) &&
      reference.isNear((place[0] + c[0]) / 2, (place[1] + c[1]) / 2, (place[2] + c[2]) / 2, tolerance) &&
      reference.isNear((place[0] + d[0]) / 2, (place[1] + d[1]) / 2, (place[2] + d[2]) / 2, tolerance)
    );
  }
}
