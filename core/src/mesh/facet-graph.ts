import { cross, length, type Vec3 } from '#core/math';
import { type Facets, facetNormal } from './facets.ts';
import { distanceFrom, type Unfitted } from './fit-surfaces.ts';
import { nextHalf } from './half-edges.ts';
import type { TriMesh } from './tri-mesh.ts';

/** A facet across the border of another one, in radians and mm. */
export interface Neighbour {
  readonly facet: number;
  readonly bend: number;
  /** Of the shared border: its length, and the direction of its longest edge. */
  readonly shared: number;
  readonly along: Vec3;
}

// Radians. Neighbouring strips of one round face bend by less than this.
export const MOST_BEND = 0.75;

/** The facets of a mesh as what lies beside what: walking over their borders, and the corners and triangles of sets of them. */
export class FacetGraph {
  private met: Uint32Array | undefined;
  private meeting = 0;
  readonly mesh: TriMesh;
  readonly partner: Int32Array;
  readonly facets: Facets;

  constructor(mesh: TriMesh, partner: Int32Array, facets: Facets) {
    this.mesh = mesh;
    this.partner = partner;
    this.facets = facets;
  }

  normal(facet: number): Vec3 {
    return facetNormal(this.facets, facet);
  }

  private point(corner: number): Vec3 {
    const { positions: p } = this.mesh;
    return [p[3 * corner], p[3 * corner + 1], p[3 * corner + 2]];
  }

  /** Radians between two facets. */
  bend(a: number, b: number): number {
    const { normal: n } = this.facets;
    const d = n[3 * a] * n[3 * b] + n[3 * a + 1] * n[3 * b + 1] + n[3 * a + 2] * n[3 * b + 2];
    if (d < 0.9) return Math.acos(Math.max(-1, d));
    return Math.asin(Math.min(1, length(cross(this.normal(a), this.normal(b)))));
  }

  /** Calls `use` with each facet across the border of one, and the half-edge between. */
  around(facet: number, use: (other: number, half: number) => void): void {
    const { start, list, of } = this.facets;
    for (let i = start[facet]; i < start[facet + 1]; i++)
      for (let k = 0; k < 3; k++) {
        const half = 3 * list[i] + k;
        const other = this.partner[half];
        if (other < 0) continue;
        const f = of[(other - (other % 3)) / 3];
        if (f !== facet) use(f, half);
      }
  }

  /** The facets beside one that bend smoothly from it, those with the longest shared border first. */
  neighbours(facet: number): Neighbour[] {
    const found = new Map<number, { shared: number; along: Vec3; most: number }>();
    const { triangles: t } = this.mesh;
    this.around(facet, (other, half) => {
      const [a, b] = [this.point(t[half]), this.point(t[nextHalf(half)])];
      const d: Vec3 = [b[0] - a[0], b[1] - a[1], b[2] - a[2]];
      const l = length(d);
      const known = found.get(other);
      if (!known) found.set(other, { shared: l, along: d, most: l });
      else {
        known.shared += l;
        if (l > known.most) {
          known.most = l;
          known.along = d;
        }
      }
    });
    return [...found]
      .map(([f, { shared, along }]) => ({ facet: f, shared, along, bend: this.bend(facet, f) }))
      .filter((n) => n.bend < MOST_BEND && n.shared > 1e-9)
      .sort((a, b) => b.shared - a.shared);
  }

  /** Patches of facets that hang together by bends under `mostBend` radians; a facet that is not `isFree` is in none. */
  patches(isFree: (facet: number) => boolean, mostBend: number): number[][] {
    const done = new Uint8Array(this.facets.count);
    const all: number[][] = [];
    for (let first = 0; first < done.length; first++) {
      if (done[first] || !isFree(first)) continue;
      const patch = [first];
      done[first] = 1;
      for (let i = 0; i < patch.length; i++) {
        const from = patch[i];
        this.around(from, (other) => {
          if (done[other] || !isFree(other) || this.bend(from, other) > mostBend) return;
          done[other] = 1;
          patch.push(other);
        });
      }
      all.push(patch);
    }
    return all;
  }

  /** Packed corners of a patch, at most a few triangles of each facet: a plane beside it may have thousands. */
  fewCornersOf(patch: readonly number[]): Float64Array {
    const { start, list } = this.facets;
    const { triangles: t, positions: p } = this.mesh;
    const out = new Float64Array(27 * patch.length);
    let at = 0;
    for (const f of patch) {
      const end = Math.min(start[f + 1], start[f] + 3);
      for (let i = start[f]; i < end; i++)
        for (let k = 0; k < 3; k++, at += 3) {
          const c = 3 * t[3 * list[i] + k];
          out[at] = p[c];
          out[at + 1] = p[c + 1];
          out[at + 2] = p[c + 2];
        }
    }
    return out.subarray(0, at);
  }

  /** Packed corners of facets; of more than `most` an uneven choice of them all. */
  cornersOf(all: readonly number[], most = Infinity): Float64Array {
    const { start, list } = this.facets;
    const { triangles: t, positions: p } = this.mesh;
    const facets =
      all.length <= most
        ? all
        : Array.from({ length: most }, (_, i) => all[Math.min(all.length - 1, Math.floor(((i + ((i * 0.6180339887) % 1)) * all.length) / most))]);
    let count = 0;
    for (const f of facets) count += start[f + 1] - start[f];
    const out = new Float64Array(9 * count);
    let at = 0;
    for (const f of facets)
      for (let i = start[f]; i < start[f + 1]; i++)
        for (let k = 0; k < 3; k++) {
          const c = 3 * t[3 * list[i] + k];
          out[at++] = p[c];
          out[at++] = p[c + 1];
          out[at++] = p[c + 2];
        }
    return out;
  }

  /** The largest distance of the facets' corners from a surface, mm. */
  worstOf(facets: readonly number[], surface: Unfitted): number {
    const { start, list } = this.facets;
    const { triangles: t, positions: p } = this.mesh;
    this.met ??= new Uint32Array(p.length / 3);
    const visit = ++this.meeting;
    let worst = 0;
    for (const f of facets)
      for (let i = start[f]; i < start[f + 1]; i++)
        for (let k = 0; k < 3; k++) {
          const v = t[3 * list[i] + k];
          if (this.met[v] === visit) continue;
          this.met[v] = visit;
          const d = Math.abs(distanceFrom(surface, p[3 * v], p[3 * v + 1], p[3 * v + 2]));
          if (d > worst) worst = d;
        }
    return worst;
  }

  trianglesOf(facets: readonly number[]): Uint32Array {
    const { start, list } = this.facets;
    const out = new Uint32Array(facets.reduce((n, f) => n + start[f + 1] - start[f], 0));
    let at = 0;
    for (const f of facets) for (let i = start[f]; i < start[f + 1]; i++) out[at++] = list[i];
    return out;
  }

  /** The middle of a facet's first, largest triangle. */
  middleOf(facet: number): Vec3 {
    const { start, list } = this.facets;
    const { triangles: t } = this.mesh;
    const i = list[start[facet]];
    const [a, b, c] = [this.point(t[3 * i]), this.point(t[3 * i + 1]), this.point(t[3 * i + 2])];
    return [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3];
  }
}
