import { done, failed, type Result } from '#core/issues';
import { type FlatPoint, flatDistance, mapPiece, mirrorPiece, type PathPiece, placeOnPiece, reversePiece } from '#core/outline';
import { meetingShares } from './crossings.ts';
import type { FlatAxis } from './find-axis.ts';
import { SAME_PLACE } from './drawing.ts';
import { settleArc } from './tidy-path.ts';

/** A piece of a half profile in [z, r], and which piece of the drawing it is from. */
export interface ProfilePiece {
  readonly piece: PathPiece;
  readonly of: number;
}

/** Pieces in the coordinates of an axis: along it, and away from it to the left. */
export function inAxis(pieces: readonly ProfilePiece[], { point, direction: [dx, dy] }: FlatAxis): ProfilePiece[] {
  const at = ([x, y]: FlatPoint): FlatPoint => [(x - point[0]) * dx + (y - point[1]) * dy, dx * (y - point[1]) - dy * (x - point[0])];
  return pieces.map(({ piece, of }) => ({ piece: mapPiece(piece, at), of }));
}

const flip = ({ piece, of }: ProfilePiece): ProfilePiece => ({ piece: mirrorPiece(piece), of });

const turnRound = (pieces: readonly ProfilePiece[]): ProfilePiece[] => [...pieces].reverse().map(({ piece, of }) => ({ piece: reversePiece(piece), of }));

/**
 * The surface of one half of an outline, as ways that begin and end on the axis, or one closed way beside it. `ring` is closed and counter-clockwise, in axis
 * coordinates; the ways run against z outside, as half profiles do.
 */
export function halve(ring: readonly ProfilePiece[], kind: 'full' | 'half'): ProfilePiece[][] {
  const middle = ring.reduce((sum, { piece }) => sum + piece.from[1], 0);
  const upper = kind === 'half' && middle < 0 ? turnRound(ring.map(flip)) : ring;
  const parts = upper.flatMap(cutAtAxis).filter(({ piece }) => placeOnPiece(piece, 0.5)[1] > SAME_PLACE);
  return chains(parts);
}

// Where a piece crosses the axis it is cut.
function cutAtAxis(p: ProfilePiece): ProfilePiece[] {
  const { piece } = p;
  const far =
    1 +
    Math.abs(piece.from[0]) +
    Math.abs(piece.to[0]) +
    flatDistance(piece.from, piece.to) +
    (piece.kind === 'arc' ? 2 * flatDistance(piece.from, piece.centre) : 0);
  const axis: PathPiece = { kind: 'line', from: [-far, 0], to: [far, 0] };
  const cuts = meetingShares(piece, axis, 1e-9)
    .map((m) => m.first)
    .filter((s) => s > 1e-9 && s < 1 - 1e-9)
    .sort((a, b) => a - b);
  if (cuts.length === 0) return [p];
  const stops = [0, ...cuts, 1];
  return stops.slice(1).map((to, i) => {
    const place = (s: number): FlatPoint => (s === 0 ? piece.from : s === 1 ? piece.to : onAxis(placeOnPiece(piece, s)));
    return { ...p, piece: { ...piece, from: place(stops[i]), to: place(to) } };
  });
}

const onAxis = ([z]: FlatPoint): FlatPoint => [z, 0];

function chains(parts: readonly ProfilePiece[]): ProfilePiece[][] {
  const out: ProfilePiece[][] = [];
  for (const part of parts) {
    const last = out[out.length - 1]?.at(-1);
    if (last && flatDistance(last.piece.to, part.piece.from) <= 2 * SAME_PLACE) out[out.length - 1].push(part);
    else out.push([part]);
  }
  // The ring began in the middle of one.
  const [first] = out;
  const last = out[out.length - 1];
  if (out.length > 1 && flatDistance(last[last.length - 1].piece.to, first[0].piece.from) <= 2 * SAME_PLACE) {
    out.pop();
    out[0] = [...last, ...first];
  }
  return out.map(settle);
}

// Ends that all but meet do, those all but on the axis are on it, and arcs have a centre again.
function settle(chain: readonly ProfilePiece[]): ProfilePiece[] {
  const first = snap(chain[0].piece.from);
  let at = first;
  return chain.map(({ piece, of }, i) => {
    const isLast = i === chain.length - 1;
    const to = isLast && flatDistance(piece.to, first) <= 2 * SAME_PLACE ? first : snap(piece.to);
    const settled = settleArc({ ...piece, from: at, to });
    at = to;
    return { piece: settled, of };
  });
}

const snap = ([z, r]: FlatPoint): FlatPoint => (Math.abs(r) <= 2 * SAME_PLACE ? [z, 0] : [z, r]);

/** An open way with the two lines that lead from its ends to the axis, run against z. */
export function closeToAxis(open: readonly ProfilePiece[]): Result<ProfilePiece[][]> {
  const middle = open.reduce((sum, { piece }) => sum + placeOnPiece(piece, 0.5)[1], 0);
  const upper = middle < 0 ? open.map(flip) : [...open];
  const low = upper.map(({ piece }) => placeOnPiece(piece, 0.5)).find((place) => place[1] < -SAME_PLACE);
  if (low) return failed('outline.crosses-axis', { at: low.map((v) => v.toFixed(2)).join(', ') });
  const along = settle(upper);
  const [start, end] = [along[0].piece.from, along[along.length - 1].piece.to];
  const way = start[0] >= end[0] ? along : turnRound(along);
  const [first, last] = [way[0].piece.from, way[way.length - 1].piece.to];
  const lead: ProfilePiece[] = first[1] > 0 ? [{ piece: { kind: 'line', from: [first[0], 0], to: first }, of: way[0].of }] : [];
  const tail: ProfilePiece[] = last[1] > 0 ? [{ piece: { kind: 'line', from: last, to: [last[0], 0] }, of: way[way.length - 1].of }] : [];
  return done([[...lead, ...way, ...tail]]);
}
