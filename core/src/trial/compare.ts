import { issue, type Issue } from '#core/issues';
import { roundTo } from '#core/math';
import { flattenPath, type FlatPoint, type HalfProfile, profileDistance } from '#core/outline';
import { placesOfSurface } from './reach/surface.ts';
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

/** How far the turned surface is from a place of the contour: mm over it, or missing (negative). */
export interface OffAt {
  /** mm from where the contour begins. */
  readonly along: number;
  readonly at: FlatPoint;
  /** Out of the material there. */
  readonly out: FlatPoint;
  readonly off: number;
}

// mm. Beside a place it is asked whether there is material; nothing is measured farther than that.
const BESIDE = 1e-4;
const FARTHEST = 20;

/** How a half section of what was turned follows a contour, place by place along it. */
export function offAlong(contour: HalfProfile, region: Region): OffAt[] {
  return placesOfSurface(contour).map(({ along, at, out }) => {
    const [z, r] = at;
    const isOver = region.contains(z + BESIDE * out[0], r + BESIDE * out[1]);
    const isThere = region.contains(z - BESIDE * out[0], r - BESIDE * out[1]);
    const off = isOver ? region.depthAt(z + BESIDE * out[0], r + BESIDE * out[1]) : isThere ? 0 : -region.distanceTo(z, z, r, r, FARTHEST);
    return { along, at, out, off };
  });
}

/** The nose of a tool, as a program may have left it out. */
export interface NoseOf {
  readonly name: string;
  readonly radius: number;
}

// Of a surface that is neither along the axis nor across it, how much it leans at least; of the places, how many must be so.
const LEANS = 0.1;
const STRAIGHT = 0.01;
const MOST = 0.8;
const FEWEST = 8;
// mm, and a share: as near as that is the same.
const SAME = 0.003;
const SAME_SHARE = 0.1;

/**
 * The nose that was not compensated, where that is what is wrong: along a surface with normal (nz, nr) a virtual tip leaves r (|nz| + |nr| - 1), on cylinders and faces nothing.
 */
export function notCompensated(along: readonly OffAt[], noses: readonly NoseOf[]): NoseOf | undefined {
  const leaning = along.filter(({ out: [z, r] }) => Math.abs(z) > LEANS && Math.abs(r) > LEANS);
  const straight = along.filter(({ out: [z, r] }) => Math.abs(z) < STRAIGHT || Math.abs(r) < STRAIGHT);
  const isMost = (all: readonly OffAt[], is: (o: OffAt) => boolean) => all.filter(is).length >= MOST * all.length;
  if (leaning.length < FEWEST || !isMost(straight, (o) => Math.abs(o.off) < SAME)) return undefined;
  return noses.find(({ radius }) => {
    const lacks = ({ out: [z, r] }: OffAt) => radius * (Math.abs(z) + Math.abs(r) - 1);
    return radius > 0 && isMost(leaning, (o) => Math.abs(o.off - lacks(o)) < Math.max(SAME, SAME_SHARE * lacks(o)) && o.off > SAME);
  });
}
