import { issue, type Issue } from '#core/issues';
import { type FlatPoint, fitPath, flatDistance, type HalfProfile, lengthOfPiece, mapPiece, partOfPiece, type PathPiece, profileDistance } from '#core/outline';
import type { Slice, Together } from './channels/in-time.ts';
import type { ChannelSteps } from './channels/read-channels.ts';
import { checkStock, compareWith, type NoseOf, notCompensated, offAlong } from './compare.ts';
import { cuttingOutline, type CuttingOutline, isAboutAxis, isDrivenAcross } from './cut/cutting-outline.ts';
import { type At, placesAlong, standing, swept } from './cut/sweep.ts';
import { turnsBetween } from './cut/thread.ts';
import { type EventKind, EventLog, sayMm } from './events.ts';
import { beyondTravel, type CuttingTool, faultsOfCut, type MoveFault, rubs } from './move-faults.ts';
import type { Move } from './program/moves.ts';
import { type Polygons, together, toUnits } from '#core/clipping';
import { inFrontOf, Region } from './region/region.ts';
import type { Key, RunMove, RunTool } from './replay.ts';
import { edgeOf, type LoadedEdge, travelOf, type TrialSetting } from './setting.ts';
import { AllCarriers, type CarrierWay } from './touch/all-carriers.ts';
import { Flank } from './touch/flank.ts';
import { firstTime, widest } from './touch/cut-into.ts';
import { indexFaults } from './touch/index-swing.ts';
import { type Obstacle, obstaclesOf } from './touch/obstacles.ts';
import { Follower, TOUCH, type Watched, watchedBodies, type Way } from './touch/follow.ts';
import type { Fallen, TrialResult } from './trial-result.ts';

// mm2. What a move takes away by rounding only is no cut.
const NO_CUT = 1e-5;

interface Tool extends CuttingTool {
  readonly index: number;
  readonly bodies: readonly Watched[];
}

/** A channel with what it does at the moment. */
interface Lane {
  readonly channel: ChannelSteps;
  readonly log: EventLog;
  readonly follower: Follower;
  /** Where its carrier stands, and with which tool. */
  standsAt: At | undefined;
  standsWith: Tool | undefined;
  /** Of its program, what ran last. */
  line: number;
  /** mm2 of the half section that its move has taken away so far. */
  cutOfMove: number;
  /** mm across the way: the most of it over a stretch of that move. */
  deepest: number;
}

/** A trial while it runs: the work as it is cut, and all that is found on the way. */
export class Run {
  private readonly setting: TrialSetting;
  private readonly lanes: readonly Lane[];
  private readonly carriers: AllCarriers;
  private readonly region: Region;
  private readonly contour: Region | undefined;
  private readonly contourDepth: ReturnType<typeof profileDistance> | undefined;
  private readonly obstacles: readonly Obstacle[];
  private readonly tools = new Map<LoadedEdge, Tool>();
  private readonly moves: RunMove[] = [];
  private readonly runTools: RunTool[] = [];
  private readonly keys: Key[] = [];
  private lastKey = { cuts: 0, version: -1 };
  private readonly threads: Polygons = [];
  private readonly fallen: Fallen[] = [];
  private readonly stockVolume: number;
  private readonly warnings: Issue[];

  constructor(setting: TrialSetting, channels: readonly ChannelSteps[], stock: HalfProfile) {
    this.setting = setting;
    this.region = Region.ofProfile(stock);
    this.stockVolume = this.region.volume;
    const { contour } = setting.job;
    this.warnings = checkStock(contour, stock);
    this.contour = contour && Region.ofProfile(contour);
    this.contourDepth = contour && profileDistance(contour);
    this.obstacles = obstaclesOf(setting);
    this.lanes = channels.map((channel): Lane => {
      const log = new EventLog(channel.index);
      const follower = new Follower(this.region, this.obstacles, setting.job.clearance, log);
      return { channel, log, follower, standsAt: undefined, standsWith: undefined, line: 0, cutOfMove: 0, deepest: 0 };
    });
    this.carriers = new AllCarriers(
      setting,
      channels,
      this.lanes.map((l) => l.log),
    );
  }

  /** What all channels do between two moments: one after the other, each on the work as the one before left it. */
  together({ from, to, slices }: Together): void {
    const before = this.lanes.map((lane) => lane.standsAt);
    for (const slice of slices) this.slice(this.lanes[slice.channel], slice, from, to);
    if (!this.carriers.areSeveral) return;
    this.meet(slices, before, from, to);
    for (const slice of slices) this.lanes[slice.channel].log.endMove();
  }

  // What the carriers hold, one against the other, while the slices run.
  private meet(slices: readonly Slice[], before: readonly (At | undefined)[], from: number, to: number): void {
    const ways = this.lanes.map((lane, i): CarrierWay | undefined => {
      const { standsAt, standsWith, line } = lane;
      if (!standsAt || !standsWith) return undefined;
      const { loaded } = standsWith;
      const own = slices.find((s) => this.lanes[s.channel] === lane);
      return { loaded, path: own ? this.pathOf(own, loaded) : { kind: 'line', from: before[i] ?? standsAt, to: standsAt }, line };
    });
    this.carriers.between(ways, from, to);
  }

  result(time: number): TrialResult {
    const { contour, tolerance } = this.setting.job;
    const loops = this.fallen.at(-1)?.loops ?? this.region.loops;
    const part = loops.map((l) => fitPath(l, { tolerance: Math.min(tolerance, 0.001) / 10, sag: FIT }));
    // Threads are cut into what the contour shows as cylinders, and what fell is the part.
    const also = [...this.threads, ...this.fallen.flatMap((f) => f.loops.map(toUnits))];
    const whole = also.length === 0 ? this.region : Region.ofPolygons(together([...this.region.polygons, ...also]));
    const against = contour && compareWith(contour, whole);
    const along = contour && offAlong(contour, whole);
    const lacking = along && notCompensated(along, this.noses());
    if (lacking) this.warnings.push(issue('trial.not-compensated', { name: lacking.name, radius: lacking.radius }));
    return {
      stock: this.region,
      part,
      fallen: this.fallen,
      removedVolume: this.stockVolume - this.region.volume - this.fallen.reduce((sum, f) => sum + f.volume, 0),
      time,
      events: this.lanes.flatMap((l) => l.log.all).sort((a, b) => a.time - b.time),
      against,
      along,
      warnings: this.warnings,
      recording: { moves: this.moves, tools: this.runTools, keys: this.keys },
    };
  }

  private toolOf(loaded: LoadedEdge): Tool {
    const known = this.tools.get(loaded);
    if (known) return known;
    const { setting } = this;
    const { row, edge, carrier } = loaded;
    const plane = setting.planeFor(carrier);
    const outline = cuttingOutline(row, edge, setting.parts, plane);
    const bodies = watchedBodies(loaded, setting);
    const spindle = setting.parts.machine.spindles[setting.job.spindle] ?? setting.parts.machine.spindles.main;
    const tool: Tool = {
      index: this.runTools.length,
      loaded,
      outline,
      name: edge.own.name,
      bodies: outline ? bodies.rest : [...bodies.edge, ...bodies.rest],
      flank: outline && !isAboutAxis(edge) ? new Flank(bodies.edge, outline) : undefined,
      largest: spindle.largestSpeed,
    };
    if (!outline) this.warnings.push(issue(isDrivenAcross(edge) ? 'trial.driven' : 'trial.no-edge', { name: tool.name }));
    this.tools.set(loaded, tool);
    const { Z, X } = edge.atWork;
    this.runTools.push({ name: tool.name, placeId: row.place.id, outline, point: [Z, X], largest: tool.largest });
    return tool;
  }

  // Of a slice the way of the carrier's reference.
  private pathOf({ move, from, to }: Slice, { edge: { atWork } }: LoadedEdge): PathPiece {
    const path = mapPiece(move.path, ([z, x]): FlatPoint => [z - atWork.Z, x - atWork.X]);
    return from <= 0 && to >= 1 ? path : partOfPiece(path, from, to);
  }

  private slice(lane: Lane, slice: Slice, from: number, to: number): void {
    const { move, spindle } = slice;
    const loaded = edgeOf(lane.channel.setting, move.tool, move.offset);
    if (!loaded) return;
    const tool = this.toolOf(loaded);
    const path = this.pathOf(slice, loaded);
    this.key(path);
    lane.line = move.line;
    if (lane.standsWith !== tool || !lane.standsAt || flatDistance(lane.standsAt, path.from) > 1e-6) for (const w of tool.bodies) w.free.clear();
    const { standsWith, standsAt } = lane;
    if (standsWith && standsAt && standsWith !== tool) this.index(lane, standsWith.loaded, loaded, standsAt, move, from);
    lane.standsWith = tool;
    lane.standsAt = path.to;
    const { carrier } = loaded;
    this.tellAll(lane, move.line, from, to, beyondTravel(carrier, travelOf(carrier, this.setting), tool.name, path));
    lane.cutOfMove = 0;
    lane.deepest = 0;
    const removed = this.advance(lane, move, tool, path, from, to - from);
    const falls = removed > 0 ? this.fall(move.line, to) : undefined;
    this.moves.push({
      line: move.line,
      channel: lane.channel.index,
      from,
      to,
      isRapid: move.isRapid,
      path,
      tool: tool.index,
      removed,
      feed: move.feed,
      spindle,
      ...(move.pitch === undefined ? {} : { pitch: move.pitch }),
      ...(falls === undefined ? {} : { falls }),
      ...(slice.to < 1 ? { goesOn: true } : {}),
    });
    if (removed > 0) {
      const depth = lane.cutOfMove / (lengthOfPiece(path) || 1);
      if (move.pitch === undefined) this.tellAll(lane, move.line, from, to, rubs(tool, this.region, path));
      this.tellAll(lane, move.line, from, to, faultsOfCut(tool, move, path, spindle, depth, lane.deepest));
    }
    if (!this.carriers.areSeveral) lane.log.endMove();
  }

  // The carrier is indexed where it stands, at the line that calls the tool.
  private index(lane: Lane, from: LoadedEdge, to: LoadedEdge, at: At, move: Move, time: number): void {
    const { steps } = lane.channel;
    const line = steps.slice(0, steps.indexOf(move)).findLast((s) => s.kind === 'tool')?.line ?? move.line;
    for (const fault of indexFaults(this.setting, from, to, at, this.region, this.obstacles)) lane.log.tell({ ...fault, line, time });
    if (this.carriers.areSeveral) this.carriers.indexed(this.lanes.indexOf(lane), to, this.lanes.map(standingOf), line, time);
    lane.log.endMove();
  }

  private noses(): NoseOf[] {
    return [...this.tools.values()].map(({ name, loaded: { edge } }) => ({ name, radius: edge.own.noseRadius }));
  }

  // What a cut has parted from what is in the chuck falls, and is not there any more.
  private fall(line: number, time: number): number | undefined {
    const z = this.region.apartAt;
    if (z === undefined) return undefined;
    const { volume } = this.region;
    const piece = this.region.copy();
    piece.cut([inFrontOf(z, -1)]);
    this.region.cut([inFrontOf(z)]);
    const { loops } = piece;
    const zs = loops.flatMap((l) => l.map((p) => p[0]));
    this.fallen.push({ line, time, volume: volume - this.region.volume, from: Math.min(...zs), to: Math.max(...zs), loops });
    return z;
  }

  // Keeps the work as it is now, so often that going on from there is quick.
  private key(path: PathPiece): void {
    const { lastKey, region } = this;
    const isDue = this.keys.length === 0 || (region.version !== lastKey.version && lastKey.cuts > CUTS_BETWEEN);
    if (isDue) {
      this.keys.push({ move: this.moves.length, loops: region.loops });
      this.lastKey = { cuts: 0, version: region.version };
    }
    this.lastKey.cuts += path.kind === 'arc' ? CUTS_OF_ARC : 1;
  }

  private tellAll(lane: Lane, line: number, from: number, to: number, faults: readonly MoveFault[]): void {
    for (const { share, ...fault } of faults) lane.log.tell({ ...fault, line, time: from + share * (to - from) });
  }

  /** Moves a tool along a path: cuts with what cuts, and looks what the rest of it gets near to. Gives the mm3 that were taken away. */
  private advance(lane: Lane, move: Move, tool: Tool, path: PathPiece, from: number, seconds: number): number {
    const places = placesAlong(path, tool.outline ?? { mostHeight: 0 });
    const total = lengthOver(path.from, places) || 1;
    let gone = 0;
    let last: At = path.from;
    let volume = 0;
    for (const to of places) {
      const length = flatDistance(last, to);
      const timeAt = (share: number) => from + (seconds * (gone + share * length)) / total;
      volume += this.straight(lane, move, tool, last, to, timeAt);
      gone += length;
      last = to;
    }
    return volume;
  }

  private straight(lane: Lane, move: Move, tool: Tool, from: At, to: At, timeAt: (share: number) => number): number {
    let volume = 0;
    let cutTo = 0;
    const placeAt = (share: number): At => (share >= 1 ? to : [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])]);
    const way: Way = {
      line: move.line,
      isRapid: move.isRapid,
      name: tool.name,
      outline: tool.outline,
      from,
      to,
      length: flatDistance(from, to),
      placeAt,
      timeAt,
      cutUntil: (share) => {
        if (share <= cutTo) return;
        volume += this.cut(lane, move, tool, placeAt(cutTo), placeAt(share), timeAt(cutTo), timeAt(share));
        cutTo = share;
      },
      get cutTo() {
        return cutTo;
      },
    };
    lane.follower.along(way, tool.bodies);
    return volume;
  }

  private cut(lane: Lane, move: Move, tool: Tool, from: At, to: At, start: number, end: number): number {
    const { outline } = tool;
    if (!outline) return 0;
    // Where it stands is cut again though the way before ended there: between the two, rounding would leave slivers.
    const clips: Polygons = move.pitch === undefined ? [...standing(outline, from), ...swept(outline, from, to)] : this.turns(move, tool, outline, from, to);
    for (const { name, region } of this.obstacles) {
      const { depth, at } = widest(region.commonWith(clips));
      if (depth > TOUCH) {
        const time = () => firstTime(region, outline, from, to, start, end);
        this.tell(lane, 'touch', time, move.line, [tool.name, name], depth, at, `${tool.name} cuts ${sayMm(depth)} into the ${name}.`);
      }
    }
    // A thread is cut into what the contour shows as its cylinder.
    if (move.pitch !== undefined) this.threads.push(...this.region.commonWith(clips).map(toUnits));
    const gouge = move.isRapid || move.pitch !== undefined ? undefined : this.gouge(clips);
    const before = move.isRapid ? this.region.copy() : undefined;
    const { area, volume } = this.region.cut(clips);
    if (area < NO_CUT) return 0;
    lane.cutOfMove += area;
    const length = flatDistance(from, to);
    if (length > LEAST_STRETCH) lane.deepest = Math.max(lane.deepest, area / length);
    if (gouge && this.contour) {
      const { contour } = this;
      const time = () => firstTime(contour, outline, from, to, start, end, this.setting.job.tolerance);
      this.tell(lane, 'gouge', time, move.line, [tool.name, 'part'], gouge.depth, gouge.at, `${tool.name} cuts ${sayMm(gouge.depth)} into the part.`);
    }
    const into = before && widest(before.commonWith(clips));
    if (before && into && into.depth > TOUCH) {
      const time = () => firstTime(before, outline, from, to, start, end);
      this.tell(
        lane,
        'rapid',
        time,
        move.line,
        [tool.name, 'work'],
        into.depth,
        into.at,
        `${tool.name} goes through ${sayMm(into.depth)} of the work in rapid.`,
      );
    }
    return volume;
  }

  private turns({ path, pitch = 0 }: Move, { loaded: { edge } }: Tool, outline: CuttingOutline, from: At, to: At): Polygons {
    const { Z, X } = edge.atWork;
    const reference = mapPiece(path, ([z, x]): FlatPoint => [z - Z, x - X]);
    const shareOf = (at: At) => (at[0] - reference.from[0]) / (reference.to[0] - reference.from[0]);
    return turnsBetween(outline, reference, pitch, shareOf(from), shareOf(to));
  }

  // How deep what is there of the part would be cut into, where that is more than it may.
  private gouge(clips: Polygons): { readonly depth: number; readonly at: FlatPoint } | undefined {
    const { contour, contourDepth } = this;
    if (!contour || !contourDepth) return undefined;
    const deepestOf = (places: readonly FlatPoint[]) =>
      places.reduce<{ depth: number; at: FlatPoint }>(
        (most, at) => {
          const depth = contourDepth.depth(at[0], at[1]);
          return depth > most.depth ? { depth, at } : most;
        },
        { depth: this.setting.job.tolerance, at: [0, 0] },
      );
    const inPart = contour.commonWith(clips);
    if (deepestOf(inPart.flat()).depth <= this.setting.job.tolerance) return undefined;
    // Only what is still there is cut.
    const deepest = deepestOf(this.region.commonWith(inPart.map(toUnits)).flat());
    return deepest.depth > this.setting.job.tolerance ? deepest : undefined;
  }

  private tell(
    lane: Lane,
    kind: EventKind,
    time: number | (() => number),
    line: number,
    between: readonly string[],
    depth: number,
    at: FlatPoint,
    message: string,
  ): void {
    lane.log.tell({ kind, time, line, between, depth, at, message });
  }
}

// Where a channel's carrier stands, as a way that goes nowhere.
const standingOf = ({ standsAt, standsWith, line }: Lane): CarrierWay | undefined =>
  standsAt && standsWith && { loaded: standsWith.loaded, path: { kind: 'line', from: standsAt, to: standsAt }, line };

// mm. A stretch of a way that is shorter says nothing of how deep a cut is.
const LEAST_STRETCH = 0.5;

// mm. Chords that the fitted part may stand off.
const FIT = 1e-3;

const lengthOver = (from: At, places: readonly At[]): number =>
  places.reduce<[number, At]>(([sum, last], to) => [sum + flatDistance(last, to), to], [0, from])[0];

// Cuts after which the work is kept; what an arc counts for.
const CUTS_BETWEEN = 60;
const CUTS_OF_ARC = 20;
