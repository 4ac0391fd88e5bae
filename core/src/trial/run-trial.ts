import { carriedWith, type StationRow } from '#core/carrier';
import { compose, frameFromWorld } from '#core/math';
import { type FlatPoint, fitPath, flatDistance, type HalfProfile, mapPiece, type PathPiece, profileDistance } from '#core/outline';
import { compareWith, type Difference } from './compare.ts';
import { cuttingOutline, type CuttingOutline } from './cut/cutting-outline.ts';
import { type At, imageAt, placesAlong, standing, swept } from './cut/sweep.ts';
import type { Move, Step } from './program/moves.ts';
import type { Polygons } from './region/clip.ts';
import { Region } from './region/region.ts';
import type { Key, Recording, RunMove, RunTool } from './replay.ts';
import { edgeOf, type LoadedEdge, travelOf, type TrialSetting } from './setting.ts';
import { secondsOf } from './timing.ts';
import { type Obstacle, obstaclesOf } from './touch/obstacles.ts';
import { LEAD, PART, shadowBehind } from './touch/shadow.ts';
import { type Shadow, TurnedBody } from './touch/turned-body.ts';

export type EventKind = 'touch' | 'rapid' | 'gouge' | 'sense' | 'travel' | 'near';

/** Nearness alone is no fault. */
export const isFault = ({ kind }: { readonly kind: EventKind }): boolean => kind !== 'near';

/** Something that goes wrong in a trial. Of what belongs together one is told, with its start and its worst. */
export interface TrialEvent {
  readonly kind: EventKind;
  /** s from the start; line of the program. */
  readonly time: number;
  readonly line: number;
  /** What it happens to. */
  readonly between: readonly string[];
  /** mm: how deep it goes; of a near miss how near, of travel how far beyond. */
  readonly depth: number;
  /** [z, r] of the part. */
  readonly at: FlatPoint;
  readonly message: string;
  /** The body of the set-up that it happens to: its place, its piece and its id in the piece's model. */
  readonly body?: BodyRef;
}

export interface BodyRef {
  readonly placeId: string;
  readonly piece: string;
  readonly id: string;
}

export interface TrialResult {
  readonly stock: Region;
  readonly part: HalfProfile;
  readonly removedVolume: number;
  /** s. */
  readonly time: number;
  readonly events: readonly TrialEvent[];
  readonly against: Difference | undefined;
  readonly recording: Recording;
}

// mm. A touch deeper than this is told; a distance below half of it is a touch that is to be looked at.
const TOUCH = 0.005;
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

/** A body with what is known of how far it is from each of what it must not touch. */
interface Watched {
  readonly body: TurnedBody;
  readonly free: Map<Obstacle | 'stock', number>;
  readonly touching: Set<Obstacle | 'stock'>;
  readonly ref: BodyRef;
}

/** A straight way of a tool, and how far it has cut along it. */
interface Way {
  readonly move: Move;
  readonly tool: Tool;
  readonly length: number;
  readonly placeAt: (share: number) => At;
  readonly timeAt: (share: number) => number;
  cutTo: number;
  volume: number;
  /** What is to be looked at once the way is cut, and where on it. */
  readonly later: [Watched, number][];
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

class Run {
  private readonly setting: TrialSetting;
  private readonly region: Region;
  private readonly contour: Region | undefined;
  private readonly contourDepth: ReturnType<typeof profileDistance> | undefined;
  private readonly obstacles: readonly Obstacle[];
  private readonly tools = new Map<LoadedEdge, Tool>();
  private readonly events: TrialEvent[] = [];
  private readonly moves: RunMove[] = [];
  private readonly runTools: RunTool[] = [];
  private readonly keys: Key[] = [];
  private lastKey = { cuts: 0, version: -1 };
  private readonly stockVolume: number;
  /** mm; never so little that a touch would be taken for room. */
  private readonly clearance: number;
  private time = 0;
  /** Events that go on from one move to the next, by what they are. */
  private open = new Map<string, { index: number; move: number }>();
  private standsAt: At | undefined;
  private standsWith: Tool | undefined;

  constructor(setting: TrialSetting, stock: HalfProfile) {
    this.setting = setting;
    this.region = Region.ofProfile(stock);
    this.stockVolume = this.region.volume;
    this.clearance = Math.max(setting.job.clearance, TOUCH);
    const { contour } = setting.job;
    this.contour = contour && Region.ofProfile(contour);
    this.contourDepth = contour && profileDistance(contour);
    this.obstacles = obstaclesOf(setting);
  }

  step(step: Step): void {
    if (step.kind === 'dwell') this.time += step.seconds;
    if (step.kind === 'tool') this.standsAt = undefined;
    if (step.kind === 'move') this.move(step);
  }

  result(): TrialResult {
    const { contour, tolerance } = this.setting.job;
    const loops = this.region.loops;
    const part = loops.map((l) => fitPath(l, { tolerance: Math.min(tolerance, 0.001) / 10, sag: FIT }));
    const against = contour && compareWith(contour, this.region);
    const events = [...this.events].sort((a, b) => a.time - b.time);
    return {
      stock: this.region,
      part,
      removedVolume: this.stockVolume - this.region.volume,
      time: this.time,
      events,
      against,
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
    this.moves.push({ line: move.line, from, to: this.time, isRapid: move.isRapid, path, tool: tool.index, removed });
    if (removed > 0) this.judge(move, tool, path, from, seconds);
    // What did not go on in this move is over.
    // A spindle that turns the wrong way is one fault, however often it shows.
    for (const [key, { move: last }] of this.open) if (last < this.moves.length - 1 && !key.startsWith('sense')) this.open.delete(key);
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
      `${loaded.carrier.name} would have to go ${say(by)} beyond its travel along ${axis}.`,
    );
  }

  // What is wrong with a move that cuts.
  private judge(move: Move, { loaded, name }: Tool, path: PathPiece, time: number, seconds: number): void {
    const { edge } = loaded;
    const at = path.from;
    const { spindle } = move;
    if (move.isRapid) return;
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
    const length = flatDistance(from, to);
    const way: Way = {
      move,
      tool,
      length,
      placeAt: (share) => (share >= 1 ? to : [from[0] + share * (to[0] - from[0]), from[1] + share * (to[1] - from[1])]),
      timeAt,
      cutTo: 0,
      volume: 0,
      later: [],
    };
    // What is known to be free for the whole way is not looked at.
    const near: [Watched, Obstacle | 'stock'][] = [];
    for (const watched of tool.bodies)
      for (const against of [...this.obstacles, 'stock' as const]) {
        const free = watched.free.get(against) ?? 0;
        if (free > length + this.clearance) watched.free.set(against, free - length);
        else near.push([watched, against]);
      }
    const ofStock = near.filter(([, against]) => against === 'stock');
    for (const [watched, against] of near) if (against !== 'stock') this.follow(way, watched, against, 0, 1, undefined);
    if (ofStock.length > 0)
      this.followStock(
        way,
        ofStock.map(([watched]) => watched),
        from,
        to,
      );
    this.cutUntil(way, 1);
    for (const [watched, share] of way.later) {
      const place = way.placeAt(share);
      const by = watched.body.distanceTo(this.region, place, place, this.clearance);
      if (by < this.clearance) this.near(way, watched, 'stock', by, share);
    }
    return way.volume;
  }

  // The work changes on the way: it is looked at in parts, each with what was cut before it. From the second one on, what is right behind the edge is in its shadow.
  private followStock(way: Way, bodies: readonly Watched[], from: At, to: At): void {
    const { outline } = way.tool;
    const cuts = outline !== undefined && !way.move.isRapid;
    const parts = Math.max(1, cuts ? Math.floor(way.length / PART) : 1);
    for (let k = 0; k < parts; k++) {
      const [a, b] = [k / parts, (k + 1) / parts];
      this.cutUntil(way, a);
      // Only what keeps its image on the way keeps its shadow: what lies in the plane of the axis, or moves along it.
      const isRigid = cuts && (outline.mostHeight < LEVEL || Math.abs(to[1] - from[1]) < LEVEL);
      const isBehind = isRigid && a * way.length >= LEAD;
      const shadow = isBehind ? shadowBehind(imageAt(outline, way.placeAt(a)), [to[0] - from[0], to[1] - from[1]]) : undefined;
      for (const watched of bodies) this.follow(way, watched, 'stock', a, b, shadow);
    }
  }

  private cutUntil(way: Way, share: number): void {
    if (share <= way.cutTo) return;
    way.volume += this.cut(way.move, way.tool, way.placeAt(way.cutTo), way.placeAt(share), way.timeAt(way.cutTo), way.timeAt(share));
    way.cutTo = share;
  }

  /** Looks at a part of a way of a body: as a whole where it stays free, else in halves, at last step by step. */
  private follow(way: Way, watched: Watched, against: Obstacle | 'stock', a: number, b: number, shadow: Shadow | undefined): void {
    const region = against === 'stock' ? this.region : against.region;
    const { clearance } = this;
    const [p, q] = [way.placeAt(a), way.placeAt(b)];
    const length = way.length * (b - a);
    // What is told of what the edge hides holds for this part only: no more than that it is clear is asked then.
    const most = shadow ? Math.max(clearance, TOUCH) : Math.min(FARTHEST, 2 * length) + 2 * clearance + 1;
    const free = watched.body.distanceTo(region, p, q, most, shadow);
    // The box around a slanting way is wider than the way.
    const slant = Math.min(Math.abs(q[0] - p[0]), Math.abs(q[1] - p[1]));
    // Surely free, and near to work that may be cut on this very way: how near is looked at when it is.
    const isKnown = against !== 'stock' || shadow !== undefined || !way.tool.outline || way.move.isRapid;
    if (free >= clearance || (free > TOUCH / 2 && slant <= free / 2)) {
      watched.free.set(against, shadow ? 0 : free);
      if (free < clearance && isKnown) this.near(way, watched, against, free, a);
      else if (free < clearance) way.later.push([watched, b]);
      return;
    }
    if (length <= PART && watched.touching.has(against) && this.goesOn(way, watched, against, b)) return;
    if (length > SHORTEST) {
      const middle = (a + b) / 2;
      this.follow(way, watched, against, a, middle, shadow);
      this.follow(way, watched, against, middle, b, shadow);
      return;
    }
    this.stepAlong(way, watched, against, a, b);
  }

  // What touched before is looked at where the part ends: as long as it touches there it goes on.
  private goesOn(way: Way, watched: Watched, against: Obstacle | 'stock', b: number): boolean {
    const { outline } = way.tool;
    const region = against === 'stock' ? this.region.copy() : against.region;
    if (against === 'stock' && outline) region.cut([...standing(outline, way.placeAt(way.cutTo)), ...swept(outline, way.placeAt(way.cutTo), way.placeAt(b))]);
    const at = way.placeAt(b);
    const deep = watched.body.depthIn(region, at);
    if (deep.depth <= TOUCH) {
      // It may go on along a wall without going into it.
      if (watched.body.distanceTo(region, at, at, TOUCH) < TOUCH / 2) return true;
      watched.touching.delete(against);
      return false;
    }
    this.touch(way.move, way.tool, watched, against === 'stock' ? 'work' : against.name, way.timeAt(b), deep);
    watched.free.set(against, 0);
    return true;
  }

  private near(way: Way, watched: Watched, against: Obstacle | 'stock', by: number, share: number): void {
    const name = against === 'stock' ? 'work' : against.name;
    this.tell(
      'near',
      way.timeAt(share),
      way.move.line,
      [watched.body.name, name],
      by,
      way.placeAt(share),
      `${watched.body.name} gets as near as ${say(by)} to the ${name}.`,
      watched.ref,
    );
  }

  /** Follows a body along a part of a way by its distance: no step is longer than it is free. */
  private stepAlong(way: Way, watched: Watched, against: Obstacle | 'stock', a: number, b: number): void {
    // Other bodies are still to be looked at with the work as it is at the start.
    const region = against === 'stock' ? this.region.copy() : against.region;
    const name = against === 'stock' ? 'work' : against.name;
    const { clearance } = this;
    const { outline } = way.tool;
    let cutTo = way.cutTo;
    const cutUntil = (share: number) => {
      if (against !== 'stock' || !outline || share <= cutTo) return false;
      const [from, to] = [way.placeAt(cutTo), way.placeAt(share)];
      cutTo = share;
      return region.cut([...standing(outline, from), ...swept(outline, from, to)]).area > 0;
    };
    let share = a;
    let nearest = Infinity;
    let nearestAt = a;
    let free = FARTHEST;
    for (;;) {
      const place = way.placeAt(share);
      // No farther than before by more than it moved.
      const most = Math.min(FARTHEST, free + way.length * (b - a)) + clearance;
      free = watched.body.distanceTo(region, place, place, most);
      // What was in the way may have been cut on the way.
      if (free < clearance && cutUntil(share)) free = watched.body.distanceTo(region, place, place, most);
      if (free < nearest) [nearest, nearestAt] = [free, share];
      if (free < TOUCH / 2) {
        cutUntil(b);
        const looks = Array.from({ length: LOOKS + 1 }, (_, k) => share + ((b - share) * k) / LOOKS);
        const worst = looks.map((at) => ({ ...watched.body.depthIn(region, way.placeAt(at)), share: at })).reduce((m, d) => (d.depth > m.depth ? d : m));
        watched.touching.add(against);
        if (worst.depth > TOUCH) this.touch(way.move, way.tool, watched, name, way.timeAt(share), worst);
        else this.near(way, watched, against, 0, share);
        watched.free.set(against, 0);
        return;
      }
      if (share >= b || way.length === 0) break;
      share = Math.min(b, share + Math.max(free, TOUCH / 2) / way.length);
    }
    watched.free.set(against, free);
    if (nearest < clearance) this.near(way, watched, against, nearest, nearestAt);
  }

  private touch(move: Move, tool: Tool, watched: Watched, name: string, time: number, { depth, at }: { depth: number; at: FlatPoint }): void {
    const message = `${watched.body.name} goes ${say(depth)} into the ${name} while ${tool.name} ${move.isRapid ? 'moves in rapid' : 'works'}.`;
    this.tell('touch', time, move.line, [watched.body.name, name], depth, at, message, watched.ref);
  }

  private cut(move: Move, tool: Tool, from: At, to: At, start: number, end: number): number {
    const { outline } = tool;
    if (!outline) return 0;
    const clips: Polygons = [...standing(outline, from), ...swept(outline, from, to)];
    for (const { name, region } of this.obstacles) {
      const { depth, at } = widest(region.commonWith(clips));
      if (depth > TOUCH) {
        const time = firstTime(region, outline, from, to, start, end);
        this.tell('touch', time, move.line, [tool.name, name], depth, at, `${tool.name} cuts ${say(depth)} into the ${name}.`);
      }
    }
    const gouged = this.contour && !move.isRapid ? this.contour.commonWith(clips) : [];
    const into = move.isRapid ? this.region.commonWith(clips) : [];
    const before = move.isRapid ? this.region.copy() : this.region;
    const { area, volume } = this.region.cut(clips);
    if (area < NO_CUT) return 0;
    if (move.isRapid) {
      const { depth, at } = widest(into);
      if (depth > TOUCH) {
        const time = firstTime(before, outline, from, to, start, end);
        this.tell('rapid', time, move.line, [tool.name, 'work'], depth, at, `${tool.name} goes through ${say(depth)} of the work in rapid.`);
      }
    }
    let deepest: { depth: number; at: FlatPoint } = { depth: 0, at: from };
    for (const at of gouged.flat()) {
      const depth = this.contourDepth?.depth(at[0], at[1]) ?? 0;
      if (depth > deepest.depth) deepest = { depth, at };
    }
    if (this.contour && deepest.depth > this.setting.job.tolerance) {
      const time = firstTime(this.contour, outline, from, to, start, end, this.setting.job.tolerance);
      this.tell('gouge', time, move.line, [tool.name, 'part'], deepest.depth, deepest.at, `${tool.name} cuts ${say(deepest.depth)} into the part.`);
    }
    return volume;
  }

  // Of what goes on from one move to the next one event is told, with where it began and its worst.
  private tell(kind: EventKind, time: number, line: number, between: readonly string[], depth: number, at: FlatPoint, message: string, body?: BodyRef): void {
    const key = `${kind} ${between.join(' ')}`;
    const open = this.open.get(key);
    const worse = (a: number, b: number) => (kind === 'near' ? a < b : a > b);
    if (open) {
      const before = this.events[open.index];
      // A near miss is told where it is nearest, what goes on where it began.
      if (worse(depth, before.depth)) this.events[open.index] = { ...before, depth, at, message, ...(kind === 'near' ? { time, line } : {}) };
      open.move = this.moves.length;
      return;
    }
    this.open.set(key, { index: this.events.length, move: this.moves.length });
    this.events.push({ kind, time, line, between, depth, at, message, ...(body ? { body } : {}) });
  }
}

// mm. Farther than this nothing is measured; a step is no longer than that either.
const FARTHEST = 60;
// mm. A way that is no longer is followed step by step.
const SHORTEST = 0.25;
// mm. Lower than this, an edge is in the plane of the axis.
const LEVEL = 1e-6;
// Places of a way that goes through something at which its depth is looked at.
const LOOKS = 4;
// mm. Chords that the fitted part may stand off.
const FIT = 1e-3;

const say = (mm: number): string => `${mm.toFixed(3)} mm`;

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

// Cuts after which the work is kept; what an arc counts for.
const CUTS_BETWEEN = 60;
const CUTS_OF_ARC = 20;

// Halves of a way: a thousandth of a millimetre of half a metre.
const HALVES = 16;

// All that stands on the carrier while a station works, but what cuts itself.
function watchedBodies(row: StationRow, piece: string, { table, parts, planeFor }: TrialSetting, hasOutline: boolean): Watched[] {
  const { carrier } = row;
  if (!carrier) return [];
  const plane = { ...planeFor(carrier), origin: [0, 0, 0] as const };
  const planeFromMachine = frameFromWorld(plane);
  const carried = carriedWith(row, table, parts);
  const watched = carried.filter((c) => !(hasOutline && c.cuts && c.station === row.place.station && c.piece === piece));
  return watched.map((c) => {
    // Names of bodies in vendors' files say little by themselves.
    const isOnly = carried.filter((o) => o.station === c.station && o.piece === c.piece).length === 1;
    const name = isOnly || c.component === c.body ? c.component : `${c.component}, ${c.body}`;
    return {
      body: new TurnedBody(
        c.station === row.place.station || c.station === 0 ? name : `station ${c.station}, ${name}`,
        c.mesh,
        compose(planeFromMachine, c.motion),
      ),
      free: new Map(),
      touching: new Set(),
      ref: { placeId: c.placeId, piece: c.piece, id: c.bodyId },
    };
  });
}
