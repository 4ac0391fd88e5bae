import { type Carried, carriedWith } from '#core/carrier';
import { compose, frameFromWorld } from '#core/math';
import type { FlatPoint } from '#core/outline';
import type { CuttingOutline } from '../cut/cutting-outline.ts';
import { type At, imageAt, standing, swept } from '../cut/sweep.ts';
import { type BodyRef, type EventLog, sayMm } from '../events.ts';
import type { Region } from '../region/region.ts';
import type { LoadedEdge, TrialSetting } from '../setting.ts';
import type { Obstacle } from './obstacles.ts';
import { LEAD, PART, shadowBehind } from './shadow.ts';
import { isShortAcross, type Shadow, TurnedBody } from './turned-body.ts';

/** mm. A touch deeper than this is told; a distance below half of it is a touch that is to be looked at. */
export const TOUCH = 0.005;

/** A body with what is known of how far it is from each of what it must not touch. */
export interface Watched {
  readonly body: TurnedBody;
  readonly free: Map<Obstacle | 'stock', number>;
  readonly touching: Set<Obstacle | 'stock'>;
  readonly ref: BodyRef;
}

/** A straight way of a tool. */
export interface Way {
  readonly line: number;
  readonly isRapid: boolean;
  /** Of the tool, and what of it cuts. */
  readonly name: string;
  readonly outline: CuttingOutline | undefined;
  readonly from: At;
  readonly to: At;
  readonly length: number;
  readonly placeAt: (share: number) => At;
  readonly timeAt: (share: number) => number;
  /** Cuts the work up to a share of the way; how far that is done. */
  readonly cutUntil: (share: number) => void;
  readonly cutTo: number;
}

/** Follows the bodies of a tool on its ways, and tells what they touch and what they get near to. */
export class Follower {
  private readonly work: Region;
  private readonly against: readonly (Obstacle | 'stock')[];
  private readonly log: EventLog;
  /** mm; never so little that a touch would be taken for room. */
  private readonly clearance: number;
  /** What is to be looked at once a way is cut, and where on it. */
  private later: [Watched, number][] = [];

  /** `work`: as it is cut, by whoever cuts it. */
  constructor(work: Region, obstacles: readonly Obstacle[], clearance: number, log: EventLog) {
    this.work = work;
    this.against = [...obstacles, 'stock'];
    this.log = log;
    this.clearance = Math.max(clearance, TOUCH);
  }

  /** Follows bodies along a way, which is cut to its end by it. */
  along(way: Way, bodies: readonly Watched[]): void {
    this.later = [];
    // What is known to be free for the whole way is not looked at.
    const near: [Watched, Obstacle | 'stock'][] = [];
    for (const watched of bodies)
      for (const against of this.against) {
        const free = watched.free.get(against) ?? 0;
        if (free > way.length + this.clearance) watched.free.set(against, free - way.length);
        else near.push([watched, against]);
      }
    const ofStock = near.flatMap(([watched, against]) => (against === 'stock' ? [watched] : []));
    for (const [watched, against] of near) if (against !== 'stock') this.follow(way, watched, against, 0, 1, undefined);
    if (ofStock.length > 0) this.followStock(way, ofStock);
    way.cutUntil(1);
    for (const [watched, share] of this.later) {
      const place = way.placeAt(share);
      const by = watched.body.distanceTo(this.work, place, place, this.clearance);
      if (by < this.clearance) this.near(way, watched, 'stock', by, share);
    }
  }

  // The work changes on the way: it is looked at in parts, each with what was cut before it. From the second one on, what is right behind the edge is in its shadow.
  private followStock(way: Way, bodies: readonly Watched[]): void {
    const { outline, from, to } = way;
    const cuts = outline !== undefined && !way.isRapid;
    const parts = Math.max(1, cuts ? Math.floor(way.length / PART) : 1);
    for (let k = 0; k < parts; k++) {
      const [a, b] = [k / parts, (k + 1) / parts];
      way.cutUntil(a);
      // Only what keeps its image on the way keeps its shadow: what lies in the plane of the axis, or moves along it.
      const isRigid = cuts && (outline.mostHeight < LEVEL || Math.abs(to[1] - from[1]) < LEVEL);
      const isBehind = isRigid && a * way.length >= LEAD;
      const shadow = isBehind ? shadowBehind(imageAt(outline, way.placeAt(a)), [to[0] - from[0], to[1] - from[1]]) : undefined;
      for (const watched of bodies) this.follow(way, watched, 'stock', a, b, shadow);
    }
  }

  /** Looks at a part of a way of a body: as a whole where it stays free, else in halves, at last step by step. */
  private follow(way: Way, watched: Watched, against: Obstacle | 'stock', a: number, b: number, shadow: Shadow | undefined): void {
    const region = against === 'stock' ? this.work : against.region;
    const { clearance } = this;
    const [p, q] = [way.placeAt(a), way.placeAt(b)];
    const length = way.length * (b - a);
    // What is told of what the edge hides holds for this part only: no more than that it is clear is asked then.
    const most = shadow ? Math.max(clearance, TOUCH) : Math.min(FARTHEST, 2 * length) + 2 * clearance + 1;
    const free = watched.body.distanceTo(region, p, q, most, shadow);
    // The box around a slanting way is wider than the way.
    const slant = isShortAcross(p, q) ? 0 : Math.min(Math.abs(q[0] - p[0]), Math.abs(q[1] - p[1]));
    // Surely free, and near to work that may be cut on this very way: how near is looked at when it is.
    const isKnown = against !== 'stock' || shadow !== undefined || !way.outline || way.isRapid;
    if (free >= clearance || (free > TOUCH / 2 && slant <= free / 2)) {
      watched.free.set(against, shadow ? 0 : free);
      if (free < clearance && isKnown) this.near(way, watched, against, free, a);
      else if (free < clearance) this.later.push([watched, b]);
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
    const { outline } = way;
    const region = against === 'stock' ? this.work.copy() : against.region;
    if (against === 'stock' && outline) region.cut([...standing(outline, way.placeAt(way.cutTo)), ...swept(outline, way.placeAt(way.cutTo), way.placeAt(b))]);
    const at = way.placeAt(b);
    const deep = watched.body.depthIn(region, at);
    if (deep.depth <= TOUCH) {
      // It may go on along a wall without going into it.
      if (watched.body.distanceTo(region, at, at, TOUCH) < TOUCH / 2) return true;
      watched.touching.delete(against);
      return false;
    }
    this.touch(way, watched, against === 'stock' ? 'work' : against.name, way.timeAt(b), deep);
    watched.free.set(against, 0);
    return true;
  }

  private near(way: Way, watched: Watched, against: Obstacle | 'stock', by: number, share: number): void {
    const name = against === 'stock' ? 'work' : against.name;
    this.log.tell({
      kind: 'near',
      time: way.timeAt(share),
      line: way.line,
      between: [watched.body.name, name],
      depth: by,
      at: way.placeAt(share),
      message: `${watched.body.name} gets as near as ${sayMm(by)} to the ${name}.`,
      body: watched.ref,
    });
  }

  /** Follows a body along a part of a way by its distance: no step is longer than it is free. */
  private stepAlong(way: Way, watched: Watched, against: Obstacle | 'stock', a: number, b: number): void {
    // Other bodies are still to be looked at with the work as it is at the start.
    const region = against === 'stock' ? this.work.copy() : against.region;
    const name = against === 'stock' ? 'work' : against.name;
    const { clearance } = this;
    const { outline } = way;
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
        if (worst.depth > TOUCH) this.touch(way, watched, name, way.timeAt(share), worst);
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

  private touch(way: Way, watched: Watched, name: string, time: number, { depth, at }: { readonly depth: number; readonly at: FlatPoint }): void {
    const message = `${watched.body.name} goes ${sayMm(depth)} into the ${name} while ${way.name} ${way.isRapid ? 'moves in rapid' : 'works'}.`;
    this.log.tell({ kind: 'touch', time, line: way.line, between: [watched.body.name, name], depth, at, message, body: watched.ref });
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

/** What stands on a carrier while a station works. */
export interface WatchedBodies {
  /** Bodies of the working edge that cut. */
  readonly edge: readonly Watched[];
  readonly rest: readonly Watched[];
}

/** All that stands on the carrier while an edge works; or only what stands at its own place. */
export function watchedBodies({ row, edge, carrier }: LoadedEdge, { table, parts, planeFor }: TrialSetting, { atPlace = false } = {}): WatchedBodies {
  const planeFromMachine = frameFromWorld({ ...planeFor(carrier), origin: [0, 0, 0] });
  const carried = carriedWith(row, table, parts);
  const watch = (c: Carried): Watched => {
    // Names of bodies in vendors' files say little by themselves.
    const isOnly = carried.filter((o) => o.station === c.station && o.piece === c.piece).length === 1;
    const name = isOnly || c.component === c.body ? c.component : `${c.component}, ${c.body}`;
    const isOwn = c.station === row.place.station || c.station === 0;
    return {
      body: new TurnedBody(isOwn ? name : `station ${c.station}, ${name}`, c.mesh, compose(planeFromMachine, c.motion)),
      free: new Map(),
      touching: new Set(),
      ref: { placeId: c.placeId, piece: c.piece, id: c.bodyId },
    };
  };
  const wanted = carried.filter((c) => !atPlace || c.placeId === row.place.id);
  const isEdge = (c: Carried) => c.cuts && c.station === row.place.station && c.piece === edge.own.piece;
  return { edge: wanted.filter(isEdge).map(watch), rest: wanted.filter((c) => !isEdge(c)).map(watch) };
}

/** What stands at the place of a working edge, but what of it cuts: bodies as what turns past them meets them. */
export function bodiesAtWork(setting: TrialSetting, placeId: string, name: string): readonly TurnedBody[] {
  const found = setting.edges.find(({ row, edge }) => row.place.id === placeId && edge.own.name === name);
  return found ? watchedBodies(found, setting, { atPlace: true }).rest.map((w) => w.body) : [];
}
