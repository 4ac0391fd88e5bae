import { circleThrough, type FlatPoint, flatDistance, type PathPiece, sideOf, sweepOfArc } from '#core/outline';

/** An arc whose centre is as far from both its ends; ends that were moved a little stay where they are. */
export function settleArc(piece: PathPiece): PathPiece {
  if (piece.kind === 'line') return piece;
  const { from, to, centre } = piece;
  const half = flatDistance(from, to) / 2;
  if (half < 1e-12) return piece;
  const radius = Math.max(half, (flatDistance(from, centre) + flatDistance(to, centre)) / 2);
  const off = Math.sqrt(Math.max(0, radius * radius - half * half));
  const [ux, uy] = [(to[0] - from[0]) / (2 * half), (to[1] - from[1]) / (2 * half)];
  const side = sideOf(from, to, centre) >= 0 ? 1 : -1;
  return { ...piece, centre: [(from[0] + to[0]) / 2 - side * off * uy, (from[1] + to[1]) / 2 + side * off * ux] };
}

/** A path with lines along each other as one, and arcs of one circle as one as long as they are less than a turn. */
export function joinPieces(path: readonly PathPiece[], within: number, isClosed: boolean): PathPiece[] {
  const out: PathPiece[] = [];
  for (const piece of path) {
    const last = out[out.length - 1];
    const joined = last && joinTwo(last, piece, within);
    if (joined) out[out.length - 1] = joined;
    else out.push(piece);
  }
  if (!isClosed || out.length < 3) return out;
  const joined = joinTwo(out[out.length - 1], out[0], within);
  return joined ? [joined, ...out.slice(1, -1)] : out;
}

function joinTwo(a: PathPiece, b: PathPiece, within: number): PathPiece | undefined {
  if (a.kind === 'line' && b.kind === 'line') {
    const l = flatDistance(a.from, b.to);
    const isOn = l > 0 && Math.abs(sideOf(a.from, b.to, a.to)) / l <= within;
    const isAhead = (a.to[0] - a.from[0]) * (b.to[0] - b.from[0]) + (a.to[1] - a.from[1]) * (b.to[1] - b.from[1]) > 0;
    return isOn && isAhead ? { kind: 'line', from: a.from, to: b.to } : undefined;
  }
  if (a.kind !== 'arc' || b.kind !== 'arc' || a.ccw !== b.ccw) return undefined;
  const isOne = flatDistance(a.centre, b.centre) <= within && Math.abs(flatDistance(a.from, a.centre) - flatDistance(b.from, b.centre)) <= within;
  return isOne && Math.abs(sweepOfArc(a)) + Math.abs(sweepOfArc(b)) < 1.9 * Math.PI ? settleArc({ ...a, to: b.to }) : undefined;
}

/** Lines and arcs through points along a curve, none of the points further from them than `tolerance` mm: at each place the piece that gets furthest. */
export const fitCurve = (points: readonly FlatPoint[], tolerance: number): PathPiece[] => fitSpans(points, tolerance).map((s) => s.piece);

/** A fitted piece, and the numbers of the points that it stands for. */
export interface Span {
  readonly piece: PathPiece;
  readonly start: number;
  readonly end: number;
}

/**
 * The same with the points that each piece stands for. A piece may begin so many points later (`skip`) where a line gets as far from there: what is before it is a
 * corner that was worn round, and no arc.
 */
export function fitSpans(points: readonly FlatPoint[], tolerance: number, skip = 0): Span[] {
  const out: Span[] = [];
  for (let i = 0; i < points.length - 1; ) {
    const lineFrom = (start: number) =>
      furthest(points, start, (end) => (isNearLine(points, start, end, tolerance) ? { kind: 'line', from: points[start], to: points[end] } : undefined));
    const line = lineFrom(i);
    const arc = furthest(points, i, (end) => arcOver(points, i, end, tolerance));
    if (arc && arc.end > (line?.end ?? i)) {
      const later = Array.from({ length: skip }, (_, k) => i + 1 + k)
        .filter((start) => start < points.length - 1)
        .map((start) => ({ start, found: lineFrom(start) }))
        .find(({ start, found }) => found && found.end >= arc.end && found.end - start > 2 * skip);
      if (later?.found) {
        out.push({ piece: { kind: 'line', from: points[i], to: points[later.start] }, start: i, end: later.start });
        out.push({ piece: later.found.piece, start: later.start, end: later.found.end });
        i = later.found.end;
        continue;
      }
    }
    const best = arc && arc.end > (line?.end ?? i) ? arc : line;
    const end = best?.end ?? i + 1;
    out.push({ piece: best?.piece ?? { kind: 'line', from: points[i], to: points[i + 1] }, start: i, end });
    i = end;
  }
  return out;
}

// The piece that ends furthest on, found by doubling and halving.
function furthest(points: readonly FlatPoint[], start: number, pieceTo: (end: number) => PathPiece | undefined): { piece: PathPiece; end: number } | undefined {
  const last = points.length - 1;
  let good: { piece: PathPiece; end: number } | undefined;
  let low = start;
  let high = last + 1;
  for (let step = 1; low < last; step *= 2) {
    const end = Math.min(last, start + step);
    const piece = pieceTo(end);
    if (!piece && step > 2) {
      high = end;
      break;
    }
    if (piece) good = { piece, end };
    low = end;
    if (end === last) return good;
  }
  low = good?.end ?? start;
  while (high - low > 1) {
    const end = (low + high) >> 1;
    const piece = pieceTo(end);
    if (piece) {
      good = { piece, end };
      low = end;
    } else high = end;
  }
  return good;
}

function isNearLine(points: readonly FlatPoint[], start: number, end: number, tolerance: number): boolean {
  const [a, b] = [points[start], points[end]];
  const l = flatDistance(a, b);
  if (l === 0) return false;
  for (let k = start + 1; k < end; k++) if (Math.abs(sideOf(a, b, points[k])) / l > tolerance) return false;
  return true;
}

function arcOver(points: readonly FlatPoint[], start: number, end: number, tolerance: number): PathPiece | undefined {
  if (end < start + 2) return undefined;
  const middle = points[(start + end) >> 1];
  const circle = circleThrough(points[start], middle, points[end]);
  if (!circle) return undefined;
  for (let k = start; k <= end; k++) if (Math.abs(flatDistance(points[k], circle.centre) - circle.radius) > tolerance) return undefined;
  // Chords between the points are off it too where these are far apart.
  for (let k = start; k < end; k++) {
    const half = flatDistance(points[k], points[k + 1]) / 2;
    if (half > circle.radius || circle.radius - Math.sqrt(circle.radius * circle.radius - half * half) > 2 * tolerance) return undefined;
  }
  const piece: PathPiece = { kind: 'arc', from: points[start], to: points[end], centre: circle.centre, ccw: sideOf(points[start], middle, points[end]) > 0 };
  return Math.abs(sweepOfArc(piece)) < 1.8 * Math.PI ? piece : undefined;
}
