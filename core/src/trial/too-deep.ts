import { directionOnPiece, flatDistance, type FlatPoint, type PathPiece } from '#core/outline';
import type { CuttingOutline, StraightSide } from './cut/cutting-outline.ts';

// mm over the edge's length that is told: what noses and chords leave unsure is less.
const OVER = 0.05;
// A side that leads by less than that only follows.
const LEADS = 0.05;

// Places of an arc at which its way is looked at.
const LOOKS = 12;

/**
 * How much deeper than its edge is long a cut is, mm, `depth` mm across its way on the average; with how long that is, and how deep the cut is then. Undefined where the edge is
 * long enough, and where nothing says how long it is. Of the sides that lead the longest one counts, seen across the way, and the noses at its ends. Along an arc it is where the
 * edge reaches most, and the cut as deep as what is taken lies outside of the arc at least: an area a times the way about a radius r is sqrt(r² + 2 a r) - r wide there.
 */
export function tooDeep(
  { sides = [] }: CuttingOutline,
  noseRadius: number,
  path: PathPiece,
  depth: number,
): { readonly over: number; readonly length: number; readonly depth: number } | undefined {
  if (flatDistance(path.from, path.to) === 0) return undefined;
  const shares = path.kind === 'line' ? [0] : Array.from({ length: LOOKS + 1 }, (_, i) => i / LOOKS);
  const length = Math.max(...shares.map((share) => reaches(sides, noseRadius, directionOnPiece(path, share))));
  if (length === 0) return undefined;
  const deep = path.kind === 'line' ? depth : outsideOf(flatDistance(path.from, path.centre), depth);
  return deep > length + OVER ? { over: deep - length, length, depth: deep } : undefined;
}

// How wide a ring around a circle is that is as much as a strip of that depth along it.
const outsideOf = (radius: number, depth: number): number => Math.sqrt(radius * radius + 2 * depth * radius) - radius;

// How much of an edge lies across a way, where it leads; 0 where none of its sides does.
function reaches(sides: readonly StraightSide[], noseRadius: number, way: FlatPoint): number {
  const length = Math.hypot(...way);
  const [dz, dx] = [way[0] / length, way[1] / length];
  const leading = sides.filter((s) => s.out[0] * dz + s.out[1] * dx > LEADS);
  if (leading.length === 0) return 0;
  const across = leading.map((s) => s.length * Math.abs(s.along[0] * dx - s.along[1] * dz) + 2 * noseRadius);
  // Both sides lead where the nose goes ahead: what is cut lies on both of them.
  return leading.length > 1 ? across.reduce((sum, a) => sum + a, 0) : Math.max(...across);
}
