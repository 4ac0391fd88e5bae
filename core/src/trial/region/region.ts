import { flattenPath, type FlatPoint, type HalfProfile } from '#core/outline';
import { areaOfUnits, common, fewerCorners, type Polygons, together, toMillimetres, toUnits, UNITS, within, without } from '#core/clipping';
import { boxesOf, convexToEdges, pointToSegment, rectToEdges } from './edge-distance.ts';

/** mm. Chords that stand for arcs lie no farther from them than this. */
export const SAG = 2e-4;

// mm along the axis. A region is kept in slabs, so that a cut works on what is near it only.
const SLAB = 4;
const SLAB_UNITS = SLAB * UNITS;
// Units. Where one slab begins: nothing that is drawn lies there, so that what ends there is a seam.
const SEAM = 123_457;
const SEAM_MM = SEAM / UNITS;
const slabAt = (units: number): number => Math.floor((units - SEAM) / SLAB_UNITS);
const slabAtMm = (z: number): number => Math.floor((z - SEAM_MM) / SLAB);
const seamOf = (slab: number): number => slab * SLAB_UNITS + SEAM;
// Units. Corners that are nearer to the line of their neighbours are taken away when a region is told: 0.05 micrometres.
const STRAIGHT = 5;
// Square units. What is smaller is rounding between cuts, no material: a hundred-thousandth of a square millimetre.
const SLIVER = 1e5;
// Units. How far rounding moves what lies on a seam.
const OFF_SEAM = 3;

interface Slab {
  polygons: Polygons;
  /** Twice the area, and what its rings have: units. */
  area: number;
  volume: number;
  /** [z, r, z, r] of every edge, mm; made when a distance is asked for. */
  edges: Float64Array | undefined;
  /** Of every few edges that follow one another [z0, z1, r0, r1], mm. */
  boxes: Float64Array;
  top: number;
  bottom: number;
  /** Along the axis: where it begins and ends, and a place between where it is in two. */
  left: number;
  right: number;
  gap: number | undefined;
}

const EMPTY: Slab = {
  polygons: [],
  area: 0,
  volume: 0,
  edges: new Float64Array(0),
  boxes: new Float64Array(0),
  top: -Infinity,
  bottom: Infinity,
  left: Infinity,
  right: -Infinity,
  gap: undefined,
};

/** What a cut took away: mm2 of the half section, mm3 of the work, and where (the half section's box). */
export interface Removed {
  readonly area: number;
  readonly volume: number;
}

/**
 * The half section of what turns, [z, r] in mm, as it is cut: polygons whose chords lie within 0.0002 mm of the arcs they stand for, counted in hundred-thousandths of a
 * millimetre. What is cut is exact within that.
 */
export class Region {
  private readonly slabs = new Map<number, Slab>();
  /** Counts the cuts that took something away. */
  version = 0;

  static ofProfile(profile: HalfProfile): Region {
    return Region.ofPolygons(together(profile.map((loop) => toUnits(flattenPath(loop, SAG, false)))));
  }

  /** Closed polygons in mm: outer ones counter-clockwise, holes clockwise. */
  static ofLoops(loops: readonly (readonly FlatPoint[])[]): Region {
    return Region.ofPolygons(loops.map(toUnits));
  }

  static ofPolygons(polygons: Polygons): Region {
    const region = new Region();
    const all = polygons.flat();
    if (all.length === 0) return region;
    const first = slabAt(leastOf(all, 'x'));
    const last = slabAt(mostOf(all, 'x'));
    const top = mostOf(all, 'y') + 1;
    for (let i = first; i <= last; i++) {
      const part = within(polygons, seamOf(i), seamOf(i + 1), -top, top);
      if (part.length > 0) region.slabs.set(i, slabOf(ontoSeams(part, i)));
    }
    return region;
  }

  copy(): Region {
    const other = new Region();
    for (const [i, slab] of this.slabs) other.slabs.set(i, slab);
    return other;
  }

  /** Takes polygons away; gives what that was. */
  cut(clips: Polygons): Removed {
    let area = 0;
    let volume = 0;
    for (const [i, near] of this.nearby(clips)) {
      const slab = this.slabs.get(i);
      if (!slab) continue;
      const left = without(slab.polygons, near);
      const next = left.length === 0 ? EMPTY : slabOf(left);
      // Slivers of rounding are no cut.
      if (slab.area - next.area <= NOTHING) continue;
      area += slab.area - next.area;
      volume += slab.volume - next.volume;
      if (left.length === 0) this.slabs.delete(i);
      else this.slabs.set(i, next);
    }
    if (area > 0) this.version++;
    return { area: area / UNITS ** 2, volume: volume / UNITS ** 3 };
  }

  /** What polygons have in common with it, mm. */
  commonWith(clips: Polygons): FlatPoint[][] {
    const found: FlatPoint[][] = [];
    for (const [i, near] of this.nearby(clips)) {
      const slab = this.slabs.get(i);
      if (slab) for (const p of common(slab.polygons, near)) found.push(toMillimetres(p));
    }
    return found;
  }

  // For each slab that polygons reach into, those that do.
  private nearby(clips: Polygons): Map<number, Polygons> {
    const near = new Map<number, Polygons>();
    for (const clip of clips) {
      let [left, right, bottom, top] = [Infinity, -Infinity, Infinity, -Infinity];
      for (const { x, y } of clip) {
        if (x < left) left = x;
        if (x > right) right = x;
        if (y < bottom) bottom = y;
        if (y > top) top = y;
      }
      for (let i = slabAt(left); i <= slabAt(right); i++) {
        const slab = this.slabs.get(i);
        if (!slab || top < slab.bottom || bottom > slab.top) continue;
        const list = near.get(i);
        if (list) list.push(clip);
        else near.set(i, [clip]);
      }
    }
    return near;
  }

  get isEmpty(): boolean {
    return this.slabs.size === 0;
  }

  /** A place along the axis, mm, behind and before which there is something and at which there is nothing: it is in two. The one that is farthest along. */
  get apartAt(): number | undefined {
    const order = [...this.slabs.keys()].sort((a, b) => b - a);
    for (const [k, i] of order.entries()) {
      const slab = this.slabs.get(i);
      if (!slab) continue;
      if (slab.gap !== undefined) return slab.gap / UNITS;
      const next = this.slabs.get(order[k + 1]);
      if (next && slab.left - next.right > APART) return (slab.left + next.right) / 2 / UNITS;
    }
    return undefined;
  }

  /** mm3 of what turns. */
  get volume(): number {
    let sum = 0;
    for (const s of this.slabs.values()) sum += s.volume;
    return sum / UNITS ** 3;
  }

  /** mm2 of the half section. */
  get area(): number {
    let sum = 0;
    for (const s of this.slabs.values()) sum += s.area;
    return sum / UNITS ** 2;
  }

  /** All of it as polygons in units: outer ones counter-clockwise, holes clockwise. */
  get polygons(): Polygons {
    // Where slabs meet, what rounding moved off the seam goes back onto it.
    const whole = [...this.slabs].flatMap(([i, slab]) => ontoSeams(slab.polygons, i));
    return fewerCorners(together(whole), STRAIGHT).filter((p) => Math.abs(areaOfUnits(p)) > SLIVER);
  }

  /** All of it as closed polygons, mm. */
  get loops(): FlatPoint[][] {
    return this.polygons.map(toMillimetres);
  }

  /** Whether a place is in it. */
  contains(z: number, r: number): boolean {
    const slab = this.slabs.get(slabAtMm(z));
    return slab !== undefined && r * UNITS <= slab.top && r * UNITS >= slab.bottom && isInside(edgesOf(slab), z, r);
  }

  /** How deep a place lies in it, mm: to the nearest place of its surface. 0 where it is outside. */
  depthAt(z: number, r: number): number {
    if (!this.contains(z, r)) return 0;
    let best = Infinity;
    const middle = slabAtMm(z);
    for (let off = 0; ; off++) {
      // What is farther away than what was found is not looked at.
      if (off > 1 && ((off - 1) * SLAB) ** 2 > best) return Math.sqrt(best);
      let any = false;
      for (const i of off === 0 ? [middle] : [middle - off, middle + off]) {
        const slab = this.slabs.get(i);
        if (!slab) continue;
        any = true;
        best = Math.min(best, surfaceDistance(slab, i, z, r));
      }
      if (!any) return Math.sqrt(best);
    }
  }

  /** How far a rectangle [z0, z1] x [r0, r1] is from it, mm; 0 where they meet, `most` where it is no nearer than that. */
  distanceTo(z0: number, z1: number, r0: number, r1: number, most: number): number {
    let best = most;
    const i0 = slabAtMm(z0 - most);
    const i1 = slabAtMm(z1 + most);
    if (i1 - i0 < this.slabs.size)
      for (let i = i0; i <= i1 && best > 0; i++) {
        const slab = this.slabs.get(i);
        if (slab) best = slabDistance(i, slab, z0, z1, r0, r1, best);
      }
    else for (const [i, slab] of this.slabs) if (i >= i0 && i <= i1 && best > 0) best = slabDistance(i, slab, z0, z1, r0, r1, best);
    if (best > 0 && this.contains((z0 + z1) / 2, (r0 + r1) / 2)) return 0;
    return best;
  }

  /** How far a convex polygon is from it, mm; 0 where they meet, `most` where it is no nearer than that. `corners`: [z, r] packed, counter-clockwise, the first `count`. */
  distanceToConvex(corners: Float64Array, count: number, most: number): number {
    let [z0, z1] = [Infinity, -Infinity];
    for (let i = 0; i < 2 * count; i += 2) {
      z0 = Math.min(z0, corners[i]);
      z1 = Math.max(z1, corners[i]);
    }
    let best = most;
    for (let i = slabAtMm(z0 - most); i <= slabAtMm(z1 + most) && best > 0; i++) {
      const slab = this.slabs.get(i);
      if (slab) best = Math.min(best, convexToEdges(edgesOf(slab), slab.boxes, corners, count, best));
    }
    return best > 0 && this.contains(corners[0], corners[1]) ? 0 : best;
  }
}

// mm. Beyond anything.
const FAR = 5000;

/** Everything in front of a place along the axis, mm; behind it, with the other side. */
export function inFrontOf(z: number, side: 1 | -1 = 1): Polygons[number] {
  const [a, b] = side === 1 ? [z, FAR] : [-FAR, z];
  return toUnits([
    [a, -FAR],
    [b, -FAR],
    [b, FAR],
    [a, FAR],
  ]);
}

function slabDistance(i: number, slab: Slab, z0: number, z1: number, r0: number, r1: number, best: number): number {
  const along = Math.max(0, i * SLAB + SEAM_MM - z1, z0 - (i + 1) * SLAB - SEAM_MM);
  if (along >= best) return best;
  const across = Math.max(0, slab.bottom / UNITS - r1, r0 - slab.top / UNITS);
  return along * along + across * across >= best * best ? best : Math.min(best, rectToEdges(edgesOf(slab), slab.boxes, z0, z1, r0, r1, best));
}

// Twice nothing: what rounding takes away over the width of a slab.
const NOTHING = 4 * SLAB_UNITS;

const leastOf = (all: Polygons[number], axis: 'x' | 'y') => all.reduce((m, p) => Math.min(m, p[axis]), Infinity);
const mostOf = (all: Polygons[number], axis: 'x' | 'y') => all.reduce((m, p) => Math.max(m, p[axis]), -Infinity);

const ontoSeams = (polygons: Polygons, slab: number): Polygons => {
  const ends = [seamOf(slab), seamOf(slab + 1)];
  return polygons.map((polygon) => polygon.map((p) => ({ ...p, x: ends.find((e) => Math.abs(p.x - e) <= OFF_SEAM) ?? p.x })));
};

const NO_BOXES = new Float64Array(0);

function slabOf(polygons: Polygons): Slab {
  let area = 0;
  let volume = 0;
  let top = -Infinity;
  let bottom = Infinity;
  for (const polygon of polygons) {
    let a = polygon[polygon.length - 1];
    for (const b of polygon) {
      area += (a.x * b.y - b.x * a.y) / 2;
      // Around material counter-clockwise: against z outside. Guldin: 2 pi times the first moment.
      volume -= ((b.x - a.x) * (a.y * a.y + a.y * b.y + b.y * b.y) * Math.PI) / 3;
      if (b.y > top) top = b.y;
      if (b.y < bottom) bottom = b.y;
      a = b;
    }
  }
  return { polygons, area, volume, edges: undefined, boxes: NO_BOXES, top, bottom, ...extentOf(polygons) };
}

function extentOf(polygons: Polygons): Pick<Slab, 'left' | 'right' | 'gap'> {
  const spans = polygons
    .filter((p) => areaOfUnits(p) > SLIVER)
    .map((p) => [leastOf(p, 'x'), mostOf(p, 'x')] as const)
    .sort((a, b) => a[0] - b[0]);
  let right = -Infinity;
  let gap: number | undefined;
  for (const [from, to] of spans) {
    if (Number.isFinite(right) && from - right > APART) gap = (from + right) / 2;
    right = Math.max(right, to);
  }
  return { left: spans[0]?.[0] ?? Infinity, right, gap };
}

// Units along the axis: what is farther apart hangs together no more.
const APART = 20;

function edgesOf(slab: Slab): Float64Array {
  if (slab.edges) return slab.edges;
  const edges = new Float64Array(4 * slab.polygons.reduce((n, p) => n + p.length, 0));
  let k = 0;
  for (const polygon of slab.polygons) {
    let a = polygon[polygon.length - 1];
    for (const b of polygon) {
      edges[k++] = a.x / UNITS;
      edges[k++] = a.y / UNITS;
      edges[k++] = b.x / UNITS;
      edges[k++] = b.y / UNITS;
      a = b;
    }
  }
  slab.edges = edges;
  slab.boxes = boxesOf(edges);
  return edges;
}

// Squared distance of a place from the edges of a slab that are surface: no seam, and not on the axis.
function surfaceDistance(slab: Slab, i: number, z: number, r: number): number {
  const edges = edgesOf(slab);
  const [left, right, off] = [seamOf(i) / UNITS, seamOf(i + 1) / UNITS, (OFF_SEAM + 0.5) / UNITS];
  const isSeam = (z: number) => Math.abs(z - left) < off || Math.abs(z - right) < off;
  let best = Infinity;
  for (let k = 0; k < edges.length; k += 4) {
    const [ax, ay, bx, by] = [edges[k], edges[k + 1], edges[k + 2], edges[k + 3]];
    if (isSeam(ax) && isSeam(bx) && Math.abs(ax - bx) < off) continue;
    if (ay < 1e-6 && by < 1e-6) continue;
    const [dx, dy] = [bx - ax, by - ay];
    best = Math.min(best, pointToSegment(z, r, ax, ay, dx, dy, dx * dx + dy * dy || 1));
  }
  return best;
}

function isInside(edges: Float64Array, z: number, r: number): boolean {
  let inside = false;
  for (let k = 0; k < edges.length; k += 4) {
    const ay = edges[k + 1];
    const by = edges[k + 3];
    if (ay > r === by > r) continue;
    if (z < edges[k] + ((r - ay) * (edges[k + 2] - edges[k])) / (by - ay)) inside = !inside;
  }
  return inside;
}
