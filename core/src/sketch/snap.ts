import {
  boxOfPiece,
  crossingsOf,
  type FlatPoint,
  flatDistance,
  type HalfProfile,
  meetingsOf,
  nearestOnPiece,
  type PathPiece,
  placeOnPiece,
} from '#core/outline';
import type { Sketch } from './sketch-schema.ts';

/** What a place that is pointed at was taken to. */
export type SnapKind = 'end' | 'middle' | 'centre' | 'tangent' | 'crossing' | 'on it' | 'angle' | 'in line' | 'axis' | 'grid' | 'free';

export interface Snapped {
  readonly at: FlatPoint;
  readonly kind: SnapKind;
  /** Lines that say why: along them it is in line with something. */
  readonly guides: readonly (readonly [FlatPoint, FlatPoint])[];
}

export interface SnapRules {
  readonly profile: HalfProfile;
  readonly sketch: Sketch;
  /** Corners that are moving: nothing is taken to them, nor to what begins or ends there. */
  readonly moving?: readonly string[];
  /** Places from which lines run to this one: multiples of 15 degrees are felt. */
  readonly from?: readonly FlatPoint[];
  /** Other places to be felt: of what is being drawn. */
  readonly also?: readonly FlatPoint[];
  /** mm: how near is felt, and whole steps where nothing else is. */
  readonly reach: number;
  readonly grid: number;
  readonly isTurned: boolean;
}

const STEP_DEG = 15;
const NOT_TWICE = 1e-9;

/**
 * Where a place is taken to that somebody points at, nearest reasons first: ends, middles and centres; where a line from a place before touches an arc, or at
 * a multiple of 15 degrees crosses something; the outline itself; what is in line with a corner; whole steps.
 */
export function snapPlace(free: FlatPoint, rules: SnapRules): Snapped {
  const { profile, sketch, moving = [], from = [], also = [], reach, grid, isTurned } = rules;
  const isMoving = (l: number, i: number): boolean => moving.includes(sketch.names[l][i]);
  const pieces = profile.flatMap((loop, l) => loop.filter((_, i) => !isMoving(l, i) && !isMoving(l, (i + 1) % loop.length)));
  const corners = [...profile.flatMap((loop, l) => loop.flatMap((p, i) => (isMoving(l, i) ? [] : [p.from]))), ...also];
  const nearest = (places: readonly FlatPoint[], kind: SnapKind): Snapped | undefined => {
    const [best] = places
      .map((at) => ({ at, away: flatDistance(at, free) }))
      .filter((c) => c.away < reach)
      .sort((a, b) => a.away - b.away);
    return best && { at: best.at, kind, guides: [] };
  };
  const onSide = (s: Snapped): Snapped => (isTurned && s.at[1] < 0 ? { ...s, at: [s.at[0], 0] } : s);
  const exact =
    nearest(corners, 'end') ??
    nearest(
      pieces.map((p) => placeOnPiece(p, 0.5)),
      'middle',
    ) ??
    nearest(
      pieces.flatMap((p) => (p.kind === 'arc' ? [p.centre] : [])),
      'centre',
    ) ??
    nearest(
      from.flatMap((f) => pieces.flatMap((p) => touches(f, p))),
      'tangent',
    );
  if (exact) return onSide(exact);
  const along = from.flatMap((f) => rayNear(free, f, reach)).sort((a, b) => a.away - b.away)[0];
  if (along) return onSide(onRay(free, along, pieces, corners, reach, grid));
  const [on] = pieces
    .map((p) => ({ p, ...nearestOnPiece(p, free) }))
    .filter((c) => c.away < reach)
    .sort((a, b) => a.away - b.away);
  const level = isTurned && Math.abs(free[1]) < reach ? 0 : undefined;
  const [inX, inY] = [inLine(free, corners, 0, reach), inLine(free, corners, 1, reach)];
  if (on) {
    // On the outline and in line with a corner at once, where they cross within reach.
    const lines = [inX && upright(inX), inY && flat(inY)].flatMap((l) => (l ? [l] : []));
    const crossed = nearest(
      lines.flatMap((l) => meetingsOf(l, on.p).filter((at) => nearestOnPiece(on.p, at).away < NOT_TWICE)),
      'crossing',
    );
    if (crossed) return onSide({ ...crossed, guides: [inX, inY].flatMap((c) => (c && inLineWith(c, crossed.at) ? [[c, crossed.at] as const] : [])) });
    return onSide({ at: wholeStep(on.p, on.place, grid), kind: 'on it', guides: [] });
  }
  const at: FlatPoint = [inX ? inX[0] : rounded(free[0], grid), level ?? (inY ? inY[1] : rounded(free[1], grid))];
  const guides = [inX && ([inX, at] as const), inY && level === undefined && ([inY, at] as const)].flatMap((g) => (g ? [g] : []));
  return onSide({ at, kind: level !== undefined ? 'axis' : guides.length > 0 ? 'in line' : grid > 0 ? 'grid' : 'free', guides });
}

const rounded = (v: number, grid: number): number => (grid > 0 ? Math.round(v / grid) * grid : v);
// On what is level or square, whole steps along it.
function wholeStep(p: PathPiece, place: FlatPoint, grid: number): FlatPoint {
  if (p.kind === 'arc') return place;
  const k = Math.abs(p.from[1] - p.to[1]) < NOT_TWICE ? 0 : Math.abs(p.from[0] - p.to[0]) < NOT_TWICE ? 1 : undefined;
  if (k === undefined) return place;
  const [low, high] = [Math.min(p.from[k], p.to[k]), Math.max(p.from[k], p.to[k])];
  const at = Math.min(high, Math.max(low, rounded(place[k], grid)));
  return k === 0 ? [at, place[1]] : [place[0], at];
}

const inLineWith = (a: FlatPoint, b: FlatPoint): boolean => Math.abs(a[0] - b[0]) < NOT_TWICE || Math.abs(a[1] - b[1]) < NOT_TWICE;
const upright = (p: FlatPoint): PathPiece => ({ kind: 'line', from: p, to: [p[0], p[1] + 1] });
const flat = (p: FlatPoint): PathPiece => ({ kind: 'line', from: p, to: [p[0] + 1, p[1]] });

// The corner that a place is in line with, along or across.
function inLine(free: FlatPoint, corners: readonly FlatPoint[], k: 0 | 1, reach: number): FlatPoint | undefined {
  let best: FlatPoint | undefined;
  let away = reach;
  for (const c of corners) {
    const off = Math.abs(c[k] - free[k]);
    // Of those in one line the nearest.
    if (off < away - NOT_TWICE || (best && off < away + NOT_TWICE && flatDistance(c, free) < flatDistance(best, free))) [best, away] = [c, off];
  }
  return best;
}

interface Ray {
  readonly from: FlatPoint;
  readonly way: FlatPoint;
  readonly away: number;
  /** How far along it the pointer is. */
  readonly far: number;
}

// The direction of a whole multiple of 15 degrees that a place is near to.
function rayNear(free: FlatPoint, from: FlatPoint, reach: number): Ray[] {
  const [dx, dy] = [free[0] - from[0], free[1] - from[1]];
  if (Math.hypot(dx, dy) < 2 * reach) return [];
  const deg = Math.round((Math.atan2(dy, dx) * 180) / Math.PI / STEP_DEG) * STEP_DEG;
  const way = unit(deg);
  const away = Math.abs(dx * way[1] - dy * way[0]);
  return away < reach ? [{ from, way, away, far: dx * way[0] + dy * way[1] }] : [];
}

// Level and square exactly.
const unit = (deg: number): FlatPoint => [
  deg % 180 === 90 || deg % 180 === -90 ? 0 : Math.cos((deg * Math.PI) / 180),
  deg % 180 === 0 ? 0 : Math.sin((deg * Math.PI) / 180),
];

function onRay(free: FlatPoint, { from, way, far }: Ray, pieces: readonly PathPiece[], corners: readonly FlatPoint[], reach: number, grid: number): Snapped {
  const place = (t: number): FlatPoint => [from[0] + t * way[0], from[1] + t * way[1]];
  const line: PathPiece = { kind: 'line', from: place(far - 2 * reach), to: place(far + 2 * reach) };
  const [crossed] = pieces
    .filter((p) => isNearBox(p, free, 2 * reach))
    .flatMap((p) => crossingsOf(line, p, NOT_TWICE))
    .map((at) => ({ at, off: flatDistance(at, free) }))
    .filter((c) => c.off < reach)
    .sort((a, b) => a.off - b.off);
  const back: [FlatPoint, FlatPoint] = [from, crossed?.at ?? place(far)];
  if (crossed) return { at: crossed.at, kind: 'crossing', guides: [back] };
  // In line with a corner, along or across.
  const [level] = corners
    .flatMap((c) => ([0, 1] as const).flatMap((k) => (Math.abs(way[k]) > 1e-6 ? [{ c, t: (c[k] - from[k]) / way[k] }] : [])))
    .filter(({ t }) => Math.abs(t - far) < reach)
    .sort((a, b) => Math.abs(a.t - far) - Math.abs(b.t - far));
  if (level)
    return {
      at: place(level.t),
      kind: 'in line',
      guides: [
        [from, place(level.t)],
        [level.c, place(level.t)],
      ],
    };
  const at = place(rounded(far, grid));
  return { at, kind: 'angle', guides: [[from, at]] };
}

function isNearBox(p: PathPiece, [x, y]: FlatPoint, reach: number): boolean {
  const [x0, y0, x1, y1] = boxOfPiece(p);
  return x > x0 - reach && x < x1 + reach && y > y0 - reach && y < y1 + reach;
}

// Where lines from a place touch an arc.
function touches(from: FlatPoint, p: PathPiece): FlatPoint[] {
  if (p.kind === 'line') return [];
  const radius = flatDistance(p.from, p.centre);
  const far = flatDistance(from, p.centre);
  if (far <= radius) return [];
  const [ux, uy] = [(from[0] - p.centre[0]) / far, (from[1] - p.centre[1]) / far];
  const [c, s] = [radius / far, Math.sqrt(1 - (radius / far) ** 2)];
  const places: FlatPoint[] = [1, -1].map((side) => [p.centre[0] + radius * (c * ux - side * s * uy), p.centre[1] + radius * (c * uy + side * s * ux)]);
  return places.filter((at) => nearestOnPiece(p, at).away < 1e-6);
}
