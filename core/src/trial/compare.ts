import { issue, type Issue } from '#core/issues';
import { roundTo } from '#core/math';
import { flattenPath, type FlatPoint, type HalfProfile, profileDistance } from '#core/outline';
import type { Region } from './region/region.ts';

// mm. What chords and rounding may lack.
const LACKS = 0.002;

/** Says where a contour stands out of what it is to be turned from. */
export function checkStock(contour: HalfProfile | undefined, stock: HalfProfile): Issue[] {
  if (!contour) return [];
  const distance = profileDistance(stock);
  let by = 0;
  let at: FlatPoint = [0, 0];
  for (const loop of contour)
    for (const [z, r] of flattenPath(loop, 0.01, false)) {
      const out = -distance.depth(z, r);
      if (out > by) [by, at] = [out, [z, r]];
    }
  return by > LACKS ? [issue('trial.small-stock', { by: roundTo(by, 3), z: roundTo(at[0], 3), diameter: roundTo(2 * at[1], 3) })] : [];
}

/** How what was turned differs from what was to come out; mm. */
export interface Difference {
  /** Material that is left, and that is missing, where it is most. */
  readonly over: number;
  readonly under: number;
  readonly at: { readonly over: FlatPoint; readonly under: FlatPoint };
}

// mm. Places of a surface that are looked at are no farther apart.
const STEP = 0.2;
// mm. What is so near to the end of the contour is where it was cut off to be compared.
const END = 1e-3;

/** Compares the half section of what was turned with a contour, over the contour's length: what stands behind it is still the bar. */
export function compareWith(contour: HalfProfile, region: Region): Difference {
  const distance = profileDistance(contour);
  const ends = contour.flat().flatMap((p) => [p.from[0], p.to[0]]);
  const [from, to] = [Math.min(...ends), Math.max(...ends)];
  let over = 0;
  let under = 0;
  let overAt: FlatPoint = [0, 0];
  let underAt: FlatPoint = [0, 0];
  const look = (z: number, r: number) => {
    // What is left in front of the contour counts, what lies behind it does not.
    if (z < from + END || r < 0) return;
    const depth = distance.depth(z, r);
    if (-depth > over) [over, overAt] = [-depth, [z, r]];
    if (depth > under) [under, underAt] = [depth, [z, r]];
  };
  for (const loop of region.loops)
    for (const [i, a] of loop.entries()) {
      const b = loop[(i + 1) % loop.length];
      // What lies on the axis is no surface.
      if (a[1] < 1e-6 && b[1] < 1e-6) continue;
      const parts = Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / STEP));
      for (let k = 0; k < parts; k++) look(a[0] + ((b[0] - a[0]) * k) / parts, a[1] + ((b[1] - a[1]) * k) / parts);
    }
  // Parts of the contour that nothing of the work is near: all of it was taken away.
  for (const loop of contour)
    for (const piece of loop) {
      const [z, r] = piece.from;
      if (z < from + END || z > to - END || r < 1e-6 || region.contains(z, r)) continue;
      const away = region.distanceTo(z, z, r, r, LARGEST);
      if (away > under) [under, underAt] = [away, [z, r]];
    }
  return { over, under, at: { over: overAt, under: underAt } };
}

const LARGEST = 1000;
