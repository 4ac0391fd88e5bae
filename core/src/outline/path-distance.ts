import type { FlatPoint } from './flat.ts';
import { flattenPath, type PathPiece, sweepOfArc } from './path.ts';

/**
 * Distances from closed paths of lines and arcs, exact: positive inside, which is on their left. Beside a long piece its side tells; at a corner or
 * a tiny piece, which may point anywhere, how often the paths are crossed on the way out does.
 */
export class PathDistance {
  private readonly pieces: { piece: PathPiece; sweep: number; radius: number; low: FlatPoint; high: FlatPoint; before: FlatPoint; after: FlatPoint }[];

  private readonly polygons: readonly (readonly FlatPoint[])[];

  constructor(paths: readonly (readonly PathPiece[])[]) {
    this.polygons = paths.map((p) => flattenPath(p, CROSSING_SAG, false));
    this.pieces = paths.flatMap((path) => {
      const list = path.filter((p) => Math.hypot(p.to[0] - p.from[0], p.to[1] - p.from[1]) > 1e-12 || p.kind === 'arc');
      return list.map((piece, i) => {
        const previous = list[(i + list.length - 1) % list.length];
        const next = list[(i + 1) % list.length];
        const [low, high] = boxOf(piece);
        return {
          piece,
          sweep: piece.kind === 'arc' ? sweepOfArc(piece) : 0,
          radius: piece.kind === 'arc' ? Math.hypot(piece.from[0] - piece.centre[0], piece.from[1] - piece.centre[1]) : 0,
          low,
          high,
          // Sums of the unit normals to the left at its two ends.
          before: sum(normalAt(previous, false), normalAt(piece, true)),
          after: sum(normalAt(piece, false), normalAt(next, true)),
        };
      });
    });
  }

  private isInside(u: number, v: number): boolean {
    let inside = false;
    for (const polygon of this.polygons)
      for (let i = 0, j = polygon.length - 1; i < polygon.length; j = i++) {
        const [a, b] = [polygon[j], polygon[i]];
        if (a[1] > v !== b[1] > v && u < a[0] + ((v - a[1]) / (b[1] - a[1])) * (b[0] - a[0])) inside = !inside;
      }
    return inside;
  }

  /** Depth of a place inside the paths, mm; negative outside. */
  depth(u: number, v: number): number {
    let best = Infinity;
    let side = 0;
    let sure = true;
    for (const { piece, sweep, radius, low, high, before, after } of this.pieces) {
      const du = u < low[0] ? low[0] - u : u > high[0] ? u - high[0] : 0;
      const dv = v < low[1] ? low[1] - v : v > high[1] ? v - high[1] : 0;
      if (du * du + dv * dv >= best * best) continue;
      const { from, to } = piece;
      let share: number;
      let d: number;
      let s: number;
      if (piece.kind === 'line') {
        const [x, y] = [to[0] - from[0], to[1] - from[1]];
        const [p, q] = [u - from[0], v - from[1]];
        share = (p * x + q * y) / (x * x + y * y);
        d = Math.abs(x * q - y * p) / Math.sqrt(x * x + y * y);
        s = x * q - y * p;
      } else {
        const [p, q] = [u - piece.centre[0], v - piece.centre[1]];
        const start = Math.atan2(from[1] - piece.centre[1], from[0] - piece.centre[0]);
        const turn = piece.ccw ? Math.atan2(q, p) - start : start - Math.atan2(q, p);
        const whole = ((turn % (2 * Math.PI)) + 2 * Math.PI) % (2 * Math.PI);
        // Past its end the nearer end counts.
        share = whole <= Math.abs(sweep) ? whole / Math.abs(sweep) : whole - Math.abs(sweep) < 2 * Math.PI - whole ? 2 : -1;
        const r = Math.hypot(p, q);
        d = Math.abs(r - radius);
        s = piece.ccw ? radius - r : r - radius;
      }
      if (share <= 0 || share >= 1) {
        const [end, normal] = share <= 0 ? [from, before] : [to, after];
        d = Math.hypot(u - end[0], v - end[1]);
        s = (u - end[0]) * normal[0] + (v - end[1]) * normal[1];
      }
      if (d < best) {
        best = d;
        side = s;
        sure = share > 0 && share < 1 && high[0] - low[0] + high[1] - low[1] > TINY;
      }
    }
    if (!sure && best > 2 * CROSSING_SAG) return this.isInside(u, v) ? best : -best;
    return side >= 0 ? best : -best;
  }
}

// mm. Pieces shorter than this may point anywhere; and chords for counting crossings.
const TINY = 2e-3;
const CROSSING_SAG = 1e-4;

const sum = (a: FlatPoint, b: FlatPoint): FlatPoint => [a[0] + b[0], a[1] + b[1]];

// Unit normal to the left of a piece at its start or end.
function normalAt(piece: PathPiece, atStart: boolean): FlatPoint {
  if (piece.kind === 'line') {
    const [x, y] = [piece.to[0] - piece.from[0], piece.to[1] - piece.from[1]];
    const l = Math.hypot(x, y) || 1;
    return [-y / l, x / l];
  }
  const p = atStart ? piece.from : piece.to;
  const [x, y] = [piece.centre[0] - p[0], piece.centre[1] - p[1]];
  const l = (Math.hypot(x, y) || 1) * (piece.ccw ? 1 : -1);
  return [x / l, y / l];
}

// A box around a piece; of an arc that of its whole circle.
function boxOf(piece: PathPiece): [FlatPoint, FlatPoint] {
  if (piece.kind === 'arc') {
    const r = Math.hypot(piece.from[0] - piece.centre[0], piece.from[1] - piece.centre[1]);
    return [
      [piece.centre[0] - r, piece.centre[1] - r],
      [piece.centre[0] + r, piece.centre[1] + r],
    ];
  }
  return [
    [Math.min(piece.from[0], piece.to[0]), Math.min(piece.from[1], piece.to[1])],
    [Math.max(piece.from[0], piece.to[0]), Math.max(piece.from[1], piece.to[1])],
  ];
}

/** A polygon as a path of lines. */
export const pathOfPolygon = (polygon: readonly FlatPoint[]): PathPiece[] =>
  polygon.map((from, i) => ({ kind: 'line', from, to: polygon[(i + 1) % polygon.length] }));
