import { type FlatPoint, type HalfProfile, lengthOfPiece, listPieces, type PathPiece, placeOnPiece } from '#core/outline';

/** A place of a contour's surface: how far along it, where, and where it looks out of the material. */
export interface SurfacePlace {
  /** mm from where the contour begins. */
  readonly along: number;
  readonly at: FlatPoint;
  readonly out: FlatPoint;
  readonly piece: PathPiece;
  /** Of the piece's length. */
  readonly share: number;
}

// mm. Places are no farther apart; near corners they are nearer.
const APART = 0.4;
const NEAR_CORNER = 0.02;

/**
 * The places of a contour that a tool has to get to, in their order: all its surfaces but the plane where it was cut off from what is behind it. Beside each corner there
 * is one on either side.
 */
export function placesOfSurface(contour: HalfProfile): SurfacePlace[] {
  const pieces = surfaceOf(contour);
  const out: SurfacePlace[] = [];
  let before = 0;
  for (const piece of pieces) {
    const length = lengthOfPiece(piece);
    const inner = Math.min(NEAR_CORNER, length / 4);
    const steps = Math.max(1, Math.ceil((length - 2 * inner) / APART));
    for (let i = 0; i <= steps; i++) {
      const along = inner + ((length - 2 * inner) * i) / steps;
      out.push({ along: before + along, ...placeAt(piece, along / length) });
    }
    before += length;
  }
  return out;
}

// All of a contour but the axis and the plane where it was cut off.
function surfaceOf(contour: HalfProfile): PathPiece[] {
  const behind = Math.min(...contour.flat().flatMap((p) => [p.from[0], p.to[0]]));
  return listPieces(contour).filter((p) => !(p.kind === 'line' && Math.abs(p.from[0] - behind) < 1e-6 && Math.abs(p.to[0] - behind) < 1e-6));
}

/** The line of a contour's surface from one place along it to another, to be drawn. */
export function lineAlong(contour: HalfProfile, from: number, to: number): FlatPoint[] {
  const out: FlatPoint[] = [];
  let before = 0;
  for (const piece of surfaceOf(contour)) {
    const length = lengthOfPiece(piece);
    const [a, b] = [Math.max(0, from - before) / length, Math.min(length, to - before) / length];
    before += length;
    if (b <= 0 || a >= 1) continue;
    const steps = piece.kind === 'line' ? 1 : DRAWN;
    for (let i = 0; i <= steps; i++) out.push(placeOnPiece(piece, a + ((b - a) * i) / steps));
  }
  return out;
}

// Chords of an arc that is drawn.
const DRAWN = 24;

const placeAt = (piece: PathPiece, share: number) => ({ at: placeOnPiece(piece, share), out: outwards(piece, share), piece, share });

/** The place in the middle between two of the same piece; undefined of two pieces. */
export function betweenPlaces(a: SurfacePlace, b: SurfacePlace): SurfacePlace | undefined {
  return a.piece === b.piece ? { along: (a.along + b.along) / 2, ...placeAt(a.piece, (a.share + b.share) / 2) } : undefined;
}

// Material is on the left of a piece: it looks out to the right.
function outwards(piece: PathPiece, share: number): FlatPoint {
  if (piece.kind === 'line') {
    const [z, r] = [piece.to[0] - piece.from[0], piece.to[1] - piece.from[1]];
    const l = Math.hypot(z, r) || 1;
    return [r / l, -z / l];
  }
  const [z, r] = placeOnPiece(piece, share);
  const l = Math.hypot(z - piece.centre[0], r - piece.centre[1]) || 1;
  const way = piece.ccw ? 1 : -1;
  return [(way * (z - piece.centre[0])) / l, (way * (r - piece.centre[1])) / l];
}
