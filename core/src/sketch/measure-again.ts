import { type FlatPoint, flatDistance, type HalfProfile } from '#core/outline';
import { nextNames, pieceNamed } from './sketch-primitives.ts';
import { namesIn, type Sketch, type SketchConstraint } from './sketch-schema.ts';

// mm and degrees. What differs by less was only rounded.
const SAME = 1e-6;

/** What is said of an outline in numbers, measured on it as it is now: after something moved on purpose, the numbers follow. */
export function measureAgain(profile: HalfProfile, sketch: Sketch): Sketch {
  const next = nextNames(sketch);
  const placeOf = (name: string): FlatPoint => pieceNamed(profile, sketch, name).from;
  const endOf = (name: string): FlatPoint => placeOf(next.get(name) ?? name);
  const known = new Set(sketch.names.flat());
  const follow = (c: SketchConstraint): SketchConstraint => {
    if (!namesIn(c).every((n) => known.has(n))) return c;
    if (c.kind === 'fixed') {
      const at = placeOf(c.corner);
      return flatDistance(at, c.at) < SAME ? c : { ...c, at };
    }
    const value = measured(c, placeOf, endOf, (name) => pieceNamed(profile, sketch, name));
    return value === undefined || !('value' in c) || Math.abs(value - c.value) < SAME ? c : { ...c, value };
  };
  return { ...sketch, constraints: sketch.constraints.map(follow) };
}

function measured(
  c: SketchConstraint,
  placeOf: (name: string) => FlatPoint,
  endOf: (name: string) => FlatPoint,
  pieceOf: (name: string) => ReturnType<typeof pieceNamed>,
): number | undefined {
  switch (c.kind) {
    case 'length':
      return flatDistance(placeOf(c.piece), endOf(c.piece));
    case 'along':
      return Math.abs(placeOf(c.from)[0] - placeOf(c.to)[0]);
    case 'across':
      return Math.abs(placeOf(c.from)[1] - placeOf(c.to)[1]);
    case 'diameter':
      return 2 * placeOf(c.corner)[1];
    case 'radius': {
      const piece = pieceOf(c.piece);
      return piece.kind === 'arc' ? flatDistance(piece.from, piece.centre) : undefined;
    }
    case 'angle': {
      const [a, b] = [placeOf(c.piece), endOf(c.piece)];
      const now = (Math.atan2(b[1] - a[1], b[0] - a[0]) * 180) / Math.PI;
      // The one that says the same line as before, where it does.
      const turns = Math.round((now - c.value) / 180);
      const same = now - 180 * turns;
      return Math.abs(same - c.value) < SAME ? c.value : now;
    }
    default:
      return undefined;
  }
}
