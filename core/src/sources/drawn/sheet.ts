import type { Drawing, ReadOutline } from '#core/drawing';
import { boxOfPath, type FlatPoint, lengthOfPiece, PathDistance, type PathPiece, placeOnPiece, sweepOfArc } from '#core/outline';

/** From a file's own coordinates to the sheet's, mm: x' = a x + c y + e, y' = b x + d y + f. */
export type FlatMap = readonly [a: number, b: number, c: number, d: number, e: number, f: number];

/** What of a drawing lies under its outline on the sheet. */
export interface DrawingGhost {
  /** Straight bits in the sheet's coordinates: x, y, x, y, ... two points each. */
  readonly lines: Float64Array;
  readonly sheetFromFile: FlatMap;
  /** By a step's code: what that step was about, as straight bits like `lines`. */
  readonly lit: Readonly<Record<string, Float64Array>>;
}

// Chords of an arc are off it by this share of what is drawn.
const SAG_SHARE = 2e-4;
// Pieces of a drawing that tell which half was read.
const MOST_LOOKED_AT = 5000;
// More than a screen can show.
const MOST_LINES = 150_000;

/** Where a map takes a point. */
export const mapFlat = ([a, b, c, d, e, f]: FlatMap, [x, y]: FlatPoint): FlatPoint => [a * x + c * y + e, b * x + d * y + f];

/** The map that undoes another; of one that makes everything flat there is none. */
export function invertFlat([a, b, c, d, e, f]: FlatMap): FlatMap | undefined {
  const det = a * d - b * c;
  if (!(Math.abs(det) > 0)) return undefined;
  return [d / det, -b / det, -c / det, a / det, (c * f - d * e) / det, (b * e - a * f) / det];
}

/** The lines of a drawing as they lie under what was read of it; where nothing was, as they are drawn. */
export function ghostOf(drawing: Pick<Drawing, 'drawn' | 'origin' | 'unitScale' | 'isUpsideDown'>, read: ReadOutline | undefined): DrawingGhost {
  const sheetFromFile = mapOf(drawing, read);
  const { origin, unitScale, isUpsideDown } = drawing;
  const up = isUpsideDown ? -1 : 1;
  // Places of a drawing are in mm, near the origin, and y runs up.
  const sheetFromDrawing = ([x, y]: FlatPoint): FlatPoint => mapFlat(sheetFromFile, [(x + origin[0]) / unitScale, (up * (y + origin[1])) / unitScale]);
  const pieces = drawing.drawn.map((d) => d.piece);
  const [x0, y0, x1, y1] = pieces.length > 0 ? boxOfPath(pieces) : [0, 0, 1, 1];
  const sag = SAG_SHARE * Math.hypot(x1 - x0, y1 - y0);
  const linesOf = (of: readonly PathPiece[]): Float64Array => {
    const lines: number[] = [];
    for (const piece of of) {
      if (lines.length > 4 * MOST_LINES) break;
      const n = stepsOf(piece, sag);
      for (let i = 0; i < n; i++) lines.push(...sheetFromDrawing(placeOnPiece(piece, i / n)), ...sheetFromDrawing(placeOnPiece(piece, (i + 1) / n)));
    }
    return Float64Array.from(lines);
  };
  const lit = Object.fromEntries((read?.steps ?? []).flatMap((s) => (s.lit && s.lit.length > 0 ? [[s.code, linesOf(s.lit)] as const] : [])));
  return { lines: linesOf(pieces), sheetFromFile, lit };
}

function stepsOf(piece: PathPiece, sag: number): number {
  if (piece.kind === 'line') return 1;
  const radius = lengthOfPiece(piece) / Math.abs(sweepOfArc(piece));
  const most = 2 * Math.acos(Math.max(0, 1 - sag / Math.max(radius, sag)));
  return Math.min(180, Math.max(2, Math.ceil(Math.abs(sweepOfArc(piece)) / most)));
}

function mapOf({ drawn, origin, unitScale, isUpsideDown }: Parameters<typeof ghostOf>[0], read: ReadOutline | undefined): FlatMap {
  const up = isUpsideDown ? -1 : 1;
  // Of what is flat the outline is where it is drawn, moved near the origin.
  if (!read?.axis) return [unitScale, 0, 0, up * unitScale, -origin[0], -origin[1]];
  const scale = read.unitScale;
  const [tx, ty] = read.axis.point;
  const [dx, dy] = [read.axis.direction[0], up * read.axis.direction[1]];
  // Along the axis from the tip, and off it to the left; the sheet's z runs the other way, from the end that is held.
  const along = (x: number, y: number) => (x - tx) * dx + up * (y - ty) * dy;
  const off = (x: number, y: number) => dx * up * (y - ty) - dy * (x - tx);
  // The half that was read: the side on which what is drawn lies on its outline.
  const distance = new PathDistance(read.profile.map((way) => [...way]));
  const near = 1e-3 * read.length;
  let side = 0;
  for (const { piece } of drawn.slice(0, MOST_LOOKED_AT)) {
    const [px, py] = placeOnPiece(piece, 0.5);
    const [x, y] = [(px + origin[0]) / unitScale, (up * (py + origin[1])) / unitScale];
    const [z, r] = [scale * along(x, y), scale * off(x, y)];
    if (Math.abs(distance.depth(z, Math.abs(r))) < near && Math.abs(r) > near) side += Math.sign(r) * lengthOfPiece(piece);
  }
  const sign = side < 0 ? -1 : 1;
  const [e, f] = [read.length - scale * along(0, 0), sign * scale * off(0, 0)];
  return [-scale * dx, -sign * scale * dy, -scale * up * dy, sign * scale * up * dx, e, f];
}
