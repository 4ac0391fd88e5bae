import { type FlatPoint, flatDistance, type PathPiece, sideOf } from '#core/outline';
import { settleArc } from './tidy-path.ts';

// Lines that an arc was drawn by, at least, and the most that each turns from the last one, rad: an octagon is an octagon.
const FEWEST = 5;
const MOST_TURN = (16 * Math.PI) / 180;
const LEAST_TURN = 1e-4;
// mm. What the digits of a file leave of places on a circle.
const ON_CIRCLE = 2e-3;
// Share by which lines of one arc differ in length; the first and the last may be cut short.
const ALIKE = 0.1;

/** A path whose runs of short, alike lines that turn evenly are arcs through their corners: a program drew them for want of arcs. `count`: lines that went. */
export function chordsToArcs(path: readonly PathPiece[]): { readonly path: PathPiece[]; readonly lines: number; readonly arcs: number } {
  const out: PathPiece[] = [];
  let [lines, arcs] = [0, 0];
  for (let i = 0; i < path.length; ) {
    const run = runFrom(path, i);
    if (!run) {
      out.push(path[i++]);
      continue;
    }
    out.push(...run.arcs);
    lines += run.end - i;
    arcs += run.arcs.length;
    i = run.end;
  }
  return { path: out, lines, arcs };
}

function runFrom(path: readonly PathPiece[], start: number): { readonly end: number; readonly arcs: PathPiece[] } | undefined {
  const points: FlatPoint[] = [path[start].from];
  let end = start;
  let sense = 0;
  while (end < path.length && path[end].kind === 'line') {
    const { to } = path[end];
    if (points.length >= 2) {
      const turn = turnAt(points[points.length - 2], points[points.length - 1], to);
      if (Math.abs(turn) > MOST_TURN || Math.abs(turn) < LEAST_TURN || (sense !== 0 && Math.sign(turn) !== sense)) break;
      sense = Math.sign(turn);
    }
    points.push(to);
    end++;
  }
  // The longest stretch of it, from either end shorter, that lies on one circle.
  for (let last = points.length - 1; last >= FEWEST; last--) {
    const circle = circleOf(points.slice(0, last + 1));
    if (circle) return { end: start + last, arcs: arcsThrough(points.slice(0, last + 1), circle, sense > 0) };
  }
  return undefined;
}

const turnAt = (a: FlatPoint, b: FlatPoint, c: FlatPoint): number => Math.atan2(sideOf(a, b, c), (b[0] - a[0]) * (c[0] - b[0]) + (b[1] - a[1]) * (c[1] - b[1]));

// The circle that all of these lie on, their steps alike but for the first and the last; the best one in the sense of least squares.
function circleOf(points: readonly FlatPoint[]): FlatPoint | undefined {
  const inner = points.slice(2, -1).map((p, i) => flatDistance(points[i + 1], p));
  const [low, high] = [Math.min(...inner), Math.max(...inner)];
  const ends = [flatDistance(points[0], points[1]), flatDistance(points[points.length - 2], points[points.length - 1])];
  if (high - low > ALIKE * high || ends.some((e) => e > high * (1 + ALIKE))) return undefined;
  const centre = bestCentre(points);
  if (!centre) return undefined;
  const radii = points.map((p) => flatDistance(p, centre));
  return Math.max(...radii) - Math.min(...radii) <= 2 * ON_CIRCLE ? centre : undefined;
}

// Least squares of x2 + y2 + a x + b y + c, about the middle of the points (Kasa).
function bestCentre(points: readonly FlatPoint[]): FlatPoint | undefined {
  const n = points.length;
  const [mx, my] = [0, 1].map((k) => points.reduce((s, p) => s + p[k], 0) / n);
  let [uu, uv, vv, uz, vz] = [0, 0, 0, 0, 0];
  for (const [x, y] of points) {
    const [u, v] = [x - mx, y - my];
    const z = u * u + v * v;
    uu += u * u;
    uv += u * v;
    vv += v * v;
    uz += u * z;
    vz += v * z;
  }
  const det = uu * vv - uv * uv;
  if (Math.abs(det) < 1e-12 * (uu + vv) ** 2) return undefined;
  return [mx + (uz * vv - vz * uv) / (2 * det), my + (vz * uu - uz * uv) / (2 * det)];
}

// One arc, or two halves of what is more than half a turn.
function arcsThrough(points: readonly FlatPoint[], centre: FlatPoint, ccw: boolean): PathPiece[] {
  const turned = points.slice(2).reduce((sum, p, i) => sum + Math.abs(turnAt(points[i], points[i + 1], p)), 0);
  const arc = (from: FlatPoint, to: FlatPoint): PathPiece => settleArc({ kind: 'arc', from, to, centre, ccw });
  const middle = points[points.length >> 1];
  const last = points[points.length - 1];
  return turned < 0.9 * Math.PI ? [arc(points[0], last)] : [arc(points[0], middle), arc(middle, last)];
}
