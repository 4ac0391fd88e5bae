import { type FlatPoint, flatDistance, flattenPath, PathDistance, type PathPiece } from '#core/outline';
import { SAME_PLACE } from './drawing.ts';

export interface FlatAxis {
  readonly point: FlatPoint;
  readonly direction: FlatPoint;
}

export interface FoundAxis extends FlatAxis {
  /** The outline lies on both sides of it, or on one. */
  readonly kind: 'full' | 'half';
  /** A centre line is drawn there. */
  readonly isDrawn: boolean;
  /** In words: why it is the axis. */
  readonly why: string;
  /** Another one that may be meant, where nothing is turned about this one. */
  readonly other?: FoundAxis;
}

// mm. How far the two halves of a drawing may differ.
const SYMMETRIC = 0.02;
// Chords for looking at symmetry, mm.
const SAG = 0.005;
// Times as long as wide: what is symmetric along and across is turned about its length.
const LONG = 1.5;
// Share of the length that a straight side must have to be an axis without a centre line.
const LONG_SIDE = 0.6;

/** The axis that a closed outline is turned about; undefined where nothing tells. `within`: mm that its halves may differ. */
export function findAxis(
  ring: readonly PathPiece[],
  centreLines: readonly { readonly from: FlatPoint; readonly to: FlatPoint }[],
  within = SYMMETRIC,
): FoundAxis | undefined {
  const polygon = flattenPath(ring, SAG, false);
  const mirror = new Mirror(ring, polygon, within);
  for (const { from, to } of centreLines) {
    const axis = axisThrough(from, to);
    if (!axis) continue;
    const kind = sideKind(polygon, axis) ?? (mirror.isSymmetric(axis) ? 'full' : undefined);
    if (kind === 'half' || kind === 'full')
      return {
        ...axis,
        kind,
        isDrawn: true,
        why: kind === 'full' ? 'a centre line that both halves are alike about' : 'a centre line that everything lies on one side of',
      };
  }
  const straight = longSide(ring, polygon);
  const symmetric = principalAxes(polygon).filter((axis) => mirror.isSymmetric(axis));
  const long = symmetric.filter((axis) => extent(polygon, axis.direction) >= LONG * extent(polygon, acrossOf(axis.direction)) || symmetric.length === 1);
  const half: FoundAxis | undefined = straight && { ...straight, kind: 'half', isDrawn: false, why: 'a long straight side' };
  if (long.length === 0) return half;
  const axis = long.reduce((a, b) => (extent(polygon, b.direction) > extent(polygon, a.direction) ? b : a));
  const full: FoundAxis = {
    ...axis,
    kind: 'full',
    isDrawn: false,
    why: symmetric.length > 1 ? 'its halves are alike about the longer of two lines' : 'its halves are alike',
  };
  // A half section may be alike end for end: its long side says more, unless nothing is turned about that: the face of a short, wide head is one too.
  const isAlong = !straight || Math.abs(axis.direction[0] * straight.direction[0] + axis.direction[1] * straight.direction[1]) > 0.999;
  return isAlong || !half ? full : { ...half, other: full };
}

/** The axis of an open outline: a centre line that it lies on one side of, else the line through its two ends. */
export function axisOfOpen(pieces: readonly PathPiece[], centreLines: readonly { readonly from: FlatPoint; readonly to: FlatPoint }[]): FoundAxis | undefined {
  const places = pieces.flatMap((p) => [p.from, p.to]);
  for (const { from, to } of centreLines) {
    const axis = axisThrough(from, to);
    if (axis && sideKind(places, axis) === 'half') return { ...axis, kind: 'half', isDrawn: true, why: 'a centre line that everything lies on one side of' };
  }
  const [start, end] = [pieces[0].from, pieces[pieces.length - 1].to];
  const axis = axisThrough(start, end);
  // Two ends near each other are a gap in something closed.
  const isAlong = axis && flatDistance(start, end) >= LONG_SIDE * extent(places, axis.direction);
  return axis && isAlong && sideKind(places, axis) === 'half' ? { ...axis, kind: 'half', isDrawn: false, why: 'the line through its two ends' } : undefined;
}

/** The axis that was asked for, through two points; undefined where these are one. `isAlike`: the halves are, or there is one only. */
export function axisAsAsked(
  pieces: readonly PathPiece[],
  from: FlatPoint,
  to: FlatPoint,
  isClosed: boolean,
  within = SYMMETRIC,
): (FoundAxis & { readonly isAlike: boolean }) | undefined {
  const axis = axisThrough(from, to);
  if (!axis) return undefined;
  const places = isClosed ? flattenPath(pieces, SAG, false) : pieces.flatMap((p) => [p.from, p.to]);
  const kind = sideKind(places, axis) ?? 'full';
  const isAlike = kind === 'half' || (isClosed && new Mirror(pieces, places, within).isSymmetric(axis));
  return { ...axis, kind, isDrawn: true, isAlike, why: 'as asked for' };
}

const axisThrough = (from: FlatPoint, to: FlatPoint): FlatAxis | undefined => {
  const l = flatDistance(from, to);
  return l < SAME_PLACE ? undefined : { point: from, direction: [(to[0] - from[0]) / l, (to[1] - from[1]) / l] };
};

const acrossOf = ([x, y]: FlatPoint): FlatPoint => [-y, x];

const offAxis = ({ point, direction: [dx, dy] }: FlatAxis, [x, y]: FlatPoint): number => dx * (y - point[1]) - dy * (x - point[0]);

function extent(polygon: readonly FlatPoint[], [dx, dy]: FlatPoint): number {
  let [low, high] = [Infinity, -Infinity];
  for (const [x, y] of polygon) {
    const along = x * dx + y * dy;
    low = Math.min(low, along);
    high = Math.max(high, along);
  }
  return high - low;
}

// Half where all of it lies on one side.
function sideKind(places: readonly FlatPoint[], axis: FlatAxis): 'half' | undefined {
  let [low, high] = [Infinity, -Infinity];
  for (const p of places) {
    const off = offAxis(axis, p);
    low = Math.min(low, off);
    high = Math.max(high, off);
  }
  return high > SAME_PLACE !== low < -SAME_PLACE ? 'half' : undefined;
}

/** A closed outline with its distances, to hold mirror images against. */
class Mirror {
  private readonly distance: PathDistance;
  private readonly places: readonly FlatPoint[];
  private readonly within: number;

  constructor(ring: readonly PathPiece[], polygon: readonly FlatPoint[], within: number) {
    this.within = within;
    this.distance = new PathDistance([[...ring]]);
    // Corners, and the middles of the sides.
    this.places = polygon.flatMap((p, i): FlatPoint[] => {
      const q = polygon[(i + 1) % polygon.length];
      return [p, [(p[0] + q[0]) / 2, (p[1] + q[1]) / 2]];
    });
  }

  isSymmetric(axis: FlatAxis): boolean {
    const [nx, ny] = acrossOf(axis.direction);
    let seen = 0;
    for (const p of this.places) {
      const off = offAxis(axis, p);
      seen = Math.max(seen, Math.abs(off));
      if (Math.abs(this.distance.depth(p[0] - 2 * off * nx, p[1] - 2 * off * ny)) > this.within) return false;
    }
    return seen > this.within;
  }
}

// Through the middle of its area, along the two directions in which it is spread most and least.
function principalAxes(polygon: readonly FlatPoint[]): FlatAxis[] {
  const [ox, oy] = polygon[0];
  let [area, mx, my, xx, yy, xy] = [0, 0, 0, 0, 0, 0];
  polygon.forEach(([ax, ay], i) => {
    const [bx, by] = polygon[(i + 1) % polygon.length];
    const [x0, y0, x1, y1] = [ax - ox, ay - oy, bx - ox, by - oy];
    const c = x0 * y1 - x1 * y0;
    area += c / 2;
    mx += (c * (x0 + x1)) / 6;
    my += (c * (y0 + y1)) / 6;
    xx += (c * (x0 * x0 + x0 * x1 + x1 * x1)) / 12;
    yy += (c * (y0 * y0 + y0 * y1 + y1 * y1)) / 12;
    xy += (c * (2 * x0 * y0 + x0 * y1 + x1 * y0 + 2 * x1 * y1)) / 24;
  });
  if (!(Math.abs(area) > 0)) return [];
  const [cx, cy] = [mx / area, my / area];
  const turn = Math.atan2(2 * (xy / area - cx * cy), xx / area - cx * cx - (yy / area - cy * cy)) / 2;
  const direction: FlatPoint = [Math.cos(turn), Math.sin(turn)];
  const point: FlatPoint = [cx + ox, cy + oy];
  return [
    { point, direction },
    { point, direction: acrossOf(direction) },
  ];
}

// The longest straight side with everything on one side of it, where it is most of the outline's length along it.
function longSide(ring: readonly PathPiece[], polygon: readonly FlatPoint[]): FlatAxis | undefined {
  const lines = ring.filter((p) => p.kind === 'line').sort((a, b) => flatDistance(b.from, b.to) - flatDistance(a.from, a.to));
  // What is longer along a side than across is along it at least as long as it is at all, by the root of two: shorter sides need not be looked at.
  const least = (LONG_SIDE * Math.max(extent(polygon, [1, 0]), extent(polygon, [0, 1]))) / Math.SQRT2;
  for (const { from, to } of lines) {
    if (flatDistance(from, to) < least) break;
    const axis = axisThrough(from, to);
    if (!axis) continue;
    const long = extent(polygon, axis.direction);
    if (flatDistance(from, to) < LONG_SIDE * long) continue;
    if (sideKind(polygon, axis) === 'half' && long >= extent(polygon, acrossOf(axis.direction))) return axis;
  }
  return undefined;
}
