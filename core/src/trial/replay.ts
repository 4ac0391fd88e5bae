import { type FlatPoint, type PathPiece, placeOnPiece } from '#core/outline';
import type { CuttingOutline } from './cut/cutting-outline.ts';
import type { At } from './cut/sweep.ts';
import { clipsBetween } from './cut/way-clips.ts';
import type { Feed, SpindleState } from './program/moves.ts';
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
  /** Of the programs that run together the one that it is of. */
  readonly channel: number;
  /** It is a part of a move that goes on: others move meanwhile. */
  readonly goesOn?: boolean;
  /** s. */
  readonly from: number;
  readonly to: number;
  readonly isRapid: boolean;
  /** Of the carrier's reference, [z, x] of the part. */
  readonly path: PathPiece;
  readonly tool: number;
  /** mm3. */
  readonly removed: number;
  readonly feed: Feed | undefined;
  readonly spindle: SpindleState;
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
  /** The programmed point about the carrier's reference, [z, x]. */
  readonly point: At;
  /** Largest speed of the spindle, 1/min. */
  readonly largest: number;
}

export interface Key {
  readonly move: number;
  readonly loops: readonly (readonly FlatPoint[])[];
}

/** What a channel does at a moment, or did last. */
export interface AtWork {
  readonly move: number;
  readonly tool: number;
  readonly reference: At;
}

/** A moment of a run. `move`, `tool`, `reference`: of the channel that began something last; `others`: of those beside it. */
export interface Moment extends AtWork {
  readonly others: readonly AtWork[];
  readonly region: Region;
}

/** The work and the tool at any time of a run: from the last key before it, cut up to there. Going on from where it was asked last is shorter still. */
export class Replay {
  private readonly recording: Recording;
  private readonly channels: readonly number[];
  private last: { move: number; region: Region } | undefined;

  constructor(recording: Recording) {
    this.recording = recording;
    this.channels = [...new Set(recording.moves.map((m) => m.channel))];
  }

  /** At a time, s; undefined where nothing moves at all. */
  at(time: number): Moment | undefined {
    const { moves, keys } = this.recording;
    if (moves.length === 0) return undefined;
    const index = indexAt(moves, time);
    // What began together with it, or before and goes on, is cut up to this time too.
    let first = index;
    while (first > 0 && (moves[first - 1].to > time || moves[first - 1].from === moves[index].from)) first--;
    const key = keys.reduce((best, k) => (k.move <= first ? k : best), keys[0]);
    let { last } = this;
    if (!last || last.move > first || last.move < key.move) last = { move: key.move, region: regionOf(key) };
    for (; last.move < first; last = { move: last.move + 1, region: last.region }) this.cut(last.region, moves[last.move], 1);
    this.last = last;
    const shareOf = ({ from, to }: RunMove) => (to > from ? Math.min(1, Math.max(0, (time - from) / (to - from))) : 1);
    const region = last.region.copy();
    for (let i = first; i <= index; i++) this.cut(region, moves[i], shareOf(moves[i]));
    const atWork = (i: number): AtWork => ({ move: i, tool: moves[i].tool, reference: placeOnPiece(moves[i].path, shareOf(moves[i])) });
    const channels = this.channels.filter((c) => c !== moves[index].channel);
    const others = channels.flatMap((c) => {
      let i = index - 1;
      while (i >= 0 && moves[i].channel !== c) i--;
      return i < 0 ? [] : [atWork(i)];
    });
    return { ...atWork(index), others, region };
  }

  private cut(region: Region, move: RunMove, share: number): void {
    this.cutWay(region, move, share);
    if (move.falls !== undefined && share >= 1) region.cut([inFrontOf(move.falls)]);
  }

  private cutWay(region: Region, { path, tool, removed, pitch }: RunMove, share: number): void {
    const { outline } = this.recording.tools[tool];
    if (outline && removed > 0 && share > 0) region.cut(clipsBetween(outline, path, pitch, 0, share));
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
