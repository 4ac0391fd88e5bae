import type { FlatPoint } from '#core/outline';
import { CLEARANCE, type CutView } from '../free/cut-views.ts';
import type { Interval } from '../free/free-space.ts';
import type { OperationOf } from './operation.ts';
import { runsThatCut, type ToolWay } from './tool-way.ts';
import type { CuttingOutline } from '../cut/cutting-outline.ts';

// mm. So far beyond the work a cut goes on; above a level it is asked what is free there, so that a floor on that level is.
const OVERRUN = 0.2;
const ABOVE = 2e-5;
// mm2. Less is not worth a cut.
const WORTH = 1e-3;
// mm. A gap that is fed through.
const GAP = 3;

/** Roughs in cuts along the feed, one below the other: each ends at what must stay, goes up along it to the last one, and comes back. */
export function roughInLevels(way: ToolWay, cut: CutView, cutting: CuttingOutline, depthOfCut: number, allowance: number, bottom: number, feed: number): void {
  const free = cut.free(allowance);
  const depth = cut.top - bottom;
  if (!(depth > 0)) return;
  const levels = Math.max(1, Math.ceil(depth / depthOfCut - 1e-6));
  for (let k = 1; k <= levels; k++) {
    const b = cut.top - (depth * k) / levels + ABOVE;
    const before = cut.top - (depth * (k - 1)) / levels + ABOVE;
    for (const interval of free.at(b)) {
      const taken = way.wouldCut([interval.from, b], [interval.to, b]);
      if (taken.area < WORTH) continue;
      const { start, end } = endsOfLevel(interval, taken.a, cut);
      if (end <= start) continue;
      const entry = start === interval.from && interval.isShutBefore ? free.upFrom([start, b], 'before', before).reverse() : [];
      const first: FlatPoint = entry[0] ?? [start, b];
      const heights = [b + CLEARANCE / 2, before + CLEARANCE / 2, first[1] + CLEARANCE / 2, cut.high].map((h) => Math.min(h, cut.high));
      way.rapid(first, heights);
      const line: FlatPoint[] = [...entry.slice(1), [start, b], [end, b]];
      way.feed(line, feed);
      // Up along what must stay as far as that cuts: a floor on the same level may go on for long behind it.
      if (end === interval.to && interval.isShutBehind) {
        const [exit] = runsThatCut([[end, b], ...free.upFrom([end, b], 'behind', before)], { stock: way.stock, outline: cutting, view: cut.view }, GAP);
        if (exit && exit[0][0] === end && exit[0][1] === b) way.feed(exit.slice(1), feed);
      }
      way.lift();
    }
  }
}

// Where a cut on a level begins and ends: in the air where the work is, else at what must stay.
function endsOfLevel(
  { from, to, isShutBefore, isShutBehind }: Interval,
  [first, last]: readonly [number, number],
  { ends, tip }: CutView,
): { start: number; end: number } {
  const air = first - ends[1] - CLEARANCE;
  const past = last - tip[0] + OVERRUN;
  return { start: isShutBefore ? Math.max(from, air) : air, end: isShutBehind && past > to - OVERRUN ? to : Math.min(past, to) };
}

/** The floor of a cut without the face of the part, and its lowest place. `nose`: radius of the edge. */
export function floorBehindFace(cut: CutView, allowance: number, nose: number): { readonly floor: readonly FlatPoint[]; readonly bottom: number } {
  const { floor } = cut.free(allowance);
  const isFrontLast = cut.front > cut.box.a[0];
  const fromFront = isFrontLast ? [...floor].reverse() : floor;
  // With the nose beside where the face ends its tip is lower by its radius.
  const first = fromFront.findIndex((p) => p[1] >= cut.edge - nose - NEAR);
  const on = fromFront.findIndex((p) => p[1] >= cut.edge - NEAR);
  if (first < 0) return { floor: [], bottom: Infinity };
  const rest = fromFront.slice(first);
  const bottom = (on < 0 ? rest : fromFront.slice(on)).reduce((m, p) => Math.min(m, p[1]), Infinity);
  return { floor: isFrontLast ? rest.reverse() : rest, bottom };
}

// mm.
const NEAR = 2e-3;

/** Cuts along a chain, as far as there is something to cut; each run is come to from before it or from above. */
export function cutAlong(way: ToolWay, chain: readonly FlatPoint[], cut: CutView, cutting: CuttingOutline, feed: number, keepsRight = true): void {
  const runs = runsThatCut(chain, { stock: way.stock, outline: cutting, view: cut.view }, GAP);
  for (const run of runs) {
    const [first] = run;
    const before: FlatPoint = [first[0] - CLEARANCE, first[1]];
    const above: FlatPoint = [first[0], first[1] + CLEARANCE];
    const start = [before, above].find((p) => way.wouldCut(p, first).area < WORTH) ?? above;
    way.rapid(start, [start[1] + CLEARANCE / 2, cut.high]);
    way.feed(run, feed, keepsRight);
    way.lift();
  }
}

/** Turns: roughs along the axis or along the contour, and finishes along it. */
export function turn(way: ToolWay, cut: CutView, cutting: CuttingOutline, nose: number, op: OperationOf<'turn'>): void {
  const { bottom } = floorBehindFace(cut, op.allowance, nose);
  if (op.rough === 'axis') roughInLevels(way, cut, cutting, op.depthOfCut, op.allowance, bottom, op.feed);
  if (op.rough === 'contour') {
    const cuts = Math.max(1, Math.ceil((cut.top - bottom) / op.depthOfCut));
    for (let k = cuts - 1; k >= 0; k--) cutAlong(way, floorBehindFace(cut, op.allowance + k * op.depthOfCut, nose).floor, cut, cutting, op.feed);
  }
  if (op.finish) cutAlong(way, floorBehindFace(cut, 0, nose).floor, cut, cutting, op.finishFeed);
}

/** Faces down to a height of the work along the way out. */
export function face(way: ToolWay, cut: CutView, cutting: CuttingOutline, op: OperationOf<'face'>, height: number): void {
  roughInLevels(way, cut, cutting, op.depthOfCut, 0, height - cut.tip[1], op.feed);
}
