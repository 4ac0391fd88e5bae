import { lengthOfPiece, placeOnPiece } from '#core/outline';
import type { Move, SpindleState, Step } from '../program/moves.ts';
import { secondsOf, speedOn } from '../timing.ts';

/** What a channel does of a move between two moments. */
export interface Slice {
  readonly channel: number;
  readonly move: Move;
  /** What the spindle does, whichever channel said so. */
  readonly spindle: SpindleState;
  /** Shares of the move, 0 to 1. */
  readonly from: number;
  readonly to: number;
}

/** What all channels do between two moments, s; at least one of them something. */
export interface Together {
  readonly from: number;
  readonly to: number;
  readonly slices: readonly Slice[];
}

// mm. Where several channels move, none goes farther while the others are looked at as they were: fed, and in rapid.
const FED = 2;
const RAPID = 20;
// s. Moments that are nearer to each other are one.
const SAME = 1e-9;

const STANDS: SpindleState = { sense: null, mode: 'speed', value: 0, limit: undefined };

interface ChannelState {
  readonly steps: readonly Step[];
  next: number;
  /** Until when it does something that is told already, or dwells. */
  until: number;
  busy: { readonly move: Move; readonly spindle: SpindleState; readonly start: number; readonly seconds: number; done: number } | undefined;
  waitsAt: number | undefined;
  /** What it said of the spindle last. */
  said: SpindleState;
  radius: number;
}

/**
 * The steps of channels in the order of time. A wait mark holds a channel until all stand at it (their marks are the same ones in the same order: checkWaits). The spindle
 * is one: it does what a channel said last. `largest`: its speed, 1/min. Gives time, s, and how much of the steps is begun, 0 to 1.
 */
export function* inTime(programs: readonly (readonly Step[])[], largest: number): Generator<Together & { readonly share: number }, number> {
  const channels = programs.map((steps): ChannelState => ({ steps, next: 0, until: 0, busy: undefined, waitsAt: undefined, said: STANDS, radius: 0 }));
  const whole = channels.reduce((n, c) => n + c.steps.length, 0) || 1;
  const share = () => channels.reduce((n, c) => n + c.next, 0) / whole;
  const shared: Shared = { spindle: STANDS, by: undefined };
  let now = 0;
  for (;;) {
    for (const [channel, c] of channels.entries())
      while (!c.busy && c.waitsAt === undefined && c.until <= now + SAME && c.next < c.steps.length) {
        const at = begin(channels, channel, now, shared, largest);
        if (at) yield { ...at, share: share() };
      }
    const open = channels.filter((c) => c.busy ?? c.until > now + SAME);
    if (open.length === 0) {
      if (channels.every((c) => c.waitsAt === undefined)) return now;
      for (const c of channels) c.waitsAt = undefined;
      continue;
    }
    const to = nextMoment(open, now);
    const slices = channels.flatMap((c, channel): Slice[] => {
      if (!c.busy) return [];
      const { move, spindle, start, seconds, done } = c.busy;
      const reached = Math.min(1, (to - start) / seconds);
      const isDone = reached > 1 - 1e-9;
      c.radius = Math.abs(placeOnPiece(move.path, reached)[1]);
      if (isDone) {
        c.busy = undefined;
        c.until = to;
      } else c.busy.done = reached;
      return [{ channel, move, spindle, from: done, to: isDone ? 1 : reached }];
    });
    if (slices.length > 0) yield { from: now, to, slices, share: share() };
    now = to;
  }
}

// What is said of the spindle, and by which channel.
interface Shared {
  spindle: SpindleState;
  by: ChannelState | undefined;
}

// Takes the next step of a channel; gives what is told as a whole.
function begin(channels: readonly ChannelState[], channel: number, now: number, shared: Shared, largest: number): Together | undefined {
  const c = channels[channel];
  const step = c.steps[c.next++];
  if (step.kind === 'dwell') c.until = now + step.seconds;
  if (step.kind !== 'move' && step.kind !== 'wait') return undefined;
  if (!isSame(step.spindle, c.said)) {
    c.said = step.spindle;
    Object.assign(shared, { spindle: step.spindle, by: c });
  }
  if (step.kind === 'wait') {
    c.waitsAt = step.mark;
    return undefined;
  }
  const spindle = channels.length === 1 ? step.spindle : seenBy(c, shared, largest);
  const seconds = secondsOf(step.path, step.isRapid, step.feed, spindle, largest);
  const takes = Number.isFinite(seconds) ? seconds : 0;
  // A thread is one with its start: it is not told in parts.
  if (takes > SAME && step.pitch === undefined) {
    c.busy = { move: step, spindle, start: now, seconds: takes, done: 0 };
    return undefined;
  }
  c.radius = Math.abs(step.path.to[1]);
  c.until = now + takes;
  return { from: now, to: now + takes, slices: [{ channel, move: step, spindle, from: 0, to: 1 }] };
}

// The speed of a surface is kept for the channel that asked for it; another one sees the turns that come of it.
function seenBy(c: ChannelState, { spindle, by }: Shared, largest: number): SpindleState {
  if (by === c || !by || spindle.mode === 'speed') return spindle;
  return { ...spindle, mode: 'speed', value: speedOn(spindle, by.radius, largest) };
}

function nextMoment(open: readonly ChannelState[], now: number): number {
  const ends = open.map((c) => (c.busy ? c.busy.start + c.busy.seconds : c.until));
  const moving = open.flatMap((c) => c.busy ?? []);
  if (moving.length > 1)
    for (const { move, seconds } of moving) ends.push(now + ((move.isRapid ? RAPID : FED) * seconds) / Math.max(lengthOfPiece(move.path), 1e-9));
  return Math.min(...ends);
}

const isSame = (a: SpindleState, b: SpindleState): boolean => a.sense === b.sense && a.mode === b.mode && a.value === b.value && a.limit === b.limit;
