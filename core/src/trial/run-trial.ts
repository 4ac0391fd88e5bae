import { issue, type Issue } from '#core/issues';
import { areaOfPolygon, type FlatPoint, fitPath, flatDistance, flattenPath, type HalfProfile, mapPiece, type PathPiece, profileDistance } from '#core/outline';
import { checkStock, compareWith, type Difference, type NoseOf, notCompensated, type OffAt, offAlong } from './compare.ts';
import { cuttingOutline, type CuttingOutline, isAboutAxis, isDrivenAcross } from './cut/cutting-outline.ts';
import { type At, placesAlong, standing, swept } from './cut/sweep.ts';
import { turnsBetween } from './cut/thread.ts';
import { type EventKind, EventLog, sayMm, type TrialEvent } from './events.ts';
import type { Move, Step } from './program/moves.ts';
import { type Polygons, together, toUnits } from './region/clip.ts';
import { inFrontOf, Region } from './region/region.ts';
import type { Key, Recording, RunMove, RunTool } from './replay.ts';
import { edgeOf, type LoadedEdge, travelOf, type TrialSetting } from './setting.ts';
import { secondsOf } from './timing.ts';
import { type Obstacle, obstaclesOf } from './touch/obstacles.ts';
import { Follower, TOUCH, type Watched, watchedBodies, type Way } from './touch/follow.ts';

export interface TrialResult {
  readonly stock: Region;
  /** What comes out: what was parted off last, else what is in the chuck. */
  readonly part: HalfProfile;
  readonly removedVolume: number;
  /** What was parted off and fell, piece by piece. */
  readonly fallen: readonly Fallen[];
  /** s. */
  readonly time: number;
  readonly events: readonly TrialEvent[];
  readonly against: Difference | undefined;
  /** The same along the contour. */
  readonly along: readonly OffAt[] | undefined;
  readonly warnings: readonly Issue[];
  readonly recording: Recording;
}

/** A piece that hangs on nothing any more. */
export interface Fallen {
  readonly line: number;
  /** s. */
  readonly time: number;
  /** mm3. */
  readonly volume: number;
  /** Along Z of the part, mm. */
  readonly from: number;
  readonly to: number;
  readonly loops: readonly (readonly FlatPoint[])[];
}

// mm2. What a move takes away by rounding only is no cut.
const NO_CUT = 1e-5;

interface Tool {
  readonly index: number;
  readonly loaded: LoadedEdge;
  readonly outline: CuttingOutline | undefined;
  readonly name: string;
  readonly bodies: readonly Watched[];
  /** Largest speed of the spindle. */
  readonly largest: number;
}

/** Runs the steps of a program: cuts the stock, and tells what goes wrong. Gives way between moves, with how far it is (0 to 1). */
export function* runTrial(setting: TrialSetting, steps: readonly Step[], stock: HalfProfile): Generator<number, TrialResult> {
  const run = new Run(setting, stock);
  for (const [i, step] of steps.entries()) {
    if (i % 64 === 0) yield i / steps.length;
    run.step(step);
  }
  return run.result();
}

/** The same at once. */
export function runToEnd(setting: TrialSetting, steps: readonly Step[], stock: HalfProfile): TrialResult {
  const job = runTrial(setting, steps, stock);
  let step = job.next();
  while (!step.done) step = job.next();
  return step.value;
}

/** What comes out of a trial as what another one starts with: its pieces, hollows in them left out. */
export const wholePieces = (part: HalfProfile): HalfProfile => part.filter((loop) => areaOfPolygon(flattenPath(loop, 0.01, false)) > 0);

class Run {
  private readonly setting: TrialSetting;
  private readonly region: Region;
  private readonly contour: Region | undefined;
  private readonly contourDepth: ReturnType<typeof profileDistance> | undefined;
  private readonly obstacles: readonly Obstacle[];
  private readonly tools = new Map<LoadedEdge, Tool>();
  private readonly log = new EventLog();
  private readonly follower: Follower;
  private readonly moves: RunMove[] = [];
  private readonly runTools: RunTool[] = [];
  private readonly keys: Key[] = [];
  private lastKey = { cuts: 0, version: -1 };
  private readonly threads: Polygons = [];
  private readonly fallen: Fallen[] = [];
  private readonly stockVolume: number;
  private readonly warnings: Issue[];
  private time = 0;
  private standsAt: At | undefined;
  private standsWith: Tool | undefined;

  constructor(setting: TrialSetting, stock: HalfProfile) {
    this.setting = setting;
    this.region = Region.ofProfile(stock);
    this.stockVolume = this.region.volume;
    const { contour } = setting.job;
    this.warnings = checkStock(contour, stock);
    this.contour = contour && Region.ofProfile(contour);
    this.contourDepth = contour && profileDistance(contour);
    this.obstacles = obstaclesOf(setting);
    this.follower = new Follower(this.region, this.obstacles, setting.job.clearance, this.log);
  }

  step(step: Step): void {
    if (step.kind === 'dwell') this.time += step.seconds;
    if (step.kind === 'tool') this.standsAt = undefined;
    if (step.kind === 'move') this.move(step);
  }

  result(): TrialResult {
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
      time: this.time,
      events: this.log.all,
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
    const spindle = setting.parts.machine.spindles[setting.job.spindle] ?? setting.parts.machine.spindles.main;
    const tool: Tool = {
      index: this.runTools.length,
      loaded,
      outline,
      name: edge.own.name,
      bodies: watchedBodies(row, edge.own.piece, setting, outline !== undefined),
      largest: spindle.largestSpeed,
    };
    if (!outline) this.warnings.push(issue(isDrivenAcross(edge) ? 'trial.driven' : 'trial.no-edge', { name: tool.name }));
    this.tools.set(loaded, tool);
    this.runTools.push({ name: tool.name, placeId: row.place.id, outline });
    return tool;
  }

  private move(move: Move): void {
    const loaded = edgeOf(this.setting, move.tool, move.offset);
    if (!loaded) return;
    const tool = this.toolOf(loaded);
    const { atWork } = loaded.edge;
    const path = mapPiece(move.path, ([z, x]): FlatPoint => [z - atWork.Z, x - atWork.X]);
    const seconds = secondsOf(move.path, move.isRapid, move.feed, move.spindle, tool.largest);
    const from = this.time;
    this.key(path);
    if (this.standsWith !== tool || !this.standsAt || flatDistance(this.standsAt, path.from) > 1e-6) for (const w of tool.bodies) w.free.clear();
    this.standsWith = tool;
    this.standsAt = path.to;
    this.travel(move, tool, path, from);
    const removed = this.advance(move, tool, path, from, Number.isFinite(seconds) ? seconds : 0);
    this.time += Number.isFinite(seconds) ? seconds : 0;
    const falls = removed > 0 ? this.fall(move.line) : undefined;
    this.moves.push({
      line: move.line,
      from,
      to: this.time,
      isRapid: move.isRapid,
      path,
      tool: tool.index,
      removed,
      ...(move.pitch === undefined ? {} : { pitch: move.pitch }),
      ...(falls === undefined ? {} : { falls }),
    });
    if (removed > 0) this.judge(move, tool, path, from, seconds);
    this.log.endMove();
  }

  private noses(): NoseOf[] {
    return [...this.tools.values()].map(({ name, loaded: { edge } }) => ({ name, radius: edge.own.noseRadius }));
  }

  // What a cut has parted from what is in the chuck falls, and is not there any more.
  private fall(line: number): number | undefined {
    const z = this.region.apartAt;
    if (z === undefined) return undefined;
    const { volume } = this.region;
    const piece = this.region.copy();
    piece.cut([inFrontOf(z, -1)]);
    this.region.cut([inFrontOf(z)]);
    const { loops } = piece;
    const zs = loops.flatMap((l) => l.map((p) => p[0]));
    this.fallen.push({ line, time: this.time, volume: volume - this.region.volume, from: Math.min(...zs), to: Math.max(...zs), loops });
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

  // Whether the carrier can go there.
  private travel(move: Move, { loaded, name }: Tool, { to }: PathPiece, time: number): void {
    const { z, x } = travelOf(loaded.carrier, this.setting);
    const beyond = (v: number, [low, high]: readonly [number, number]) => Math.max(0, low - v, v - high);
    const [dz, dx] = [beyond(to[0], z), beyond(to[1], x)];
    const by = Math.max(dz, dx);
    if (by < 1e-6) return;
    const axis = dz >= dx ? 'Z' : 'X';
    this.tell(
      'travel',
      time,
      move.line,
      [name, loaded.carrier.name],
      by,
      to,
      `${loaded.carrier.name} would have to go ${sayMm(by)} beyond its travel along ${axis}.`,
    );
  }

  // What is wrong with a move that cuts.
  private judge(move: Move, { loaded, name }: Tool, path: PathPiece, time: number, seconds: number): void {
    const { edge } = loaded;
    const at = path.from;
    const { spindle } = move;
    if (move.isRapid) return;
    if (isAboutAxis(edge) && Math.abs(path.to[1] - path.from[1]) > SIDEWAYS)
      this.tell('feed', time, move.line, [name, 'work'], 0, at, `${name} is fed across its axis; it cuts along it.`);
    if (!spindle.sense || !Number.isFinite(seconds)) this.tell('sense', time, move.line, [name, 'work'], 0, at, `${name} cuts, and the spindle stands still.`);
    else if (edge.sense && !edge.own.spins && spindle.sense !== edge.sense)
      this.tell('sense', time, move.line, [name, 'work'], 0, at, `${name} cuts with ${edge.sense}, and the spindle turns with ${spindle.sense}.`);
  }

  /** Moves a tool along a path: cuts with what cuts, and looks what the rest of it gets near to. Gives the mm3 that were taken away. */
  private advance(move: Move, tool: Tool, path: PathPiece, from: number, seconds: number): number {
    const places = placesAlong(path, tool.outline ?? { mostHeight: 0 });
    const total = lengthOver(path.from, places) || 1;
    let gone = 0;
    let last: At = path.from;
    let volume = 0;
    for (const to of places) {
      const length = flatDistance(last, to);
      const timeAt = (share: number) => from + (seconds * (gone + share * length)) / total;
      volume += this.straight(move, tool, last, to, timeAt);
      gone += length;
      last = to;
    }
    return volume;
  }

  private straight(move: Move, tool: Tool, from: At, to: At, timeAt: (share: number) => number): number {
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
        volume += this.cut(move, tool, placeAt(cutTo), placeAt(share), timeAt(cutTo), timeAt(share));
        cutTo = share;
      },
      get cutTo() {
        return cutTo;
      },
    };
    this.follower.along(way, tool.bodies);
    return volume;
  }

  private cut(move: Move, tool: Tool, from: At, to: At, start: number, end: number): number {
    const { outline } = tool;
    if (!outline) return 0;
    // Where it stands is cut again though the way before ended there: between the two, rounding would leave slivers.
    const clips: Polygons = move.pitch === undefined ? [...standing(outline, from), ...swept(outline, from, to)] : this.turns(move, tool, outline, from, to);
    for (const { name, region } of this.obstacles) {
      const { depth, at } = widest(region.commonWith(clips));
      if (depth > TOUCH) {
        const time = firstTime(region, outline, from, to, start, end);
        this.tell('touch', time, move.line, [tool.name, name], depth, at, `${tool.name} cuts ${sayMm(depth)} into the ${name}.`);
      }
    }
    // A thread is cut into what the contour shows as its cylinder.
    if (move.pitch !== undefined) this.threads.push(...this.region.commonWith(clips).map(toUnits));
    const gouge = move.isRapid || move.pitch !== undefined ? undefined : this.gouge(clips);
    const before = move.isRapid ? this.region.copy() : undefined;
    const { area, volume } = this.region.cut(clips);
    if (area < NO_CUT) return 0;
    if (gouge && this.contour) {
      const time = firstTime(this.contour, outline, from, to, start, end, this.setting.job.tolerance);
      this.tell('gouge', time, move.line, [tool.name, 'part'], gouge.depth, gouge.at, `${tool.name} cuts ${sayMm(gouge.depth)} into the part.`);
    }
    const into = before && widest(before.commonWith(clips));
    if (before && into && into.depth > TOUCH) {
      const time = firstTime(before, outline, from, to, start, end);
      this.tell('rapid', time, move.line, [tool.name, 'work'], into.depth, into.at, `${tool.name} goes through ${sayMm(into.depth)} of the work in rapid.`);
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

  private tell(kind: EventKind, time: number, line: number, between: readonly string[], depth: number, at: FlatPoint, message: string): void {
    this.log.tell({ kind, time, line, between, depth, at, message });
  }
}

// mm. Chords that the fitted part may stand off.
const FIT = 1e-3;

const lengthOver = (from: At, places: readonly At[]): number =>
  places.reduce<[number, At]>(([sum, last], to) => [sum + flatDistance(last, to), to], [0, from])[0];

// How wide what polygons cover is, the smaller way, where it is most.
function widest(polygons: readonly (readonly FlatPoint[])[]): { depth: number; at: FlatPoint } {
  let depth = 0;
  let at: FlatPoint = [0, 0];
  for (const p of polygons) {
    const [zs, rs] = [p.map((q) => q[0]), p.map((q) => q[1])];
    const [z0, z1, r0, r1] = [Math.min(...zs), Math.max(...zs), Math.min(...rs), Math.max(...rs)];
    const across = Math.min(z1 - z0, r1 - r0);
    if (across > depth) [depth, at] = [across, [(z0 + z1) / 2, (r0 + r1) / 2]];
  }
  return { depth, at };
}

// When an outline on its way first goes into a region by more than `by` mm: by halves.
function firstTime(region: Region, outline: CuttingOutline, from: At, to: At, start: number, end: number, by = TOUCH): number {
  let [low, high] = [0, 1];
  for (let i = 0; i < HALVES; i++) {
    const t = (low + high) / 2;
    const at: At = [from[0] + t * (to[0] - from[0]), from[1] + t * (to[1] - from[1])];
    if (widest(region.commonWith([...standing(outline, from), ...swept(outline, from, at)])).depth > by) high = t;
    else low = t;
  }
  return start + high * (end - start);
}

// mm. What cuts along its axis is fed no farther across it.
const SIDEWAYS = 0.01;

// Cuts after which the work is kept; what an arc counts for.
const CUTS_BETWEEN = 60;
const CUTS_OF_ARC = 20;

// Halves of a way: a thousandth of a millimetre of half a metre.
const HALVES = 16;
