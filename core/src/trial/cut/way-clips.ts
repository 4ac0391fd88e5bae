import { lengthOfPiece, type PathPiece, placeOnPiece } from '#core/outline';
import type { Polygons } from '#core/clipping';
import type { CuttingOutline } from './cutting-outline.ts';
import { type At, placesAlong, standing, swept } from './sweep.ts';
import { turnsBetween } from './thread.ts';

/** What an outline covers of the half section between two shares of a path; with a pitch, of a thread. */
export function clipsBetween(outline: CuttingOutline, path: PathPiece, pitch: number | undefined, from: number, to: number): Polygons {
  if (pitch !== undefined) return turnsBetween(outline, path, pitch, from, to);
  const length = lengthOfPiece(path);
  const [start, end] = [from * length, to >= 1 ? Infinity : to * length];
  let last: At = from <= 0 ? path.from : placeOnPiece(path, from);
  const clips = standing(outline, last);
  let gone = 0;
  let before: At = path.from;
  for (const next of placesAlong(path, outline)) {
    const way = Math.hypot(next[0] - before[0], next[1] - before[1]);
    const isLast = gone + way >= end;
    if (gone + way > start) {
      const share = (end - gone) / way;
      const stop: At = isLast ? [before[0] + share * (next[0] - before[0]), before[1] + share * (next[1] - before[1])] : next;
      clips.push(...swept(outline, last, stop));
      last = stop;
    }
    if (isLast) break;
    gone += way;
    before = next;
  }
  return clips;
}
