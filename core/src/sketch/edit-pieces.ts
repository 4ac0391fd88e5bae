import { done, failed, type Result } from '#core/issues';
import { type FlatPoint, flatDistance, meetingsOf, type PathPiece } from '#core/outline';
import { freshNames, onlyKnown, placeOfName, type Sketched, withLoop } from './edit-sketch.ts';
import { measureAgain } from './measure-again.ts';

// mm. Ends nearer to each other than this are one.
const SAME = 1e-7;

const at = ([x, y]: FlatPoint): string => `${x.toFixed(3)}, ${y.toFixed(3)}`;
const refused = (text: string): Result<never> => failed('sketch.no-edit', { text });

/** Two pieces run on, or are cut back, until they meet; what lay between them is gone. */
export function meetPieces({ profile, sketch }: Sketched, first: string, second: string): Result<Sketched> {
  const [a, b] = [placeOfName(sketch, first), placeOfName(sketch, second)];
  if (!a || !b || a.loop !== b.loop || a.index === b.index) return refused('it takes two pieces of one outline');
  const loop = profile[a.loop];
  const n = loop.length;
  // In the order in which fewer pieces lie between them.
  const [i, k] = (b.index - a.index + n) % n <= (a.index - b.index + n) % n ? [a.index, b.index] : [b.index, a.index];
  const [before, after] = [loop[i], loop[k]];
  const near = (p: FlatPoint): number => flatDistance(p, before.to) + flatDistance(p, after.from);
  const [meeting] = meetingsOf(before, after).sort((p, q) => near(p) - near(q));
  if (!meeting) return refused('the two do not meet, however far they run on');
  const [cut, begun] = [withEnds(before, before.from, meeting), withEnds(after, meeting, after.to)];
  if (!cut || !begun) return refused(`the two meet at ${at(meeting)}, behind where one of them begins`);
  const between = (k - i + n) % n;
  const kept = Array.from({ length: n - between + 1 }, (_, s) => (k + s) % n);
  if (kept.length < 3) return refused('fewer than three pieces would be left');
  const pieces = kept.map((index) => (index === i ? cut : index === k ? begun : loop[index]));
  const names = kept.map((index) => sketch.names[a.loop][index]);
  const made = onlyKnown(withLoop({ profile, sketch }, a.loop, pieces, names));
  return done({ profile: made.profile, sketch: measureAgain(made.profile, made.sketch) });
}

/** Pieces moved to the outside by `distance` mm (to the inside below 0); those beside them run on or are cut back. What is said in numbers follows. */
export function offsetPieces(sketched: Sketched, names: readonly string[], distance: number): Result<Sketched> {
  const { profile, sketch } = sketched;
  const wanted = new Set(names);
  const loops: PathPiece[][] = [];
  for (const [l, loop] of profile.entries()) {
    const isMoved = (i: number): boolean => wanted.has(sketch.names[l][i]);
    if (!loop.some((_, i) => isMoved(i))) {
      loops.push([...loop]);
      continue;
    }
    const moved: PathPiece[] = [];
    for (const [i, p] of loop.entries()) {
      const next = isMoved(i) ? besideOf(p, distance) : p;
      if (!next) return refused(`the arc at ${at(p.from)} would have no radius left`);
      moved.push(next);
    }
    const corners: FlatPoint[] = [];
    for (const [i, p] of moved.entries()) {
      const before = moved[(i + moved.length - 1) % moved.length];
      const corner = cornerBetween(before, p, loop[i].from);
      if (!corner) return refused(`the two pieces at ${at(loop[i].from)} would not meet any more`);
      corners.push(corner);
    }
    const pieces: PathPiece[] = [];
    for (const [i, p] of moved.entries()) {
      const [from, to] = [corners[i], corners[(i + 1) % corners.length]];
      const made = withEnds(p, from, to, loop[i]);
      if (!made) return refused(`of the piece at ${at(loop[i].from)} nothing would be left`);
      pieces.push(made);
    }
    loops.push(pieces);
  }
  return done({ profile: loops, sketch: measureAgain(loops, sketch) });
}

/** All pieces of a profile that are surfaces: of what is turned all but those on the axis. */
export const surfaceNames = ({ profile, sketch }: Sketched, isTurned: boolean): string[] =>
  profile.flatMap((loop, l) => loop.flatMap((p, i) => (isTurned && Math.abs(p.from[1]) < SAME && Math.abs(p.to[1]) < SAME ? [] : [sketch.names[l][i]])));

/** An outline and its mirror image about one of its lines, as one; the line is gone. */
export function mirrorAbout({ profile, sketch }: Sketched, name: string): Result<Sketched> {
  const place = placeOfName(sketch, name);
  const line = place && profile[place.loop][place.index];
  if (!place || line?.kind !== 'line') return refused('an outline is mirrored about one of its lines');
  const loop = profile[place.loop];
  const n = loop.length;
  const order = Array.from({ length: n - 1 }, (_, s) => (place.index + 1 + s) % n);
  const mirror = mirrorAcross(line.from, line.to);
  const there = order.map((i) => loop[i]);
  const back = [...there].reverse().map((p): PathPiece => {
    const [from, to] = [mirror(p.to), mirror(p.from)];
    return p.kind === 'line' ? { kind: 'line', from, to } : { kind: 'arc', from, to, centre: mirror(p.centre), ccw: p.ccw };
  });
  const fresh = freshNames(sketch, back.length);
  const kept = order.map((i) => sketch.names[place.loop][i]);
  const joined = mergeStraight([...there, ...back], [...kept, ...fresh]);
  const made = withLoop({ profile, sketch }, place.loop, joined.pieces, joined.names);
  // What was said of pieces that are longer now is measured anew.
  const tidy = onlyKnown(made);
  return done({ profile: tidy.profile, sketch: measureAgain(tidy.profile, tidy.sketch) });
}

// Lines that run on in each other become one.
function mergeStraight(pieces: readonly PathPiece[], names: readonly string[]): { pieces: PathPiece[]; names: string[] } {
  const out: { piece: PathPiece; name: string }[] = [];
  for (const [i, piece] of pieces.entries()) {
    const last = out[out.length - 1];
    if (last && runsOn(last.piece, piece)) last.piece = { kind: 'line', from: last.piece.from, to: piece.to };
    else out.push({ piece, name: names[i] });
  }
  const [first, last] = [out[0], out[out.length - 1]];
  if (out.length > 3 && runsOn(last.piece, first.piece)) {
    last.piece = { kind: 'line', from: last.piece.from, to: first.piece.to };
    out.shift();
  }
  return { pieces: out.map((o) => o.piece), names: out.map((o) => o.name) };
}

function runsOn(p: PathPiece, q: PathPiece): boolean {
  if (p.kind !== 'line' || q.kind !== 'line') return false;
  const [ux, uy, vx, vy] = [p.to[0] - p.from[0], p.to[1] - p.from[1], q.to[0] - q.from[0], q.to[1] - q.from[1]];
  return Math.abs(ux * vy - uy * vx) < 1e-9 * Math.hypot(ux, uy) * Math.hypot(vx, vy) && ux * vx + uy * vy > 0;
}

const mirrorAcross = (a: FlatPoint, b: FlatPoint): ((p: FlatPoint) => FlatPoint) => {
  const [dx, dy] = [b[0] - a[0], b[1] - a[1]];
  const sq = dx * dx + dy * dy;
  return ([x, y]) => {
    const t = ((x - a[0]) * dx + (y - a[1]) * dy) / sq;
    return [2 * (a[0] + t * dx) - x, 2 * (a[1] + t * dy) - y];
  };
};

// A piece beside itself: outside lies on its right. Undefined for an arc that would have no radius.
function besideOf(p: PathPiece, distance: number): PathPiece | undefined {
  if (p.kind === 'line') {
    const long = flatDistance(p.from, p.to);
    const [nx, ny] = [(distance * (p.to[1] - p.from[1])) / long, (-distance * (p.to[0] - p.from[0])) / long];
    return { kind: 'line', from: [p.from[0] + nx, p.from[1] + ny], to: [p.to[0] + nx, p.to[1] + ny] };
  }
  const radius = flatDistance(p.from, p.centre);
  const share = 1 + ((p.ccw ? 1 : -1) * distance) / radius;
  if (share <= 0) return undefined;
  const out = (q: FlatPoint): FlatPoint => [p.centre[0] + share * (q[0] - p.centre[0]), p.centre[1] + share * (q[1] - p.centre[1])];
  return { ...p, from: out(p.from), to: out(p.to) };
}

// Where two neighbours meet after they moved: nearest to where they met; where they are tangent or in line, between their ends.
function cornerBetween(before: PathPiece, after: PathPiece, was: FlatPoint): FlatPoint | undefined {
  if (flatDistance(before.to, after.from) < SAME) return before.to;
  return meetingsOf(before, after).sort((p, q) => flatDistance(p, was) - flatDistance(q, was))[0];
}

// A piece with other ends, running the same way; undefined where it would run backwards. `like`: which way it ran.
function withEnds(p: PathPiece, from: FlatPoint, to: FlatPoint, like: PathPiece = p): PathPiece | undefined {
  if (flatDistance(from, to) < SAME) return undefined;
  if (p.kind === 'line') {
    const ahead = (to[0] - from[0]) * (like.to[0] - like.from[0]) + (to[1] - from[1]) * (like.to[1] - like.from[1]);
    return ahead > 0 ? { kind: 'line', from, to } : undefined;
  }
  return { ...p, from, to };
}
