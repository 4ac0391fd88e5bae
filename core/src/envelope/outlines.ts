import type { ProfilePoint } from '#core/outline';
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

// Drops points that lie on the line between their neighbours; the line between two that stay passes all that were dropped between them.
function mergeStraight(points: readonly ProfilePoint[]): ProfilePoint[] {
  const out: { readonly at: ProfilePoint; readonly before: readonly ProfilePoint[] }[] = [];
  for (const p of points) {
    const last = out[out.length - 1]?.at;
    if (last && Math.hypot(p[0] - last[0], p[1] - last[1]) < 5 * STRAIGHT) {
      if (p[1] > last[1]) out[out.length - 1] = { ...out[out.length - 1], at: [last[0], p[1]] };
      continue;
    }
    let before: readonly ProfilePoint[] = [];
    while (out.length > 1) {
      const [a, b] = [out[out.length - 2].at, out[out.length - 1]];
      const dropped = [...b.before, b.at, ...before];
      if (!dropped.every((q) => isStraight(a, q, p))) break;
      before = dropped;
      out.pop();
    }
    out.push({ at: p, before });
  }
  return out.map((o) => o.at);
}

function isStraight(a: ProfilePoint, b: ProfilePoint, c: ProfilePoint): boolean {
  const [ux, uy, vx, vy] = [b[0] - a[0], b[1] - a[1], c[0] - a[0], c[1] - a[1]];
  const l = Math.hypot(vx, vy);
  return l > 0 && Math.abs(ux * vy - uy * vx) / l < STRAIGHT && ux * vx + uy * vy >= 0 && (b[0] - c[0]) * (b[0] - a[0]) + (b[1] - c[1]) * (b[1] - a[1]) <= 0;
}
