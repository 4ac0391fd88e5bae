import Flatbush from 'flatbush';
import { boxOfPiece, type FlatPoint, flatDistance, meetingsOf, type PathPiece, shareOnArc } from '#core/outline';

/** Where on a piece a point lies, as a share of its length; undefined where it is further away than `within` mm. */
export function shareAt(piece: PathPiece, p: FlatPoint, within: number): number | undefined {
  if (piece.kind === 'line') {
    const [ux, uy] = [piece.to[0] - piece.from[0], piece.to[1] - piece.from[1]];
    const l = Math.hypot(ux, uy);
    if (l === 0) return undefined;
    const [vx, vy] = [p[0] - piece.from[0], p[1] - piece.from[1]];
    const along = (vx * ux + vy * uy) / l;
    const off = Math.abs(vx * uy - vy * ux) / l;
    return off <= within && along >= -within && along <= l + within ? Math.max(0, Math.min(1, along / l)) : undefined;
  }
  const r = flatDistance(piece.from, piece.centre);
  if (Math.abs(flatDistance(p, piece.centre) - r) > within) return undefined;
  const share = shareOnArc(piece, Math.atan2(p[1] - piece.centre[1], p[0] - piece.centre[0]));
  if (share !== undefined) return Math.min(1, share);
  return flatDistance(p, piece.from) <= within ? 0 : flatDistance(p, piece.to) <= within ? 1 : undefined;
}

/** Where two pieces meet, as shares of both. */
export function meetingShares(a: PathPiece, b: PathPiece, within: number): { readonly first: number; readonly second: number }[] {
  return meetingsOf(a, b).flatMap((p) => {
    const [first, second] = [shareAt(a, p, within), shareAt(b, p, within)];
    return first !== undefined && second !== undefined ? [{ first, second }] : [];
  });
}

/** Calls `visit` with each pair of pieces whose boxes, grown by `by` mm, meet. */
export function eachNearPair(pieces: readonly PathPiece[], by: number, visit: (i: number, k: number) => void): void {
  if (pieces.length === 0) return;
  const boxes = pieces.map(boxOfPiece);
  const index = new Flatbush(pieces.length);
  for (const [a, b, c, d] of boxes) index.add(a, b, c, d);
  index.finish();
  boxes.forEach(([a, b, c, d], i) => {
    for (const k of index.search(a - by, b - by, c + by, d + by)) if (k > i) visit(i, k);
  });
}
