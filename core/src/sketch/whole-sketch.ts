import { boxOfPath, boxOfPiece, type FlatPoint, flattenPath, type HalfProfile, mapPiece, mirrorProfile, type PathPiece } from '#core/outline';
import type { Sketched } from './edit-sketch.ts';
import { measureAgain } from './measure-again.ts';
import { nextNames } from './sketch-primitives.ts';
import type { Sketch, SketchConstraint } from './sketch-schema.ts';

const anew = (profile: HalfProfile, sketch: Sketch): Sketched => ({ profile, sketch: measureAgain(profile, sketch) });
const mapped = ({ profile }: Sketched, at: (p: FlatPoint) => FlatPoint): PathPiece[][] => profile.map((loop) => loop.map((p) => mapPiece(p, at)));

/** All of an outline moved. */
export const moveOutline = (sketched: Sketched, [dx, dy]: FlatPoint): Sketched =>
  anew(
    mapped(sketched, ([x, y]) => [x + dx, y + dy]),
    sketched.sketch,
  );

/** All of an outline larger or smaller, about the origin. */
export const scaleOutline = (sketched: Sketched, factor: number): Sketched =>
  anew(
    mapped(sketched, ([x, y]) => [x * factor, y * factor]),
    sketched.sketch,
  );

/** All of an outline turned a quarter counter-clockwise about the origin: what was level is square then. */
export function turnOutline(sketched: Sketched): Sketched {
  const swapped: Readonly<Partial<Record<SketchConstraint['kind'], SketchConstraint['kind']>>> = {
    horizontal: 'vertical',
    vertical: 'horizontal',
    along: 'across',
    across: 'along',
  };
  // What is symmetric about the middle line would be so about another one.
  const kept = sketched.sketch.constraints.filter((c) => c.kind !== 'symmetric' || c.about !== null);
  const constraints = kept.map((c) => ({ ...c, kind: swapped[c.kind] ?? c.kind }) as SketchConstraint);
  return anew(
    mapped(sketched, ([x, y]) => [-y, x]),
    { ...sketched.sketch, constraints },
  );
}

/** All of an outline turned end for end: seen from its other end, where it was. */
export function flipOutline({ profile, sketch }: Sketched): Sketched {
  const [x0, , x1] = boxOfPath(profile.flat());
  const next = nextNames(sketch);
  // A piece is run through the other way: it begins where it ended.
  const names = sketch.names.map((loop) => [...loop].reverse().map((name) => next.get(name) ?? name));
  const piece = (name: string): string => next.get(name) ?? name;
  const renamed = (c: SketchConstraint): SketchConstraint => {
    if ('piece' in c) return { ...c, piece: piece(c.piece) };
    if ('first' in c) return { ...c, first: piece(c.first), second: piece(c.second) };
    return c.kind === 'symmetric' && c.about !== null ? { ...c, about: piece(c.about) } : c;
  };
  return anew(mirrorProfile(profile, x0 + x1), { names, constraints: sketch.constraints.map(renamed) });
}

/** Corners and pieces within a box: those that it encloses, or all that it touches. */
export function namesInBox(
  { profile, sketch }: Sketched,
  [x0, y0, x1, y1]: readonly [number, number, number, number],
  touching: boolean,
): { readonly corners: string[]; readonly pieces: string[] } {
  const isIn = ([x, y]: FlatPoint): boolean => x >= x0 && x <= x1 && y >= y0 && y <= y1;
  const corners: string[] = [];
  const pieces: string[] = [];
  for (const [l, loop] of profile.entries())
    for (const [i, p] of loop.entries()) {
      if (isIn(p.from)) corners.push(sketch.names[l][i]);
      const [a, b, c, d] = boxOfPiece(p);
      const isEnclosed = a >= x0 && b >= y0 && c <= x1 && d <= y1;
      if (isEnclosed || (touching && chordsOf(p).some(([u, v]) => crossesBox(u, v, [x0, y0, x1, y1])))) pieces.push(sketch.names[l][i]);
    }
  return { corners, pieces };
}

function chordsOf(p: PathPiece): [FlatPoint, FlatPoint][] {
  const places = [...flattenPath([p], 0.01, false), p.to];
  return places.slice(1).map((to, i) => [places[i], to]);
}

// Liang and Barsky: what of a way lies in the box.
function crossesBox(from: FlatPoint, to: FlatPoint, [x0, y0, x1, y1]: readonly [number, number, number, number]): boolean {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  let [low, high] = [0, 1];
  for (const [step, room] of [
    [-dx, from[0] - x0],
    [dx, x1 - from[0]],
    [-dy, from[1] - y0],
    [dy, y1 - from[1]],
  ]) {
    if (step === 0 && room < 0) return false;
    if (step < 0) low = Math.max(low, room / step);
    if (step > 0) high = Math.min(high, room / step);
  }
  return low <= high;
}
