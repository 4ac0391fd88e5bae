import { compose, frameFromWorld, move } from '#core/math';
import { type FlatPoint, type HalfProfile, profileDistance } from '#core/outline';
import { cuttingOutline, type CuttingOutline, isAboutAxis } from '../cut/cutting-outline.ts';
import { type At, imageAt, swept } from '../cut/sweep.ts';
import { coveredFrom } from '../free/covered.ts';
import { type CutSide, cutView, viewOf } from '../free/cut-views.ts';
import { fewerCorners, type Polygons, straighterRing, together, UNITS } from '#core/clipping';
import { inFrontOf, Region } from '../region/region.ts';
import { type LoadedEdge, stockOf, travelOf, type TrialSetting } from '../setting.ts';
import { type Obstacle, obstaclesOf } from '../touch/obstacles.ts';
import { BodyRoom, sayInTheWay } from '../touch/body-room.ts';
import { Flank } from '../touch/flank.ts';
import { watchedBodies } from '../touch/follow.ts';
import { boreRoom, type BoreRoom } from './bore-room.ts';
import { type MissingEdge, missingEdges } from './missing.ts';
import { betweenPlaces, placesOfSurface, type SurfacePlace } from './surface.ts';
import { shankOf, usualToolsFor } from './wanted.ts';

/** Why an edge does not get to a place of the contour. */
export type Blocked = 'edge angle' | 'nose radius' | 'body' | 'travel' | 'no way out';

/** A stretch of the contour, in mm along it. */
export interface Stretch {
  readonly from: number;
  readonly to: number;
}

export interface BlockedStretch extends Stretch {
  readonly why: Blocked;
  /** What is in the way. */
  readonly by: string;
  /** [z, r] in the middle of it. */
  readonly at: FlatPoint;
}

/** What stays of the work where it was to be cut; mm. */
export interface Residual {
  readonly area: number;
  readonly volume: number;
  /** From the part's surface, where it is most. */
  readonly thickness: number;
  readonly at: FlatPoint;
  readonly loops: readonly (readonly FlatPoint[])[];
}

export interface EdgeReach {
  readonly edge: string;
  readonly placeId: string;
  /** Degrees of the head, of a swivel head. */
  readonly angle: number | undefined;
  readonly reached: readonly Stretch[];
  readonly blocked: readonly BlockedStretch[];
  readonly residual: Residual;
  /** Of an edge that works in a bore: how deep it gets, and what room there is. */
  readonly bore?: BoreRoom;
}

/** What the edges of a set-up can cut of a contour, each by itself and together. */
export interface Reach {
  /** mm of the contour that are to be cut. */
  readonly length: number;
  readonly edges: readonly EdgeReach[];
  readonly together: Residual;
  /** Edges in an order in which each takes what those before it leave, the one that takes most first; those that take nothing more are left out. */
  readonly order: readonly number[];
  /** What would be wanted for what they leave, with designations of usual tools that would do. */
  readonly missing: readonly (MissingEdge & { readonly wouldDo: readonly string[] })[];
}

// mm2. An edge that takes less away than that, is not needed.
const WORTH = 0.02;
// mm. How far an edge may stand in the part where it touches it: what chords are off, and a little.
const IN_PART = 0.003;
// mm. For what stays, corners that small are no corners.
const SIMPLE = 5e-4;

/** What each loaded edge can cut of a contour; undefined where there is no contour or no stock. */
export function reachOf(setting: TrialSetting): Reach | undefined {
  const { contour } = setting.job;
  const stock = stockOf(setting);
  if (!contour || !stock) return undefined;
  // What is there already is not to be cut.
  const blank = Region.ofProfile(stock);
  const places = placesOfSurface(contour).filter(({ at, out }) => blank.contains(at[0] + COVER * out[0], at[1] + COVER * out[1]));
  const all = setting.edges.map((loaded) => new Reacher(setting, loaded, contour, stock, places).run());
  const after = Region.ofProfile(stock);
  const order: number[] = [];
  for (;;) {
    let most = WORTH;
    let best = -1;
    for (const [i, { cut }] of all.entries()) {
      if (order.includes(i)) continue;
      const { area } = after.copy().cut(cut);
      if (area > most) [most, best] = [area, i];
    }
    if (best < 0) break;
    after.cut(all[best].cut);
    order.push(best);
  }
  const [first] = all;
  const length = first ? [...first.told.reached, ...first.told.blocked].reduce((s, r) => s + r.to - r.from, 0) : 0;
  const together = residualOf(after, contour);
  const shank = shankOf(setting);
  const missing = missingEdges(contour, together.loops).map((m) => ({ ...m, wouldDo: usualToolsFor(m, contour, shank) }));
  return { length, edges: all.map((a) => a.told), together, order, missing };
}

/** What stays of the work that one edge is to cut; undefined where there is no contour or no stock. */
export function leftBy(setting: TrialSetting, loaded: LoadedEdge): Residual | undefined {
  const { contour } = setting.job;
  const stock = stockOf(setting);
  return contour && stock && new Reacher(setting, loaded, contour, stock, []).left();
}

class Reacher {
  private readonly setting: TrialSetting;
  private readonly loaded: LoadedEdge;
  private readonly stock: HalfProfile;
  private readonly contour: HalfProfile;
  private readonly places: readonly SurfacePlace[];
  private readonly part: Region;
  private readonly outline: CuttingOutline | undefined;
  private readonly nose: { readonly centre: FlatPoint; readonly radius: number };
  private readonly obstacles: readonly Obstacle[];
  private readonly room: BodyRoom;
  private readonly flank: Flank | undefined;
  /** The front and the outside of all that is turned. */
  private readonly reachOut: FlatPoint;

  constructor(setting: TrialSetting, loaded: LoadedEdge, contour: HalfProfile, stock: HalfProfile, places: readonly SurfacePlace[]) {
    this.setting = setting;
    this.loaded = loaded;
    this.stock = stock;
    this.contour = contour;
    this.places = places;
    // What is to come out, and the bar behind it.
    const rest = Region.ofProfile(stock);
    rest.cut([inFrontOf(behindOf(contour), 1)]);
    this.part = Region.ofPolygons(together([...Region.ofProfile(contour).polygons, ...rest.polygons]));
    const { row, edge, carrier } = loaded;
    const plane = { ...setting.planeFor(carrier), origin: [0, 0, 0] as const };
    this.outline = cuttingOutline(row, edge, setting.parts, plane);
    const centre = row.motion ? move(compose(frameFromWorld(plane), row.motion), edge.own.noseCentre) : [0, 0, 0];
    this.nose = { centre: [centre[2], centre[0]], radius: edge.own.noseRadius };
    const ends = [...contour, ...stock].flat().map((p) => p.from);
    this.reachOut = [Math.max(...ends.map((p) => p[0])), Math.max(...ends.map((p) => p[1]))];
    this.obstacles = obstaclesOf(setting);
    const bodies = watchedBodies(loaded, setting, { atPlace: true });
    this.flank = this.outline && !isAboutAxis(edge) ? new Flank(bodies.edge, this.outline) : undefined;
    this.room = new BodyRoom(this.outline ? bodies.rest : [...bodies.edge, ...bodies.rest], [{ name: 'part', region: this.part }, ...this.obstacles]);
  }

  run(): { told: EdgeReach; cut: Polygons } {
    const { row, edge } = this.loaded;
    const { outline } = this;
    const base = { edge: edge.own.name, placeId: row.place.id, angle: edge.swivel?.angle };
    const region = Region.ofProfile(this.stock);
    if (!outline) {
      const found = this.places.map((place): Seen => ({ place, found: { why: 'edge angle', by: 'no body of it cuts' } }));
      return { told: { ...base, ...this.stretches(found), residual: residualOf(region, this.contour) }, cut: [] };
    }
    const found = this.refined(outline);
    const cut = this.covered(outline);
    region.cut(cut);
    const bore = this.inBore(found);
    return { told: { ...base, ...this.stretches(found), residual: residualOf(region, this.contour), ...(bore ? { bore } : {}) }, cut };
  }

  // Where it stands at the deepest place of a bore's wall that it gets to.
  private inBore(found: readonly Seen[]): BoreRoom | undefined {
    if (!this.loaded.edge.atWork.inside) return undefined;
    let deepest: { at: FlatPoint; reference: At } | undefined;
    for (const { place, found: f } of found)
      if ('reference' in f && place.out[1] < -INWARDS && (!deepest || place.at[0] < deepest.at[0])) deepest = { at: place.at, reference: f.reference };
    return deepest && boreRoom(this.room.all, this.contour, deepest.at, deepest.reference);
  }

  left(): Residual {
    const region = Region.ofProfile(this.stock);
    if (this.outline) region.cut(this.covered(this.outline));
    return residualOf(region, this.contour);
  }

  // Every place of the contour, and where the edge stops or begins to reach it the last one that it does, by halves.
  private refined(outline: CuttingOutline): Seen[] {
    const seen = this.places.map((place): Seen => ({ place, found: this.look(place, outline) }));
    return seen.flatMap((here, i) => {
      const next = seen[i + 1];
      if (!next || 'reference' in here.found === 'reference' in next.found) return [here];
      let [low, high] = [here, next];
      for (let k = 0; k < HALVES && high.place.along - low.place.along > 1e-3; k++) {
        const place = betweenPlaces(low.place, high.place);
        if (!place) break;
        const middle: Seen = { place, found: this.look(place, outline) };
        if ('reference' in middle.found === 'reference' in low.found) low = middle;
        else high = middle;
      }
      return [here, ...(low === here ? [] : [low]), ...(high === next ? [] : [high])];
    });
  }

  /** Where the reference stands with the edge at a place of the contour, or why it cannot. */
  private look({ at, out }: SurfacePlace, outline: CuttingOutline): Found {
    const touch = this.touchPoint(outline, out);
    if (!touch) return { why: 'edge angle', by: 'edge' };
    const reference: At = [at[0] - touch[0], at[1] - touch[1]];
    const image = imageAt(outline, reference);
    // What of the edge is in the part.
    let deepest = 0;
    let where: FlatPoint = at;
    for (const p of image) {
      const d = this.part.depthAt(p[0], Math.abs(p[1]));
      if (d > deepest) [deepest, where] = [d, p];
    }
    for (const loop of this.contour)
      for (const { from } of loop) {
        const d = depthInPolygon(image, from);
        if (d > deepest) [deepest, where] = [d, from];
      }
    if (deepest > IN_PART) {
      const [z, x] = this.nose.centre;
      const isNose = Math.hypot(where[0] - reference[0] - z, where[1] - reference[1] - x) <= this.nose.radius + 2 * IN_PART;
      return { why: isNose ? 'nose radius' : 'edge angle', by: isNose ? 'nose' : 'edge' };
    }
    const { z, x } = travelOf(this.loaded.carrier, this.setting);
    if (reference[0] < z[0] || reference[0] > z[1] || reference[1] < x[0] || reference[1] > x[1]) return { why: 'travel', by: this.loaded.carrier.name };
    const body = this.room.inTheWay(reference, reference);
    if (body) return { why: 'body', by: sayInTheWay(body) };
    const rubs = this.flank?.touches(this.part, reference);
    if (rubs) return { why: 'body', by: `flank of ${rubs.watched.body.name}` };
    const way = this.wayOut(at, reference, outline);
    if (!way) return { why: 'no way out', by: 'part' };
    return { reference, way };
  }

  // The place of the nose that touches what looks along `out`: the farthest the other way. Undefined where another part of the outline is farther.
  private touchPoint({ points }: CuttingOutline, out: FlatPoint): FlatPoint | undefined {
    const along = (p: FlatPoint) => -(p[0] * out[0] + p[1] * out[1]);
    const most = points.reduce((m, p) => Math.max(m, along(p)), -Infinity);
    const { centre, radius } = this.nose;
    const away = (p: FlatPoint) => Math.hypot(p[0] - centre[0], p[1] - centre[1]);
    // Where an edge lies flat against it, the end that is at the nose.
    const [best] = points.filter((p) => along(p) > most - FLAT).sort((a, b) => away(a) - away(b));
    return radius === 0 || away(best) <= radius + NEAR_NOSE ? best : undefined;
  }

  // The first of the straight ways on which the tool gets away from the part: square to the axis, along it, between.
  private wayOut([z, r]: FlatPoint, reference: At, outline: CuttingOutline): FlatPoint | undefined {
    const { side, inside } = this.loaded.edge.atWork;
    const away = side === 0 ? 0 : 1;
    const ways: FlatPoint[] =
      inside || side === 0
        ? [
            [1, 0],
            [1, -away],
            [1, away],
          ]
        : [
            [0, 1],
            [1, 1],
            [1, 0],
            [-1, 1],
          ];
    // As far as it takes to be out of the work.
    const [front, top] = this.reachOut;
    return ways
      .map(([wz, wr]): FlatPoint => {
        const far = Math.max(wz > 0 ? front - z : 0, wr > 0 ? top - r : 0) + BEFORE;
        return [wz * far, wr * far];
      })
      .find((way) => {
        const to: At = [reference[0] + way[0], reference[1] + way[1]];
        const passed = this.part.commonWith(swept(outline, reference, to));
        if (passed.flat().some((p) => this.part.depthAt(p[0], p[1]) > IN_PART)) return false;
        return this.room.inTheWay(reference, to) === undefined;
      });
  }

  /** What is cut where an edge goes wherever it can: to the contour, and to all that is over it. */
  private covered(outline: CuttingOutline): Polygons {
    const { inside } = this.loaded.edge.atWork;
    const sides: readonly CutSide[] = inside ? ['inside'] : isAboutAxis(this.loaded.edge) ? ['face'] : ['outside', 'face'];
    const simple = { ...outline, points: straighterRing(outline.points, SIMPLE) };
    const walls = this.obstacles.flatMap((o) => o.region.polygons);
    const job = { contour: this.contour, part: fewerCorners(this.part.polygons, SIMPLE * UNITS), walls, stock: Region.ofProfile(this.stock), outline: simple };
    const { z, x } = travelOf(this.loaded.carrier, this.setting);
    return sides.flatMap((seen) => {
      const view = viewOf(seen, 'along');
      const cut = cutView(job, seen, view, {});
      const stands = (p: FlatPoint) => {
        const at = view.from(p);
        if (at[0] < z[0] || at[0] > z[1] || at[1] < x[0] || at[1] > x[1]) return false;
        // Out of a recess of a bore its other side is to be passed.
        const out = seen === 'inside' && p[1] < cut.edge ? view.from([p[0], cut.edge]) : at;
        // Where its flank would rub it does not stand either.
        return this.room.inTheWay(at, out) === undefined && this.flank?.touches(this.part, at) === undefined;
      };
      return coveredFrom(cut, cut.free(0), stands);
    });
  }

  private stretches(found: readonly Seen[]): { reached: Stretch[]; blocked: BlockedStretch[] } {
    const reached: Stretch[] = [];
    const blocked: BlockedStretch[] = [];
    const at = (i: number) => found[i].place.along;
    // From halfway to the place before to halfway to the next.
    const isNext = (i: number) => i > 0 && i < found.length && at(i) - at(i - 1) < APART_AT_MOST;
    const start = (i: number) => (isNext(i) ? (at(i - 1) + at(i)) / 2 : at(i));
    const end = (i: number) => (isNext(i) ? (at(i - 1) + at(i)) / 2 : at(i - 1));
    for (let i = 0; i < found.length; ) {
      const { found: f } = found[i];
      let k = i + 1;
      while (isNext(k) && isAlike(found[k].found, f)) k++;
      const stretch = { from: start(i), to: end(k) };
      if ('reference' in f) reached.push(stretch);
      else blocked.push({ ...stretch, why: f.why, by: f.by, at: found[(i + k - 1) >> 1].place.at });
      i = k;
    }
    return { reached, blocked };
  }
}

interface Seen {
  readonly place: SurfacePlace;
  readonly found: Found;
}

type Found = { readonly reference: At; readonly way: FlatPoint } | { readonly why: Blocked; readonly by: string };
const isAlike = (a: Found, b: Found): boolean => ('reference' in a ? 'reference' in b : !('reference' in b) && a.why === b.why && a.by === b.by);

// mm. Places of an outline that are as far as its farthest one; how far from the nose a place that touches may be.
const FLAT = 1e-4;
const NEAR_NOSE = 0.02;
// Of the normal of a bore's wall: how much it looks at the axis at least.
const INWARDS = 0.1;
// mm. How far before the work a tool is out.
const BEFORE = 5;

// How deep a place lies in a polygon, mm; 0 outside.
function depthInPolygon(polygon: readonly FlatPoint[], [z, r]: FlatPoint): number {
  let inside = false;
  let least = Infinity;
  for (const [i, a] of polygon.entries()) {
    const b = polygon[(i + 1) % polygon.length];
    if (a[1] > r !== b[1] > r && z < a[0] + ((r - a[1]) * (b[0] - a[0])) / (b[1] - a[1])) inside = !inside;
    const [dz, dr] = [b[0] - a[0], b[1] - a[1]];
    const t = Math.max(0, Math.min(1, ((z - a[0]) * dz + (r - a[1]) * dr) / (dz * dz + dr * dr || 1)));
    least = Math.min(least, Math.hypot(a[0] + t * dz - z, a[1] + t * dr - r));
  }
  return inside ? least : 0;
}

// mm of work over a place that is to be cut; places that are farther apart have something between them that is not.
const COVER = 0.005;
const APART_AT_MOST = 1;

// Halves of a stretch: a thousandth of a millimetre of half of one.
const HALVES = 9;

// mm. Places of what stays are looked at that far apart.
const LOOKED_AT = 0.1;

// mm. What is thinner stays because of chords only.
const THIN = 0.002;

/** What stays of the work in front of the end of a contour, beside the part. */
function residualOf(work: Region, contour: HalfProfile): Residual {
  const distance = profileDistance(contour);
  const left = Region.ofPolygons(work.polygons);
  left.cut(Region.ofProfile(contour).polygons);
  // What is behind it is not to be cut.
  left.cut([inFrontOf(behindOf(contour), -1)]);
  let thickness = 0;
  let at: FlatPoint = [0, 0];
  const loops = left.loops.filter((loop) => {
    let deepest = 0;
    for (const [i, a] of loop.entries()) {
      const b = loop[(i + 1) % loop.length];
      const parts = Math.max(1, Math.ceil(Math.hypot(b[0] - a[0], b[1] - a[1]) / LOOKED_AT));
      for (let k = 0; k < parts; k++) {
        const p: FlatPoint = [a[0] + ((b[0] - a[0]) * k) / parts, a[1] + ((b[1] - a[1]) * k) / parts];
        const away = -distance.depth(p[0], p[1]);
        if (away > deepest) deepest = away;
        if (away > thickness) [thickness, at] = [away, p];
      }
    }
    return deepest > THIN;
  });
  const kept = Region.ofLoops(loops);
  return { area: kept.area, volume: kept.volume, thickness: thickness > THIN ? thickness : 0, at, loops };
}

// Where a contour was cut off from what is behind it.
const behindOf = (contour: HalfProfile): number => Math.min(...contour.flat().flatMap((p) => [p.from[0], p.to[0]]));
