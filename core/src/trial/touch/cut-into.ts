import type { FlatPoint } from '#core/outline';
import type { CuttingOutline } from '../cut/cutting-outline.ts';
import { type At, standing, swept } from '../cut/sweep.ts';
import type { Region } from '../region/region.ts';
import { TOUCH } from './follow.ts';

// Halves of a way: a thousandth of a millimetre of half a metre.
const HALVES = 16;

/** How wide what polygons cover is, the smaller way, where it is most; mm. */
export function widest(polygons: readonly (readonly FlatPoint[])[]): { depth: number; at: FlatPoint } {
  let depth = 0;
  let at: FlatPoint = [0, 0];
  for (const p of polygons) {
    const [zs, rs] = [p.map((q) => q[0]), p.map((q) => q[1])];
    const [z0, z1, r0, r1] = [Math.min(...zs), Math.max(...zs), Math.min(...rs), Math.max(...rs)];
    const across = Math.min(z1 - z0, r1 - r0);
    if (across > depth) [depth, at] = [across, [(z0 + z1) / 2, (r0 + r1) / 2]];
  }
  return { depth, at };
}

/** When an outline on its way first goes into a region by more than `by` mm: by halves. */
export function firstTime(region: Region, outline: CuttingOutline, from: At, to: At, start: number, end: number, by = TOUCH): number {
  let [low, high] = [0, 1];
  for (let i = 0; i < HALVES; i++) {
    const t = (low + high) / 2;
    const at: At = [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])];
    if (widest(region.commonWith([...standing(outline, from), ...swept(outline, from, at)])).depth > by) high = t;
    else low = t;
  }
  return start + high * (end - start);
}
