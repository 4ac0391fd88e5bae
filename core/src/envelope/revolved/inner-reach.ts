import { Coverage } from './coverage.ts';
import { FINENESS, greatestRadius, keep, leastRadius, PieceList, type Pieces, pushReaching, rangeOf, SAME_HEIGHT } from './upper-envelope.ts';

// mm. An edge must not hide itself by rounding.
const SURELY_HIGHER = 1e-9;
const MOST_HALVINGS = 12;

/**
 * Straight pieces below swept edges (see swept-segments), with r counted downwards: -r, so that what is nearest to the axis is the upper envelope of
 * these. The distance of a straight edge from the axis is convex in z: its tangents lie below it, by at most `exactness` mm where two of them
 * meet. Losses and end allowances bring a piece nearer to the axis and beyond its ends. `gap` is the greatest such distance that was let stand.
 */
export function tangentsOfSegments(segments: Float64Array, segmentSize: number, exactness: number): { pieces: Pieces; gap: number } {
  const out = new PieceList(2 * segments.length);
  let gap = 0;
  for (let i = 0; i < segments.length; i += segmentSize) {
    const [z0, z1, ax, ay, bx, by] = [segments[i], segments[i + 1], segments[i + 2], segments[i + 3], segments[i + 4], segments[i + 5]];
    const [loss, end] = [segments[i + 6], segments[i + 7]];
    const bb = bx * bx + by * by;
    const radiusAt = (t: number) => Math.sqrt((ax + t * bx) ** 2 + (ay + t * by) ** 2);
    const add = (t0: number, r0: number, t1: number, r1: number) => {
      const [from, to] = [z0 + t0 * (z1 - z0), z0 + t1 * (z1 - z0)];
      if (to > from) pushReaching(out, from, -Math.max(0, r0 - loss), to, -Math.max(0, r1 - loss), end);
    };
    if (z1 - z0 <= SAME_HEIGHT) {
      const nearest = bb > 0 ? Math.min(1, Math.max(0, -(ax * bx + ay * by) / bb)) : 0;
      if (end > 0) pushReaching(out, z0 - end, -Math.max(0, radiusAt(nearest) - loss), z1 + end, -Math.max(0, radiusAt(nearest) - loss), 0);
      continue;
    }
    const slopeAt = (t: number, r: number) => (r > 1e-12 ? ((ax + t * bx) * bx + (ay + t * by) * by) / r : 0);
    const halve = (t0: number, t1: number, depth: number) => {
      const [r0, r1] = [radiusAt(t0), radiusAt(t1)];
      const [s0, s1] = [slopeAt(t0, r0), slopeAt(t1, r1)];
      // Where the tangents at both ends meet.
      const bend = s1 - s0;
      const meet = bend > 1e-12 ? (r0 - s0 * t0 - r1 + s1 * t1) / bend : (t0 + t1) / 2;
      const t = Math.min(t1, Math.max(t0, meet));
      const low = bend > 1e-12 ? Math.max(0, r0 + s0 * (t - t0)) : (r0 + r1) / 2;
      const below = radiusAt(t) - low;
      if (depth >= MOST_HALVINGS || below <= exactness) {
        gap = Math.max(gap, below);
        add(t0, r0, t, low);
        add(t, low, t1, r1);
      } else {
        halve(t0, (t0 + t1) / 2, depth + 1);
        halve((t0 + t1) / 2, t1, depth + 1);
      }
    };
    const nearest = bb > 0 ? -(ax * bx + ay * by) / bb : -1;
    if (nearest > 0 && nearest < 1) {
      halve(0, nearest, 0);
      halve(nearest, 1, 0);
    } else halve(0, 1, 0);
  }
  return { pieces: out.packed(), gap };
}

// A height as a share of an edge's length; of a level edge its one or its other end.
const shareAt = (z0: number, z1: number, z: number, end: 0 | 1): number => (z1 - z0 > SAME_HEIGHT ? Math.min(1, Math.max(0, (z - z0) / (z1 - z0))) : end);

/** The swept edges that can be nearest to the axis; others lie, with all they can reach, above edges that pass over whole stretches of z. Packed as they came. */
export function dropShadowed(segments: Float64Array, size: number): Float64Array {
  return FINENESS.reduce((all, fineness) => {
    const [low, high] = rangeOf(all, size);
    if (!(high > low)) return all;
    const covered = new Coverage(low, high, fineness);
    // All values are counted downwards.
    for (let i = 0; i < all.length; i += size)
      if (all[i + 1] - all[i] > SAME_HEIGHT) covered.add(all[i], all[i + 1], (from, to) => -greatestRadius(all, i, from, to));
    covered.finish();
    return keep(all, size, (i) => {
      const [z0, z1, loss, end] = [all[i], all[i + 1], all[i + 6], all[i + 7]];
      return !covered.hides(
        z0 - end,
        z1 + end,
        (from, to) => -(leastRadius(all, i, shareAt(z0, z1, from - end, 0), shareAt(z0, z1, to + end, 1)) - loss - SURELY_HIGHER),
      );
    });
  }, segments);
}
