import { issue } from '#core/issues';
import type { FlatPoint } from '#core/outline';
import type { CuttingOutline } from '../cut/cutting-outline.ts';
import { type CutView, takenBy } from '../free/cut-views.ts';
import type { OperationOf } from './operation.ts';
import type { ToolWay } from './tool-way.ts';
import { cutAlong } from './turn.ts';

// Of its width an edge takes that much at a time, once it is beside what it has cut.
const BESIDE = 0.8;
// mm2. Less is not worth a cut; mm, what is as low as that on an edge is its tip.
const WORTH = 1e-3;
const AT_TIP = 0.02;
// mm. What an edge may be wider than a groove.
const TIGHT = 2e-3;

/** Cuts grooves: straight in, side by side, as deep as the contour and its own width let it; then along both walls to the middle. */
export function groove(way: ToolWay, cut: CutView, cutting: CuttingOutline, op: OperationOf<'groove'>): void {
  const free = cut.free(op.allowance);
  for (const piece of takenBy(cut, way.stock)) {
    const [as, bs] = [piece.map((p) => p[0]), piece.map((p) => p[1])];
    const depth = Math.max(...bs) - Math.min(...bs);
    // What of the edge is in the groove.
    const deep = cut.outline.filter((p) => p[1] <= cut.tip[1] + depth);
    const first = Math.min(...as) - Math.min(...deep.map((p) => p[0]));
    const last = Math.max(...as) - Math.max(...deep.map((p) => p[0]));
    if (last < first - TIGHT) {
      const [z] = cut.view.from([(Math.min(...as) + Math.max(...as)) / 2, 0]);
      const wide = Math.max(...as) - Math.min(...as);
      if (wide * depth > WORTH * 50) way.notes.push(issue('operation.narrow', { z: round(z), wide: round(wide), edge: round(wide + first - last) }));
      continue;
    }
    const [start, end] = [first + op.allowance, Math.max(first + op.allowance, last - op.allowance)];
    const atTip = cut.outline.filter((p) => p[1] <= cut.tip[1] + AT_TIP).map((p) => p[0]);
    const width = Math.max(0.05, Math.max(...atTip) - Math.min(...atTip));
    const steps = Math.max(0, Math.ceil((end - start) / (BESIDE * width)));
    const { high } = cut;
    for (let i = 0; i <= steps; i++) {
      const a = steps === 0 ? (start + end) / 2 : start + ((end - start) * i) / steps;
      const b = free.heightOver(a);
      if (way.wouldCut([a, high], [a, b]).area < WORTH) continue;
      way.rapid([a, high], [high]);
      way.feed([[a, b]], op.feed);
      way.rapid([a, high], [high]);
    }
    if (!op.finish) continue;
    const floor = cut.free(0).floor.filter((p) => p[0] >= first - TIGHT && p[0] <= Math.max(first, last) + TIGHT);
    const middle = (first + last) / 2;
    cutAlong(way, upTo(floor, middle), cut, cutting, op.feed);
    cutAlong(way, upTo([...floor].reverse(), middle, -1), cut, cutting, op.feed, false);
    way.rapid([middle, high], [high]);
  }
}

const round = (v: number): number => Math.round(v * 1000) / 1000;

// A chain as far as a place along it.
function upTo(chain: readonly FlatPoint[], a: number, way: 1 | -1 = 1): FlatPoint[] {
  const out: FlatPoint[] = [];
  for (const p of chain) {
    const last = out.at(-1);
    if (way * (p[0] - a) > 0) {
      if (last && p[0] !== last[0]) out.push([a, last[1] + ((p[1] - last[1]) * (a - last[0])) / (p[0] - last[0])]);
      break;
    }
    out.push(p);
  }
  return out;
}

/** Parts off: straight in at the end of the part, past the axis or into its bore. `a`: that end in the view, on the side of the part's material; `hole`: radius of the bore there; `nose`: of its corner. */
export function partOff(way: ToolWay, cut: CutView, op: OperationOf<'part off'>, at: number, hole: number, nose: number): void {
  const atTip = cut.outline.filter((p) => p[1] <= cut.tip[1] + nose + AT_TIP).map((p) => p[0]);
  // Seen outside with the feed towards +Z: its corner beside the part is the one with the larger Z.
  const a = at - Math.max(...atTip);
  const { high } = cut;
  way.rapid([a, high], [high]);
  way.feed([[a, hole - cut.tip[1] - PAST]], op.feed);
  way.rapid([a, high], [high]);
}

// mm. Past the axis, or into the bore.
const PAST = 0.2;
