import { type FlatPoint, lengthOfPiece, type PathPiece, placeOnPiece } from '#core/outline';
import type { CuttingOutline } from './cut/cutting-outline.ts';
import { type At, placesAlong, standing, swept } from './cut/sweep.ts';
import { turnsBetween } from './cut/thread.ts';
import { inFrontOf, Region } from './region/region.ts';

/** What was run, as it can be sent from one thread to another and looked at at any time. */
export interface Recording {
  readonly moves: readonly RunMove[];
  readonly tools: readonly RunTool[];
  /** The work before some of the moves, in their order; the first one before all. */
  readonly keys: readonly Key[];
}

export interface RunMove {
  readonly line: number;
  /** s. */
  readonly from: number;
  readonly to: number;
  readonly isRapid: boolean;
  /** Of the carrier's reference, [z, x] of the part. */
  readonly path: PathPiece;
  readonly tool: number;
  /** mm3. */
  readonly removed: number;
  /** Of a thread, mm a turn. */
  readonly pitch?: number;
  /** At its end what lies in front of that Z is parted off, and falls. */
  readonly falls?: number;
}

export interface RunTool {
  readonly name: string;
  /** The place of the set-up that it stands at. */
  readonly placeId: string;
  readonly outline: CuttingOutline | undefined;
}

export interface Key {
  readonly move: number;
  readonly loops: readonly (readonly FlatPoint[])[];
}

/** A moment of a run. */
export interface Moment {
  readonly move: number;
  readonly tool: number;
  readonly reference: At;
  readonly region: Region;
}

/** The work and the tool at any time of a run: from the last key before it, cut up to there. Going on from where it was asked last is shorter still. */
export class Replay {
  private readonly recording: Recording;
  private last: { move: number; region: Region } | undefined;

  constructor(recording: Recording) {
    this.recording = recording;
  }

  /** At a time, s; undefined where nothing moves at all. */
  at(time: number): Moment | undefined {
    const { moves, keys } = this.recording;
    if (moves.length === 0) return undefined;
    const index = indexAt(moves, time);
    const move = moves[index];
    const key = keys.reduce((best, k) => (k.move <= index ? k : best), keys[0]);
    let { last } = this;
    if (!last || last.move > index || last.move < key.move) last = { move: key.move, region: regionOf(key) };
    for (; last.move < index; last = { move: last.move + 1, region: last.region }) this.cut(last.region, moves[last.move], 1);
    this.last = last;
    const share = move.to > move.from ? Math.min(1, Math.max(0, (time - move.from) / (move.to - move.from))) : 1;
    const region = last.region.copy();
    this.cut(region, move, share);
    return { move: index, tool: move.tool, reference: placeOnPiece(move.path, share), region };
  }

  private cut(region: Region, move: RunMove, share: number): void {
    this.cutWay(region, move, share);
    if (move.falls !== undefined && share >= 1) region.cut([inFrontOf(move.falls)]);
  }

  private cutWay(region: Region, { path, tool, removed, pitch }: RunMove, share: number): void {
    const { outline } = this.recording.tools[tool];
    if (!outline || removed <= 0 || share <= 0) return;
    if (pitch !== undefined) {
      region.cut(turnsBetween(outline, path, pitch, 0, share));
      return;
    }
    const length = lengthOfPiece(path);
    let gone = 0;
    let last: At = path.from;
    const clips = standing(outline, last);
    for (const to of placesAlong(path, outline)) {
      const way = Math.hypot(to[0] - last[0], to[1] - last[1]);
      const left = share * length - gone;
      const end: At = left >= way || share >= 1 ? to : [last[0] + (left / way) * (to[0] - last[0]), last[1] + (left / way) * (to[1] - last[1])];
      clips.push(...swept(outline, last, end));
      if (end !== to) break;
      gone += way;
      last = to;
    }
    region.cut(clips);
  }
}

const regionOf = ({ loops }: Key): Region => Region.ofLoops(loops);

// The move that runs at a time: the last one that has begun.
function indexAt(moves: readonly RunMove[], time: number): number {
  let [low, high] = [0, moves.length - 1];
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (moves[middle].from <= time) low = middle;
    else high = middle - 1;
  }
  return low;
}
