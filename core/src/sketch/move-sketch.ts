import { type FlatPoint, type HalfProfile, type PathPiece } from '#core/outline';
import { fixedOf, nextNames, type SketchDrag } from './sketch-primitives.ts';
import { namesIn, type Sketch, type SketchConstraint } from './sketch-schema.ts';

/** What must become 0, in mm, of the unknowns at these places of the list. */
interface Equation {
  readonly at: readonly number[];
  readonly off: (x: Float64Array) => number;
}

// mm. What counts as true while something moves.
const TRUE = 1e-6;
// mm. For differences: what is left of them is smaller than what is asked of a moving corner.
const NUDGE = 1e-5;
const MOST_ROUNDS = 15;
// How readily a dragged corner gives way, beside the others: last.
const DRAGGED_MOVES = 0.02;

/**
 * Moves an outline as little as what is said of it lets it, its dragged corners where they are drawn to: Newton's way with the shortest step in each round,
 * found by conjugate gradients, so that hundreds of pieces follow a hand. It judges nothing: what contradicts, and how free the outline is, the solver says.
 * Undefined where it does not come to an end.
 */
export function moveSketch(profile: HalfProfile, sketch: Sketch, drags: readonly SketchDrag[], isTurned: boolean): HalfProfile | undefined {
  const { x, placeOf, centreOf, moves, equations, next, pieces } = layOut(profile, sketch, isTurned);
  for (const { corner, to } of drags) {
    const k = placeOf.get(corner);
    if (k === undefined) continue;
    for (const c of [0, 1] as const) {
      if (moves[k + c] === 0) continue;
      x[k + c] = to[c];
      moves[k + c] = DRAGGED_MOVES ** 2;
    }
  }
  // An arc that is drawn as a whole takes its centre along.
  const drawn = new Map(drags.map((d) => [d.corner, d.to]));
  for (const [name, k] of centreOf) {
    const end = next.get(name) ?? name;
    const [a, b] = [pieces.get(name), pieces.get(end)];
    const [to, endTo] = [drawn.get(name), drawn.get(end)];
    if (!a || !b || !to || !endTo) continue;
    for (const c of [0, 1] as const) x[k + c] += (to[c] - a.from[c] + endTo[c] - b.from[c]) / 2;
  }
  if (!settle(x, moves, equations)) return undefined;
  return profile.map((loop, l) =>
    loop.map((piece, i): PathPiece => {
      const at = (name: string): FlatPoint => {
        const k = placeOf.get(name) ?? 0;
        return [x[k], x[k + 1]];
      };
      const [from, to] = [at(sketch.names[l][i]), at(sketch.names[l][(i + 1) % loop.length])];
      if (piece.kind === 'line') return { kind: 'line', from, to };
      const c = centreOf.get(sketch.names[l][i]) ?? 0;
      return { ...piece, from, to, centre: onBisector([x[c], x[c + 1]], from, to) };
    }),
  );
}

// A centre as far from both ends to the last digit.
function onBisector(centre: FlatPoint, from: FlatPoint, to: FlatPoint): FlatPoint {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const along = ((centre[0] - (from[0] + to[0]) / 2) * dx + (centre[1] - (from[1] + to[1]) / 2) * dy) / (dx * dx + dy * dy || 1);
  return [centre[0] - along * dx, centre[1] - along * dy];
}

// Brings all equations to 0 with the shortest way in each round; whether it came there.
function settle(x: Float64Array, moves: Float64Array, equations: readonly Equation[]): boolean {
  const count = equations.length;
  const starts = new Int32Array(count + 1);
  for (const [e, { at }] of equations.entries()) starts[e + 1] = starts[e] + at.length;
  const columns = Int32Array.from(equations.flatMap((e) => e.at));
  const slopes = new Float64Array(columns.length);
  const off = new Float64Array(count);
  let before = Infinity;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    let worst = 0;
    for (let e = 0; e < count; e++) {
      off[e] = equations[e].off(x);
      worst = Math.max(worst, Math.abs(off[e]));
    }
    if (worst < TRUE) return true;
    if (!Number.isFinite(worst) || (round > 5 && worst > 0.9 * before)) return false;
    before = worst;
    for (let e = 0; e < count; e++) {
      const f = equations[e].off;
      for (let s = starts[e]; s < starts[e + 1]; s++) {
        const k = columns[s];
        const held = x[k];
        x[k] = held + NUDGE;
        const up = f(x);
        x[k] = held - NUDGE;
        slopes[s] = (up - f(x)) / (2 * NUDGE);
        x[k] = held;
      }
    }
    const step = shortestStep(starts, columns, slopes, off, moves);
    for (let k = 0; k < x.length; k++) x[k] += step[k];
  }
  return false;
}

// The shortest step (weighed by what moves how readily) after which J step = -off: conjugate gradients on J W Jt, its diagonal divided out.
function shortestStep(starts: Int32Array, columns: Int32Array, slopes: Float64Array, off: Float64Array, moves: Float64Array): Float64Array {
  const [count, size] = [off.length, moves.length];
  const carried = new Float64Array(size);
  const spread = (v: Float64Array) => {
    carried.fill(0);
    for (let e = 0; e < count; e++) for (let s = starts[e]; s < starts[e + 1]; s++) carried[columns[s]] += slopes[s] * v[e];
    for (let k = 0; k < size; k++) carried[k] *= moves[k];
  };
  const diagonal = new Float64Array(count);
  for (let e = 0; e < count; e++) for (let s = starts[e]; s < starts[e + 1]; s++) diagonal[e] += slopes[s] * slopes[s] * moves[columns[s]];
  const solution = new Float64Array(count);
  const left = off.map((v) => -v);
  const scaled = left.map((v, e) => (diagonal[e] > 0 ? v / diagonal[e] : 0));
  const way = scaled.slice();
  const image = new Float64Array(count);
  let gain = 0;
  for (let e = 0; e < count; e++) gain += left[e] * scaled[e];
  const enough = gain * 1e-14;
  for (let round = 0; round < 2 * count + 10 && gain > enough && gain > 0; round++) {
    spread(way);
    let bend = 0;
    for (let e = 0; e < count; e++) {
      let sum = 0;
      for (let s = starts[e]; s < starts[e + 1]; s++) sum += slopes[s] * carried[columns[s]];
      image[e] = sum;
      bend += sum * way[e];
    }
    if (!(bend > 0)) break;
    const far = gain / bend;
    let next = 0;
    for (let e = 0; e < count; e++) {
      solution[e] += far * way[e];
      left[e] -= far * image[e];
      scaled[e] = diagonal[e] > 0 ? left[e] / diagonal[e] : 0;
      next += left[e] * scaled[e];
    }
    for (let e = 0; e < count; e++) way[e] = scaled[e] + (next / gain) * way[e];
    gain = next;
  }
  spread(solution);
  return carried;
}

// The unknowns, [x, y] of each corner and then of each centre, how readily they move, and what must be true of them.
function layOut(profile: HalfProfile, sketch: Sketch, isTurned: boolean) {
  const fixed = fixedOf(sketch);
  const next = nextNames(sketch);
  const corners = sketch.names.flat();
  const pieces = new Map(profile.flatMap((loop, l) => loop.map((p, i) => [sketch.names[l][i], p] as const)));
  const arcs = corners.filter((name) => pieces.get(name)?.kind === 'arc');
  const x = new Float64Array(2 * (corners.length + arcs.length));
  const moves = new Float64Array(x.length).fill(1);
  const placeOf = new Map(corners.map((name, i) => [name, 2 * i]));
  const centreOf = new Map(arcs.map((name, i) => [name, 2 * (corners.length + i)]));
  for (const [name, k] of placeOf) {
    const [px, py] = fixed.get(name) ?? pieces.get(name)?.from ?? [0, 0];
    [x[k], x[k + 1]] = [px, py];
    if (fixed.has(name)) moves[k] = moves[k + 1] = 0;
    else if (isTurned && Math.abs(py) < 1e-7) [x[k + 1], moves[k + 1]] = [0, 0];
  }
  const equations: Equation[] = [];
  for (const [name, k] of centreOf) {
    const piece = pieces.get(name);
    if (piece?.kind !== 'arc') continue;
    [x[k], x[k + 1]] = piece.centre;
    const [a, b] = [placeOf.get(name) ?? 0, placeOf.get(next.get(name) ?? name) ?? 0];
    equations.push({ at: [a, a + 1, b, b + 1, k, k + 1], off: (v) => span(v, a, k) - span(v, b, k) });
  }
  const known = (c: SketchConstraint) => namesIn(c).every((n) => placeOf.has(n));
  const at = (name: string): number => placeOf.get(name) ?? 0;
  const lay: Laying = {
    x,
    at,
    end: (name) => at(next.get(name) ?? name),
    centre: (name) => centreOf.get(name) ?? 0,
    isArc: (name) => centreOf.has(name),
    next,
  };
  for (const c of sketch.constraints) if (known(c)) equations.push(...equationsOf(c, lay));
  return { x, placeOf, centreOf, moves, equations, next, pieces };
}

interface Laying {
  readonly x: Float64Array;
  readonly at: (name: string) => number;
  readonly end: (name: string) => number;
  readonly centre: (name: string) => number;
  readonly isArc: (name: string) => boolean;
  readonly next: ReadonlyMap<string, string>;
}

// Distance of two places; and what a turn from one way to another is, as the sine or cosine times a length of the first.
const span = (v: Float64Array, a: number, b: number): number => Math.hypot(v[b] - v[a], v[b + 1] - v[a + 1]);
const cross = (v: Float64Array, a: number, b: number, c: number, d: number): number =>
  (v[b] - v[a]) * (v[d + 1] - v[c + 1]) - (v[b + 1] - v[a + 1]) * (v[d] - v[c]);
const dot = (v: Float64Array, a: number, b: number, c: number, d: number): number =>
  (v[b] - v[a]) * (v[d] - v[c]) + (v[b + 1] - v[a + 1]) * (v[d + 1] - v[c + 1]);
const both = (...places: number[]): number[] => [...new Set(places)].flatMap((k) => [k, k + 1]);

function equationsOf(c: SketchConstraint, { x, at, end, centre, isArc, next }: Laying): Equation[] {
  switch (c.kind) {
    case 'fixed':
      return [];
    case 'horizontal':
    case 'vertical': {
      const k = c.kind === 'vertical' ? 0 : 1;
      const [a, b] = [at(c.piece) + k, end(c.piece) + k];
      return [{ at: [a, b], off: (v) => v[a] - v[b] }];
    }
    case 'along':
    case 'across': {
      const k = c.kind === 'along' ? 0 : 1;
      const [p, q] = [at(c.from) + k, at(c.to) + k];
      const [a, b] = x[p] <= x[q] ? [p, q] : [q, p];
      return [{ at: [a, b], off: (v) => v[b] - v[a] - c.value }];
    }
    case 'diameter': {
      const k = at(c.corner) + 1;
      return [{ at: [k], off: (v) => v[k] - c.value / 2 }];
    }
    case 'length': {
      const [a, b] = [at(c.piece), end(c.piece)];
      return [{ at: both(a, b), off: (v) => span(v, a, b) - c.value }];
    }
    case 'radius': {
      const [a, m] = [at(c.piece), centre(c.piece)];
      return [{ at: both(a, m), off: (v) => span(v, a, m) - c.value }];
    }
    case 'angle': {
      const [a, b] = [at(c.piece), end(c.piece)];
      const [s, k] = [Math.sin((c.value * Math.PI) / 180), Math.cos((c.value * Math.PI) / 180)];
      return [{ at: both(a, b), off: (v) => s * (v[b] - v[a]) - k * (v[b + 1] - v[a + 1]) }];
    }
    case 'parallel':
    case 'perpendicular': {
      const [a, b, d, e] = [at(c.first), end(c.first), at(c.second), end(c.second)];
      const turn = c.kind === 'parallel' ? cross : dot;
      return [{ at: both(a, b, d, e), off: (v) => turn(v, a, b, d, e) / Math.max(span(v, a, b), span(v, d, e), 1e-9) }];
    }
    case 'equal': {
      const [a, b] = [at(c.first), isArc(c.first) ? centre(c.first) : end(c.first)];
      const [d, e] = [at(c.second), isArc(c.second) ? centre(c.second) : end(c.second)];
      return [{ at: both(a, b, d, e), off: (v) => span(v, a, b) - span(v, d, e) }];
    }
    case 'symmetric': {
      const [p, q] = [at(c.from), at(c.to)];
      if (c.about === null)
        return [
          { at: [p, q], off: (v) => v[p] - v[q] },
          { at: [p + 1, q + 1], off: (v) => v[p + 1] + v[q + 1] },
        ];
      const [a, b] = [at(c.about), end(c.about)];
      // Square to the line, and in the middle on it.
      return [
        { at: both(p, q, a, b), off: (v) => dot(v, p, q, a, b) / Math.max(span(v, a, b), 1e-9) },
        { at: both(p, q, a, b), off: (v) => (cross(v, a, b, a, p) + cross(v, a, b, a, q)) / (2 * Math.max(span(v, a, b), 1e-9)) },
      ];
    }
    case 'tangent': {
      const shared = next.get(c.first) === c.second ? at(c.second) : next.get(c.second) === c.first ? at(c.first) : undefined;
      const [line, arc] = isArc(c.first) ? [c.second, c.first] : [c.first, c.second];
      const m = centre(arc);
      if (isArc(line)) {
        const o = centre(line);
        if (shared !== undefined)
          return [{ at: both(m, o, shared), off: (v) => cross(v, m, shared, o, shared) / Math.max(span(v, m, shared), span(v, o, shared), 1e-9) }];
        const [p, q] = [at(arc), at(line)];
        const isInside = span(x, m, o) < Math.max(span(x, m, p), span(x, o, q));
        return [
          {
            at: both(m, o, p, q),
            off: (v) => span(v, m, o) - (isInside ? Math.abs(span(v, m, p) - span(v, o, q)) : span(v, m, p) + span(v, o, q)),
          },
        ];
      }
      const [a, b, p] = [at(line), end(line), at(arc)];
      if (shared !== undefined) return [{ at: both(a, b, m, shared), off: (v) => dot(v, a, b, m, shared) / Math.max(span(v, a, b), 1e-9) }];
      return [{ at: both(a, b, m, p), off: (v) => Math.abs(cross(v, a, b, a, m)) / Math.max(span(v, a, b), 1e-9) - span(v, m, p) }];
    }
  }
}

/** How far a profile is from what is said of it, mm: the worst of all. */
export function worstOff(profile: HalfProfile, sketch: Sketch, isTurned: boolean): number {
  const { x, equations } = layOut(profile, sketch, isTurned);
  return equations.reduce((worst, e) => Math.max(worst, Math.abs(e.off(x))), 0);
}
