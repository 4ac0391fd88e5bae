import { done, failed, type Result } from '#core/issues';
import {
  areaOfPath,
  counterClockwise,
  crossingsOf,
  endDirection,
  faultOfLoop,
  flatDistance,
  type FlatPoint,
  lengthOfPiece,
  nearestOnPiece,
  partOfPiece,
  PathDistance,
  type PathPiece,
  placeOnPiece,
  reversePath,
} from '#core/outline';
import { freshNames, onlyKnown, type Sketched, withLoop } from './edit-sketch.ts';
import { measureAgain } from './measure-again.ts';
import { namesIn, type Sketch, type SketchConstraint } from './sketch-schema.ts';

// mm. What is this near to an outline lies on it.
const ON = 1e-6;

/** A place of an outline: on which piece, and at which share of it. */
interface OutlinePlace {
  readonly loop: number;
  readonly index: number;
  readonly share: number;
  readonly place: FlatPoint;
  readonly away: number;
}

/** The place of an outline that is nearest to a point; undefined for an empty one. */
export function nearestPlace({ profile }: Pick<Sketched, 'profile'>, at: FlatPoint): OutlinePlace | undefined {
  let best: OutlinePlace | undefined;
  for (const [loop, pieces] of profile.entries())
    for (const [index, piece] of pieces.entries()) {
      const found = nearestOnPiece(piece, at);
      if (!best || found.away < best.away) best = { loop, index, ...found };
    }
  return best;
}

const refused = (text: string): Result<never> => failed('sketch.no-edit', { text });

/**
 * An outline with a chain of new pieces in place of what lies between its ends, which are on the outline; of the two ways round the one that leaves more.
 * What the new pieces are, level, square, or tangent to the one before, is said of them. A chain that closes on itself where there is no outline yet is the outline.
 */
export function drawOver(sketched: Sketched, chain: readonly PathPiece[], isTurned: boolean): Result<Sketched> {
  return drawn(sketched, chain, isTurned, () => true);
}

// `mayStay`: whether a place of the outline is one of those that stay.
function drawn({ profile, sketch }: Sketched, chain: readonly PathPiece[], isTurned: boolean, mayStay: (at: FlatPoint) => boolean): Result<Sketched> {
  if (chain.length === 0 || chain.some((p) => lengthOfPiece(p) < ON)) return refused('a piece has no length');
  if (isTurned && chain.some((p) => [p.from, p.to, placeOnPiece(p, 0.5)].some(([, r]) => r < -ON))) return refused('it lies on the other side of the axis');
  const [start, end] = [chain[0].from, chain[chain.length - 1].to];
  if (profile.length === 0) {
    if (flatDistance(start, end) > ON) return refused('it must end where it began');
    const loop = counterClockwise(chain);
    const names = freshNames(sketch, loop.length);
    return checked({ profile: [loop], sketch: { names: [names], constraints: [] } }, 0, names, isTurned);
  }
  const [a, b] = [nearestPlace({ profile }, start), nearestPlace({ profile }, end)];
  if (!a || !b || a.away > ON || b.away > ON) return refused('it must begin and end on the outline');
  if (a.loop !== b.loop) return refused('it must begin and end on the same outline');
  if (flatDistance(start, end) < ON) return refused('it must end at another place than it began');
  const ways = [wayFrom(profile[a.loop], b, a, chain), wayFrom(profile[a.loop], a, b, reversePath(chain))];
  const area = ({ pieces }: Way): number => areaOfPath(pieces.map((p) => p.piece));
  const [best] = ways.filter((w) => w.pieces.every((p) => p.isNew || mayStay(placeOnPiece(p.piece, 0.5)))).sort((p, q) => area(q) - area(p));
  if (!best || faultOfLoop(pathOf(best), () => '') !== undefined) return refused('the outline would cross itself, or nothing of it would be left');
  const fresh = freshNames(sketch, best.pieces.length);
  const names = best.pieces.map(({ was }, i) => (was === undefined ? fresh[i] : sketch.names[a.loop][was]));
  const whole = withLoop({ profile, sketch }, a.loop, pathOf(best), names);
  // A line that was cut in two stays level, or square, in both parts.
  const halves = best.pieces.flatMap(({ cutFrom }, i) => (cutFrom === undefined ? [] : [{ name: names[i], from: sketch.names[a.loop][cutFrom] }]));
  const copied = sketch.constraints.flatMap((c) =>
    c.kind === 'horizontal' || c.kind === 'vertical'
      ? halves.filter((h) => h.from === c.piece).map((h): SketchConstraint => ({ id: '', kind: c.kind, piece: h.name }))
      : [],
  );
  // How long a piece was is not said of what is left of it.
  const shorter = new Set(
    best.pieces.flatMap(({ piece, was }) => (was !== undefined && !isSamePiece(piece, profile[a.loop][was]) ? [sketch.names[a.loop][was]] : [])),
  );
  const isOld = (c: SketchConstraint): boolean =>
    (c.kind === 'length' && shorter.has(c.piece)) || (c.kind === 'equal' && [c.first, c.second].some((n) => shorter.has(n)));
  const tidy = onlyKnown({ ...whole, sketch: { ...whole.sketch, constraints: whole.sketch.constraints.filter((c) => !isOld(c)) } });
  const made = names.filter((_, i) => best.pieces[i].isNew);
  return checked({ profile: tidy.profile, sketch: withNew(tidy.sketch, copied) }, a.loop, made, isTurned);
}

/** An outline without what a closed shape covers, or with it besides: its border is drawn over the outline. It must cross the outline once in and once out. */
export function combineShape(sketched: Sketched, shape: readonly PathPiece[], takesAway: boolean, isTurned: boolean): Result<Sketched> {
  const { profile } = sketched;
  if (profile.length === 0) return drawOver(sketched, shape, isTurned);
  const distance = new PathDistance(profile);
  const parts = shape.flatMap((p) => splitAt(p, profile.flat()));
  const side = (p: PathPiece): number => distance.depth(...placeOnPiece(p, 0.5));
  const isWanted = parts.map((p) => (takesAway ? side(p) > ON : side(p) < -ON));
  const first = isWanted.findIndex((w, i) => w && !isWanted[(i + parts.length - 1) % parts.length]);
  if (first < 0) {
    if (isWanted[0]) return refused(takesAway ? 'it lies within the outline, and there is no way out of it' : 'it does not touch the outline');
    return refused(takesAway ? 'it lies outside the outline' : 'it lies within the outline');
  }
  const chain: PathPiece[] = [];
  let at = first;
  while (isWanted[at % parts.length] && chain.length < parts.length) chain.push(parts[at++ % parts.length]);
  const isMore = isWanted.filter(Boolean).length > chain.length;
  if (isMore) return refused('it crosses the outline more than twice');
  const covered = new PathDistance([shape]);
  return drawn(sketched, chain, isTurned, (p) => covered.depth(...p) < ON);
}

interface Way {
  readonly pieces: readonly { readonly piece: PathPiece; readonly was?: number; readonly cutFrom?: number; readonly isNew?: boolean }[];
}

const pathOf = ({ pieces }: Way): PathPiece[] => pieces.map((p) => p.piece);

const isSamePiece = (p: PathPiece, q: PathPiece): boolean => flatDistance(p.from, q.from) < ON && flatDistance(p.to, q.to) < ON;

// From a place forward to another one, and back along the chain.
function wayFrom(loop: readonly PathPiece[], from: OutlinePlace, to: OutlinePlace, chain: readonly PathPiece[]): Way {
  const n = loop.length;
  const pieces: { piece: PathPiece; was?: number; cutFrom?: number; isNew?: boolean }[] = [];
  const isAhead = from.index === to.index && to.share > from.share;
  const steps = isAhead ? 0 : (to.index - from.index + n) % n || (from.index === to.index ? n : 0);
  for (let s = 0; s <= steps; s++) {
    const index = (from.index + s) % n;
    const [a, b] = [s === 0 ? from.share : 0, s === steps ? to.share : 1];
    const cut = partOfPiece(loop[index], a, b);
    const piece = { ...cut, from: s === 0 ? from.place : cut.from, to: s === steps ? to.place : cut.to };
    if (b <= a || flatDistance(piece.from, piece.to) < ON) continue;
    pieces.push(a > 0 ? { piece, cutFrom: index } : { piece, was: index });
  }
  // The chain's own ends lie on the outline within what is the same: they are put there.
  const ended = chain.map((p, i) => ({ ...p, from: i === 0 ? to.place : p.from, to: i === chain.length - 1 ? from.place : p.to }));
  return { pieces: [...pieces, ...ended.map((piece) => ({ piece, isNew: true }))] };
}

// Where a piece meets others it is split.
function splitAt(piece: PathPiece, others: readonly PathPiece[]): PathPiece[] {
  const touching = others.flatMap((o) => [...crossingsOf(piece, o, ON), ...[o.from].filter((at) => nearestOnPiece(piece, at).away < ON)]);
  const shares = [...new Set(touching.map((at) => nearestOnPiece(piece, at).share))].filter((s) => s > 1e-9 && s < 1 - 1e-9).sort((a, b) => a - b);
  const ends = [0, ...shares.filter((s, i) => i === 0 || (s - shares[i - 1]) * lengthOfPiece(piece) > ON), 1];
  return ends.slice(1).map((to, i) => partOfPiece(piece, ends[i], to));
}

/** What an outline is, said of it: lines that are level or square, arcs that go on from what is beside them. What lies on the axis stays there anyway. */
export const sayWhatIs = (sketched: Sketched, isTurned: boolean): Sketched => {
  const isSaid = (c: SketchConstraint): boolean => sketched.sketch.constraints.some((o) => o.kind === c.kind && namesIn(o).join() === namesIn(c).join());
  const made = sketched.profile.flatMap((_, l) => trueOf(sketched, l, sketched.sketch.names[l], isTurned)).filter((c) => !isSaid(c));
  return { profile: sketched.profile, sketch: withNew(sketched.sketch, made) };
};

function trueOf({ profile, sketch }: Sketched, loop: number, names: readonly string[], isTurned: boolean): SketchConstraint[] {
  return names.flatMap((name): SketchConstraint[] => {
    const i = sketch.names[loop].indexOf(name);
    const [piece, before] = [profile[loop][i], profile[loop].at(i - 1)];
    const of: SketchConstraint[] = [];
    const isAxis = isTurned && Math.abs(piece.from[1]) < ON && Math.abs(piece.to[1]) < ON;
    if (piece.kind === 'line' && !isAxis && Math.abs(piece.from[1] - piece.to[1]) < ON) of.push({ id: '', kind: 'horizontal', piece: name });
    if (piece.kind === 'line' && Math.abs(piece.from[0] - piece.to[0]) < ON) of.push({ id: '', kind: 'vertical', piece: name });
    if (before && (piece.kind === 'arc' || before.kind === 'arc') && isTangent(before, piece))
      of.push({ id: '', kind: 'tangent', first: sketch.names[loop].at(i - 1) ?? name, second: name });
    return of;
  });
}

function checked({ profile, sketch }: Sketched, loop: number, drawn: readonly string[], isTurned: boolean): Result<Sketched> {
  const full = withNew(sketch, trueOf({ profile, sketch }, loop, drawn, isTurned));
  return done({ profile, sketch: measureAgain(profile, full) });
}

function withNew(sketch: Sketch, made: readonly SketchConstraint[]): Sketch {
  const ids = freshNames(sketch, made.length, 'k');
  return { ...sketch, constraints: [...sketch.constraints, ...made.map((c, i) => ({ ...c, id: ids[i] }))] };
}

function isTangent(before: PathPiece, after: PathPiece): boolean {
  const [u, v] = [endDirection(before), endDirection(reversePath([after])[0])];
  return Math.abs(u[0] * v[1] - u[1] * v[0]) < 1e-6 * Math.hypot(u[0], u[1]) * Math.hypot(v[0], v[1]) && u[0] * v[0] + u[1] * v[1] < 0;
}
