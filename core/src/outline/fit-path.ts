import { circleThrough, crossingOf, distanceFromSegment, type FlatPoint, sideOf } from './flat.ts';
import type { PathPiece } from './path.ts';

// mm. How far corners of a polygon may be from the circle that they are taken for.
const ON_CIRCLE = 2e-4;
// Radians. Corners further apart than this on a circle are corners of something else.
const LONGEST_STEP = 0.65;
// Corners that make a circle.
const FEWEST = 5;
// mm. A corner this near the line of its neighbours is none.
const STRAIGHT = 2e-6;

export interface FitOptions {
  /** mm. How much material chains of lines may gain. */
  readonly tolerance: number;
  /** mm. How far chords of arcs may be from them: what the polygon was made with. */
  readonly sag: number;
  /** mm. How far corners may be from the circle that they are taken for; 0.0002 without. */
  readonly onCircle?: number;
}

/**
 * A closed polygon (counter-clockwise around material) as lines and arcs, arcs through its corners where enough of them lie on a circle. Chains of lines between arcs get
 * fewer where that adds material within `tolerance` mm: a notch is bridged, or two edges go on to where they meet. Arcs of notches may take away
 * what their chords have more; who needs it enclosed looks at the result.
 */
export function fitPath(polygon: readonly FlatPoint[], options: FitOptions): PathPiece[] {
  const ring = withoutStraight(polygon);
  const n = ring.length;
  if (n < 3) return [];
  // Start where no arc runs through: at the longest edge.
  const long = (i: number) => Math.hypot(ring[(i + 1) % n][0] - ring[i][0], ring[(i + 1) % n][1] - ring[i][1]);
  const first = ring.reduce((best, _, i) => (long(i) > long(best) ? i : best), 0);
  const points = ring.map((_, i) => ring[(first + i) % n]);
  points.push(points[0]);
  return fitChain(points, options);
}

/** The same of an open chain: what is gained lies on its left, its ends stay. */
export function fitChain(points: readonly FlatPoint[], { tolerance, sag, onCircle = ON_CIRCLE }: FitOptions): PathPiece[] {
  const pieces: PathPiece[] = [];
  let chain: FlatPoint[] = [points[0]];
  const flush = () => {
    const lines = simplifyChain(chain, tolerance);
    for (let i = 1; i < lines.length; i++) pieces.push({ kind: 'line', from: lines[i - 1], to: lines[i] });
  };
  for (let i = 0; i < points.length - 1; ) {
    const run = circleFrom(points, i, sag, onCircle);
    if (!run) {
      chain.push(points[i + 1]);
      i++;
      continue;
    }
    flush();
    for (const arc of run.arcs) pieces.push(arc);
    i = run.end;
    chain = [points[i]];
  }
  flush();
  return pieces;
}

function withoutStraight(polygon: readonly FlatPoint[]): FlatPoint[] {
  let ring = polygon.filter((p, i) => Math.hypot(p[0] - polygon[(i + 1) % polygon.length][0], p[1] - polygon[(i + 1) % polygon.length][1]) > STRAIGHT);
  for (let changed = true; changed && ring.length > 3; ) {
    const before = ring;
    ring = before.filter((p, i) => i % 2 === 0 || off(before[i - 1], p, before[(i + 1) % before.length]) > STRAIGHT);
    if (ring.length === before.length)
      ring = before.filter((p, i) => i % 2 === 1 || off(before[(i + before.length - 1) % before.length], p, before[(i + 1) % before.length]) > STRAIGHT);
    changed = ring.length < before.length;
  }
  return ring;
}

// Distance of b from the line through a and c; that of a corner that turns back is its distance from a.
function off(a: FlatPoint, b: FlatPoint, c: FlatPoint): number {
  const [ux, uy] = [c[0] - a[0], c[1] - a[1]];
  const [vx, vy] = [b[0] - a[0], b[1] - a[1]];
  const l = Math.hypot(ux, uy);
  const along = (ux * vx + uy * vy) / (l || 1);
  return along < 0 || along > l ? Math.hypot(vx, vy) : Math.abs(ux * vy - uy * vx) / (l || 1);
}

// The longest arc through corners from one on; a whole circle comes as two halves.
function circleFrom(points: readonly FlatPoint[], start: number, sag: number, onCircle: number): { arcs: PathPiece[]; end: number } | undefined {
  const last = points.length - 1;
  if (start + FEWEST - 1 > last) return undefined;
  // An edge that is a chord of the circle, and no straight edge between two of its points.
  const longest = (radius: number) => 2 * radius * Math.min(Math.sin(LONGEST_STEP / 2), Math.sqrt((2 * sag) / radius));
  const fits = (end: number): { centre: FlatPoint; radius: number } | undefined => {
    const middle = (start + end) >> 1;
    const closed = Math.hypot(points[end][0] - points[start][0], points[end][1] - points[start][1]) < 1e-9;
    const circle = closed
      ? circleThrough(points[start], points[start + Math.floor((end - start) / 3)], points[start + Math.floor((2 * (end - start)) / 3)])
      : circleThrough(points[start], points[middle], points[end]);
    if (!circle) return undefined;
    const sense = Math.sign(sideOf(points[start], points[start + 1], points[start + 2]));
    for (let k = start; k <= end; k++) {
      if (Math.abs(Math.hypot(points[k][0] - circle.centre[0], points[k][1] - circle.centre[1]) - circle.radius) > onCircle) return undefined;
      if (k === end) break;
      const long = Math.hypot(points[k + 1][0] - points[k][0], points[k + 1][1] - points[k][1]);
      if (long > longest(circle.radius)) return undefined;
      if (k > start && Math.sign(sideOf(points[k - 1], points[k], points[k + 1])) !== sense) return undefined;
    }
    return circle;
  };
  let end = start + FEWEST - 1;
  if (!fits(end)) return undefined;
  while (end < last && fits(end + 1)) end++;
  const circle = fits(end);
  if (!circle) return undefined;
  const ccw = sideOf(points[start], points[start + 1], points[start + 2]) > 0;
  const arc = (from: FlatPoint, to: FlatPoint): PathPiece => ({ kind: 'arc', from, to, centre: circle.centre, ccw });
  const turned = (end - start) * (Math.hypot(points[start + 1][0] - points[start][0], points[start + 1][1] - points[start][1]) / circle.radius);
  if (turned < Math.PI) return { arcs: [arc(points[start], points[end])], end };
  const middle = (start + end) >> 1;
  return { arcs: [arc(points[start], points[middle]), arc(points[middle], points[end])], end };
}

// A corner of a chain that is getting fewer: where it is, and the stretch of the first chain that it stands for.
interface Stop {
  readonly at: FlatPoint;
  readonly first: number;
  readonly last: number;
}

// Fewer lines between two fixed ends, never on the left of what was: cheapest first, each measured against the chain as it was at first.
function simplifyChain(chain: readonly FlatPoint[], tolerance: number): FlatPoint[] {
  let stops: Stop[] = chain.map((at, i) => ({ at, first: i, last: i }));
  // How far the first chain's corners between two stops are from the line between them.
  const gapOf = (a: Stop, c: Stop): number => {
    let gap = 0;
    for (let k = a.last + 1; k < c.first; k++) gap = Math.max(gap, off(a.at, chain[k], c.at));
    return gap;
  };
  for (;;) {
    let best = tolerance;
    let change: Stop[] | undefined;
    for (let i = 1; i < stops.length - 1; i++) {
      const [a, b, c] = [stops[i - 1], stops[i], stops[i + 1]];
      if (sideOf(a.at, b.at, c.at) <= 0) {
        // A notch: bridged.
        const gap = Math.max(off(a.at, b.at, c.at), gapOf(a, c));
        if (gap < best) {
          best = gap;
          change = [...stops.slice(0, i), ...stops.slice(i + 1)];
        }
        continue;
      }
      const d = stops[i + 2];
      if (!d || sideOf(b.at, c.at, d.at) <= 0) continue;
      // An edge between two convex corners: its neighbours go on to where they meet.
      const crossing = crossingOf(a.at, b.at, d.at, c.at);
      const met = crossing && crossing.first >= 1 && crossing.second >= 1 ? crossing.at : undefined;
      const far = met ? distanceToChain(chain, b.first, c.last, met) : Infinity;
      if (met && far < best) {
        best = far;
        change = [...stops.slice(0, i), { at: met, first: b.first, last: c.last }, ...stops.slice(i + 2)];
      }
    }
    if (!change) return stops.map((s) => s.at);
    stops = change;
  }
}

function distanceToChain(chain: readonly FlatPoint[], first: number, last: number, p: FlatPoint): number {
  let least = first === last ? Math.hypot(p[0] - chain[first][0], p[1] - chain[first][1]) : Infinity;
  for (let k = first; k < last; k++) least = Math.min(least, distanceFromSegment(chain[k], chain[k + 1], p));
  return least;
}
