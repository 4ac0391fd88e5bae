import { CLEARANCE, type CutView } from '../free/cut-views.ts';
import { type OperationOf, threadDepth } from './operation.ts';
import type { ToolWay } from './tool-way.ts';
import type { CuttingOutline } from '../cut/cutting-outline.ts';
import { imageAt } from '../cut/sweep.ts';
import { areaOfUnits, common, type Polygons, toUnits, UNITS } from '#core/clipping';

// mm2. A drill that has more than that in common with the part is in it.
const IN_PART = 1e-4;

/** Drills on the axis: the reference at X `x`, from before the work to its depth, with what is drawn back between. In the view along Z. */
export function drill(way: ToolWay, outline: CuttingOutline, op: OperationOf<'drill'>, x: number, front: number, depth: number): void {
  const tip = Math.min(...outline.points.map((p) => p[0]));
  const [high, bottom] = [front + 2 * CLEARANCE - tip, -depth - tip];
  way.rapid([x, high], [high]);
  const peck = op.peck ?? Infinity;
  let at = Math.min(high, front - tip);
  for (;;) {
    const next = Math.max(bottom, at - peck);
    way.feed([[x, next]], op.feed);
    if (next <= bottom) break;
    way.rapid([x, high], [high]);
    way.rapid([x, next + CLEARANCE / 2], [high]);
    at = next;
  }
  way.rapid([x, high], [high]);
}

/** How deep a drill gets on the axis without cutting into a part, mm of its point below Z 0; at most where all of its width is through `behind`. */
export function deepestOnAxis(part: Polygons, outline: CuttingOutline, x: number, front: number, behind: number): number {
  const tip = Math.min(...outline.points.map((p) => p[0]));
  const widest = Math.max(...outline.points.map((p) => Math.abs(p[1] + x)));
  // From its point to where it is as wide as it gets.
  const point = Math.min(...outline.points.filter((p) => Math.abs(p[1] + x) > widest - 0.01).map((p) => p[0])) - tip;
  const isIn = (depth: number) => {
    const found = common(part, [toUnits(imageAt(outline, [-depth - tip, x]))]);
    return found.reduce((s, p) => s + Math.abs(areaOfUnits(p)), 0) / UNITS ** 2 > IN_PART;
  };
  let [low, high] = [-front, -behind + point + CLEARANCE];
  if (!isIn(high)) return high;
  for (let i = 0; i < 24; i++) {
    const middle = (low + high) / 2;
    if (isIn(middle)) high = middle;
    else low = middle;
  }
  return low;
}

// mm of depth that the first of the passes of a thread takes at most, for how many there are.
const FIRST_PASS = 0.4;
const MOST_PASSES = 50;

/**
 * Cuts a thread: passes that each take as much of the section (the n-th is as deep as the square root of its share), from before it, with the tip along a cylinder.
 * `surface`: the radius of what is threaded, seen as a height.
 */
export function thread(way: ToolWay, cut: CutView, op: OperationOf<'thread'>, surface: number): void {
  const depth = op.depth ?? threadDepth(op.pitch, op.side === 'inside');
  const passes = op.passes ?? Math.min(MOST_PASSES, Math.max(3, Math.ceil((depth / FIRST_PASS) ** 2)));
  const [from, to] = [op.from, op.to].map((z) => cut.view.to([z, 0])[0] - cut.tip[0]).sort((a, b) => a - b);
  // Room in which the axis gets to its speed.
  const start = from - Math.max(2 * op.pitch, 2 * CLEARANCE);
  const high = Math.min(surface + CLEARANCE - cut.tip[1], op.side === 'inside' ? -cut.tip[1] : Infinity);
  for (let n = 1; n <= passes; n++) {
    const b = surface - depth * Math.sqrt(n / passes) - cut.tip[1];
    way.rapid([start, high], [high]);
    way.rapid([start, b], [high]);
    way.thread([to, b], op.pitch);
    way.rapid([to, high], [high]);
  }
  way.rapid([start, high], [high]);
}
