import { DebugMode, type GcsWrapper, make_gcs_wrapper, SolveStatus } from '@salusoft89/planegcs';
import { done, failed, type Result } from '#core/issues';
import { type FlatPoint, flatDistance, type HalfProfile, type PathPiece } from '#core/outline';
import { moveSketch } from './move-sketch.ts';
import { centreId, fixedOf, geometryOf, nextNames, ownerOf, pieceNamed, primitiveOf } from './sketch-primitives.ts';
import { namesIn, sayConstraint, type Sketch, type SketchConstraint } from './sketch-schema.ts';

/** A profile that keeps what was said of it. */
export interface SolvedSketch {
  readonly profile: HalfProfile;
  /** In how many ways it can still move; null where there is too much of it to count. */
  readonly freedoms: number | null;
  /** Constraints that say nothing new. */
  readonly redundant: readonly string[];
}

// Between a value and another one at most so much is changed at once, as a share of what is drawn: solutions stay beside each other.
const STEP_SHARE = 0.05;
const MOST_STEPS = 200;
// Of the sum of squared errors: tangents are as exact as corners then.
const CONVERGED = 1e-22;
const MOST_ITERATIONS = 100;
// mm. What the solver leaves.
const SOLVED = 1e-6;

/** Solves outlines with constraints. Holds memory of the solver's own: `close` gives it back. */
export class SketchSolver {
  private readonly gcs: GcsWrapper;

  private constructor(gcs: GcsWrapper) {
    this.gcs = gcs;
  }

  /** `wasmUrl`: where the solver's code is; beside its module without it. */
  static async load(wasmUrl?: string): Promise<SketchSolver> {
    const gcs = await make_gcs_wrapper(wasmUrl);
    gcs.debug_mode = DebugMode.NoDebug;
    gcs.set_max_iterations(MOST_ITERATIONS);
    gcs.set_convergence_threshold(CONVERGED);
    return new SketchSolver(gcs);
  }

  close(): void {
    this.gcs.destroy_gcs_module();
  }

  /** A profile moved as little as it takes to keep its constraints. `isTurned`: what lies on the axis stays there. */
  solve(profile: HalfProfile, sketch: Sketch, isTurned = true): Result<SolvedSketch> {
    if (isTooMuch(profile, sketch)) {
      const moved = moveSketch(profile, sketch, [], isTurned);
      return moved ? done({ profile: moved, freedoms: null, redundant: [] }) : failed('sketch.unsolved', {});
    }
    const first = this.solveOnce(profile, sketch, isTurned);
    // What says nothing new is seen where all of it is true: it looks new where it is not yet.
    return first.ok && sketch.constraints.length > 0 ? this.solveOnce(first.value.profile, sketch, isTurned) : first;
  }

  private solveOnce(profile: HalfProfile, sketch: Sketch, isTurned: boolean): Result<SolvedSketch> {
    const { gcs } = this;
    gcs.clear_data();
    const known = new Set(sketch.names.flat());
    const constraints = sketch.constraints.filter((c) => namesIn(c).every((n) => known.has(n)));
    // What is said of corners that stay where they are has no unknown: it is true or it is not.
    const settled = constraints.filter((c) => isSettled(c, sketch));
    const wrong = settled.find((c) => !isTrue(c, profile, sketch));
    if (wrong) return failed('sketch.contradiction', { text: `${sayConstraint(wrong)} and a corner that stays where it is` });
    const open = constraints.filter((c) => !settled.includes(c));
    gcs.push_primitives_and_params([...geometryOf(profile, sketch, isTurned), ...open.flatMap((c) => primitiveOf(c, profile, sketch))]);
    const status = gcs.solve();
    const freedoms = gcs.gcs.dof();
    if (gcs.has_gcs_conflicting_constraints()) return failed('sketch.contradiction', { text: sayAll(gcs.get_gcs_conflicting_constraints(), constraints) });
    if (status !== SolveStatus.Success && status !== SolveStatus.Converged) return failed('sketch.unsolved', {});
    gcs.apply_solution();
    const redundant = [...gcs.get_gcs_redundant_constraints().map(ownerOf), ...settled.map((c) => c.id)];
    return done({
      profile: profileFrom(this.points(), profile, sketch),
      freedoms,
      redundant: [...new Set(redundant)].filter((r) => constraints.some((c) => c.id === r)),
    });
  }

  /**
   * The same where a number was changed: it is brought there in steps from what is true now, so that the outline does not jump to another solution. `value`: the new one.
   */
  change(profile: HalfProfile, sketch: Sketch, id: string, value: number, isTurned = true): Result<SolvedSketch & { readonly sketch: Sketch }> {
    const constraint = sketch.constraints.find((c) => c.id === id);
    if (!constraint || !('value' in constraint)) throw new Error(`solve-sketch.change: a constraint with a number; got ${id}`);
    const size = Math.max(1e-3, ...profile.flat().map((p) => flatDistance(p.from, p.to)));
    const before = constraint.value;
    const scale = constraint.kind === 'angle' ? 180 : size;
    const steps = Math.min(MOST_STEPS, Math.max(1, Math.ceil(Math.abs(value - before) / (STEP_SHARE * scale))));
    let current = profile;
    for (let i = 1; i < steps; i++) {
      const there = moveSketch(current, withValue(sketch, id, before + ((value - before) * i) / steps), [], isTurned);
      // What does not get there by itself the solver may.
      if (!there) break;
      current = there;
    }
    const solved = this.solve(current, withValue(sketch, id, value), isTurned);
    return solved.ok ? done({ ...solved.value, sketch: withValue(sketch, id, value) }) : solved;
  }

  private points(): Map<string, FlatPoint> {
    const out = new Map<string, FlatPoint>();
    for (const p of this.gcs.sketch_index.get_primitives()) if (p.type === 'point') out.set(p.id, [p.x, p.y]);
    return out;
  }
}

// Unknowns times equations: the solver's tables of more do not fit into its memory of 16 MB (315,000 did, 580,000 did not).
const MOST_TABLE = 350_000;

function isTooMuch(profile: HalfProfile, { constraints }: Sketch): boolean {
  const pieces = profile.flat();
  const arcs = pieces.filter((p) => p.kind === 'arc').length;
  return (2 * pieces.length + 3 * arcs) * (2 * arcs + constraints.length) > MOST_TABLE;
}

const withValue = (sketch: Sketch, id: string, value: number): Sketch => ({
  ...sketch,
  constraints: sketch.constraints.map((c) => (c.id === id && 'value' in c ? { ...c, value } : c)),
});

// Whether a constraint is about corners only, all of which stay where they are.
function isSettled(c: SketchConstraint, sketch: Sketch): boolean {
  const corners = cornersIn(c, sketch);
  const fixed = fixedOf(sketch);
  return c.kind !== 'fixed' && corners !== undefined && corners.every((name) => fixed.has(name));
}

function cornersIn(c: SketchConstraint, sketch: Sketch): string[] | undefined {
  switch (c.kind) {
    case 'diameter':
    case 'fixed':
      return [c.corner];
    case 'along':
    case 'across':
      return [c.from, c.to];
    case 'horizontal':
    case 'vertical':
    case 'length':
    case 'angle':
      return [c.piece, nextNames(sketch).get(c.piece) ?? c.piece];
    default:
      return undefined;
  }
}

// Of a settled constraint; within what corners are typed to.
function isTrue(c: SketchConstraint, profile: HalfProfile, sketch: Sketch): boolean {
  const fixed = fixedOf(sketch);
  const [p, q = p] = (cornersIn(c, sketch) ?? []).map((name) => fixed.get(name) ?? pieceNamed(profile, sketch, name).from);
  const near = (a: number, b: number) => Math.abs(a - b) < 1e-6;
  switch (c.kind) {
    case 'diameter':
      return near(2 * p[1], c.value);
    case 'along':
      return near(Math.abs(p[0] - q[0]), c.value);
    case 'across':
      return near(Math.abs(p[1] - q[1]), c.value);
    case 'horizontal':
      return near(p[1], q[1]);
    case 'vertical':
      return near(p[0], q[0]);
    case 'length':
      return near(flatDistance(p, q), c.value);
    case 'angle':
      return near(Math.sin((c.value * Math.PI) / 180) * (q[0] - p[0]), Math.cos((c.value * Math.PI) / 180) * (q[1] - p[1]));
    default:
      return true;
  }
}

// The same pieces between the places that were found.
function profileFrom(points: ReadonlyMap<string, FlatPoint>, profile: HalfProfile, { names }: Sketch): HalfProfile {
  // What took no part stays where it is.
  const tidy = ([x, y]: FlatPoint): FlatPoint => [x, Math.abs(y) < SOLVED ? 0 : y];
  return profile.map((loop, l) =>
    loop.map((piece, i): PathPiece => {
      const [name, next] = [names[l][i], names[l][(i + 1) % loop.length]];
      const [from, to] = [tidy(points.get(name) ?? piece.from), tidy(points.get(next) ?? piece.to)];
      return piece.kind === 'line' ? { kind: 'line', from, to } : { ...piece, from, to, centre: points.get(centreId(name)) ?? piece.centre };
    }),
  );
}

const sayAll = (ids: readonly string[], constraints: readonly SketchConstraint[]): string => {
  const owners = new Set(ids.map(ownerOf));
  const said = constraints.filter((c) => owners.has(c.id)).map(sayConstraint);
  return said.length > 0 ? said.join(' and ') : 'what lies on the axis, and a number';
};
