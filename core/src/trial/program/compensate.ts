import { done, issue, type Issue, type Result } from '#core/issues';
import { flatDistance, type FlatPoint, mapPiece, meetingsOf, type PathPiece } from '#core/outline';
import type { Move, Side, Step } from './moves.ts';

/** The nose of a tool, as its compensation knows it. */
export interface Nose {
  readonly radius: number;
  /** From the nose centre to the programmed point, in radii, [z, x]: of a virtual tip its corner, of a nose centre nothing. */
  readonly point: FlatPoint;
}

/**
 * The steps of a program with the nose radius compensated (G41, G42): where it holds, what is programmed is the contour, and the nose rolls along it on its side. Outer
 * corners are rounded, inner ones cut short; the first move leads to the contour, the one with G40 away from it. A contour that the nose does not go into is a fault.
 */
export function compensated(
  steps: readonly Step[],
  file: string,
  noseOf: (tool: number, offset: number | undefined) => Nose | undefined,
): Result<readonly Step[]> {
  const out: Step[] = [];
  // Where the programmed point really stands, once that is not where the program says.
  let stands: FlatPoint | undefined;
  let tool: number | undefined;
  for (let i = 0; i < steps.length; i++) {
    const step = steps[i];
    if (step.kind !== 'move') {
      out.push(step);
      continue;
    }
    if (!step.side) {
      out.push(stands ? { ...step, path: { ...step.path, from: stands } } : step);
      // An arc that starts elsewhere is none: leading away is straight.
      if (stands && step.path.kind === 'arc') return fault(file, step, 'G40 with an arc; lead away by G0 or G1');
      stands = undefined;
      continue;
    }
    let end = i;
    while (end < steps.length && isOf(steps[end], step)) end++;
    const next = steps.at(end);
    if (next?.kind === 'wait') return fault(file, next, 'it waits for another channel while the nose is compensated; cancel it by G40 first');
    const run = steps
      .slice(i, end)
      .filter((s): s is Move => s.kind === 'move' && flatDistance(s.path.from, s.path.to) + (s.path.kind === 'arc' ? 1 : 0) > 1e-9);
    const nose = noseOf(step.tool, step.offset);
    if (!nose) return fault(file, step, 'nothing is known of its nose');
    // From one side to the other it goes on from where it stands.
    if (stands && tool !== step.tool) return fault(file, step, 'another tool came while it held; cancel it by G40 first');
    const begun = stands ? [{ ...run[0], path: { ...run[0].path, from: stands } }, ...run.slice(1)] : run;
    const rolled = roll(run.length > 0 ? begun : run, step.side, nose, file);
    if (!rolled.ok) return rolled;
    out.push(...rolled.value);
    out.push(...steps.slice(i, end).filter((s) => s.kind !== 'move'));
    stands = rolled.value.at(-1)?.path.to ?? stands;
    tool = step.tool;
    i = end - 1;
  }
  return done(out);
}

const isOf = (step: Step, { side, tool, offset }: Move): boolean =>
  step.kind === 'dwell' || step.kind === 'stop' || (step.kind === 'move' && step.side === side && step.tool === tool && step.offset === offset);

const fault = (file: string, { line }: { readonly line: number }, text: string): { ok: false; issues: Issue[] } => ({
  ok: false,
  issues: [issue('program.compensation', { file, line, text })],
});

type Way = readonly [number, number];

// Unit tangents at the ends of a piece.
function tangent(p: PathPiece, at: 'from' | 'to'): Way {
  if (p.kind === 'line') {
    const l = flatDistance(p.from, p.to);
    return [(p.to[0] - p.from[0]) / l, (p.to[1] - p.from[1]) / l];
  }
  const [z, x] = [p[at][0] - p.centre[0], p[at][1] - p.centre[1]];
  const l = Math.hypot(z, x);
  return p.ccw ? [-x / l, z / l] : [x / l, -z / l];
}

// Beside a way, on a side: to the left of [z, x] is [-x, z].
const beside = ([z, x]: Way, side: Side): Way => (side === 'left' ? [-x, z] : [x, -z]);
const off = (p: FlatPoint, by: Way, r: number): FlatPoint => [p[0] + r * by[0], p[1] + r * by[1]];

function offsetPiece(p: PathPiece, side: Side, r: number): PathPiece | undefined {
  const from = off(p.from, beside(tangent(p, 'from'), side), r);
  const to = off(p.to, beside(tangent(p, 'to'), side), r);
  if (p.kind === 'line') return { kind: 'line', from, to };
  const isInside = p.ccw === (side === 'left');
  if (isInside && flatDistance(p.from, p.centre) - r < -1e-9) return undefined;
  return { ...p, from, to };
}

// Half of a right angle's thousandth: what turns less goes on straight.
const STRAIGHT = 1e-6;

function roll(run: readonly Move[], side: Side, { radius: r, point }: Nose, file: string): Result<Move[]> {
  const [first, ...rest] = run;
  if (!first) return done([]);
  if (first.path.kind === 'arc') return fault(file, first, 'it begins with an arc; lead in by G0 or G1');
  const shift = (p: PathPiece): PathPiece => mapPiece(p, ([z, x]): FlatPoint => [z + r * point[0], x + r * point[1]]);
  if (rest.length === 0) return fault(file, first, 'it ends before the contour begins');
  const pieces: { move: Move; path: PathPiece }[] = [];
  for (const move of rest) {
    const path = offsetPiece(move.path, side, r);
    if (!path) return fault(file, move, `its arc is smaller than the nose of ${r} mm`);
    const before = pieces.at(-1);
    if (before) {
      const [t, u] = [tangent(before.move.path, 'to'), tangent(move.path, 'from')];
      const turn = t[0] * u[1] - t[1] * u[0];
      const goesOn = Math.abs(turn) < STRAIGHT && t[0] * u[0] + t[1] * u[1] > 0;
      const isInner = side === 'left' ? turn > 0 : turn < 0;
      if (!goesOn && isInner) {
        // Cut short where the two ways of the centre cross.
        const [at] = meetingsOf(before.path, path).sort((a, b) => flatDistance(a, move.path.from) - flatDistance(b, move.path.from));
        if (!at) return fault(file, move, 'its corner is narrower than the nose');
        const shortened: PathPiece = { ...before.path, to: at };
        if (!runsOn(before.path, shortened)) return fault(file, before.move, 'it is shorter than the nose needs in the corner');
        before.path = shortened;
        const next: PathPiece = { ...path, from: at };
        if (!runsOn(path, next)) return fault(file, move, 'it is shorter than the nose needs in the corner');
        pieces.push({ move, path: next });
        continue;
      }
      if (!goesOn) pieces.push({ move, path: { kind: 'arc', from: before.path.to, to: path.from, centre: move.path.from, ccw: side === 'right' } });
    }
    pieces.push({ move, path });
  }
  const lead: PathPiece = { kind: 'line', from: first.path.from, to: shift(pieces[0].path).from };
  return done([{ ...first, path: lead }, ...pieces.map(({ move, path }) => ({ ...move, path: shift(path) }))]);
}

// Whether a shortened piece still goes the way that the whole one did.
function runsOn(whole: PathPiece, part: PathPiece): boolean {
  if (whole.kind === 'arc') return true;
  const [z, x] = tangent(whole, 'from');
  return (part.to[0] - part.from[0]) * z + (part.to[1] - part.from[1]) * x > -1e-9;
}
