import type { OuterProfile, ProfilePoint } from '#core/outline';
import { SEGMENT_SIZE } from './swept-segments.ts';

/**
 * The outermost radius over z as straight cells: in cell i, from z[i] to z[i + 1], it is at most the line from
 * left[i] to right[i]; negative where nothing is there.
 */
export interface RadiusCells {
  readonly z: Float64Array;
  readonly left: Float64Array;
  readonly right: Float64Array;
}

// Beyond this many different heights the cells become even, and the profile up to one cell's slope wider.
const MOST_CELLS = 6000;
const SAME_HEIGHT = 1e-7;
// A point this near the line between its neighbours is dropped: a tenth of what counts as enclosed, and above the noise
// that a pose leaves in a file's coordinates.
const STRAIGHT = 1e-7;

/**
 * Bounds the upper envelope of all segments. Each is convex in z (the distance of a straight line from the axis), so in
 * a cell that it crosses it stays below the line between its values at the cell's ends; ends of segments are cell limits.
 */
export function computeRadiusCells(segments: ArrayLike<number>): RadiusCells {
  const heights: number[] = [];
  for (let i = 0; i < segments.length; i += SEGMENT_SIZE) {
    const end = segments[i + 7];
    heights.push(segments[i] - end, segments[i + 1] + end);
  }
  const z = cellLimits(Float64Array.from(heights).sort());
  const cells = Math.max(0, z.length - 1);
  const left = new Float64Array(cells).fill(-1);
  const right = new Float64Array(cells).fill(-1);
  for (let i = 0; i < segments.length; i += SEGMENT_SIZE) {
    const [z0, z1, ax, ay, bx, by, loss, end] = [0, 1, 2, 3, 4, 5, 6, 7].map((k) => segments[i + k]);
    const [low, high] = [z0 - end, z1 + end];
    const span = z1 - z0;
    const radiusAt = (h: number) => {
      const t = span > 0 ? Math.min(1, Math.max(0, (h - z0) / span)) : 0;
      return Math.hypot(ax + t * bx, ay + t * by);
    };
    // The true face may lie up to `end` along and `loss` out from any point of the piece; of a convex radius the largest
    // within `end` is at one of the two ends.
    const reachAt = (h: number) => Math.max(radiusAt(h - end), radiusAt(h + end)) + loss;
    const upright = span <= SAME_HEIGHT;
    const uprightReach = upright ? Math.max(radiusAt(z0), Math.hypot(ax + bx, ay + by)) + loss : 0;
    const hasKink = (from: number, to: number) => end > 0 && ((from < z0 + end && z0 + end < to) || (from < z1 - end && z1 - end < to));
    // An upright piece has no height of its own; it counts only with its end, or inside an even cell.
    for (let c = lastAtOrBelow(z, low); c < cells && z[c] < high - SAME_HEIGHT; c++) {
      if (z[c + 1] <= low + SAME_HEIGHT) continue;
      const whole = low <= z[c] + SAME_HEIGHT && high >= z[c + 1] - SAME_HEIGHT;
      const [from, to] = [Math.max(z[c], low), Math.min(z[c + 1], high)];
      let [l, r] = upright ? [uprightReach, uprightReach] : [reachAt(from), reachAt(to)];
      // Beyond the piece's own ends its reach is level, so at these two places it is not convex.
      if (!upright && hasKink(from, to)) l = r = Math.max(radiusAt(from - end), radiusAt(to + end)) + loss;
      else if (!whole) l = r = Math.max(l, r);
      if (l > left[c]) left[c] = l;
      if (r > right[c]) right[c] = r;
    }
  }
  return { z, left, right };
}

function cellLimits(sorted: Float64Array): Float64Array {
  const kept: number[] = [];
  for (const h of sorted) if (kept.length === 0 || h - kept[kept.length - 1] > SAME_HEIGHT) kept.push(h);
  if (kept.length <= MOST_CELLS) return Float64Array.from(kept);
  const [low, high] = [kept[0], kept[kept.length - 1]];
  return Float64Array.from({ length: MOST_CELLS + 1 }, (_, i) => low + ((high - low) * i) / MOST_CELLS);
}

function lastAtOrBelow(z: Float64Array, h: number): number {
  let [low, high] = [0, z.length];
  while (low + 1 < high) {
    const mid = (low + high) >> 1;
    if (z[mid] <= h + SAME_HEIGHT) low = mid;
    else high = mid;
  }
  return low;
}

/** The cells as an unsimplified profile: runs from the axis over the outside back to the axis. */
export function profileOfCells({ z, left, right }: RadiusCells): OuterProfile {
  const runs: ProfilePoint[][] = [];
  let run: ProfilePoint[] | undefined;
  for (let c = 0; c < left.length; c++) {
    if (left[c] < 0) {
      run = undefined;
      continue;
    }
    if (!run) {
      run = [];
      runs.push(run);
    }
    run.push([z[c], left[c]], [z[c + 1], right[c]]);
  }
  return runs.map((points) => [[points[0][0], 0], ...mergeStraight(points), [points[points.length - 1][0], 0]]);
}

// Drops points that lie on the line between their neighbours.
function mergeStraight(points: readonly ProfilePoint[]): ProfilePoint[] {
  const out: ProfilePoint[] = [];
  for (const p of points) {
    while (out.length > 0) {
      const b = out[out.length - 1];
      const a = out[out.length - 2];
      const same = Math.hypot(p[0] - b[0], p[1] - b[1]) < 5 * STRAIGHT;
      if (!same && !(a && isStraight(a, b, p))) break;
      if (same) break;
      out.pop();
    }
    const last = out[out.length - 1];
    if (!last || Math.hypot(p[0] - last[0], p[1] - last[1]) >= 5 * STRAIGHT) out.push(p);
    else if (p[1] > last[1]) out[out.length - 1] = [last[0], p[1]];
  }
  return out;
}

function isStraight(a: ProfilePoint, b: ProfilePoint, c: ProfilePoint): boolean {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - a[0], c[1] - a[1]];
  const l = Math.hypot(vx, vy);
  return l > 0 && Math.abs(ux * vy - uy * vx) / l < STRAIGHT && ux * vx + uy * vy >= 0 && (b[0] - c[0]) * (b[0] - a[0]) + (b[1] - c[1]) * (b[1] - a[1]) <= 0;
}

/**
 * Fewer points, never inside: every straight piece stays between the profile and the profile plus `tolerance` in r.
 * Walls higher than the tolerance stay where they are; ends of long straight pieces keep their exact radius, so that
 * a cylinder comes out with its own diameter. Greedy from each fixed start (a swing filter): the piece goes on as long
 * as some slope keeps it inside every window.
 */
export function simplifyProfile(profile: OuterProfile, tolerance: number): OuterProfile {
  return profile.map((run) => {
    const outside = run.slice(1, -1);
    const out: ProfilePoint[] = [run[0]];
    for (const section of splitAtWalls(outside, tolerance)) out.push(...swing(section, tolerance));
    out.push(run[run.length - 1]);
    return mergeStraight(out);
  });
}

interface Window {
  z: number;
  low: number;
  high: number;
}

function splitAtWalls(points: readonly ProfilePoint[], tolerance: number): Window[][] {
  const longEnough = Math.max(0.5, 10 * tolerance);
  const isLong = (i: number) => i > 0 && i < points.length && points[i][0] - points[i - 1][0] > longEnough;
  const sections: Window[][] = [[]];
  points.forEach(([z, r], i) => {
    const section = sections[sections.length - 1];
    const exact = isLong(i) || isLong(i + 1);
    const window = { z, low: r, high: exact ? r : r + tolerance };
    const last = section[section.length - 1];
    if (last && z - last.z < 1e-9) {
      const joined = { z, low: Math.max(last.low, r), high: Math.min(last.high, window.high) };
      if (joined.low > joined.high) sections.push([window]);
      else section[section.length - 1] = joined;
    } else section.push(window);
  });
  return sections;
}

function swing(windows: readonly Window[], tolerance: number): ProfilePoint[] {
  const out: ProfilePoint[] = [[windows[0].z, windows[0].low]];
  let start = 0;
  while (start < windows.length - 1) {
    const [z, r] = out[out.length - 1];
    let [low, high] = [-Infinity, Infinity];
    let end = start;
    let slope = 0;
    for (let k = start + 1; k < windows.length; k++) {
      const w = windows[k];
      low = Math.max(low, (w.low - r) / (w.z - z));
      high = Math.min(high, (w.high - r) / (w.z - z));
      if (low > high + 1e-12) break;
      end = k;
      slope = low;
    }
    if (end === start) {
      // From a start above its window's floor an exact next point may be out of reach downwards: go there all the same,
      // the piece stays above the line between the two floors.
      end = start + 1;
      slope = (windows[end].low - r) / (windows[end].z - z);
    }
    const w = windows[end];
    out.push([w.z, Math.min(Math.max(r + slope * (w.z - z), w.low), w.low + tolerance)]);
    start = end;
  }
  return out;
}
