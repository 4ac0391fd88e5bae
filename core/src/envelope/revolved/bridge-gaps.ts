import type { ProfilePoint } from '#core/outline';

// mm. Heights and widths that are the same but for rounding.
const SAME = 1e-9;

/**
 * Outlines of an outside without its narrow gaps: what lies between two of them, or between two rims of one, is filled as far up as it is no wider
 * than `width` mm (the closing of a function by a level segment: Serra, Image analysis and mathematical morphology, 1982). Nothing is ever lowered.
 * Outlines run from left to right; walls are two corners at one z.
 */
export function bridgeGaps(outlines: readonly (readonly ProfilePoint[])[], width: number): ProfilePoint[][] {
  if (!(width > 0)) return outlines.map((o) => [...o]);
  const joined: ProfilePoint[][] = [];
  for (const outline of outlines) {
    const last = joined[joined.length - 1];
    const end = last?.[last.length - 1];
    if (end && outline[0][0] - end[0] <= width + SAME) last.push([end[0], 0], [outline[0][0], 0], ...outline);
    else joined.push([...outline]);
  }
  return joined.map((outline) => fillValleys(outline, width));
}

// mm. Between two faces that meet at one height but for rounding.
const CRACK = 1e-6;

/** Outlines, counted upwards or downwards, without cracks: faces that meet leave none, whatever the last digits of an axis make of their heights. */
export const closeCracks = (outlines: readonly ProfilePoint[][]): ProfilePoint[][] => outlines.map((outline) => fillValleys(outline, CRACK));

// Fills one valley after the other, until each is as wide as it may stay; one that is full is a part of the next larger one.
function fillValleys(outline: ProfilePoint[], width: number): ProfilePoint[] {
  let points = outline;
  for (let i = 1; i + 1 < points.length; ) {
    let last = i;
    while (last + 1 < points.length && Math.abs(points[last + 1][1] - points[i][1]) <= SAME) last++;
    const isValley = last + 1 < points.length && points[i - 1][1] > points[i][1] + SAME && points[last + 1][1] > points[i][1] + SAME;
    const level = isValley ? levelOf(points, i, last, width) : points[i][1];
    if (level <= points[i][1] + SAME) {
      i = last + 1;
      continue;
    }
    const left = climb(points, i, -1, level);
    const right = climb(points, last, 1, level);
    points = [...points.slice(0, left.rim + 1), [left.z, level], [right.z, level], ...points.slice(right.rim)];
    // What lies to its left may be a valley now.
    i = Math.max(1, left.rim - 1);
  }
  return dropDoubles(points);
}

// Where the way up from the bottom of a valley reaches a level: its z, and the corner beyond.
function climb(points: readonly ProfilePoint[], from: number, step: -1 | 1, level: number): { z: number; rim: number } {
  let k = from;
  while (points[k + step][1] < level - SAME) k += step;
  const [low, high] = [points[k], points[k + step]];
  const share = high[1] > low[1] ? Math.min(1, (level - low[1]) / (high[1] - low[1])) : 1;
  return { z: low[0] + share * (high[0] - low[0]), rim: k + step };
}

// How far up a valley is filled: to its lower rim, or to where it is as wide as is allowed.
function levelOf(points: readonly ProfilePoint[], first: number, last: number, width: number): number {
  const rimOf = (from: number, step: -1 | 1) => {
    let k = from;
    while (points[k + step] && points[k + step][1] >= points[k][1] - SAME) k += step;
    return points[k][1];
  };
  const rim = Math.min(rimOf(first, -1), rimOf(last, 1));
  const widthAt = (level: number) => climb(points, last, 1, level).z - climb(points, first, -1, level).z;
  // Between these heights it widens evenly.
  const heights = [points[first][1], ...points.map(([, r]) => r).filter((r) => r > points[first][1] && r < rim), rim].sort((a, b) => a - b);
  let reached = points[first][1];
  if (points[last][0] - points[first][0] > width + SAME) return reached;
  for (let k = 1; k < heights.length; k++) {
    const wide = widthAt(heights[k]);
    if (wide > width + SAME) {
      const before = k === 1 ? points[last][0] - points[first][0] : widthAt(heights[k - 1]);
      return reached + ((heights[k] - reached) * (width - before)) / (wide - before);
    }
    reached = heights[k];
  }
  return rim;
}

function dropDoubles(points: readonly ProfilePoint[]): ProfilePoint[] {
  return points.filter((p, i) => i === 0 || Math.abs(p[0] - points[i - 1][0]) > 1e-12 || Math.abs(p[1] - points[i - 1][1]) > 1e-12);
}
