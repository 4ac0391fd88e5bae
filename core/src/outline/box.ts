import { flatDistance } from './flat.ts';
import { type PathPiece, sweepOfArc } from './path.ts';

/** The box around a piece: low x, low y, high x, high y. */
export function boxOfPiece(piece: PathPiece): [number, number, number, number] {
  const { from, to } = piece;
  const box: [number, number, number, number] = [Math.min(from[0], to[0]), Math.min(from[1], to[1]), Math.max(from[0], to[0]), Math.max(from[1], to[1])];
  if (piece.kind === 'line') return box;
  const [cx, cy] = piece.centre;
  const r = flatDistance(from, piece.centre);
  for (const [k, [dx, dy]] of [
    [1, 0],
    [0, 1],
    [-1, 0],
    [0, -1],
  ].entries()) {
    if (shareOnArc(piece, (k * Math.PI) / 2) === undefined) continue;
    box[0] = Math.min(box[0], cx + r * dx);
    box[1] = Math.min(box[1], cy + r * dy);
    box[2] = Math.max(box[2], cx + r * dx);
    box[3] = Math.max(box[3], cy + r * dy);
  }
  return box;
}

/** The box around all of a path. */
export function boxOfPath(path: readonly PathPiece[]): [number, number, number, number] {
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (const [a, b, c, d] of path.map(boxOfPiece)) {
    box[0] = Math.min(box[0], a);
    box[1] = Math.min(box[1], b);
    box[2] = Math.max(box[2], c);
    box[3] = Math.max(box[3], d);
  }
  return box;
}

/** Where on an arc an angle about its centre is, as a share of its sweep; undefined where the arc does not get there. */
export function shareOnArc(arc: Extract<PathPiece, { kind: 'arc' }>, angle: number): number | undefined {
  const sweep = sweepOfArc(arc);
  const start = Math.atan2(arc.from[1] - arc.centre[1], arc.from[0] - arc.centre[0]);
  let turn = arc.ccw ? angle - start : start - angle;
  turn -= 2 * Math.PI * Math.floor(turn / (2 * Math.PI));
  // All but a turn is the start.
  if (turn > 2 * Math.PI - 1e-9) turn = 0;
  return turn <= Math.abs(sweep) + 1e-9 ? turn / Math.abs(sweep) : undefined;
}
