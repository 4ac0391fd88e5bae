import type { FlatPoint } from './flat.ts';
import { flattenPath, type PathPiece, sweepOfArc } from './path.ts';

// A piece with what its distances are counted from.
interface Measured {
  readonly isArc: boolean;
  readonly ccw: boolean;
  readonly from: FlatPoint;
  readonly to: FlatPoint;
  /** Of an arc. */
  readonly centre: FlatPoint;
  readonly radius: number;
  readonly start: number;
  readonly sweep: number;
  readonly isTiny: boolean;
  /** Sums of the unit normals to the left at its two ends. */
  readonly before: FlatPoint;
  readonly after: FlatPoint;
}

const CELLS = 1 << 14;

/**
 * Distances from closed paths of lines and arcs, exact: positive inside, which is on their left. Beside a long piece its side tells; at a corner or
 * a tiny piece, which may point anywhere, how often the paths are crossed on the way out does. A grid of cells remembers which pieces may be nearest.
 */
export class PathDistance {
  private readonly pieces: readonly Measured[];
  private readonly polygons: readonly (readonly FlatPoint[])[];
  /** By cell: the pieces that may be nearest to its places, and the depth under the paths that all of them have; NaN for one not looked at. */
  private readonly nearest: (readonly Measured[])[] = [];
  private readonly least: Float64Array;
  private readonly low: FlatPoint;
  private readonly columns: number;
  private readonly rows: number;
  private readonly size: number;

  constructor(paths: readonly (readonly PathPiece[])[]) {
    this.polygons = paths.map((p) => flattenPath(p, CROSSING_SAG, false));
    this.pieces = paths.flatMap((path) => {
      const list = path.filter((p) => Math.hypot(p.to[0] - p.from[0], p.to[1] - p.from[1]) > 1e-12 || p.kind === 'arc');
      return list.map((piece, i) => measured(piece, list[(i + list.length - 1) % list.length], list[(i + 1) % list.length]));
    });
    const points = this.polygons.flat();
    const low: [number, number] = [Infinity, Infinity];
    const high: [number, number] = [-Infinity, -Infinity];
    for (const p of points)
      for (const k of [0, 1]) {
        low[k] = Math.min(low[k], p[k]);
        high[k] = Math.max(high[k], p[k]);
      }
    this.size = points.length > 0 ? Math.max(1e-6, Math.sqrt(((high[0] - low[0] + 1e-3) * (high[1] - low[1] + 1e-3)) / CELLS)) : 1;
    this.low = [low[0] - this.size, low[1] - this.size];
    this.columns = points.length > 0 ? Math.ceil((high[0] - low[0]) / this.size) + 2 : 0;
    this.rows = points.length > 0 ? Math.ceil((high[1] - low[1]) / this.size) + 2 : 0;
    this.least = new Float64Array(this.columns * this.rows).fill(NaN);
  }

  // The number of the cell that a place is in; -1 outside of the grid.
  private cellAt(u: number, v: number): number {
    const i = Math.floor((u - this.low[0]) / this.size);
    const k = Math.floor((v - this.low[1]) / this.size);
    if (!(i >= 0 && k >= 0 && i < this.columns && k < this.rows)) return -1;
    const at = i * this.rows + k;
    if (Number.isNaN(this.least[at])) this.lookAtCell(at, this.low[0] + (i + 0.5) * this.size, this.low[1] + (k + 0.5) * this.size);
    return at;
  }

  private lookAtCell(at: number, u: number, v: number): void {
    // From the middle to any place of the cell.
    const half = Math.SQRT1_2 * this.size * (1 + 1e-9);
    const away = this.pieces.map((p) => lookAtPiece(p, u, v));
    const nearest = away.reduce((a, b) => Math.min(a, b), Infinity);
    this.nearest[at] = this.pieces.filter((_, i) => away[i] <= nearest + 2 * half);
    this.least[at] = this.depthOf(this.nearest[at], u, v) - half;
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
    const cell = this.cellAt(u, v);
    return this.depthOf(cell < 0 ? this.pieces : this.nearest[cell], u, v);
  }

  /** A depth that a place surely has, mm; negative where that is not quickly told. */
  leastDepth(u: number, v: number): number {
    const cell = this.cellAt(u, v);
    return cell < 0 ? -Infinity : this.least[cell];
  }

  private depthOf(pieces: readonly Measured[], u: number, v: number): number {
    let best = Infinity;
    let side = 0;
    let sure = true;
    for (let i = 0; i < pieces.length; i++) {
      const piece = pieces[i];
      const distance = lookAtPiece(piece, u, v);
      if (distance >= best) continue;
      best = distance;
      side = look.side;
      sure = look.isBeside && !piece.isTiny;
    }
    if (!sure && best > 2 * CROSSING_SAG) return this.isInside(u, v) ? best : -best;
    return side >= 0 ? best : -best;
  }
}

// Of the piece that was looked at last: on which side of it the place lies, and whether it lies beside the piece rather than beyond an end.
const look = { side: 0, isBeside: true };

// How far a place is from a piece.
function lookAtPiece(piece: Measured, u: number, v: number): number {
  const { from, to } = piece;
  let share: number;
  let distance: number;
  if (piece.isArc) {
    const p = u - piece.centre[0];
    const q = v - piece.centre[1];
    const angle = Math.atan2(q, p);
    const turn = piece.ccw ? angle - piece.start : piece.start - angle;
    const whole = turn < 0 ? turn + 2 * Math.PI * Math.ceil(-turn / (2 * Math.PI)) : turn % (2 * Math.PI);
    // Past its end the nearer end counts.
    share = whole <= piece.sweep ? whole / piece.sweep : whole - piece.sweep < 2 * Math.PI - whole ? 2 : -1;
    const r = Math.sqrt(p * p + q * q);
    distance = Math.abs(r - piece.radius);
    look.side = piece.ccw ? piece.radius - r : r - piece.radius;
  } else {
    const x = to[0] - from[0];
    const y = to[1] - from[1];
    const p = u - from[0];
    const q = v - from[1];
    const long = x * x + y * y;
    share = (p * x + q * y) / long;
    look.side = x * q - y * p;
    distance = Math.abs(look.side) / Math.sqrt(long);
  }
  look.isBeside = share > 0 && share < 1;
  if (look.isBeside) return distance;
  const end = share <= 0 ? from : to;
  const normal = share <= 0 ? piece.before : piece.after;
  const a = u - end[0];
  const b = v - end[1];
  look.side = a * normal[0] + b * normal[1];
  return Math.sqrt(a * a + b * b);
}

function measured(piece: PathPiece, previous: PathPiece, next: PathPiece): Measured {
  const { from, to } = piece;
  const centre = piece.kind === 'arc' ? piece.centre : from;
  const radius = Math.hypot(from[0] - centre[0], from[1] - centre[1]);
  return {
    isArc: piece.kind === 'arc',
    ccw: piece.kind === 'arc' && piece.ccw,
    from,
    to,
    centre,
    radius,
    start: Math.atan2(from[1] - centre[1], from[0] - centre[0]),
    sweep: piece.kind === 'arc' ? Math.abs(sweepOfArc(piece)) : 0,
    isTiny: (piece.kind === 'arc' ? 4 * radius : Math.abs(to[0] - from[0]) + Math.abs(to[1] - from[1])) <= TINY,
    before: sum(normalAt(previous, false), normalAt(piece, true)),
    after: sum(normalAt(piece, false), normalAt(next, true)),
  };
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

/** A polygon as a path of lines. */
export const pathOfPolygon = (polygon: readonly FlatPoint[]): PathPiece[] =>
  polygon.map((from, i) => ({ kind: 'line', from, to: polygon[(i + 1) % polygon.length] }));
