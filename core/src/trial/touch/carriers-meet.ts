import { type Carried, carriedWith, indexAxisOf } from '#core/carrier';
import { add, boundsCentre, compose, distance, invert, mix, move, type Motion, rotationAbout, subtract, translation, turn, type Vec3 } from '#core/math';
import { meshBounds, meshDistance, SignedDistance, type TriMesh } from '#core/mesh';
import type { FlatPoint } from '#core/outline';
import type { CarrierOf } from '#core/records';
import { type EventLog, sayMm } from '../events.ts';
import type { LoadedEdge, TrialSetting } from '../setting.ts';
import { TOUCH } from './follow.ts';
import { nameOf, refOf } from './say-carried.ts';

/** What a carrier holds while one of its tools works, where its reference goes between two moments in the machine, and for which line. */
export interface Mover {
  readonly loaded: LoadedEdge;
  readonly from: Vec3;
  readonly to: Vec3;
  readonly line: number;
}

interface Body {
  readonly carried: Carried;
  readonly middle: Vec3;
  readonly radius: number;
}

interface Pair {
  readonly one: Body;
  readonly other: Body;
  /** From the other's mesh to the one's where both references are in one place, and from the machine to the one's. */
  readonly base: Motion;
  readonly oneFromMachine: Motion;
}

/** How near the bodies of two carriers get to each other: what they carry, one against the other, while both move. */
export class CarriersMeet {
  private readonly setting: TrialSetting;
  private readonly log: EventLog;
  private readonly clearance: number;
  private readonly held = new Map<LoadedEdge, readonly Body[]>();
  private readonly pairs = new Map<LoadedEdge, Map<LoadedEdge, readonly Pair[]>>();
  /** Which two were looked at last, and how far they are apart: at least, and at most. */
  private last: { one: LoadedEdge; other: LoadedEdge; free: number; near: number } | undefined;

  constructor(setting: TrialSetting, log: EventLog) {
    this.setting = setting;
    this.log = log;
    this.clearance = Math.max(setting.job.clearance, TOUCH);
  }

  /** Looks at a time in which both go straight on. */
  between(one: Mover, other: Mover, start: number, end: number): void {
    if (this.last?.one !== one.loaded || this.last.other !== other.loaded) this.last = { one: one.loaded, other: other.loaded, free: 0, near: Infinity };
    const { last, clearance } = this;
    const apartAt = (share: number): Vec3 => subtract(at(other, share), at(one, share));
    const [a, b] = [apartAt(0), apartAt(1)];
    const way = distance(a, b);
    if (last.free > way + clearance) {
      last.free -= way;
      last.near += way;
      return;
    }
    const pairs = this.pairsOf(one.loaded, other.loaded);
    const timeAt = (share: number) => start + share * (end - start);
    let nearest: { distance: number; share: number; pair: Pair; place: Vec3 } | undefined;
    for (let share = 0, moved = 0; ; ) {
      // No farther than before by more than it moved.
      const within = Math.min(FARTHEST, last.near + moved + clearance);
      const found = nearestOf(pairs, translated(apartAt(share)), within);
      last.free = found?.distance ?? within;
      last.near = found?.distance ?? Infinity;
      if (found && last.free < TOUCH / 2) {
        this.touch(one, other, found.pair, apartAt, share, timeAt(share), found.place);
        // What touches may be anywhere at the end.
        [last.free, last.near] = [0, Infinity];
        return;
      }
      if (found && (!nearest || found.distance < nearest.distance)) nearest = { ...found, share };
      if (share >= 1 || way === 0 || last.free > (1 - share) * way + clearance) {
        last.near += (1 - share) * way;
        last.free = Math.max(0, last.free - (1 - share) * way);
        break;
      }
      const before = share;
      share = Math.min(1, share + Math.max(last.free, TOUCH / 2) / way);
      moved = (share - before) * way;
    }
    if (!nearest || nearest.distance >= clearance) return;
    const { pair, share, place, distance: by } = nearest;
    this.tell(
      'near',
      one,
      pair,
      share,
      timeAt(share),
      place,
      by,
      `${nameOf(pair.one.carried)} gets as near as ${sayMm(by)} to ${nameOf(pair.other.carried)}`,
      other,
    );
  }

  /**
   * Looks while the one is indexed where it stands, by a turn about its index axis (radians), and the other stands still. No step is longer than it is free: no place of what
   * turns goes farther than the turn times its distance from the axis. `text` begins what is told, into the log of the one.
   */
  indexed(one: Mover & { readonly carrier: CarrierOf<'turret'> }, turnRad: number, other: Mover, time: number, text: string, log: EventLog): void {
    this.last = undefined;
    const { clearance } = this;
    const axis = indexAxisOf(one.carrier);
    const apart = subtract(at(other, 0), at(one, 0));
    const pairs = this.pairsOf(one.loaded, other.loaded);
    const reach = Math.max(1, ...this.bodiesOf(one.loaded).map((b) => Math.hypot(b.middle[0] - axis[0], b.middle[1] - axis[1]) + b.radius));
    const standing = (angle: number): Standing => {
      // What is turned one way sees the other one turned the other way.
      const back = compose(rotationAbout(axis, [0, 0, 1], -angle), translation(apart));
      return {
        motion: ({ oneFromMachine, other: o }) => compose(oneFromMachine, compose(back, o.carried.motion)),
        middle: ({ other: o }) => move(back, o.middle),
      };
    };
    const whole = Math.abs(turnRad);
    let nearest: { distance: number; pair: Pair; place: Vec3; angle: number } | undefined;
    let within = FARTHEST;
    for (let gone = 0; ; ) {
      const angle = Math.sign(turnRad) * gone;
      const found = nearestOf(pairs, standing(angle), within);
      const free = found?.distance ?? within;
      if (found && (!nearest || free < nearest.distance)) nearest = { ...found, angle };
      if (free < TOUCH / 2 || gone >= whole) break;
      const step = Math.max(free, TOUCH / 2);
      gone = Math.min(whole, gone + step / reach);
      // No farther than before by more than it goes.
      within = Math.min(FARTHEST, free + step + TOUCH);
    }
    if (!nearest || nearest.distance >= clearance) return;
    const { pair, angle, place } = nearest;
    const isTouch = nearest.distance < TOUCH / 2;
    let depth = 0;
    // From there on, as long as it goes deeper.
    for (let k = 0; isTouch && k <= INDEX_LOOKS; k++) {
      const at = Math.min(whole, Math.abs(angle) + (k * INDEX_APART) / reach);
      const deep = depthOf(pair, standing(Math.sign(turnRad) * at).motion(pair));
      if (deep < depth && depth > TOUCH) break;
      depth = Math.max(depth, deep);
    }
    const inMachine = move(rotationAbout(axis, [0, 0, 1], angle), move(invert(pair.oneFromMachine), place));
    const [x, , z] = add(inMachine, at(one, 0));
    const does = depth > TOUCH ? `goes ${sayMm(depth)} into` : `gets as near as ${sayMm(isTouch ? 0 : nearest.distance)} to`;
    log.tell({
      kind: depth > TOUCH ? 'touch' : 'near',
      time,
      line: one.line,
      between: [nameOf(pair.one.carried), nameOf(pair.other.carried)],
      depth: depth > TOUCH ? depth : isTouch ? 0 : nearest.distance,
      at: [this.setting.partZ(z), Math.abs(x)],
      message: `${text}, ${nameOf(pair.one.carried)} ${does} ${nameOf(pair.other.carried)} (${other.loaded.carrier.name}; ${sayThere(other)}).`,
      ...bodiesIn(pair),
    });
  }

  private touch(one: Mover, other: Mover, pair: Pair, apartAt: (share: number) => Vec3, share: number, time: number, place: Vec3): void {
    const looks = Array.from({ length: LOOKS + 1 }, (_, i) => depthOf(pair, shifted(pair, apartAt(share + ((1 - share) * i) / LOOKS))));
    const depth = Math.max(...looks);
    const text = `${nameOf(pair.one.carried)} goes ${sayMm(depth)} into ${nameOf(pair.other.carried)}`;
    if (depth > TOUCH) this.tell('touch', one, pair, share, time, place, depth, text, other);
    else this.tell('near', one, pair, share, time, place, 0, `${nameOf(pair.one.carried)} touches ${nameOf(pair.other.carried)}`, other);
  }

  private tell(kind: 'touch' | 'near', one: Mover, pair: Pair, share: number, time: number, place: Vec3, depth: number, text: string, other: Mover): void {
    const inMachine = move(invert(pair.oneFromMachine), place);
    const [x, , z] = add(inMachine, at(one, share));
    const where: FlatPoint = [this.setting.partZ(z), Math.abs(x)];
    const message = `${text} (${one.loaded.carrier.name}, ${other.loaded.carrier.name}; ${sayThere(other)}).`;
    const between = [nameOf(pair.one.carried), nameOf(pair.other.carried)];
    this.log.tell({ kind, time, line: one.line, between, depth, at: where, message, ...bodiesIn(pair) });
  }

  private bodiesOf(loaded: LoadedEdge): readonly Body[] {
    const known = this.held.get(loaded);
    if (known) return known;
    const bodies = carriedWith(loaded.row, this.setting.table, this.setting.parts).map((carried): Body => ({ carried, ...ballOf(carried) }));
    this.held.set(loaded, bodies);
    return bodies;
  }

  private pairsOf(one: LoadedEdge, other: LoadedEdge): readonly Pair[] {
    const ofOne = this.pairs.get(one) ?? new Map<LoadedEdge, readonly Pair[]>();
    this.pairs.set(one, ofOne);
    const known = ofOne.get(other);
    if (known) return known;
    const made = this.bodiesOf(one).flatMap((a) => {
      const oneFromMachine = invert(a.carried.motion);
      return this.bodiesOf(other).map((b): Pair => ({ one: a, other: b, base: compose(oneFromMachine, b.carried.motion), oneFromMachine }));
    });
    ofOne.set(other, made);
    return made;
  }
}

// mm. Farther than this nothing is measured.
const FARTHEST = 120;
// Places of a turn at which the depth of a touch is looked at, and how far apart they are on its outside; mm.
const INDEX_LOOKS = 60;
const INDEX_APART = 0.5;
// Places of what is left of a time at which the depth of a touch is looked at.
const LOOKS = 3;
// mm. How far apart places of a body are at which it is looked whether they lie in another one; of a side at most so many.
const APART = 1;
const MOST_PLACES = 24;

const at = ({ from, to }: Mover, share: number): Vec3 => mix(from, to, share);

const sayThere = ({ line }: Mover): string => (line > 0 ? `there line ${line}` : 'which stands at its home');
const bodiesIn = ({ one, other }: Pair) => ({ body: refOf(one.carried), other: refOf(other.carried) });

// A ball around a body, with the reference in the machine's origin.
function ballOf({ mesh, motion }: Carried): { middle: Vec3; radius: number } {
  const box = meshBounds(mesh) ?? { min: [0, 0, 0], max: [0, 0, 0] };
  return { middle: move(motion, boundsCentre(box)), radius: distance(box.min, box.max) / 2 };
}

// The motion from the other's mesh to the one's with the references so far apart.
const shifted = ({ base, oneFromMachine }: Pair, apart: Vec3): Motion => compose(translation(turn(oneFromMachine, apart)), base);

/** How two bodies stand to each other: the motion from the other's mesh to the one's, and where the other's middle is about the one's reference. */
interface Standing {
  readonly motion: (pair: Pair) => Motion;
  readonly middle: (pair: Pair) => Vec3;
}

const translated = (apart: Vec3): Standing => ({ motion: (pair) => shifted(pair, apart), middle: ({ other }) => add(other.middle, apart) });

function nearestOf(pairs: readonly Pair[], { motion, middle }: Standing, within: number): { distance: number; place: Vec3; pair: Pair } | undefined {
  const ballsApart = (pair: Pair) => distance(middle(pair), pair.one.middle) - pair.one.radius - pair.other.radius;
  const near = pairs.map((pair) => ({ pair, least: ballsApart(pair) })).filter((p) => p.least < within);
  near.sort((p, q) => p.least - q.least);
  let best: { distance: number; place: Vec3; pair: Pair } | undefined;
  for (const { pair, least } of near) {
    if (least >= (best?.distance ?? within)) break;
    const found = meshDistance(treeOf(pair.one), treeOf(pair.other), motion(pair), best?.distance ?? within);
    if (found) best = { distance: found.distance, place: found.at, pair };
    if (found?.distance === 0) break;
  }
  return best;
}

const signedOf = ({ carried: { mesh } }: Body): SignedDistance => SignedDistance.of(mesh);
const treeOf = (body: Body) => signedOf(body).tree;

/** How deep one body is in the other, mm: of places of each of them that lie in the other one, the deepest. */
function depthOf(pair: Pair, oneFromOther: Motion): number {
  return Math.max(
    deepestIn(signedOf(pair.one), pair.other.carried.mesh, oneFromOther),
    deepestIn(signedOf(pair.other), pair.one.carried.mesh, invert(oneFromOther)),
  );
}

function deepestIn(solid: SignedDistance, { positions: p, triangles: t }: TriMesh, motion: Motion): number {
  const { box } = solid.tree;
  let deepest = 0;
  for (let f = 0; f < t.length; f += 3) {
    const corners = [0, 1, 2].map((k) => move(motion, [p[3 * t[f + k]], p[3 * t[f + k] + 1], p[3 * t[f + k] + 2]]));
    if ([0, 1, 2].some((k) => corners.every((c) => c[k] < box[k]) || corners.every((c) => c[k] > box[3 + k]))) continue;
    const longest = Math.max(...corners.map((c, i) => Math.hypot(...c.map((v, k) => v - corners[(i + 1) % 3][k]))));
    const n = Math.min(MOST_PLACES, Math.max(1, Math.ceil(longest / APART)));
    for (let i = 0; i <= n; i++)
      for (let j = 0; i + j <= n; j++) {
        const [x, y, z] = [0, 1, 2].map((k) => corners[0][k] + ((corners[1][k] - corners[0][k]) * i + (corners[2][k] - corners[0][k]) * j) / n);
        if (x < box[0] || x > box[3] || y < box[1] || y > box[4] || z < box[2] || z > box[5]) continue;
        deepest = Math.max(deepest, -solid.at(x, y, z));
      }
  }
  return deepest;
}
