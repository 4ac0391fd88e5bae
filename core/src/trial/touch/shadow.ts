import type { FlatPoint } from '#core/outline';
import type { Shadow } from './turned-body.ts';

/** mm. What is farther behind the leading edges than that is not hidden by them. */
export const LEAD = 3;
/** mm. A way is looked at in parts of that length: what is not hidden stays by the difference behind what was not cut yet. */
export const PART = 2;

/**
 * What lies behind the leading edges of an outline that moves straight on: a place that stands behind one of them, no farther than what the outline has moved by already
 * (`LEAD`), gets to nothing that the edge has not been through before. `image`: the outline where the way begins, counter-clockwise; [dz, dr]: the way.
 */
export function shadowBehind(image: readonly FlatPoint[], [dz, dr]: FlatPoint): Shadow {
  const l = Math.hypot(dz, dr) || 1;
  const [u, v] = [dz / l, dr / l];
  // Across the way, and along it.
  const across = (z: number, r: number) => v * z - u * r;
  const along = (z: number, r: number) => u * z + v * r;
  const edges: [q0: number, s0: number, q1: number, s1: number][] = [];
  for (let i = 0; i < image.length; i++) {
    const [a, b] = [image[i], image[(i + 1) % image.length]];
    // Its outward side looks the way it goes.
    if ((b[1] - a[1]) * u - (b[0] - a[0]) * v <= 1e-12) continue;
    const [p, q] = [
      [across(...a), along(...a)],
      [across(...b), along(...b)],
    ];
    edges.push(p[0] < q[0] ? [p[0], p[1], q[0], q[1]] : [q[0], q[1], p[0], p[1]]);
  }
  edges.sort((a, b) => a[0] - b[0]);
  const first = edges[0]?.[0] ?? 0;
  const last = edges.reduce((m, e) => Math.max(m, e[2]), first);
  return {
    hides(z0, z1, r0, r1) {
      const qs = [across(z0, r0), across(z0, r1), across(z1, r0), across(z1, r1)];
      const [q0, q1] = [Math.min(...qs), Math.max(...qs)];
      if (q0 < first || q1 > last) return false;
      const ss = [along(z0, r0), along(z0, r1), along(z1, r0), along(z1, r1)];
      const [s0, s1] = [Math.min(...ss), Math.max(...ss)];
      // The leading edge where it is least far ahead.
      let front = Infinity;
      for (const [a, sa, b, sb] of edges) {
        if (b < q0 || a > q1) continue;
        const at = (q: number) => (b - a < 1e-12 ? Math.min(sa, sb) : sa + ((sb - sa) * (Math.min(b, Math.max(a, q)) - a)) / (b - a));
        front = Math.min(front, at(q0), at(q1));
      }
      // Chains of edges are monotone between their own ends only: of two that overlap the nearer one counts, which is the safe side.
      return s1 <= front && front - s0 <= LEAD;
    },
  };
}
