// From triangles to faces: flat pieces, then round surfaces grown over them by hypothesis and least squares.
import { addScaled, cross, dot, length, normalize, type Vec3 } from '#core/math';
import { type Facets, facetNormal, findFacets } from './facets.ts';
import { distanceFrom, fitSphere, liesOn, normalAt, type Primitive, refinePrimitive, type Unfitted } from './fit-surfaces.ts';
import { acrossPair, eachPoint, guessCone, guessCylinder, guessesAbout, sweepOf, worstOf } from './guess-surfaces.ts';
import { nextHalf } from './half-edges.ts';
import type { TriMesh } from './tri-mesh.ts';

/** A face of a mesh: its triangles, and the surface that they lie on. */
export interface Region {
  readonly surface: Primitive | { readonly kind: 'plane'; readonly normal: Vec3; readonly origin: Vec3; readonly residual: number } | { readonly kind: 'free' };
  /** Material outside: the normals look at the axis or centre. */
  readonly concave: boolean;
  readonly triangles: Uint32Array;
}

export interface RegionOptions {
  /** mm. How far corners may be from the surface of their face. */
  readonly tolerance: number;
  readonly onProgress?: (share: number) => void;
}

// Radians. Neighbouring strips of one round face bend by less than this; a facet leans from its surface by less than half of it and a bit.
const MOST_BEND = 0.75;
const LEAST_BEND = 2e-3;
const MOST_BEND_COS = Math.cos(MOST_BEND);
const MOST_LEAN = Math.cos(0.5);
// Facets that a guess is first tried on, and facets whose corners a fit looks at.
const FIRST_PATCH = 60;
const SAMPLE = 200;
// Seeds that fail in a row before a smooth patch is given up as free-form, plus a share of its size.
const PATIENCE = 120;

/** The faces of a welded mesh. Every triangle is in exactly one; round ones first, then planes, then what is neither. */
export function findRegions(mesh: TriMesh, partner: Int32Array, options: RegionOptions): Region[] {
  const facets = findFacets(mesh, partner, options.tolerance * 0.4);
  const grower = new Grower(mesh, partner, facets, options.tolerance);
  const grown: Grown[] = [];
  const bySize = Array.from({ length: facets.count }, (_, i) => i).sort((a, b) => facets.area[b] - facets.area[a]);
  const smooth = grower.smoothParts();
  const failures = new Map<number, number>();
  bySize.forEach((seed, i) => {
    if (grower.taken[seed]) return;
    const part = smooth.of[seed];
    const failed = failures.get(part) ?? 0;
    if (smooth.size[part] < 3 || failed > PATIENCE + 2 * Math.sqrt(smooth.size[part])) return;
    const found = grower.growBest(seed);
    if (!found) {
      failures.set(part, failed + 1);
      return;
    }
    failures.set(part, 0);
    grown.push(found);
    if (i % 256 === 0) options.onProgress?.(i / bySize.length);
  });
  return [...grower.settle(grown), ...grower.rest()];
}

interface Grown {
  readonly region: Region;
  readonly facets: readonly number[];
  /** Few facets over a small turn: a face only where it stands alone. */
  readonly weak: boolean;
}

interface Neighbour {
  readonly facet: number;
  readonly bend: number;
  /** Of the shared border: its length, and the direction of its longest edge. */
  readonly shared: number;
  readonly along: Vec3;
}

// Longer than a file should be: its parts share the scratch arrays of one mesh and are of no use without them.
class Grower {
  readonly taken: Uint8Array;
  private readonly mesh: TriMesh;
  private readonly partner: Int32Array;
  private readonly facets: Facets;
  private readonly tolerance: number;
  private readonly axes: { origin: Vec3; axis: Vec3 }[] = [];
  private readonly seen: Uint32Array;
  private visit = 0;

  constructor(mesh: TriMesh, partner: Int32Array, facets: Facets, tolerance: number) {
    this.mesh = mesh;
    this.partner = partner;
    this.facets = facets;
    this.tolerance = tolerance;
    this.taken = new Uint8Array(facets.count);
    this.seen = new Uint32Array(facets.count);
  }

  private point(corner: number): Vec3 {
    const { positions: p } = this.mesh;
    return [p[3 * corner], p[3 * corner + 1], p[3 * corner + 2]];
  }

  private bend(a: number, b: number): number {
    const { normal: n } = this.facets;
    const d = n[3 * a] * n[3 * b] + n[3 * a + 1] * n[3 * b + 1] + n[3 * a + 2] * n[3 * b + 2];
    if (d < 0.9) return Math.acos(Math.max(-1, d));
    return Math.asin(Math.min(1, length(cross(facetNormal(this.facets, a), facetNormal(this.facets, b)))));
  }

  // Calls `use` with each facet across the border of one, and the half-edge between.
  private around(facet: number, use: (other: number, half: number) => void): void {
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

  private neighbours(facet: number): Neighbour[] {
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

  /** Parts that hang together by smooth borders, with their number of facets. */
  smoothParts(): { of: Int32Array; size: number[] } {
    const of = new Int32Array(this.facets.count).fill(-1);
    const size: number[] = [];
    for (let first = 0; first < this.facets.count; first++) {
      if (of[first] >= 0) continue;
      const id = size.length;
      of[first] = id;
      const stack = [first];
      let count = 0;
      for (let f = stack.pop(); f !== undefined; f = stack.pop()) {
        count++;
        const from = f;
        this.around(f, (other) => {
          if (of[other] >= 0 || this.bend(from, other) > MOST_BEND) return;
          of[other] = id;
          stack.push(other);
        });
      }
      size.push(count);
    }
    return { of, size };
  }

  /** The round face through a facet that covers most, or nothing. */
  growBest(seed: number): Grown | undefined {
    const near = this.neighbours(seed).filter((n) => !this.taken[n.facet] && n.bend > LEAST_BEND);
    if (near.length === 0) return undefined;
    let best: { surface: Primitive; facets: number[]; area: number } | undefined;
    for (const guess of this.guesses(seed, near)) {
      const grown = this.fitAndGrow(seed, guess);
      // A narrow band lies on a ball as well as on its cylinder: the plainer surface is meant.
      if (
        grown &&
        (!best ||
          grown.area > best.area * (isPlain(grown.surface) && !isPlain(best.surface) ? 0.9 : isPlain(best.surface) && !isPlain(grown.surface) ? 1.1 : 1.001))
      )
        best = grown;
      // A face of many facets was not met by chance: the other guesses need not be tried.
      if (best && best.facets.length > 240) break;
    }
    if (!best) return undefined;
    const { surface, facets } = best;
    for (const f of facets) this.taken[f] = 1;
    if (surface.kind !== 'sphere' && this.axes.length < 40 && !this.axes.some((a) => isSameLine(a, surface))) this.axes.push(surface);
    const n = facetNormal(this.facets, facets[0]);
    const region = { surface, concave: dot(n, normalAt(surface, this.middleOf(facets[0]))) < 0, triangles: this.trianglesOf(facets) };
    return { region, facets, weak: facets.length < 12 && this.turnOf(surface, facets) < 0.7 };
  }

  private turnOf(surface: Primitive, facets: readonly number[]): number {
    if (surface.kind === 'sphere') return Math.PI;
    const [u, v] = acrossPair(surface.axis);
    const stops = eachPoint(this.cornersOf(facets, 600), (p) => {
      const d: Vec3 = [p[0] - surface.origin[0], p[1] - surface.origin[1], p[2] - surface.origin[2]];
      return Math.atan2(dot(d, v), dot(d, u));
    });
    return sweepOf(stops);
  }

  /**
   * Weak faces that run smoothly into other weak ones are bits of a free-form face (a flute, a lofted wall) that happened to look round:
   * they are given back, and come out of `rest` as one face.
   */
  settle(grown: readonly Grown[]): Region[] {
    const weakOf = new Int32Array(this.facets.count).fill(-1);
    grown.forEach((g, i) => {
      if (g.weak) for (const f of g.facets) weakOf[f] = i;
    });
    const back = grown.map((g, i) => {
      if (!g.weak) return false;
      const near = new Set<number>();
      for (const f of g.facets)
        this.around(f, (other) => {
          if (weakOf[other] !== i && weakOf[other] >= 0 && this.bend(f, other) < 0.3) near.add(weakOf[other]);
        });
      return near.size > 0;
    });
    grown.forEach((g, i) => {
      if (back[i]) for (const f of g.facets) this.taken[f] = 0;
    });
    return grown.filter((_, i) => !back[i]).map((g) => g.region);
  }

  // Guesses from a wider patch around the seed first (a fine mesh bends too little over a few facets to tell), then from a close one.
  private *guesses(seed: number, near: readonly Neighbour[]): Generator<Unfitted> {
    const n0 = facetNormal(this.facets, seed);
    const close = 6 * this.tolerance;
    const wide = this.patchAround(seed, 40);
    const patches = wide.length > 12 ? [wide, [seed, ...near.slice(0, 8).map((n) => n.facet)]] : [wide];
    for (const patch of patches) {
      yield* this.guessesAboutKnownAxes(seed, n0, this.fewCornersOf(patch), close);
      const cone = guessCone(
        patch.map((f) => facetNormal(this.facets, f)),
        patch.map((f) => this.middleOf(f)),
        this.fewCornersOf(patch),
      );
      if (cone) yield cone;
    }
    for (const first of near.slice(0, 3)) {
      // Strips are longer than wide; other facets of a cylinder were told by their normals.
      if (first.shared * first.shared < 2 * this.facets.area[seed]) continue;
      const along = normalize(first.along);
      const other = cross(n0, facetNormal(this.facets, first.facet));
      if (length(other) < 1e-6 || Math.abs(dot(along, normalize(other))) < 0.9) continue;
      // The shared border is a generator of the cylinder; it is long where the strips are.
      const cylinder = guessCylinder(along, this.cornersOf([seed, first.facet]), close);
      if (cylinder) yield cylinder;
    }
    for (const patch of patches) {
      if (patch.length < 4) continue;
      const points = this.fewCornersOf(patch);
      const sphere = fitSphere(points);
      if (sphere && sphere.radius < 500 && worstOf(sphere, points) < close) yield sphere;
    }
  }

  private *guessesAboutKnownAxes(seed: number, n0: Vec3, points: Float64Array, close: number): Generator<Unfitted> {
    const middle = this.middleOf(seed);
    const turned: { guess: Unfitted; off: number }[] = [];
    for (const known of this.axes) {
      // The normal of a surface of revolution meets its axis.
      const d: Vec3 = [middle[0] - known.origin[0], middle[1] - known.origin[1], middle[2] - known.origin[2]];
      const across = cross(known.axis, d);
      const r = length(across);
      if (r < 1e-6 || Math.abs(dot(across, n0)) / r > 0.2) continue;
      for (const guess of guessesAbout(known, points, close, this.tolerance)) {
        // Along the axis the facet leans as the surface does, however coarse the mesh is around it.
        const lean = Math.abs(dot(known.axis, normalAt(guess, middle))) - Math.abs(dot(known.axis, n0));
        if (Math.abs(lean) < 0.04) turned.push({ guess, off: worstOf(guess, points) });
      }
    }
    turned.sort((a, b) => a.off - b.off);
    for (const { guess } of turned.slice(0, 3)) yield guess;
  }

  // The seed and what hangs together with it smoothly, nearest first.
  private patchAround(seed: number, most: number): number[] {
    const visit = ++this.visit;
    this.seen[seed] = visit;
    const out = [seed];
    for (let i = 0; i < out.length && out.length < most; i++) {
      const from = out[i];
      this.around(from, (other) => {
        if (this.seen[other] === visit || this.taken[other] || out.length >= most) return;
        this.seen[other] = visit;
        if (this.bend(from, other) < 0.5) out.push(other);
      });
    }
    return out;
  }

  // Grows loosely around the seed, fits, and grows on with each better fit; what remains must be a face and not a chance.
  private fitAndGrow(seed: number, guess: Unfitted): { surface: Primitive; facets: number[]; area: number } | undefined {
    const loose = Math.max(10 * this.tolerance, 0.002 * Math.min(5, guess.radius));
    let facets = this.grow(seed, guess, loose, FIRST_PATCH);
    if (facets.length < 3) return undefined;
    let surface = refinePrimitive(guess, this.cornersOf(facets, SAMPLE));
    for (const most of [FIRST_PATCH, 20 * FIRST_PATCH, Infinity, Infinity]) {
      if (!surface) return undefined;
      // The loose growth may have taken in too much: the fit is then bent, and only what lies on it is kept.
      const before = facets.length;
      const wide: number = most === FIRST_PATCH ? Math.min(loose, Math.max(this.tolerance, 0.5 * surface.residual)) : this.tolerance;
      facets = this.grow(seed, surface, wide, most);
      if (facets.length < 3) return undefined;
      if (most === Infinity && facets.length === before && surface.residual <= this.tolerance) break;
      surface = refinePrimitive(surface, this.cornersOf(facets, SAMPLE));
      if (facets.length < most && most !== Infinity && surface && surface.residual <= this.tolerance) {
        // It ended before its limit: once more with the last fit, and it is whole.
        facets = this.grow(seed, surface, this.tolerance, Infinity);
        break;
      }
    }
    if (!surface || facets.length < 3) return undefined;
    const residual = this.worstOf(surface, facets);
    if (residual > this.tolerance || !this.isConvincing(surface, facets)) return undefined;
    return { surface: { ...surface, residual }, facets, area: facets.reduce((s, f) => s + this.facets.area[f], 0) };
  }

  private worstOf(surface: Unfitted, facets: readonly number[]): number {
    const { start, list } = this.facets;
    const { triangles: t, positions: p } = this.mesh;
    let worst = 0;
    for (const f of facets)
      for (let i = start[f]; i < start[f + 1]; i++)
        for (let k = 0; k < 3; k++) {
          const c = 3 * t[3 * list[i] + k];
          worst = Math.max(worst, Math.abs(distanceFrom(surface, p[c], p[c + 1], p[c + 2])));
        }
    return worst;
  }

  private grow(seed: number, surface: Unfitted, tolerance: number, most: number): number[] {
    const sense = dot(facetNormal(this.facets, seed), normalAt(surface, this.middleOf(seed))) < 0 ? -1 : 1;
    const visit = ++this.visit;
    if (!this.lies(seed, surface, tolerance, sense)) return [];
    const { start, list, of, normal: n } = this.facets;
    const { partner, seen, taken } = this;
    const out = [seed];
    seen[seed] = visit;
    for (let i = 0; i < out.length && out.length < most; i++) {
      const from = out[i];
      for (let j = start[from]; j < start[from + 1]; j++)
        for (let k = 0; k < 3; k++) {
          const half = partner[3 * list[j] + k];
          if (half < 0) continue;
          const other = of[(half - (half % 3)) / 3];
          if (seen[other] === visit || taken[other]) continue;
          seen[other] = visit;
          const bend = n[3 * from] * n[3 * other] + n[3 * from + 1] * n[3 * other + 1] + n[3 * from + 2] * n[3 * other + 2];
          if (bend > MOST_BEND_COS && this.lies(other, surface, tolerance, sense)) out.push(other);
        }
    }
    return out;
  }

  private lies(facet: number, surface: Unfitted, tolerance: number, sense: number): boolean {
    const { start, list, area, normal } = this.facets;
    const { triangles: t, positions: p } = this.mesh;
    const leanCos = area[facet] < 1e-7 ? -2 : MOST_LEAN;
    for (let i = start[facet]; i < start[facet + 1]; i++)
      for (let k = 0; k < 3; k++) {
        const c = 3 * t[3 * list[i] + k];
        if (!liesOn(surface, p[c], p[c + 1], p[c + 2], tolerance, normal, 3 * facet, sense, leanCos)) return false;
      }
    return true;
  }

  // Enough different places on the surface that it cannot go through them by chance.
  private isConvincing(surface: Primitive, facets: readonly number[]): boolean {
    const points = this.cornersOf(facets, 600);
    if (surface.kind === 'sphere') return new Set(eachPoint(points, (p) => p.map((v) => v.toFixed(3)).join())).size >= 9;
    const [u, v] = acrossPair(surface.axis);
    const turns = new Set<number>();
    const around = new Set<number>();
    const stops: number[] = [];
    for (const p of eachPoint(points, (q) => q)) {
      const d: Vec3 = [p[0] - surface.origin[0], p[1] - surface.origin[1], p[2] - surface.origin[2]];
      const angle = Math.atan2(dot(d, v), dot(d, u));
      turns.add(Math.round(angle * 500));
      stops.push(angle);
      if (surface.kind === 'torus') {
        const z = dot(d, surface.axis);
        around.add(Math.round(Math.atan2(z, length(addScaled(d, surface.axis, -z)) - surface.majorRadius) * 200));
      }
    }
    const swept = sweepOf(stops);
    if (surface.kind === 'torus') return turns.size >= 3 && around.size >= 3 && swept > 0.05 && turns.size * around.size >= 12;
    // Two neighbouring places of the grid of angles may be one line of the surface.
    return turns.size >= (surface.kind === 'cone' ? 5 : 4) && swept > 0.15;
  }

  /** What no round face took: planes, and smooth patches of no known surface. */
  rest(): Region[] {
    const { count, area } = this.facets;
    const out: Region[] = [];
    const plane = (f: number) => {
      this.taken[f] = 1;
      const normal = facetNormal(this.facets, f);
      const points = this.cornersOf([f]);
      const heights = eachPoint(points, (p) => dot(p, normal));
      const offset = heights.reduce((a, b) => a + b, 0) / heights.length;
      const m = this.middleOf(f);
      const residual = heights.reduce((a, b) => Math.max(a, Math.abs(b - offset)), 0);
      out.push({
        surface: { kind: 'plane', normal, origin: addScaled(m, normal, offset - dot(m, normal)), residual },
        concave: false,
        triangles: this.trianglesOf([f]),
      });
    };
    const done = new Uint8Array(count);
    const patches = (isIn: (f: number) => boolean): number[][] => {
      done.fill(0);
      const all: number[][] = [];
      for (let first = 0; first < count; first++) {
        if (this.taken[first] || done[first] || !isIn(first)) continue;
        const patch = [first];
        done[first] = 1;
        for (let i = 0; i < patch.length; i++) {
          const from = patch[i];
          this.around(from, (other) => {
            if (this.taken[other] || done[other] || !isIn(other) || this.bend(from, other) > 0.55) return;
            done[other] = 1;
            patch.push(other);
          });
        }
        all.push(patch);
      }
      return all;
    };
    for (const patch of patches(() => true)) {
      if (patch.length <= 3) {
        patch.forEach(plane);
        continue;
      }
      const sorted = patch.map((f) => area[f]).sort((a, b) => a - b);
      const median = sorted[sorted.length >> 1];
      const whole = sorted.reduce((a, b) => a + b, 0);
      // A flat face that runs smoothly into a free-form one is far larger than its facets.
      for (const f of patch) if (area[f] > 0.15 * whole || (area[f] > 25 * median && area[f] > 1)) plane(f);
    }
    for (const patch of patches(() => true)) {
      if (patch.length === 1) patch.forEach(plane);
      else {
        for (const f of patch) this.taken[f] = 1;
        out.push({ surface: { kind: 'free' }, concave: false, triangles: this.trianglesOf(patch) });
      }
    }
    return out;
  }

  // Corners of a patch, at most a few triangles of each facet: a plane beside it may have thousands.
  private fewCornersOf(patch: readonly number[]): Float64Array {
    const { start, list } = this.facets;
    const { triangles: t, positions: p } = this.mesh;
    const out: number[] = [];
    for (const f of patch)
      for (let i = start[f]; i < Math.min(start[f + 1], start[f] + 3); i++)
        for (let k = 0; k < 3; k++) {
          const c = 3 * t[3 * list[i] + k];
          out.push(p[c], p[c + 1], p[c + 2]);
        }
    return Float64Array.from(out);
  }

  // Packed corners of facets; of more than `most` an even choice.
  private cornersOf(all: readonly number[], most = Infinity): Float64Array {
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

  private trianglesOf(facets: readonly number[]): Uint32Array {
    const { start, list } = this.facets;
    const out = new Uint32Array(facets.reduce((n, f) => n + start[f + 1] - start[f], 0));
    let at = 0;
    for (const f of facets) for (let i = start[f]; i < start[f + 1]; i++) out[at++] = list[i];
    return out;
  }

  private middleOf(facet: number): Vec3 {
    const { start, list } = this.facets;
    const { triangles: t } = this.mesh;
    const i = list[start[facet]];
    const [a, b, c] = [this.point(t[3 * i]), this.point(t[3 * i + 1]), this.point(t[3 * i + 2])];
    return [(a[0] + b[0] + c[0]) / 3, (a[1] + b[1] + c[1]) / 3, (a[2] + b[2] + c[2]) / 3];
  }
}

const isPlain = (s: Unfitted): boolean => s.kind === 'cylinder' || s.kind === 'cone';

const isSameLine = (a: { origin: Vec3; axis: Vec3 }, b: { origin: Vec3; axis: Vec3 }): boolean => {
  if (length(cross(a.axis, b.axis)) > 1e-3) return false;
  const d: Vec3 = [b.origin[0] - a.origin[0], b.origin[1] - a.origin[1], b.origin[2] - a.origin[2]];
  return length(addScaled(d, a.axis, -dot(d, a.axis))) < 0.01;
};
