import { lengthOfPiece, type PathPiece, placeOnPiece } from '#core/outline';
import type { Carrier } from '#core/records';
import type { ChannelSteps } from '../channels/read-channels.ts';
import type { EventLog } from '../events.ts';
import { edgeOf, type LoadedEdge, travelOf, type TrialSetting } from '../setting.ts';
import { CarriersMeet, type Mover } from './carriers-meet.ts';
import { turnsOf } from './index-swing.ts';

/** What a carrier does between two moments: with which tool, along which way of its reference, for which line. */
export interface CarrierWay {
  readonly loaded: LoadedEdge;
  readonly path: PathPiece;
  readonly line: number;
}

/**
 * All carriers of a machine against each other: those that channels move, and those that stand still. A carrier stands at its home, farthest from chuck and axis, until its
 * first tool is called, with that one at work; one that no channel moves does so all the time, with the first that it holds.
 */
export class AllCarriers {
  private readonly setting: TrialSetting;
  private readonly logs: readonly EventLog[];
  /** Of each channel, then of each carrier that none moves. */
  private readonly homes: readonly (Mover | undefined)[];
  private readonly pairs: readonly { readonly one: number; readonly other: number; readonly meet: CarriersMeet }[];

  constructor(setting: TrialSetting, channels: readonly ChannelSteps[], logs: readonly EventLog[]) {
    this.setting = setting;
    this.logs = logs;
    const { machine } = setting.parts;
    const firsts = channels.map(({ setting: own, steps }) => {
      const call = steps.find((s) => s.kind === 'tool' || s.kind === 'move');
      return call && (call.kind === 'tool' || call.kind === 'move') ? edgeOf(own, call.tool, call.offset) : undefined;
    });
    const moved = new Set(firsts.map((f) => f?.carrier.id));
    const parked = machine.carriers.filter((c) => !moved.has(c.id)).map((c) => firstOn(c, setting));
    this.homes = [...firsts, ...parked].map((loaded) => loaded && atHome(loaded, setting));
    const all = this.homes.map((_, i) => i).filter((i) => this.homes[i] !== undefined);
    this.pairs = channels.flatMap((_, one) =>
      all.filter((other) => other > one && this.homes[one]).map((other) => ({ one, other, meet: new CarriersMeet(setting, logs[one]) })),
    );
  }

  /** Whether there are two at all. */
  get areSeveral(): boolean {
    return this.pairs.length > 0;
  }

  /**
   * Looks while the carrier of a channel is indexed where it stands, from the station of one tool to another's; `standing`: where each channel is, a place instead of a
   * way. Without one it is at its home.
   */
  indexed(channel: number, to: LoadedEdge, standing: readonly (CarrierWay | undefined)[], line: number, time: number): void {
    const from = standing[channel];
    if (!from || from.loaded.carrier.kind !== 'turret') return;
    const { carrier } = from.loaded;
    const [a, b] = [from.loaded.row.place.station, to.row.place.station];
    if (a === b || carrier.id !== to.carrier.id) return;
    const placeOf = ({ loaded, path, line: own }: CarrierWay): Mover => {
      const place = this.setting.placeInMachine(loaded.carrier, path.to);
      return { loaded, from: place, to: place, line: own };
    };
    for (const { one, other, meet } of this.pairs) {
      if (one !== channel && other !== channel) continue;
      const way = standing[one === channel ? other : one];
      const them = way ? placeOf(way) : this.homes[one === channel ? other : one];
      const text = `While ${carrier.name} is indexed from station ${a} to ${b}`;
      if (them) for (const turn of turnsOf(carrier, a, b)) meet.indexed({ ...placeOf(from), line, carrier }, turn, them, time, text, this.logs[channel]);
    }
  }

  /** Looks between two moments; a channel without a way stands at its home. */
  between(ways: readonly (CarrierWay | undefined)[], from: number, to: number): void {
    // Arcs in parts that are as good as straight; of each part the first touch is told.
    const parts = ways.reduce((n, w) => (w ? Math.max(n, Math.ceil(lengthOfPiece(w.path) / (w.path.kind === 'arc' ? OF_ARC : OF_LINE))) : n), 1);
    const timeAt = (share: number) => from + ((to - from) * share) / parts;
    for (let k = 0; k < parts; k++) {
      const movers = this.homes.map((home, i): Mover | undefined => {
        const way = ways[i];
        if (!way) return home;
        const place = (share: number) => this.setting.placeInMachine(way.loaded.carrier, placeOnPiece(way.path, share));
        return { loaded: way.loaded, from: place(k / parts), to: place((k + 1) / parts), line: way.line };
      });
      for (const { one, other, meet } of this.pairs) {
        const [a, b] = [movers[one], movers[other]];
        // Two that stand at home have always stood there.
        if (a && b && (ways[one] || ways[other])) meet.between(a, b, timeAt(k), timeAt(k + 1));
      }
    }
  }
}

function atHome(loaded: LoadedEdge, setting: TrialSetting): Mover {
  const { z, x } = travelOf(loaded.carrier, setting);
  const at = setting.placeInMachine(loaded.carrier, [z[1], x[1]]);
  return { loaded, from: at, to: at, line: 0 };
}

// What a carrier has at work that nothing moves: the first that stands on it.
function firstOn(carrier: Carrier, { table }: TrialSetting): LoadedEdge | undefined {
  const row = table.stations.find((s) => s.place.carrierId === carrier.id && s.edges.length > 0);
  return row && { row, edge: row.edges[0], carrier };
}

// mm. Of an arc so long a part is taken for straight.
const OF_ARC = 0.25;
const OF_LINE = 10;
