import type { FlatPoint, HalfProfile } from '#core/outline';
import type { CuttingOutline } from '../cut/cutting-outline.ts';
import { type Polygons, toMillimetres, together, touching, toUnits, UNITS, within, without } from '#core/clipping';
import type { Region } from '../region/region.ts';
import { besides, type Box, FreeSpace, polygonsIn, type View, viewAlong } from './free-space.ts';

/** mm. How far a tool stays from the work where it does not cut. */
export const CLEARANCE = 1;

/** The side of the work that is cut. */
export type CutSide = 'outside' | 'inside' | 'face';

/** What a cut is planned against: half sections of what is to come out, of all that must stay, and of the work as it stands. */
export interface CutJob {
  readonly contour: HalfProfile;
  /** The part with the bar behind it. */
  readonly part: Polygons;
  /** Chuck and jaws. */
  readonly walls: Polygons;
  readonly stock: Region;
  readonly outline: CuttingOutline;
}

/** A cut as it is seen along its feed. */
export interface CutView {
  readonly view: View;
  /** The outline of the edge about the reference. */
  readonly outline: readonly FlatPoint[];
  /** Its lowest place, and its ends along the feed. */
  readonly tip: FlatPoint;
  readonly ends: readonly [number, number];
  /** All that must stay, a cut's range left open only. */
  readonly part: Polygons;
  readonly box: Box;
  /** How high the reference stands with the tip on the work's surface, and with the tip where it goes from one cut to the next. */
  readonly top: number;
  readonly high: number;
  /** How high it stands with the tip where the part's face ends and this cut begins; how far along the feed the front of the work is. */
  readonly edge: number;
  readonly front: number;
  readonly free: (allowance: number) => FreeSpace;
}

/** Which way a cut goes: its feed and the way out of the material, in [z, r]. */
export function viewOf(side: CutSide, feed: 'along' | 'back' | 'plunge'): View {
  const out: FlatPoint = side === 'face' ? [1, 0] : side === 'outside' ? [0, 1] : [0, -1];
  if (side === 'face') return viewAlong(feed === 'back' || feed === 'plunge' ? [0, 1] : [0, -1], out);
  return viewAlong(feed === 'along' ? [-1, 0] : [1, 0], out);
}

export interface CutRange {
  /** Along Z: what lies beyond is left. */
  readonly from?: number;
  readonly to?: number;
  /** What stands before the part's face is left too. */
  readonly leavesFace?: boolean;
}

/** A cut seen along its feed. */
export function cutView(job: CutJob, side: CutSide, view: View, range: CutRange): CutView {
  const { contour, stock, outline: cutting } = job;
  const outline = cutting.points.map((p) => view.to(p));
  const tip = outline.reduce((low, p) => (p[1] < low[1] - 1e-6 ? p : low));
  const lowest = outline.filter((p) => p[1] < tip[1] + 1e-3);
  const tipAt: FlatPoint = [lowest.reduce((s, p) => s + p[0], 0) / lowest.length, tip[1]];
  const ends: [number, number] = [Math.min(...outline.map((p) => p[0])), Math.max(...outline.map((p) => p[0]))];
  const work = polygonsIn(view, stock.polygons);
  const places = work.flat();
  const least = (k: 'x' | 'y') => places.reduce((m, p) => Math.min(m, p[k]), Infinity) / UNITS;
  const most = (k: 'x' | 'y') => places.reduce((m, p) => Math.max(m, p[k]), -Infinity) / UNITS;
  const top = most('y') - tipAt[1];
  const box: Box = {
    a: [least('x') - ends[1] - 3 * CLEARANCE, most('x') - ends[0] + 3 * CLEARANCE],
    // In a bore no farther than to the axis.
    b: [least('y') - tipAt[1] - 2, side === 'inside' ? Math.min(top + 4 * CLEARANCE, CLEARANCE / 2 - tipAt[1]) : top + 4 * CLEARANCE],
  };
  const kept = keptFor(job, side, contour, range);
  const [, frontZ] = endsOf(contour);
  const front = view.to([1, 0])[0] > 0 ? box.a[1] : box.a[0];
  const edge = view.to([frontZ, faceRadius(contour, side)])[1] - tipAt[1];
  const high = side === 'inside' ? Math.min(top + CLEARANCE, -tipAt[1]) : top + CLEARANCE;
  const part = polygonsIn(view, kept);
  const oriented = view.mirrors ? [...outline].reverse() : outline;
  const known = new Map<number, FreeSpace>();
  let shut: Polygons | undefined;
  const free = (allowance: number): FreeSpace => {
    shut ??= touching(part, toUnits(oriented));
    const found = known.get(allowance) ?? new FreeSpace(shut, allowance, box);
    known.set(allowance, found);
    return found;
  };
  return { view, outline: oriented, tip: tipAt, ends, part, box, top, high, edge, front, free };
}

/** Where a contour ends along Z: behind, and in front. */
export function endsOf(contour: HalfProfile): [number, number] {
  const zs = contour.flat().flatMap((p) => [p.from[0], p.to[0]]);
  return [Math.min(...zs), Math.max(...zs)];
}

// Where the face of a part ends and its outside, or its inside, begins.
function faceRadius(contour: HalfProfile, side: CutSide): number {
  const [, front] = endsOf(contour);
  const rs = contour.flat().flatMap((p) => (Math.abs(p.from[0] - front) < 1e-3 ? [p.from[1]] : []));
  return side === 'inside' ? Math.min(...rs) : Math.max(...rs);
}

// mm. Beyond anything.
const FAR = 2000;

// What must stay: part and bar, chuck and jaws, what is on the other side of the part, and what is beyond the range.
function keptFor({ part, walls, stock }: CutJob, side: CutSide, contour: HalfProfile, { from, to, leavesFace }: CutRange): Polygons {
  const [behind, front] = endsOf(contour);
  const rs = [...part.flat(), ...stock.polygons.flat()].map((p) => p.y / UNITS);
  const outer = Math.max(...rs) + 1;
  const rect = (z0: number, z1: number, r0: number, r1: number) =>
    toUnits([
      [z0, r0],
      [z1, r0],
      [z1, r1],
      [z0, r1],
    ]);
  const box = rect(behind, front, 0, outer);
  const isAtAxis = (p: Polygons[number]) => p.some((q) => q.y <= 1);
  const isOutside = (p: Polygons[number]) => p.some((q) => q.y >= outer * UNITS - 1);
  // What stands before the part's face is faced by another cut, where that is wanted.
  const edge = faceRadius(contour, side);
  const before =
    side === 'face' || !leavesFace
      ? []
      : within(stock.polygons, front * UNITS, FAR * UNITS, (side === 'outside' ? -FAR : edge) * UNITS, (side === 'outside' ? edge : FAR) * UNITS);
  const mirrored = part.map((p) => p.map((q) => ({ ...q, y: -q.y })).reverse());
  const other =
    side === 'outside'
      ? [...mirrored, ...besides(part, box, isAtAxis)]
      : side === 'inside'
        ? [...besides(part, box, isOutside), rect(behind, front, outer - 1, FAR)]
        : mirrored;
  const beyond = [
    ...(from === undefined ? [] : within(stock.polygons, from * UNITS, FAR * UNITS, -FAR * UNITS, FAR * UNITS)),
    ...(to === undefined ? [] : within(stock.polygons, -FAR * UNITS, to * UNITS, -FAR * UNITS, FAR * UNITS)),
  ];
  return together([...part, ...walls, ...other, ...before, ...beyond]);
}

/** What of the work a cut may take away, piece by piece, in its view: mm. */
export function takenBy({ view, part }: CutView, stock: Region): FlatPoint[][] {
  return without(polygonsIn(view, stock.polygons), part).map(toMillimetres);
}
