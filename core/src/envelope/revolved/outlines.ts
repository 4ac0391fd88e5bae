import { flatDistance, type ProfilePoint } from '#core/outline';
import { type Pieces, SAME_HEIGHT } from './upper-envelope.ts';

// A point this near the line between its neighbours is dropped: a tenth of what counts as enclosed, and above the noise
// that a pose leaves in a file's coordinates.
const STRAIGHT = 1e-7;
// mm. Some times what an allowance is at least.
const HAIR = 6e-6;

/**
 * An upper envelope as outlines: its corners from left to right, one outline for each stretch; walls are two corners at one z. Corners that lie a
 * hair above one of the `exact` lines lie on it: allowances for what the tessellation may have lost raise whatever touches a true face.
 */
export function outlinesOfEnvelope(envelope: Pieces, exact: Pieces): ProfilePoint[][] {
  const runs: ProfilePoint[][] = [];
  const snapped = (z: number, r: number): number => {
    for (let i = 0; i < exact.length; i += 4) {
      const [z0, r0, z1, r1] = [exact[i], exact[i + 1], exact[i + 2], exact[i + 3]];
      if (z < z0 - SAME_HEIGHT || z > z1 + SAME_HEIGHT) continue;
      const line = z1 > z0 ? r0 + (r1 - r0) * Math.min(1, Math.max(0, (z - z0) / (z1 - z0))) : Math.max(r0, r1);
      if (r > line && r - line < HAIR) return line;
    }
    return r;
  };
  let lastZ = -Infinity;
  for (let i = 0; i < envelope.length; i += 4) {
    const [z0, r0, z1, r1] = envelope.subarray(i, i + 4);
    if (z0 - lastZ > SAME_HEIGHT) runs.push([]);
    runs[runs.length - 1].push([z0, snapped(z0, r0)], [z1, snapped(z1, r1)]);
    lastZ = z1;
  }
  return runs.map(mergeStraight);
}

// Drops points that lie on the line between their neighbours. All that were dropped between two that stay are passed by the line between them: the
// directions that do so are kept as a window, which every dropped point narrows.
function mergeStraight(points: readonly ProfilePoint[]): ProfilePoint[] {
  const out: ProfilePoint[] = [];
  // Tangents of the angles from the direction of the first dropped point.
  let base: readonly [number, number] = [1, 0];
  let [low, high] = [-Infinity, Infinity];
  for (const p of points) {
    const last = out[out.length - 1];
    if (last && flatDistance(p, last) < 5 * STRAIGHT) {
      if (p[1] > last[1]) out[out.length - 1] = [last[0], p[1]];
      continue;
    }
    const a = out[out.length - 2];
    if (a && goesOn(a, last, p)) {
      const far = flatDistance(a, last);
      if (low === -Infinity) base = [(last[0] - a[0]) / far, (last[1] - a[1]) / far];
      const tangentOf = (q: ProfilePoint) => {
        const [x, y] = [q[0] - a[0], q[1] - a[1]];
        return (base[0] * y - base[1] * x) / (base[0] * x + base[1] * y);
      };
      const [mid, slack] = [tangentOf(last), STRAIGHT / far];
      const [least, most] = [Math.max(low, mid - slack), Math.min(high, mid + slack)];
      const way = tangentOf(p);
      if (way > least && way < most) {
        [low, high] = [least, most];
        out[out.length - 1] = p;
        continue;
      }
    }
    out.push(p);
    [low, high] = [-Infinity, Infinity];
  }
  return out;
}

// Whether the way from a over b to c never turns back.
const goesOn = (a: ProfilePoint, b: ProfilePoint, c: ProfilePoint): boolean => (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1]) >= 0;
