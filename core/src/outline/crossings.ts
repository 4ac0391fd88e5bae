import { shareOnArc } from './box.ts';
import { crossingOf, type FlatPoint, flatDistance } from './flat.ts';
import { type PathPiece, placeOnPiece } from './path.ts';

/** Where two pieces would meet if both ran on: lines without end, arcs all the way round. At most two places. */
export function meetingsOf(p: PathPiece, q: PathPiece): FlatPoint[] {
  if (p.kind === 'line' && q.kind === 'line') {
    const crossing = crossingOf(p.from, p.to, q.from, q.to);
    return crossing ? [crossing.at] : [];
  }
  if (p.kind === 'arc' && q.kind === 'arc') return circlesMeet(p.centre, flatDistance(p.from, p.centre), q.centre, flatDistance(q.from, q.centre));
  const [line, arc] = p.kind === 'line' ? [p, q] : [q, p];
  return arc.kind === 'arc' ? lineMeetsCircle(line.from, line.to, arc.centre, flatDistance(arc.from, arc.centre)) : [];
}

/** Where two pieces cross or touch, ends included within `near` mm; nothing of pieces that run along each other. */
export const crossingsOf = (p: PathPiece, q: PathPiece, near: number): FlatPoint[] =>
  meetingsOf(p, q).filter((at) => isOnPiece(p, at, near) && isOnPiece(q, at, near));

/** How far along a piece the place of it is that is nearest to a point, as a share of its length, and how far that is away. */
export function nearestOnPiece(p: PathPiece, at: FlatPoint): { readonly share: number; readonly away: number; readonly place: FlatPoint } {
  const share = Math.min(1, Math.max(0, shareOf(p, at)));
  const place = share === 0 ? p.from : share === 1 ? p.to : placeOnPiece(p, share);
  return { share, place, away: flatDistance(place, at) };
}

// Whether a point lies on a piece, within `near` mm.
const isOnPiece = (p: PathPiece, at: FlatPoint, near: number): boolean => nearestOnPiece(p, at).away <= near;

/** A piece from one share of its length to another one. */
export function partOfPiece(p: PathPiece, from: number, to: number): PathPiece {
  const [a, b] = [from <= 0 ? p.from : placeOnPiece(p, from), to >= 1 ? p.to : placeOnPiece(p, to)];
  return p.kind === 'line' ? { kind: 'line', from: a, to: b } : { ...p, from: a, to: b };
}

// Unclamped for lines; of arcs on the sweep, or its nearer end.
function shareOf(p: PathPiece, at: FlatPoint): number {
  if (p.kind === 'line') {
    const [dx, dy] = [p.to[0] - p.from[0], p.to[1] - p.from[1]];
    return ((at[0] - p.from[0]) * dx + (at[1] - p.from[1]) * dy) / (dx * dx + dy * dy || 1);
  }
  const angle = Math.atan2(at[1] - p.centre[1], at[0] - p.centre[0]);
  const share = shareOnArc(p, angle);
  if (share !== undefined) return share;
  return flatDistance(at, p.from) < flatDistance(at, p.to) ? 0 : 1;
}

// What misses by less than this share of the radius touches.
const TOUCHES = 1e-9;

function lineMeetsCircle(from: FlatPoint, to: FlatPoint, centre: FlatPoint, radius: number): FlatPoint[] {
  const long = flatDistance(from, to) || 1;
  const [ux, uy] = [(to[0] - from[0]) / long, (to[1] - from[1]) / long];
  const along = (centre[0] - from[0]) * ux + (centre[1] - from[1]) * uy;
  const foot: FlatPoint = [from[0] + along * ux, from[1] + along * uy];
  const away = flatDistance(foot, centre);
  if (away > radius * (1 + TOUCHES)) return [];
  const half = Math.sqrt(Math.max(0, radius * radius - away * away));
  if (half < radius * Math.sqrt(TOUCHES)) return [foot];
  return [
    [foot[0] - half * ux, foot[1] - half * uy],
    [foot[0] + half * ux, foot[1] + half * uy],
  ];
}

function circlesMeet(a: FlatPoint, ra: number, b: FlatPoint, rb: number): FlatPoint[] {
  const apart = flatDistance(a, b);
  const slack = TOUCHES * Math.max(ra, rb);
  if (apart < 1e-12 || apart > ra + rb + slack || apart < Math.abs(ra - rb) - slack) return [];
  const along = (apart * apart + ra * ra - rb * rb) / (2 * apart);
  const [ux, uy] = [(b[0] - a[0]) / apart, (b[1] - a[1]) / apart];
  const foot: FlatPoint = [a[0] + along * ux, a[1] + along * uy];
  const half = Math.sqrt(Math.max(0, ra * ra - along * along));
  if (half < ra * Math.sqrt(TOUCHES)) return [foot];
  return [
    [foot[0] + half * uy, foot[1] - half * ux],
    [foot[0] - half * uy, foot[1] + half * ux],
  ];
}
