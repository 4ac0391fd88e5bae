import type { FlatPoint } from '#core/outline';
import { areaOfUnits, fewerCorners, grown, isInPolygon, type Polygons, together, toMillimetres, toUnits, UNITS, without } from '#core/clipping';

/**
 * A half section seen along a feed: [a, b], a along the feed, b away from what is cut. Half sections are [z, r].
 */
export interface View {
  readonly to: (p: FlatPoint) => FlatPoint;
  readonly from: (p: FlatPoint) => FlatPoint;
  /** Whether it is a mirror image: polygons run the other way. */
  readonly mirrors: boolean;
}

/** The view for a feed and the way out of the material, both unit ways along the axes of [z, r]. */
export function viewAlong(feed: FlatPoint, out: FlatPoint): View {
  return {
    to: ([z, r]) => [z * feed[0] + r * feed[1], z * out[0] + r * out[1]],
    from: ([a, b]) => [a * feed[0] + b * out[0], a * feed[1] + b * out[1]],
    mirrors: feed[0] * out[1] - feed[1] * out[0] < 0,
  };
}

const mapped = (polygons: Polygons, at: (p: FlatPoint) => FlatPoint, mirrors: boolean): Polygons =>
  polygons.map((p) => {
    const seen = p.map((q) => {
      const [x, y] = at([q.x, q.y]);
      return { x: Math.round(x), y: Math.round(y) };
    });
    return mirrors ? seen.reverse() : seen;
  });

/** Polygons of [z, r] in a view, and back. */
export const polygonsIn = (view: View, polygons: Polygons): Polygons => mapped(polygons, view.to, view.mirrors);
export const polygonsFrom = (view: View, polygons: Polygons): Polygons => mapped(polygons, view.from, view.mirrors);

/** A box, mm. */
export interface Box {
  readonly a: readonly [number, number];
  readonly b: readonly [number, number];
}

/** A stretch of a level. */
export interface Interval {
  readonly from: number;
  readonly to: number;
  /** Whether it ends there at what the tool must not cut into; else at the box. */
  readonly isShutBefore: boolean;
  readonly isShutBehind: boolean;
}

/**
 * Where the reference of a tool can stand so that nothing of its outline is in the part, as far as it gets there from above: a part that is grown by the outline turned
 * about (Minkowski). Its boundary is where the edge touches the part.
 */
export class FreeSpace {
  private readonly box: Box;
  /** mm: around what is free counter-clockwise. */
  private readonly rings: readonly (readonly FlatPoint[])[];
  readonly polygons: Polygons;
  /** From before to behind: where the tool touches the part, or ends of the box. */
  readonly floor: readonly FlatPoint[];

  /** `shut`: where the outline would be in what must stay, in the view; `allowance`: mm that are to stay on it. */
  constructor(shut: Polygons, allowance: number, box: Box) {
    this.box = box;
    const { a, b } = box;
    const all = toUnits([
      [a[0], b[0]],
      [a[1], b[0]],
      [a[1], b[1]],
      [a[0], b[1]],
    ]);
    const free = fewerCorners(without([all], allowance > 0 ? grown(shut, allowance) : shut), STRAIGHT);
    // What is above and before or behind: it has an upper corner of the box. Chucks may stand in the other one.
    const hasCorner = (ring: Polygons[number], x: number) => toMillimetres(ring).some((p) => isNear(p[0], x) && isNear(p[1], b[1]));
    const outer = free.find((ring) => hasCorner(ring, a[0])) ?? free.find((ring) => hasCorner(ring, a[1]));
    this.polygons = outer ? [outer, ...free.filter((ring) => ring !== outer && areaOfUnits(ring) < 0 && isInPolygon(ring[0], outer))] : [];
    this.rings = this.polygons.map(toMillimetres);
    this.floor = floorOf(this.rings[0] ?? [], box);
  }

  /** The free stretches at a height, in their order. */
  at(b: number): Interval[] {
    const crossings: number[] = [];
    for (const ring of this.rings)
      for (const [i, p] of ring.entries()) {
        const q = ring[(i + 1) % ring.length];
        if (p[1] > b !== q[1] > b) crossings.push(p[0] + ((b - p[1]) * (q[0] - p[0])) / (q[1] - p[1]));
      }
    crossings.sort((x, y) => x - y);
    const out: Interval[] = [];
    for (let i = 0; i + 1 < crossings.length; i += 2) {
      const [from, to] = [crossings[i], crossings[i + 1]];
      if (to - from > 2 / UNITS) out.push({ from, to, isShutBefore: !isNear(from, this.box.a[0]), isShutBehind: !isNear(to, this.box.a[1]) });
    }
    return out;
  }

  /** How far down the tool gets straight from above. */
  heightOver(a: number): number {
    let most = this.box.b[0];
    for (const ring of this.rings)
      for (const [i, p] of ring.entries()) {
        const q = ring[(i + 1) % ring.length];
        if (p[0] > a === q[0] > a) continue;
        const b = p[1] + ((a - p[0]) * (q[1] - p[1])) / (q[0] - p[0]);
        if (b < this.box.b[1] - 1e-3 && b > most) most = b;
      }
    return most;
  }

  /** From a place of the floor along it, before or behind, until it is as high as said. The place itself is left out. */
  upFrom(place: FlatPoint, way: 'before' | 'behind', height: number): FlatPoint[] {
    const { floor } = this;
    const at = nearestEdge(floor, place);
    if (at < 0) return [];
    const out: FlatPoint[] = [];
    let last = place;
    for (let i = way === 'behind' ? at + 1 : at; i >= 0 && i < floor.length; i += way === 'behind' ? 1 : -1) {
      const p = floor[i];
      if (p[1] >= height) {
        const t = p[1] === last[1] ? 1 : (height - last[1]) / (p[1] - last[1]);
        out.push([last[0] + t * (p[0] - last[0]), height]);
        return out;
      }
      out.push(p);
      last = p;
    }
    return out;
  }
}

// Units. Corners nearer than that to the line of their neighbours are rounding.
const STRAIGHT = 10;

const isNear = (a: number, b: number): boolean => Math.abs(a - b) < 5 / UNITS;

// What of the ring around what is free is neither its top nor its sides, from before to behind.
function floorOf(ring: readonly FlatPoint[], { a, b }: Box): FlatPoint[] {
  const n = ring.length;
  if (n === 0) return [];
  // Counter-clockwise: down the side before, along the floor, up the side behind. The floor begins where the side before ends, or a wall at the top.
  const top = ring.findIndex((p, i) => isNear(p[1], b[1]) && !isNear(ring[(i + 1) % n][1], b[1]));
  const ordered = ring.map((_, i) => ring[(top + i) % n]);
  let start = 0;
  while (start + 1 < n && isNear(ordered[start + 1][0], a[0])) start++;
  let end = n - 1;
  while (end > start && isNear(ordered[end][1], b[1])) end--;
  while (end > start && isNear(ordered[end - 1][0], a[1]) && isNear(ordered[end][0], a[1])) end--;
  return ordered.slice(start, end + 1);
}

function nearestEdge(chain: readonly FlatPoint[], [x, y]: FlatPoint): number {
  let best = Infinity;
  let at = -1;
  for (let i = 0; i + 1 < chain.length; i++) {
    const [p, q] = [chain[i], chain[i + 1]];
    const [dx, dy] = [q[0] - p[0], q[1] - p[1]];
    const t = Math.max(0, Math.min(1, ((x - p[0]) * dx + (y - p[1]) * dy) / (dx * dx + dy * dy || 1)));
    const d = Math.hypot(p[0] + t * dx - x, p[1] + t * dy - y);
    if (d < best) [best, at] = [d, i];
  }
  return at;
}

/** The parts of a box beside some polygons that meet one of its sides: what lies between them and the axis, or outside of them. */
export function besides(polygons: Polygons, box: Polygons[number], isBeside: (part: Polygons[number]) => boolean): Polygons {
  return without([box], together(polygons)).filter(isBeside);
}
