import type { FlatPoint } from '#core/outline';

export type EventKind = 'touch' | 'rapid' | 'gouge' | 'sense' | 'feed' | 'depth' | 'travel' | 'near';

/** Nearness alone is no fault. */
export const isFault = ({ kind }: { readonly kind: EventKind }): boolean => kind !== 'near';

/** Something that goes wrong in a trial. Of what belongs together one is told, with its start and its worst. */
export interface TrialEvent {
  readonly kind: EventKind;
  /** s from the start; line of the program. */
  readonly time: number;
  readonly line: number;
  /** Of the programs that run together the one that the line is of. */
  readonly channel: number;
  /** What it happens to. */
  readonly between: readonly string[];
  /** mm: how deep it goes; of a near miss how near, of travel how far beyond. */
  readonly depth: number;
  /** [z, r] of the part. */
  readonly at: FlatPoint;
  readonly message: string;
  /** The body of the set-up that it happens to: its place, its piece and its id in the piece's model. */
  readonly body?: BodyRef;
  /** The other one, where it is a body of a set-up too. */
  readonly other?: BodyRef;
}

export interface BodyRef {
  readonly placeId: string;
  readonly piece: string;
  readonly id: string;
}

/** mm, for messages. */
export const sayMm = (mm: number): string => `${mm.toFixed(3)} mm`;

/** What is told of a run: of what goes on from one move to the next one event, with where it began and its worst. */
export class EventLog {
  private readonly events: TrialEvent[] = [];
  /** Events that may go on, by what they are; the move that they were last seen in. */
  private readonly open = new Map<string, { readonly index: number; move: number }>();
  private move = 0;
  private readonly channel: number;

  constructor(channel = 0) {
    this.channel = channel;
  }

  /** The time may be worked out when it is asked for: what goes on keeps the time at which it began. */
  tell({
    kind,
    time: asked,
    line,
    between,
    depth,
    at,
    message,
    body,
    other,
  }: Omit<TrialEvent, 'channel' | 'time'> & { readonly time: number | (() => number) }): void {
    const time = () => (typeof asked === 'number' ? asked : asked());
    const key = `${kind} ${between.join(' ')}`;
    const open = this.open.get(key);
    if (open) {
      const before = this.events[open.index];
      const isWorse = kind === 'near' ? depth < before.depth : depth > before.depth;
      // A near miss is told where it is nearest, what goes on where it began.
      if (isWorse) this.events[open.index] = { ...before, depth, at, message, ...(kind === 'near' ? { time: time(), line } : {}) };
      open.move = this.move;
      return;
    }
    this.open.set(key, { index: this.events.length, move: this.move });
    const { channel } = this;
    this.events.push({ kind, time: time(), line, channel, between, depth, at, message, ...(body ? { body } : {}), ...(other ? { other } : {}) });
  }

  /** A move is over: what did not go on in it is too. A spindle that turns the wrong way is one fault, however often it shows. */
  endMove(): void {
    for (const [key, { move }] of this.open) if (move < this.move && !key.startsWith('sense')) this.open.delete(key);
    this.move++;
  }

  /** In the order of their time. */
  get all(): TrialEvent[] {
    return [...this.events].sort((a, b) => a.time - b.time);
  }
}
