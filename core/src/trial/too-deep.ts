import { flatDistance, type PathPiece } from '#core/outline';
import type { CuttingOutline } from './cut/cutting-outline.ts';

// mm over the edge's length that is told: what noses and chords leave unsure is less.
const OVER = 0.05;
// A side that leads by less than that only follows.
const LEADS = 0.05;

/**
 * How much deeper than its edge is long a straight cut is, mm, `depth` mm across its way on the average; with how long that is. Undefined where the edge is long enough, and
 * where nothing says how long it is. Of the sides that lead the longest one counts, seen across the way, and the noses at its ends.
 */
export function tooDeep(
  { sides = [] }: CuttingOutline,
  noseRadius: number,
  path: PathPiece,
  depth: number,
): { readonly over: number; readonly length: number } | undefined {
  const way = flatDistance(path.from, path.to);
  if (path.kind !== 'line' || way === 0) return undefined;
  const [dz, dx] = [(path.to[0] - path.from[0]) / way, (path.to[1] - path.from[1]) / way];
  const leading = sides.filter((s) => s.out[0] * dz + s.out[1] * dx > LEADS);
  if (leading.length === 0) return undefined;
  const across = leading.map((s) => s.length * Math.abs(s.along[0] * dx - s.along[1] * dz) + 2 * noseRadius);
  // Both sides lead where the nose goes ahead: what is cut lies on both of them.
  const length = leading.length > 1 ? across.reduce((sum, a) => sum + a, 0) : Math.max(...across);
  return depth > length + OVER ? { over: depth - length, length } : undefined;
}
