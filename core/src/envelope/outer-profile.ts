import type { OuterProfile, ProfilePoint } from '#core/outline';
import type { Pieces } from './upper-envelope.ts';

const SAME_HEIGHT = 1e-7;
// A point this near the line between its neighbours is dropped: a tenth of what counts as enclosed, and above the noise
// that a pose leaves in a file's coordinates.
const STRAIGHT = 1e-7;

/** An upper envelope as an unsimplified profile: runs from the axis over the outside back to the axis, one for each stretch. */
export function profileOfEnvelope(envelope: Pieces): OuterProfile {
  const runs: ProfilePoint[][] = [];
  let lastZ = -Infinity;
  for (let i = 0; i < envelope.length; i += 4) {
    const [z0, r0, z1, r1] = envelope.subarray(i, i + 4);
    if (z0 - lastZ > SAME_HEIGHT) runs.push([]);
    runs[runs.length - 1].push([z0, r0], [z1, r1]);
    lastZ = z1;
  }
  return runs.map((points) => closeToAxis(mergeStraight(points)));
}

// From the axis and back to it; an apex is on it already.
function closeToAxis(outside: readonly ProfilePoint[]): ProfilePoint[] {
  const run = [...outside];
  const [first, last] = [run[0], run[run.length - 1]];
  if (first[1] > 5 * STRAIGHT) run.unshift([first[0], 0]);
  else run[0] = [first[0], 0];
  if (last[1] > 5 * STRAIGHT) run.push([last[0], 0]);
  else run[run.length - 1] = [last[0], 0];
  return run;
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
    // The axis points stay what they are; an apex counts as outside as well.
    const outside = run.filter(([z, r], i) => r > 0 || (i === 0 ? run[1][0] > z : run[run.length - 2][0] < z));
    return closeToAxis(mergeStraight(splitAtWalls(outside, tolerance).flatMap((section) => swing(section, tolerance))));
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
