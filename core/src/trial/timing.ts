import { lengthOfPiece, type PathPiece, placeOnPiece } from '#core/outline';
import type { Feed, SpindleState } from './program/moves.ts';

/** mm/min. What a rapid is taken to move with: no machine says it. */
export const RAPID = 20_000;

/** 1/min with the programmed point on a radius; 0 where the spindle stands. `largest`: of the spindle. */
export function speedOn({ sense, mode, value, limit }: SpindleState, radius: number, largest: number): number {
  if (!sense) return 0;
  const most = Math.min(limit ?? largest, largest);
  if (mode === 'speed') return Math.min(value, most);
  // n = 1000 v / (pi D)
  return radius <= 0 ? most : Math.min(most, (1000 * value) / (2 * Math.PI * radius));
}

/** How long a feed along a piece takes, s; Infinity for a feed a turn with the spindle standing. */
export function secondsOf(path: PathPiece, isRapid: boolean, feed: Feed | undefined, spindle: SpindleState, largest: number): number {
  const length = lengthOfPiece(path);
  if (length === 0) return 0;
  if (isRapid) return (60 * length) / RAPID;
  if (!feed) return 0;
  if (feed.per === 'minute') return (60 * length) / feed.value;
  // ds / (f n(r)), by Simpson's rule: n changes with the radius where the speed of the surface is kept.
  const minutes = (share: number) => 1 / (feed.value * speedOn(spindle, Math.abs(placeOnPiece(path, share)[1]), largest));
  let sum = 0;
  for (let i = 0; i < PARTS; i++) sum += minutes(i / PARTS) + 4 * minutes((i + 0.5) / PARTS) + minutes((i + 1) / PARTS);
  return (60 * length * sum) / (6 * PARTS);
}

const PARTS = 4;
