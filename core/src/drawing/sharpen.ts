import { crossingOf, type FlatPoint, flatDistance, type PathPiece } from '#core/outline';
import type { Span } from './tidy-path.ts';

// Pixels. A line of at least this length is laid through its points, without those so near its ends: a lens has bent them.
const LONG = 8;
const BENT = 2.5;
// Pixels. What lies between two such lines is their corner, worn round, where all of it is this near to one of them, or so near to where they cross.
const ON_LINE = 0.6;
const CORNER = 4;
// Pieces between two lines that may be their corner.
const MOST_BETWEEN = 4;
// Pixels over its length that a line along or across the axis may lean.
const LEAN = 0.5;

/** A line through many points. */
interface Laid {
  readonly at: FlatPoint;
  readonly direction: FlatPoint;
}

/**
 * Fitted pieces of a traced edge in axis coordinates with sharp corners again: long lines lie through all their points (least squares), those all but along or
 * across the axis are just that, and two of them meet where they cross. `pixel`: mm.
 */
export function sharpen(spans: readonly Span[], points: readonly FlatPoint[], pixel: number): PathPiece[] {
  const out: { piece: PathPiece; laid?: Laid; end: number }[] = [];
  for (const span of spans) {
    const laid = layLine(span, points, pixel);
    // Back over what may be a corner, to a line before it.
    let last = out.length - 1;
    while (laid && last >= 0 && !out[last].laid && out.length - last <= MOST_BETWEEN) last--;
    const other = out[last] as (typeof out)[number] | undefined;
    const corner = laid && other?.laid ? cornerBetween(other.laid, laid, points.slice(other.end, span.start + 1), pixel) : undefined;
    if (corner && other) {
      out.length = last + 1;
      out[last] = { ...other, piece: { ...other.piece, to: corner } };
      out.push({ piece: { ...span.piece, from: corner }, laid, end: span.end });
    } else out.push({ piece: span.piece, ...(laid ? { laid } : {}), end: span.end });
  }
  return endsOnLines(out);
}

function cornerBetween(a: Laid, b: Laid, between: readonly FlatPoint[], pixel: number): FlatPoint | undefined {
  const corner = crossing(a, b);
  const off = ({ at, direction: [dx, dy] }: Laid, [x, y]: FlatPoint) => Math.abs((x - at[0]) * dy - (y - at[1]) * dx);
  const isCorner = corner && between.every((p) => Math.min(off(a, p), off(b, p)) < ON_LINE * pixel || flatDistance(p, corner) < CORNER * pixel);
  // It is where they end, and not somewhere along them.
  return isCorner && between.some((p) => flatDistance(p, corner) < CORNER * pixel) ? corner : undefined;
}

function layLine({ piece, start, end }: Span, points: readonly FlatPoint[], pixel: number): Laid | undefined {
  if (piece.kind !== 'line' || flatDistance(piece.from, piece.to) < LONG * pixel) return undefined;
  const inner = points.slice(start, end + 1).filter((p) => flatDistance(p, piece.from) > BENT * pixel && flatDistance(p, piece.to) > BENT * pixel);
  if (inner.length < 3) return undefined;
  const mean = (k: 0 | 1) => inner.reduce((s, p) => s + p[k], 0) / inner.length;
  const at: FlatPoint = [mean(0), mean(1)];
  let [xx, yy, xy] = [0, 0, 0];
  for (const [x, y] of inner) {
    xx += (x - at[0]) ** 2;
    yy += (y - at[1]) ** 2;
    xy += (x - at[0]) * (y - at[1]);
  }
  const turn = Math.atan2(2 * xy, xx - yy) / 2;
  const long = flatDistance(piece.from, piece.to);
  const [dx, dy] = [Math.cos(turn), Math.sin(turn)];
  if (Math.abs(dy) * long < LEAN * pixel) return { at, direction: [1, 0] };
  if (Math.abs(dx) * long < LEAN * pixel) return { at, direction: [0, 1] };
  return { at, direction: [dx, dy] };
}

function crossing(a: Laid, b: Laid): FlatPoint | undefined {
  const further = ({ at, direction: [dx, dy] }: Laid): FlatPoint => [at[0] + dx, at[1] + dy];
  return crossingOf(a.at, further(a), b.at, further(b))?.at;
}

// Ends that met no other line go to the nearest place on their own; neighbours follow.
function endsOnLines(pieces: readonly { readonly piece: PathPiece; readonly laid?: Laid }[]): PathPiece[] {
  const out = pieces.map((p) => p.piece);
  const onLine = ({ at, direction: [dx, dy] }: Laid, [x, y]: FlatPoint): FlatPoint => {
    const t = (x - at[0]) * dx + (y - at[1]) * dy;
    return [at[0] + t * dx, at[1] + t * dy];
  };
  pieces.forEach(({ laid }, i) => {
    if (!laid) return;
    const [from, to] = [onLine(laid, out[i].from), onLine(laid, out[i].to)];
    out[i] = { ...out[i], from, to };
    if (i > 0) out[i - 1] = { ...out[i - 1], to: from };
    if (i + 1 < out.length) out[i + 1] = { ...out[i + 1], from: to };
  });
  return out;
}
