import { lengthOfPiece, mirrorProfile, type PathPiece, placeOnPiece } from '#core/outline';
import { USUAL_SIZES } from '#core/standards';
import { MM_PER_INCH } from '#core/units';

/** A cylinder at an end of what is turned, that it could be held by. */
export interface EndShank {
  readonly diameter: number;
  readonly length: number;
  /** mm from the end to where the cylinder begins: its chamfer. */
  readonly chamfer: number;
  /** The end is a flat face, and not the point of a cutter. */
  readonly isFlat: boolean;
}

const METRIC = (USUAL_SIZES.cylindrical as readonly number[]).slice();
const INCH = [1 / 8, 3 / 16, 1 / 4, 5 / 16, 3 / 8, 7 / 16, 1 / 2, 5 / 8, 3 / 4, 7 / 8, 1, 1.25, 1.5, 2].map((d) => d * MM_PER_INCH);
// mm. What a drawn shank may be off its nominal diameter: h6 is 0.011 to 0.016, and some draw the middle.
const OFF_SIZE = 0.02;
// Times the slack: an arc of a traced edge that is as flat as a cylinder is one from this length on.
const LONG_ARC = 20;
// Share of the diameter that a chamfer or radius at the end of a shank takes at most.
const CHAMFER = 0.35;

/** The usual shank diameter that this is, mm; undefined for none. `slack`: mm that it may be off besides. */
export const usualShank = (diameter: number, slack = 0): number | undefined => [...METRIC, ...INCH].find((d) => Math.abs(d - diameter) <= OFF_SIZE + slack);

/** The shank at the beginning of a way that comes from the axis; undefined where no cylinder follows. `slack`: mm that its lines may be off. */
export function shankAt(way: readonly PathPiece[], slack = 1e-3): EndShank | undefined {
  const start = way[0]?.from;
  if (!start) return undefined;
  const isFlat = Math.abs(way[0].to[0] - start[0]) < slack && way[0].to[1] > 4 * slack;
  for (const piece of way) {
    const away = Math.abs(piece.from[0] - start[0]);
    const isEven = Math.abs(piece.to[1] - piece.from[1]) < slack && Math.abs(placeOnPiece(piece, 0.5)[1] - piece.from[1]) < slack;
    if (isEven && piece.from[1] > 0 && lengthOfPiece(piece) > (piece.kind === 'line' ? slack : LONG_ARC * slack))
      return { diameter: piece.from[1] + piece.to[1], length: lengthOfPiece(piece), chamfer: away, isFlat };
    if (Math.abs(piece.to[0] - start[0]) > CHAMFER * 2 * Math.max(piece.to[1], piece.from[1], 0.1)) return undefined;
  }
  return undefined;
}

/** How much an end looks like the one a tool is held by, 0 to 4. */
export function holdScore(shank: EndShank | undefined, whole: number, slack = 0): number {
  if (!shank || !shank.isFlat) return 0;
  const size = usualShank(shank.diameter, slack) === undefined ? 0 : 1.5;
  return 0.5 + size + 2 * Math.min(1, shank.length / whole) + (shank.chamfer > 0 && shank.chamfer < 2 ? 0.2 : 0);
}

/** How well the sizes of a turned tool fit a unit: its largest shank is a usual one, and it is as long as tools are. `scale`: mm of a unit. */
export function fitsUnit(shanks: readonly EndShank[], whole: number, scale: number): number {
  const sizes = shanks.filter((s) => s.isFlat).map((s) => s.diameter * scale);
  const isUsual = sizes.some((d) => usualShank(d) !== undefined);
  const long = whole * scale;
  const isPlausible = long >= 15 && long <= 600;
  return (isUsual ? 2 : 0) + (isPlausible ? 1 : 0);
}

/**
 * The outside of a way, from the axis at one end to the axis at the other: of one that is closed beside the axis, what is seen from outside, with its two ends
 * led to the axis.
 */
export function outsideOf(way: readonly PathPiece[]): PathPiece[] {
  const isRing = way[0].from[0] === way[way.length - 1].to[0] && way[0].from[1] === way[way.length - 1].to[1];
  if (!isRing) return [...way];
  const ends = way.map((p) => p.from);
  const [low, high] = [Math.min(...ends.map((p) => p[0])), Math.max(...ends.map((p) => p[0]))];
  const outermost = (z: number): number => ends.reduce((best, p, i) => (Math.abs(p[0] - z) < 1e-3 && (best < 0 || p[1] > ends[best][1]) ? i : best), -1);
  const [first, last] = [outermost(low), outermost(high)];
  const around = Array.from({ length: (last - first + way.length) % way.length }, (_, i) => way[(first + i) % way.length]);
  return [{ kind: 'line', from: [low, 0], to: ends[first] }, ...around, { kind: 'line', from: ends[last], to: [high, 0] }];
}

/** The way from the axis at one end to the axis at the other, seen from the other end. */
export const fromOtherEnd = (way: readonly PathPiece[], whole: number): PathPiece[] => mirrorProfile([way], whole)[0];
