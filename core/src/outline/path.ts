import { flatDistance, type FlatPoint } from './flat.ts';

/** A piece of a closed outline: a line, or an arc about a centre, counter-clockwise or not. */
export type PathPiece =
  | { readonly kind: 'line'; readonly from: FlatPoint; readonly to: FlatPoint }
  | { readonly kind: 'arc'; readonly from: FlatPoint; readonly to: FlatPoint; readonly centre: FlatPoint; readonly ccw: boolean };

/** Angle that an arc runs through from its start, radians, positive counter-clockwise. */
export function sweepOfArc({ from, to, centre, ccw }: Extract<PathPiece, { kind: 'arc' }>): number {
  const a = Math.atan2(from[1] - centre[1], from[0] - centre[0]);
  const b = Math.atan2(to[1] - centre[1], to[0] - centre[0]);
  const turn = ccw ? b - a : a - b;
  const whole = turn <= 1e-12 ? turn + 2 * Math.PI : turn;
  return ccw ? whole : -whole;
}

/** An arc in equal parts of at most `largest` radians. */
export function splitArc(arc: Extract<PathPiece, { kind: 'arc' }>, largest: number): PathPiece[] {
  const sweep = sweepOfArc(arc);
  const parts = Math.max(1, Math.ceil(Math.abs(sweep) / largest - 1e-9));
  const { from, to, centre } = arc;
  const start = Math.atan2(from[1] - centre[1], from[0] - centre[0]);
  const radius = flatDistance(from, centre);
  const at = (i: number): FlatPoint => {
    if (i === 0) return from;
    if (i === parts) return to;
    const a = start + (sweep * i) / parts;
    return [centre[0] + radius * Math.cos(a), centre[1] + radius * Math.sin(a)];
  };
  return Array.from({ length: parts }, (_, i): PathPiece => ({ ...arc, from: at(i), to: at(i + 1) }));
}

/** Length of a piece, mm. */
export const lengthOfPiece = (p: PathPiece): number =>
  p.kind === 'line' ? flatDistance(p.from, p.to) : Math.abs(sweepOfArc(p)) * flatDistance(p.from, p.centre);

/** The place of a piece at a share of its length. */
export function placeOnPiece(p: PathPiece, share: number): FlatPoint {
  const { from, to } = p;
  if (p.kind === 'line') return [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])];
  const angle = Math.atan2(from[1] - p.centre[1], from[0] - p.centre[0]) + share * sweepOfArc(p);
  const radius = flatDistance(from, p.centre);
  return [p.centre[0] + radius * Math.cos(angle), p.centre[1] + radius * Math.sin(angle)];
}

/** The direction of a piece at a share of it, 0 to 1; not of any length. */
export function directionOnPiece(p: PathPiece, share: number): FlatPoint {
  if (p.kind === 'line') return [p.to[0] - p.from[0], p.to[1] - p.from[1]];
  const at = placeOnPiece(p, share);
  const [x, y] = [at[0] - p.centre[0], at[1] - p.centre[1]];
  return sweepOfArc(p) > 0 ? [-y, x] : [y, -x];
}

/** The same piece, run through the other way. */
export const reversePiece = (p: PathPiece): PathPiece => (p.kind === 'line' ? { ...p, from: p.to, to: p.from } : { ...p, from: p.to, to: p.from, ccw: !p.ccw });

/** A path, run through the other way. */
export const reversePath = (path: readonly PathPiece[]): PathPiece[] => [...path].reverse().map(reversePiece);

/** A piece with its places moved by a map that turns no left into right, and leaves circles circles. */
export const mapPiece = (p: PathPiece, at: (q: FlatPoint) => FlatPoint): PathPiece =>
  p.kind === 'line' ? { kind: 'line', from: at(p.from), to: at(p.to) } : { ...p, from: at(p.from), to: at(p.to), centre: at(p.centre) };

/** A piece on the other side of the first axis, run through the same way. */
export function mirrorPiece(p: PathPiece): PathPiece {
  const mapped = mapPiece(p, ([x, y]) => [x, -y]);
  return mapped.kind === 'line' ? mapped : { ...mapped, ccw: !mapped.ccw };
}

/**
 * A closed path as a polygon, its arcs with chords of at most `sag` mm. `outside` puts the corners so that the polygon encloses the path's
 * counter-clockwise arcs (of clockwise ones chords do); else all corners lie on the path.
 */
export function flattenPath(path: readonly PathPiece[], sag: number, outside: boolean): FlatPoint[] {
  return path.flatMap((piece): FlatPoint[] => {
    if (piece.kind === 'line') return [piece.from];
    const sweep = sweepOfArc(piece);
    const [cx, cy] = piece.centre;
    const radius = Math.hypot(piece.from[0] - cx, piece.from[1] - cy);
    const most = 2 * Math.acos(Math.max(0, 1 - sag / Math.max(radius, sag)));
    const steps = Math.max(2, Math.ceil(Math.abs(sweep) / most));
    const start = Math.atan2(piece.from[1] - cy, piece.from[0] - cx);
    const at = (angle: number, r: number): FlatPoint => [cx + r * Math.cos(angle), cy + r * Math.sin(angle)];
    if (!outside || !piece.ccw) return [piece.from, ...Array.from({ length: steps - 1 }, (_, i) => at(start + (sweep * (i + 1)) / steps, radius))];
    // Where the tangents of neighbouring places meet.
    const far = radius / Math.cos(sweep / steps / 2);
    return [piece.from, ...Array.from({ length: steps }, (_, i) => at(start + (sweep * (i + 0.5)) / steps, far))];
  });
}

/** A closed path counter-clockwise, whichever way it was. */
export const counterClockwise = (loop: readonly PathPiece[]): PathPiece[] => (areaOfPath(loop) > 0 ? [...loop] : reversePath(loop));

/** Signed area of a closed path, mm2, exact: positive counter-clockwise (Green's theorem: a triangle with the origin for each piece, and what an arc has over its chord). */
export const areaOfPath = (path: readonly PathPiece[]): number =>
  path.reduce((sum, piece) => {
    const { from, to } = piece;
    const triangle = (from[0] * to[1] - from[1] * to[0]) / 2;
    if (piece.kind === 'line') return sum + triangle;
    const sweep = sweepOfArc(piece);
    return sum + triangle + (flatDistance(from, piece.centre) ** 2 * (sweep - Math.sin(sweep))) / 2;
  }, 0);

/** Signed area of a polygon, mm2: positive counter-clockwise. */
export const areaOfPolygon = (polygon: readonly FlatPoint[]): number =>
  polygon.reduce((sum, [x, y], i) => {
    const [u, v] = polygon[(i + 1) % polygon.length];
    return sum + (x * v - u * y) / 2;
  }, 0);
