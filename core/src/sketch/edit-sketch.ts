import { done, failed, type Result } from '#core/issues';
import { type FlatPoint, flatDistance, type HalfProfile, type PathPiece, placeOnPiece } from '#core/outline';
import { measureAgain } from './measure-again.ts';
import { namesIn, type Sketch, type SketchConstraint } from './sketch-schema.ts';

/** An outline with what is said of it. */
export interface Sketched {
  readonly profile: HalfProfile;
  readonly sketch: Sketch;
}

/** An outline whose corners have names, and of which nothing is said yet. */
export const nameCorners = (profile: HalfProfile): Sketch => {
  let next = 0;
  return { names: profile.map((loop) => loop.map(() => `c${++next}`)), constraints: [] };
};

/** A name that no corner and no constraint has. */
export function freshName({ names, constraints }: Sketch, prefix = 'c'): string {
  const known = new Set([...names.flat(), ...constraints.map((c) => c.id)]);
  for (let n = known.size + 1; ; n++) if (!known.has(`${prefix}${n}`)) return `${prefix}${n}`;
}

/** So many names that no corner and no constraint has. */
export function freshNames(sketch: Sketch, count: number, prefix = 'c'): string[] {
  const out: string[] = [];
  for (let i = 0; i < count; i++) out.push(freshName({ ...sketch, names: [...sketch.names, out] }, prefix));
  return out;
}

/** Where a corner and the piece that begins there are. */
export function placeOfName({ names }: Sketch, name: string): { readonly loop: number; readonly index: number } | undefined {
  for (const [loop, list] of names.entries()) {
    const index = list.indexOf(name);
    if (index >= 0) return { loop, index };
  }
  return undefined;
}

/** A constraint more; one of the same kind about the same things is replaced. */
export function withConstraint(sketch: Sketch, made: SketchConstraint): Sketch {
  const about = (c: SketchConstraint) => `${c.kind} ${namesIn(c).sort().join(' ')}`;
  return { ...sketch, constraints: [...sketch.constraints.filter((c) => about(c) !== about(made)), made] };
}

export const withoutConstraint = (sketch: Sketch, id: string): Sketch => ({ ...sketch, constraints: sketch.constraints.filter((c) => c.id !== id) });

/** A corner more in the middle of a piece. */
export function splitPiece({ profile, sketch }: Sketched, name: string): Sketched {
  const at = placeOfName(sketch, name);
  if (!at) return { profile, sketch };
  const piece = profile[at.loop][at.index];
  const middle = placeOnPiece(piece, 0.5);
  const halves: PathPiece[] = [
    { ...piece, to: middle },
    { ...piece, from: middle },
  ];
  return spliced({ profile, sketch }, at, 1, halves, [name, freshName(sketch)], ['length', 'equal']);
}

/** A corner between two lines rounded with a radius, which is then said of it, tangent on both sides. */
export function filletCorner({ profile, sketch }: Sketched, name: string, radius: number): Result<Sketched> {
  const cut = cornerCut(profile, sketch, name, (half) => radius / Math.tan(half));
  if (!cut.ok) return cut;
  const { at, first, second, before, turn } = cut.value;
  const ux = (second[0] - before.to[0]) / flatDistance(second, before.to);
  const uy = (second[1] - before.to[1]) / flatDistance(second, before.to);
  const side = turn > 0 ? 1 : -1;
  const centre: FlatPoint = [second[0] - side * uy * radius, second[1] + side * ux * radius];
  const arc: PathPiece = { kind: 'arc', from: first, to: second, centre, ccw: turn > 0 };
  const made = freshName(sketch);
  const cutPiece = insertAtCorner({ profile, sketch }, at, first, second, arc, made);
  const previous = namesBefore(sketch, at);
  const say = (s: Sketch, c: Omit<Extract<SketchConstraint, { kind: 'tangent' }>, 'id'> | Omit<Extract<SketchConstraint, { kind: 'radius' }>, 'id'>): Sketch =>
    withConstraint(s, { ...c, id: freshName(s, 'k') });
  const tangents = say(say(cutPiece.sketch, { kind: 'tangent', first: previous, second: made }), { kind: 'tangent', first: made, second: name });
  return done({ profile: cutPiece.profile, sketch: say(tangents, { kind: 'radius', piece: made, value: radius }) });
}

/** A corner between two lines broken by `size` along both. */
export function chamferCorner({ profile, sketch }: Sketched, name: string, size: number): Result<Sketched> {
  const cut = cornerCut(profile, sketch, name, () => size);
  if (!cut.ok) return cut;
  const { at, first, second } = cut.value;
  return done(insertAtCorner({ profile, sketch }, at, first, second, { kind: 'line', from: first, to: second }, freshName(sketch)));
}

/** An outline without a corner: the piece before it goes on to the next one. Undefined where too little would be left. */
export function deleteCorner({ profile, sketch }: Sketched, name: string): Sketched | undefined {
  const at = placeOfName(sketch, name);
  if (!at || profile[at.loop].length <= 3) return undefined;
  const loop = profile[at.loop];
  const [before, here] = [(at.index + loop.length - 1) % loop.length, at.index];
  const joined = joinedPiece(loop[before], loop[here]);
  const next = loop.flatMap((p, i) => (i === here ? [] : i === before ? [joined] : [p]));
  const names = sketch.names[at.loop].filter((n) => n !== name);
  return onlyKnown(withLoop({ profile, sketch }, at.loop, next, names));
}

// One piece for two: an arc where both lie on one circle, else a line.
function joinedPiece(a: PathPiece, b: PathPiece): PathPiece {
  const isOneArc = a.kind === 'arc' && b.kind === 'arc' && a.ccw === b.ccw && flatDistance(a.centre, b.centre) < 1e-6 && flatDistance(a.from, b.to) > 1e-6;
  return isOneArc ? { ...a, to: b.to } : { kind: 'line', from: a.from, to: b.to };
}

/** A line bent to an arc that stands out by a tenth of its length, to the outside; an arc straightened to a line. */
export function bendPiece({ profile, sketch }: Sketched, name: string): Sketched {
  const at = placeOfName(sketch, name);
  if (!at) return { profile, sketch };
  const piece = profile[at.loop][at.index];
  const { from, to } = piece;
  const chord = flatDistance(from, to);
  const [ux, uy] = [(to[0] - from[0]) / chord, (to[1] - from[1]) / chord];
  // Sagitta a tenth of the chord: the centre is 1.2 chords inside of it.
  const inside = 1.2 * chord;
  const bent: PathPiece =
    piece.kind === 'arc'
      ? { kind: 'line', from, to }
      : { kind: 'arc', from, to, centre: [(from[0] + to[0]) / 2 - uy * inside, (from[1] + to[1]) / 2 + ux * inside], ccw: true };
  return onlyKnown({ profile: profile.map((l, k) => (k === at.loop ? l.map((p, i) => (i === at.index ? bent : p)) : l)), sketch });
}

type Place = { readonly loop: number; readonly index: number };

const namesBefore = ({ names }: Sketch, { loop, index }: Place): string => names[loop][(index + names[loop].length - 1) % names[loop].length];

// Where the two lines of a corner are cut; `along`: how far, by half the angle between them.
function cornerCut(
  profile: HalfProfile,
  sketch: Sketch,
  name: string,
  along: (half: number) => number,
): Result<{ at: Place; first: FlatPoint; second: FlatPoint; before: PathPiece; turn: number }> {
  const at = placeOfName(sketch, name);
  if (!at) return failed('sketch.no-corner', { text: 'it is not there' });
  const loop = profile[at.loop];
  const [before, after] = [loop[(at.index + loop.length - 1) % loop.length], loop[at.index]];
  if (before.kind !== 'line' || after.kind !== 'line') return failed('sketch.no-corner', { text: 'it is not between two lines' });
  const [a, corner, b] = [before.from, before.to, after.to];
  const [la, lb] = [flatDistance(a, corner), flatDistance(corner, b)];
  const [u, v] = [
    [(a[0] - corner[0]) / la, (a[1] - corner[1]) / la],
    [(b[0] - corner[0]) / lb, (b[1] - corner[1]) / lb],
  ];
  const turn = v[0] * u[1] - v[1] * u[0];
  if (Math.abs(turn) < 1e-6) return failed('sketch.no-corner', { text: 'its lines run on in each other' });
  const half = Math.acos(Math.max(-1, Math.min(1, u[0] * v[0] + u[1] * v[1]))) / 2;
  const cut = along(half);
  if (!(cut > 0) || cut >= Math.min(la, lb))
    return failed('sketch.no-corner', { text: `its lines are ${Math.min(la, lb).toFixed(3)} mm long, and it would take ${cut.toFixed(3)}` });
  return done({
    at,
    first: [corner[0] + u[0] * cut, corner[1] + u[1] * cut],
    second: [corner[0] + v[0] * cut, corner[1] + v[1] * cut],
    before,
    turn,
  });
}

// A piece put into a corner: the one before it ends where it begins, the corner's own begins where it ends.
function insertAtCorner({ profile, sketch }: Sketched, { loop, index }: Place, first: FlatPoint, second: FlatPoint, made: PathPiece, name: string): Sketched {
  const pieces = profile[loop];
  const before = (index + pieces.length - 1) % pieces.length;
  const next = pieces.flatMap((p, i) => (i === index ? [made, { ...p, from: second }] : i === before ? [{ ...p, to: first }] : [p]));
  // Where the corner was the loop's first, the piece before it comes last.
  const fixed = next.map((p, i) => (i === next.length - 1 && before === pieces.length - 1 && index === 0 ? { ...p, to: first } : p));
  const names = sketch.names[loop].flatMap((n, i) => (i === index ? [name, n] : [n]));
  // What was said of the corner along the axis is said of the one that still is there, and so across it.
  const corner = pieces[index].from;
  const at = (k: 0 | 1): string => (Math.abs(first[k] - corner[k]) < Math.abs(second[k] - corner[k]) ? name : sketch.names[loop][index]);
  const old = sketch.names[loop][index];
  const moved = sketch.constraints.flatMap((c): SketchConstraint[] => {
    const renamed = (n: string, k: 0 | 1): string => (n === old ? at(k) : n);
    if (c.kind === 'fixed') return c.corner === old ? [] : [c];
    if (c.kind === 'diameter') return [{ ...c, corner: renamed(c.corner, 1) }];
    if (c.kind === 'along') return [{ ...c, from: renamed(c.from, 0), to: renamed(c.to, 0) }];
    return c.kind === 'across' ? [{ ...c, from: renamed(c.from, 1), to: renamed(c.to, 1) }] : [c];
  });
  const cut = onlyKnown(withLoop({ profile, sketch: { ...sketch, constraints: moved } }, loop, fixed, names));
  return { profile: cut.profile, sketch: measureAgain(cut.profile, cut.sketch) };
}

function spliced(
  { profile, sketch }: Sketched,
  { loop, index }: Place,
  count: number,
  pieces: readonly PathPiece[],
  names: readonly string[],
  drop: readonly string[],
): Sketched {
  const [path, known] = [[...profile[loop]], [...sketch.names[loop]]];
  const gone = known[index];
  path.splice(index, count, ...pieces);
  known.splice(index, count, ...names);
  return {
    profile: profile.map((l, k) => (k === loop ? path : l)),
    sketch: {
      names: sketch.names.map((l, k) => (k === loop ? known : l)),
      constraints: sketch.constraints.filter((c) => !(drop.includes(c.kind) && namesIn(c).includes(gone))),
    },
  };
}

/** An outline with one of its loops replaced. */
export const withLoop = ({ profile, sketch }: Sketched, loop: number, pieces: readonly PathPiece[], names: readonly string[]): Sketched => ({
  profile: profile.map((l, k) => (k === loop ? pieces : l)),
  sketch: { ...sketch, names: sketch.names.map((l, k) => (k === loop ? names : l)) },
});

/** What is said of things that are gone goes with them, and what was true of a piece that is another kind now. */
export function onlyKnown({ profile, sketch }: Sketched): Sketched {
  const known = new Set(sketch.names.flat());
  const kindOf = new Map(profile.flatMap((loop, l) => loop.map((p, i) => [sketch.names[l][i], p.kind] as const)));
  const keeps = (c: SketchConstraint): boolean => namesIn(c).every((n) => known.has(n)) && isForKinds(c, kindOf);
  return { profile, sketch: { ...sketch, constraints: sketch.constraints.filter(keeps) } };
}

// Whether the pieces that a constraint is about are of the kinds it can be about.
function isForKinds(c: SketchConstraint, kindOf: ReadonlyMap<string, PathPiece['kind']>): boolean {
  switch (c.kind) {
    case 'horizontal':
    case 'vertical':
    case 'length':
    case 'angle':
      return kindOf.get(c.piece) === 'line';
    case 'radius':
      return kindOf.get(c.piece) === 'arc';
    case 'parallel':
    case 'perpendicular':
      return kindOf.get(c.first) === 'line' && kindOf.get(c.second) === 'line';
    case 'equal':
      return kindOf.get(c.first) === kindOf.get(c.second);
    case 'tangent':
      return kindOf.get(c.first) === 'arc' || kindOf.get(c.second) === 'arc';
    case 'symmetric':
      return c.about === null || kindOf.get(c.about) === 'line';
    case 'fixed':
    case 'along':
    case 'across':
    case 'diameter':
      return true;
  }
}
