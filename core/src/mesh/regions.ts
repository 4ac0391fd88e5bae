// From triangles to faces: flat pieces, then round surfaces grown over them by hypothesis and least squares.
import { addScaled, anyAcross, cross, dot, length, normalize, subtract, type Vec3 } from '#core/math';
import { findFacets } from './facets.ts';
import { FacetGraph, MOST_BEND, type Neighbour } from './facet-graph.ts';
import { fitSphere, normalAt, plainest, type Primitive, refinePrimitive, type Unfitted } from './fit-surfaces.ts';
import { eachPoint, guessCone, guessCylinder, guessesAbout, sweepOf, worstOf } from './guess-surfaces.ts';
import { orderBySize } from './order-by-size.ts';
import { SurfaceProbe } from './surface-probe.ts';
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

// Radians. Facets of one round face bend by more than nothing, and lean from it by less than half of the most and a bit; those of one patch
// without a known surface bend by less than SAME_PATCH.
const SAME_PATCH = 0.55;
const LEAST_BEND = 2e-3;
const MOST_BEND_COS = Math.cos(MOST_BEND);
const MOST_LEAN = Math.cos(0.5);
// Facets that a guess is first tried on, and facets whose corners a fit looks at.
const FIRST_PATCH = 60;
const SAMPLE = 200;
// Corners that the first fit of a guess looks at.
const FIRST_FIT = 40;
// Seeds that fail in a row before a smooth patch is given up as free-form, plus a share of its size.
const PATIENCE = 120;

/** The faces of a welded mesh. Every triangle is in exactly one; round ones first, then planes, then what is neither. */
export function findRegions(mesh: TriMesh, partner: Int32Array, options: RegionOptions): Region[] {
  const graph = new FacetGraph(mesh, partner, findFacets(mesh, partner, options.tolerance * 0.4));
  const { facets } = graph;
  const grower = new Grower(graph, options.tolerance);
  const grown: Grown[] = [];
  const bySize = orderBySize(facets.area);
  const partOf = new Int32Array(facets.count);
  const parts = graph.patches(() => true, MOST_BEND);
  parts.forEach((part, i) => {
    for (const f of part) partOf[f] = i;
  });
  const failures = new Map<number, number>();
  bySize.forEach((seed, i) => {
    if (i % 4096 === 0) options.onProgress?.(i / bySize.length);
    if (grower.taken[seed]) return;
    const part = partOf[seed];
    const failed = failures.get(part) ?? 0;
    const size = parts[part].length;
    if (size < 3 || failed > PATIENCE + 2 * Math.sqrt(size)) return;
    const found = grower.growBest(seed);
    if (!found) {
      failures.set(part, failed + 1);
      return;
    }
    // Of weak ones a free-form face gives many.
    if (!found.weak) failures.set(part, 0);
    grown.push(found);
  });
  return [...grower.settle(grown), ...grower.rest()];
}

interface Grown {
  readonly region: Region;
  readonly facets: readonly number[];
  /** Few facets over a small turn: a face only where it stands alone. */
  readonly weak: boolean;
}

class Grower {
  readonly taken: Uint8Array;
  private readonly graph: FacetGraph;
  private readonly tolerance: number;
  private readonly axes: { origin: Vec3; axis: Vec3 }[] = [];
  private readonly seen: Uint32Array;
  private readonly probe: SurfaceProbe;
  private visit = 0;

  constructor(graph: FacetGraph, tolerance: number) {
    this.graph = graph;
    this.tolerance = tolerance;
    this.taken = new Uint8Array(graph.facets.count);
    this.seen = new Uint32Array(graph.facets.count);
    this.probe = new SurfaceProbe(graph.mesh.positions);
  }

  /** The round face through a facet that covers most, or nothing. */
  growBest(seed: number): Grown | undefined {
    const near = this.graph.neighbours(seed).filter((n) => !this.taken[n.facet] && n.bend > LEAST_BEND);
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
    const n = this.graph.normal(facets[0]);
    const region = { surface, concave: dot(n, normalAt(surface, this.graph.middleOf(facets[0]))) < 0, triangles: this.graph.trianglesOf(facets) };
    return { region, facets, weak: facets.length < 12 && this.turnOf(surface, facets) < 0.7 };
  }

  private turnOf(surface: Primitive, facets: readonly number[]): number {
    if (surface.kind === 'sphere') return Math.PI;
    const u = anyAcross(surface.axis);
    const v = cross(surface.axis, u);
    const stops = eachPoint(this.graph.cornersOf(facets), (p) => {
      const d = subtract(p, surface.origin);
      return Math.atan2(dot(d, v), dot(d, u));
    });
    return sweepOf(Float64Array.from(stops));
  }

  /**
   * Weak faces that run smoothly into other weak ones are bits of a free-form face (a flute, a lofted wall) that happened to look round:
   * they are given back, and come out of `rest` as one face.
   */
  settle(grown: readonly Grown[]): Region[] {
    const weakOf = new Int32Array(this.graph.facets.count).fill(-1);
    grown.forEach((g, i) => {
      if (g.weak) for (const f of g.facets) weakOf[f] = i;
    });
    const back = grown.map((g, i) => {
      if (!g.weak) return false;
      let beside = false;
      for (const f of g.facets)
        this.graph.around(f, (other) => {
          beside ||= weakOf[other] >= 0 && weakOf[other] !== i && this.graph.bend(f, other) < 0.3;
        });
      return beside;
    });
    grown.forEach((g, i) => {
      if (back[i]) for (const f of g.facets) this.taken[f] = 0;
    });
    return grown.filter((_, i) => !back[i]).map((g) => g.region);
  }

  // Guesses from a wider patch around the seed first (a fine mesh bends too little over a few facets to tell), then from a close one.
  private *guesses(seed: number, near: readonly Neighbour[]): Generator<Unfitted> {
    const n0 = this.graph.normal(seed);
    const close = 6 * this.tolerance;
    const wide = this.patchAround(seed, 40);
    const patches = wide.length > 12 ? [wide, [seed, ...near.slice(0, 8).map((n) => n.facet)]] : [wide];
    for (const patch of patches) {
      yield* this.guessesAboutKnownAxes(seed, n0, this.graph.fewCornersOf(patch), close);
      const cone = guessCone(
        patch.map((f) => this.graph.normal(f)),
        patch.map((f) => this.graph.middleOf(f)),
        this.graph.fewCornersOf(patch),
      );
      if (cone) yield cone;
    }
    for (const first of near.slice(0, 3)) {
      // Strips are longer than wide; other facets of a cylinder were told by their normals.
      if (first.shared * first.shared < 2 * this.graph.facets.area[seed]) continue;
      const along = normalize(first.along);
      const other = cross(n0, this.graph.normal(first.facet));
      if (length(other) < 1e-6 || Math.abs(dot(along, normalize(other))) < 0.9) continue;
      // The shared border is a generator of the cylinder; it is long where the strips are.
      const cylinder = guessCylinder(along, this.graph.cornersOf([seed, first.facet]), close);
      if (cylinder) yield cylinder;
    }
    for (const patch of patches) {
      if (patch.length < 4) continue;
      const points = this.graph.fewCornersOf(patch);
      const sphere = fitSphere(points);
      if (sphere && sphere.radius < 500 && worstOf(sphere, points) < close) yield sphere;
    }
  }

  private *guessesAboutKnownAxes(seed: number, n0: Vec3, points: Float64Array, close: number): Generator<Unfitted> {
    const middle = this.graph.middleOf(seed);
    const turned: { guess: Unfitted; off: number }[] = [];
    for (const known of this.axes) {
      // The normal of a surface of revolution meets its axis.
      const d = subtract(middle, known.origin);
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
      this.graph.around(from, (other) => {
        if (this.seen[other] === visit || this.taken[other] || out.length >= most) return;
        this.seen[other] = visit;
        if (this.graph.bend(from, other) < 0.5) out.push(other);
      });
    }
    return out;
  }

  // Grows loosely around the seed, fits, and grows on with each better fit; what remains must be a face and not a chance.
  private fitAndGrow(seed: number, guess: Unfitted): { surface: Primitive; facets: number[]; area: number } | undefined {
    const loose = Math.max(10 * this.tolerance, 0.002 * Math.min(5, guess.radius));
    let facets = this.grow(seed, guess, loose, FIRST_PATCH);
    if (facets.length < 3) return undefined;
    let surface = refinePrimitive(guess, this.graph.cornersOf(facets, SAMPLE), FIRST_FIT);
    for (const most of [FIRST_PATCH, 20 * FIRST_PATCH, Infinity, Infinity]) {
      if (!surface) return undefined;
      // The loose growth may have taken in too much: the fit is then bent, and only what lies on it is kept.
      const before = facets.length;
      const wide: number = most === FIRST_PATCH ? Math.min(loose, Math.max(this.tolerance, 0.5 * surface.residual)) : this.tolerance;
      facets = this.grow(seed, surface, wide, most);
      if (facets.length < 3) return undefined;
      if (most === Infinity && facets.length === before && surface.residual <= this.tolerance) break;
      surface = refinePrimitive(surface, this.graph.cornersOf(facets, SAMPLE));
      if (facets.length < most && most !== Infinity && surface && surface.residual <= this.tolerance) {
        // It ended before its limit: once more with the last fit, and it is whole.
        facets = this.grow(seed, surface, this.tolerance, Infinity);
        break;
      }
    }
    if (!surface || facets.length < 3) return undefined;
    surface = plainest(surface, this.graph.cornersOf(facets), this.tolerance);
    const residual = this.graph.worstOf(facets, surface);
    if (residual > this.tolerance || !this.isConvincing(surface, facets)) return undefined;
    return { surface: { ...surface, residual }, facets, area: facets.reduce((s, f) => s + this.graph.facets.area[f], 0) };
  }

  private grow(seed: number, surface: Unfitted, tolerance: number, most: number): number[] {
    const sense = dot(this.graph.normal(seed), normalAt(surface, this.graph.middleOf(seed))) < 0 ? -1 : 1;
    const visit = ++this.visit;
    this.probe.begin(surface, tolerance);
    if (!this.lies(seed, sense)) return [];
    const { start, list, of, normal: n } = this.graph.facets;
    const { partner } = this.graph;
    const { seen, taken } = this;
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
          if (bend > MOST_BEND_COS && this.lies(other, sense)) out.push(other);
        }
    }
    return out;
  }

  // Every corner of a facet on the surface that is being asked for, and the facet along it there.
  private lies(facet: number, sense: number): boolean {
    const { start, list, area, normal } = this.graph.facets;
    const { triangles: t } = this.graph.mesh;
    const { probe } = this;
    const leanCos = area[facet] < 1e-7 ? -2 : MOST_LEAN;
    const x = sense * normal[3 * facet];
    const y = sense * normal[3 * facet + 1];
    const z = sense * normal[3 * facet + 2];
    for (let i = start[facet]; i < start[facet + 1]; i++) {
      const c = 3 * list[i];
      if (!probe.lies(t[c], x, y, z, leanCos) || !probe.lies(t[c + 1], x, y, z, leanCos) || !probe.lies(t[c + 2], x, y, z, leanCos)) return false;
    }
    return true;
  }

  // Enough different places on the surface that it cannot go through them by chance.
  private isConvincing(surface: Primitive, facets: readonly number[]): boolean {
    const points = this.graph.cornersOf(facets, SAMPLE);
    if (surface.kind === 'sphere') return new Set(eachPoint(points, (p) => p.map((v) => v.toFixed(3)).join())).size >= 9;
    const u = anyAcross(surface.axis);
    const v = cross(surface.axis, u);
    const turns = new Set<number>();
    const around = new Set<number>();
    const stops = new Float64Array(points.length / 3);
    const [ox, oy, oz] = surface.origin;
    const [ax, ay, az] = surface.axis;
    for (let i = 0; i < stops.length; i++) {
      const [dx, dy, dz] = [points[3 * i] - ox, points[3 * i + 1] - oy, points[3 * i + 2] - oz];
      const [x, y] = [dx * u[0] + dy * u[1] + dz * u[2], dx * v[0] + dy * v[1] + dz * v[2]];
      stops[i] = Math.atan2(y, x);
      turns.add(Math.round(stops[i] * 500));
      if (surface.kind === 'torus') around.add(Math.round(Math.atan2(dx * ax + dy * ay + dz * az, Math.sqrt(x * x + y * y) - surface.majorRadius) * 200));
    }
    const swept = sweepOf(stops);
    if (surface.kind === 'torus') return turns.size >= 3 && around.size >= 3 && swept > 0.05 && turns.size * around.size >= 12;
    // Two neighbouring places of the grid of angles may be one line of the surface.
    return turns.size >= (surface.kind === 'cone' ? 5 : 4) && swept > 0.15 && !isPlaneBetweenStrips(stops);
  }

  /** What no round face took: planes, and smooth patches of no known surface. */
  rest(): Region[] {
    const { area } = this.graph.facets;
    const out: Region[] = [];
    const plane = (f: number) => {
      this.taken[f] = 1;
      const normal = this.graph.normal(f);
      const points = this.graph.cornersOf([f]);
      const heights = eachPoint(points, (p) => dot(p, normal));
      const offset = heights.reduce((a, b) => a + b, 0) / heights.length;
      const m = this.graph.middleOf(f);
      const residual = heights.reduce((a, b) => Math.max(a, Math.abs(b - offset)), 0);
      out.push({
        surface: { kind: 'plane', normal, origin: addScaled(m, normal, offset - dot(m, normal)), residual },
        concave: false,
        triangles: this.graph.trianglesOf([f]),
      });
    };
    const isFree = (f: number) => !this.taken[f];
    for (const patch of this.graph.patches(isFree, SAME_PATCH)) {
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
    for (const patch of this.graph.patches(isFree, SAME_PATCH)) {
      if (patch.length === 1) patch.forEach(plane);
      else {
        for (const f of patch) this.taken[f] = 1;
        out.push({ surface: { kind: 'free' }, concave: false, triangles: this.graph.trianglesOf(patch) });
      }
    }
    return out;
  }
}

// Strips of one round face are about as wide as each other. A plane between two narrow ones of the roundings beside it lies on a large cylinder as well.
function isPlaneBetweenStrips(stops: Float64Array): boolean {
  const sorted = [...stops].sort((a, b) => a - b);
  const steps = sorted.map((v, i) => (i === 0 ? sorted[0] + 2 * Math.PI - sorted[sorted.length - 1] : v - sorted[i - 1])).filter((d) => d > SAME_STOP);
  // Around the whole turn one of the steps is what the face does not cover.
  const strips = steps.sort((a, b) => b - a).slice(1);
  return strips.length > 1 && strips.length <= FEW_STRIPS && strips[0] > MUCH_WIDER * strips[1];
}
const SAME_STOP = 1e-4;
const FEW_STRIPS = 5;
const MUCH_WIDER = 8;

const isPlain = (s: Unfitted): boolean => s.kind === 'cylinder' || s.kind === 'cone';

const isSameLine = (a: { origin: Vec3; axis: Vec3 }, b: { origin: Vec3; axis: Vec3 }): boolean => {
  if (length(cross(a.axis, b.axis)) > 1e-3) return false;
  const d = subtract(b.origin, a.origin);
  return length(addScaled(d, a.axis, -dot(d, a.axis))) < 0.01;
};
