import { DebugMode, type GcsWrapper, make_gcs_wrapper, type SketchPrimitive, SolveStatus } from '@salusoft89/planegcs';
import { done, failed, type Result } from '#core/issues';
import { type FlatPoint, flatDistance, type HalfProfile, type PathPiece, sweepOfArc } from '#core/outline';
import { namesIn, sayConstraint, type Sketch, type SketchConstraint } from './sketch-schema.ts';

/** A profile that keeps what was said of it. */
export interface SolvedSketch {
  readonly profile: HalfProfile;
  /** In how many ways it can still move. */
  readonly freedoms: number;
  /** Constraints that say nothing new. */
  readonly redundant: readonly string[];
}

/** Where a corner is drawn to, by its name. */
export interface SketchDrag {
  readonly corner: string;
  readonly to: FlatPoint;
}

// mm. Corners of a half section on the axis stay there.
const ON_AXIS = 1e-7;
// Between a value and another one at most so much is changed at once, as a share of what is drawn: solutions stay beside each other.
const STEP_SHARE = 0.05;
const MOST_STEPS = 200;
// Of the sum of squared errors: tangents are as exact as corners then.
const CONVERGED = 1e-22;
// While a corner is dragged it need not be: what is dropped is solved again.
const DRAGGED = 1e-10;
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
    return new SketchSolver(gcs);
  }

  close(): void {
    this.gcs.destroy_gcs_module();
  }

  /** A profile moved as little as it takes to keep its constraints; a dragged corner goes where it is drawn to as far as they let it.
   * `isTurned`: what lies on the axis stays there. */
  solve(profile: HalfProfile, sketch: Sketch, drag?: SketchDrag, isTurned = true): Result<SolvedSketch> {
    const first = this.solveOnce(profile, sketch, isTurned, drag);
    // What says nothing new is seen where all of it is true: it looks new where it is not yet.
    return first.ok && !drag && sketch.constraints.length > 0 ? this.solveOnce(first.value.profile, sketch, isTurned) : first;
  }

  private solveOnce(profile: HalfProfile, sketch: Sketch, isTurned: boolean, drag?: SketchDrag): Result<SolvedSketch> {
    const { gcs } = this;
    gcs.clear_data();
    const known = new Set(sketch.names.flat());
    const constraints = sketch.constraints.filter((c) => namesIn(c).every((n) => known.has(n)));
    // What is said of corners that stay where they are has no unknown: it is true or it is not.
    const settled = constraints.filter((c) => isSettled(c, sketch));
    const wrong = settled.find((c) => !isTrue(c, profile, sketch));
    if (wrong) return failed('sketch.contradiction', { text: `${sayConstraint(wrong)} and a corner that stays where it is` });
    const open = constraints.filter((c) => !settled.includes(c));
    const primitives = [...geometryOf(profile, sketch, isTurned), ...open.flatMap((c) => primitiveOf(c, profile, sketch)), ...(drag ? dragOf(drag) : [])];
    gcs.set_convergence_threshold(drag ? DRAGGED : CONVERGED);
    gcs.push_primitives_and_params(primitives);
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
    let solved: Result<SolvedSketch> | undefined;
    for (let i = 1; i <= steps; i++) {
      const now = before + ((value - before) * i) / steps;
      solved =
        i < steps ? this.solveOnce(current, withValue(sketch, id, now), isTurned) : this.solve(current, withValue(sketch, id, value), undefined, isTurned);
      if (!solved.ok) {
        // Of the number that was wished, not of one on the way to it.
        const atOnce = this.solve(profile, withValue(sketch, id, value), undefined, isTurned);
        return atOnce.ok ? solved : atOnce;
      }
      current = solved.value.profile;
    }
    return solved?.ok ? done({ ...solved.value, sketch: withValue(sketch, id, value) }) : failed('sketch.unsolved', {});
  }

  private points(): Map<string, FlatPoint> {
    const out = new Map<string, FlatPoint>();
    for (const p of this.gcs.sketch_index.get_primitives()) if (p.type === 'point') out.set(p.id, [p.x, p.y]);
    return out;
  }
}

const withValue = (sketch: Sketch, id: string, value: number): Sketch => ({
  ...sketch,
  constraints: sketch.constraints.map((c) => (c.id === id && 'value' in c ? { ...c, value } : c)),
});

const nextName = ({ names }: Sketch, name: string): string => {
  const loop = names.find((list) => list.includes(name)) ?? [];
  return loop[(loop.indexOf(name) + 1) % loop.length];
};

const fixedOf = ({ constraints }: Sketch): ReadonlyMap<string, FlatPoint> =>
  new Map(constraints.flatMap((c) => (c.kind === 'fixed' ? [[c.corner, c.at] as const] : [])));

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
      return [c.piece, nextName(sketch, c.piece)];
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

// What the solver calls things: a corner by its name, what belongs to a piece or a constraint by its name and a mark.
const pieceId = (name: string): string => `${name}|piece`;
const centreId = (name: string): string => `${name}|centre`;
const ownerOf = (id: string): string => id.split('|')[0];

function geometryOf(profile: HalfProfile, { names, constraints }: Sketch, isTurned: boolean): SketchPrimitive[] {
  const fixed = fixedOf({ names, constraints });
  const points: SketchPrimitive[] = [];
  const curves: SketchPrimitive[] = [];
  const rules: SketchPrimitive[] = [];
  profile.forEach((loop, l) =>
    loop.forEach((piece, i) => {
      const [name, next] = [names[l][i], names[l][(i + 1) % loop.length]];
      const stays = fixed.get(name);
      const [x, y] = stays ?? piece.from;
      points.push({ id: name, type: 'point', x, y, fixed: stays !== undefined });
      if (!stays && isTurned && Math.abs(piece.from[1]) < ON_AXIS) rules.push({ id: `${name}|axis`, type: 'coordinate_y', p_id: name, y: 0 });
      if (piece.kind === 'line') return curves.push({ id: pieceId(name), type: 'line', p1_id: name, p2_id: next });
      const [start, end] = piece.ccw ? [name, next] : [next, name];
      const from = piece.ccw ? piece.from : piece.to;
      const angle = Math.atan2(from[1] - piece.centre[1], from[0] - piece.centre[0]);
      points.push({ id: centreId(name), type: 'point', x: piece.centre[0], y: piece.centre[1], fixed: false });
      curves.push({
        id: pieceId(name),
        type: 'arc',
        c_id: centreId(name),
        start_id: start,
        end_id: end,
        start_angle: angle,
        end_angle: angle + Math.abs(sweepOfArc(piece)),
        radius: flatDistance(piece.from, piece.centre),
      });
      rules.push({ id: `${name}|rules`, type: 'arc_rules', a_id: pieceId(name) });
    }),
  );
  return [...points, ...curves, ...rules];
}

const dragOf = ({ corner, to }: SketchDrag): SketchPrimitive[] => [
  { id: `${corner}|drag x`, type: 'coordinate_x', p_id: corner, x: to[0], temporary: true },
  { id: `${corner}|drag y`, type: 'coordinate_y', p_id: corner, y: to[1], temporary: true },
];

function primitiveOf(c: SketchConstraint, profile: HalfProfile, sketch: Sketch): SketchPrimitive[] {
  const pieceOf = (name: string): PathPiece => pieceNamed(profile, sketch, name);
  const placeOf = (name: string): FlatPoint => pieceOf(name).from;
  const nextOf = (name: string): string => nextName(sketch, name);
  switch (c.kind) {
    case 'horizontal':
      return [{ id: c.id, type: 'horizontal_pp', p1_id: c.piece, p2_id: nextOf(c.piece) }];
    case 'vertical':
      return [{ id: c.id, type: 'vertical_pp', p1_id: c.piece, p2_id: nextOf(c.piece) }];
    case 'fixed':
      // Its corner is no unknown: see `geometryOf`.
      return [];
    case 'length':
      return [{ id: c.id, type: 'p2p_distance', p1_id: c.piece, p2_id: nextOf(c.piece), distance: c.value }];
    case 'along':
    case 'across': {
      const k = c.kind === 'along' ? 0 : 1;
      const prop = k === 0 ? 'x' : 'y';
      // In the order in which they lie now.
      const [low, high] = placeOf(c.from)[k] <= placeOf(c.to)[k] ? [c.from, c.to] : [c.to, c.from];
      return [{ id: c.id, type: 'difference', param1: { o_id: low, prop }, param2: { o_id: high, prop }, difference: c.value }];
    }
    case 'diameter':
      return [{ id: c.id, type: 'coordinate_y', p_id: c.corner, y: c.value / 2 }];
    case 'radius':
      return [{ id: c.id, type: 'arc_radius', a_id: pieceId(c.piece), radius: c.value }];
    case 'angle': {
      const { from, to } = pieceOf(c.piece);
      // Of the two senses of a line the one that is nearer to what is drawn.
      const now = Math.atan2(to[1] - from[1], to[0] - from[0]);
      const wished = (c.value * Math.PI) / 180;
      const turns = Math.round((now - wished) / Math.PI);
      return [{ id: c.id, type: 'p2p_angle', p1_id: c.piece, p2_id: nextOf(c.piece), angle: wished + turns * Math.PI }];
    }
    case 'parallel':
      return [{ id: c.id, type: 'parallel', l1_id: pieceId(c.first), l2_id: pieceId(c.second) }];
    case 'perpendicular':
      return [{ id: c.id, type: 'perpendicular_ll', l1_id: pieceId(c.first), l2_id: pieceId(c.second) }];
    case 'equal':
      return pieceOf(c.first).kind === 'line'
        ? [{ id: c.id, type: 'equal_length', l1_id: pieceId(c.first), l2_id: pieceId(c.second) }]
        : [{ id: c.id, type: 'equal_radius_aa', a1_id: pieceId(c.first), a2_id: pieceId(c.second) }];
    case 'tangent': {
      // At a corner that both have, by their angle there: it is exact, where distances only touch.
      const shared = nextOf(c.first) === c.second ? c.second : nextOf(c.second) === c.first ? c.first : undefined;
      if (shared !== undefined)
        return [
          {
            id: c.id,
            type: 'angle_via_point',
            crv1_id: pieceId(c.first),
            crv2_id: pieceId(c.second),
            p_id: shared,
            angle: angleAt(pieceOf(c.first), pieceOf(c.second), placeOf(shared)),
          },
        ];
      const [a, b] = [pieceOf(c.first).kind, pieceOf(c.second).kind];
      if (a === 'arc' && b === 'arc') return [{ id: c.id, type: 'tangent_aa', a1_id: pieceId(c.first), a2_id: pieceId(c.second) }];
      const [line, arc] = a === 'line' ? [c.first, c.second] : [c.second, c.first];
      return [{ id: c.id, type: 'tangent_la', l_id: pieceId(line), a_id: pieceId(arc) }];
    }
  }
}

// Whether the solver's curves run the same way at a place or against each other: arcs run counter-clockwise for it.
function angleAt(first: PathPiece, second: PathPiece, at: FlatPoint): number {
  const way = (p: PathPiece): FlatPoint => (p.kind === 'line' ? [p.to[0] - p.from[0], p.to[1] - p.from[1]] : [-(at[1] - p.centre[1]), at[0] - p.centre[0]]);
  const [u, v] = [way(first), way(second)];
  return u[0] * v[0] + u[1] * v[1] >= 0 ? 0 : Math.PI;
}

function pieceNamed(profile: HalfProfile, { names }: Sketch, name: string): PathPiece {
  for (const [l, loop] of names.entries()) {
    const i = loop.indexOf(name);
    if (i >= 0) return profile[l][i];
  }
  throw new Error(`solve-sketch.pieceNamed: a piece of the outline; got ${name}`);
}

// The same pieces between the places that were found.
function profileFrom(points: ReadonlyMap<string, FlatPoint>, profile: HalfProfile, { names }: Sketch): HalfProfile {
  const placed = (name: string): FlatPoint => points.get(name) ?? [0, 0];
  const tidy = ([x, y]: FlatPoint): FlatPoint => [x, Math.abs(y) < SOLVED ? 0 : y];
  return profile.map((loop, l) =>
    loop.map((piece, i): PathPiece => {
      const [name, next] = [names[l][i], names[l][(i + 1) % loop.length]];
      const [from, to] = [tidy(placed(name)), tidy(placed(next))];
      return piece.kind === 'line' ? { kind: 'line', from, to } : { ...piece, from, to, centre: placed(centreId(name)) };
    }),
  );
}

const sayAll = (ids: readonly string[], constraints: readonly SketchConstraint[]): string => {
  const owners = new Set(ids.map(ownerOf));
  const said = constraints.filter((c) => owners.has(c.id)).map(sayConstraint);
  return said.length > 0 ? said.join(' and ') : 'what lies on the axis, and a number';
};
