import type { OpenCascadeInstance, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs';
import { done, failed, type Result } from '#core/issues';
import { addScaled, type Frame, IDENTITY_FRAME, radFromDeg, type Vec3, worldFromFrame } from '#core/math';
import {
  boxOfPath,
  crossingOf,
  flatDistance,
  type FlatPoint,
  type FlatShape,
  lengthOfPiece,
  loopThrough,
  type PathPiece,
  type PlacedShape,
  placeOnPiece,
  sideOf,
  type SolidShape,
} from '#core/outline';
import { listSubShapes, trsfOf } from './gp.ts';
import { type Own, withScope } from './scope.ts';
import { readSurface } from './topology.ts';

/** The bodies of a shape as solids with true faces: planes, cylinders, cones, tori and spheres. */
export function makeShapeSolids(oc: OpenCascadeInstance, own: Own, shape: SolidShape, file: string): Result<TopoDS_Shape[]> {
  if (shape.form === 'flat') {
    const plate = makePlate(oc, own, shape);
    return plate.ok ? done([plate.value]) : plate;
  }
  if (shape.form === 'placed') return placedSolids(oc, own, shape, file);
  const solids = shape.bodies.flatMap(({ profile }) => profile.map((loop) => revolveLoop(oc, own, loop, IDENTITY_FRAME)));
  const broken = solids.findIndex((s) => s.IsNull());
  return broken < 0 ? done(solids) : failed('step.unreadable', { file, text: `body ${broken + 1} cannot be turned` });
}

function placedSolids(oc: OpenCascadeInstance, own: Own, { bodies }: PlacedShape, file: string): Result<TopoDS_Shape[]> {
  const out: TopoDS_Shape[] = [];
  for (const { name, place, solid, adds = [], cuts } of bodies) {
    const made = solid.kind === 'plate' ? makePlate(oc, own, solid) : done(revolveLoop(oc, own, solid.profile[0], IDENTITY_FRAME));
    if (!made.ok) return made;
    const prism = (c: (typeof cuts)[number]) => placed(oc, own, prismOf(oc, own, c.loop, -c.below, c.above), c.place);
    const grown = adds.map(prism).reduce((on, a) => joined(oc, own, on, a), placed(oc, own, made.value, place));
    const whole = cuts.map(prism).reduce((from, c) => cutOff(oc, own, from, c), grown);
    // What is cut comes as a compound: its one solid is the body.
    const [only, ...more] = listSubShapes(oc, own, whole, 'TopAbs_SOLID');
    if (!only || more.length > 0) return failed('step.unreadable', { file, text: `${name} cannot be made as one solid` });
    out.push(only.shape);
  }
  return done(out);
}

const placed = (oc: OpenCascadeInstance, own: Own, shape: TopoDS_Shape, place: Frame): TopoDS_Shape =>
  own(own(new oc.BRepBuilderAPI_Transform(shape, trsfOf(oc, own, worldFromFrame(place)), true, false)).Shape());

/** A loop of a half profile turned once about the Z of a frame. */
export function revolveLoop(oc: OpenCascadeInstance, own: Own, loop: readonly PathPiece[], { origin, z: direction, x }: Frame): TopoDS_Shape {
  const axis = own(new oc.gp_Ax1(own(new oc.gp_Pnt(...origin)), own(new oc.gp_Dir(...direction))));
  const wire = wireOf(oc, own, loop, ([z, r]) => addScaled(addScaled(origin, direction, z), x, r));
  const face = own(own(new oc.BRepBuilderAPI_MakeFace(wire, true)).Face());
  return own(own(new oc.BRepPrimAPI_MakeRevol(face, axis, false)).Shape());
}

function wireOf(oc: OpenCascadeInstance, own: Own, loop: readonly PathPiece[], placed: (p: FlatPoint) => Vec3): TopoDS_Wire {
  const point = (p: FlatPoint) => own(new oc.gp_Pnt(...placed(p)));
  const wire = own(new oc.BRepBuilderAPI_MakeWire());
  for (const piece of withoutSpecks(loop)) {
    const curve =
      piece.kind === 'line' ? undefined : own(own(new oc.GC_MakeArcOfCircle(point(piece.from), point(placeOnPiece(piece, 0.5)), point(piece.to))).Value());
    const edge = curve ? new oc.BRepBuilderAPI_MakeEdge(curve) : new oc.BRepBuilderAPI_MakeEdge(point(piece.from), point(piece.to));
    wire.Add(own(own(edge).Edge()));
  }
  return own(wire.Wire());
}

// mm. The kernel makes no edge shorter than a tenth of this; the point of a drill that was read from a mesh may have one.
const SPECK = 1e-6;

// The pieces of a loop but for those that are next to nothing: what comes before and after one meets.
function withoutSpecks(loop: readonly PathPiece[]): PathPiece[] {
  const kept = loop.filter((piece) => lengthOfPiece(piece) >= SPECK);
  return kept.map((piece, i) => ({ ...piece, from: kept[(i + kept.length - 1) % kept.length].to }));
}

type Plate = Pick<FlatShape, 'loop' | 'thickness' | 'reliefDeg' | 'hole' | 'relieved'>;

// A plate with its top at z 0; flanks that have relief lean in from there down.
function makePlate(oc: OpenCascadeInstance, own: Own, shape: Plate): Result<TopoDS_Shape> {
  const { loop, thickness, reliefDeg, relieved, hole } = shape;
  const leaning = new Set(reliefDeg > 0 ? (relieved ?? loop.keys()) : []);
  const pieces = loop.map((piece, i) => {
    const beside = [loop.length - 1, 1].map((k) => (i + k) % loop.length);
    // A nose leans with both flanks beside it, or not at all.
    const isNose = piece.kind === 'arc' && piece.ccw && beside.some((k) => !leaning.has(k));
    return { piece, leans: leaning.has(i) && !isNose };
  });
  const inward = thickness * Math.tan(radFromDeg(reliefDeg));
  // The kernel leans all flanks at once; where one vanishes on the way down it cannot, and each is cut by itself.
  const leant = leantAtOnce(oc, own, pieces, shape, inward);
  const plate = leant.ok ? leant : (leantOneByOne(oc, own, pieces, shape, inward) ?? leant);
  if (!plate.ok || !hole) return plate;
  const axes = own(new oc.gp_Ax2(own(new oc.gp_Pnt(...hole.at, -2 * thickness)), own(new oc.gp_Dir(0, 0, 1))));
  const drill = own(own(new oc.BRepPrimAPI_MakeCylinder(axes, hole.diameter / 2, 4 * thickness)).Shape());
  const drilled = cutOff(oc, own, plate.value, drill);
  return done(sinksOf(oc, own, hole, thickness).reduce((solid, sink) => cutOff(oc, own, solid, sink), drilled));
}

// mm. How far a countersink's cone goes on beyond the face that it is cut into.
const BEYOND = 0.5;

// The cones of a countersunk hole, from the top and from the bottom.
function sinksOf(oc: OpenCascadeInstance, own: Own, { at, diameter, sink }: NonNullable<FlatShape['hole']>, thickness: number): TopoDS_Shape[] {
  if (!sink || sink.diameter <= diameter) return [];
  const slope = Math.tan(radFromDeg(sink.deg / 2));
  const deep = (sink.diameter - diameter) / 2 / slope;
  const half = loopThrough([
    [-BEYOND, 0],
    [deep, 0],
    [deep, diameter / 2],
    [-BEYOND, sink.diameter / 2 + BEYOND * slope],
  ]);
  const cone = (z: number, down: 1 | -1) => revolveLoop(oc, own, half, { origin: [...at, z], z: [0, 0, -down], x: [1, 0, 0] });
  return sink.faces === 2 ? [cone(0, 1), cone(-thickness, -1)] : [cone(0, 1)];
}

const cutOff = (oc: OpenCascadeInstance, own: Own, from: TopoDS_Shape, what: TopoDS_Shape): TopoDS_Shape =>
  own(own(new oc.BRepAlgoAPI_Cut(from, what, own(new oc.Message_ProgressRange()))).Shape());

const joined = (oc: OpenCascadeInstance, own: Own, on: TopoDS_Shape, what: TopoDS_Shape): TopoDS_Shape =>
  own(own(new oc.BRepAlgoAPI_Fuse(on, what, own(new oc.Message_ProgressRange()))).Shape());

/** A loop pushed from z `from` to z `to`. */
export function prismOf(oc: OpenCascadeInstance, own: Own, loop: readonly PathPiece[], from: number, to: number): TopoDS_Shape {
  const flat = wireOf(oc, own, loop, ([x, y]) => [x, y, from]);
  const face = own(own(new oc.BRepBuilderAPI_MakeFace(flat, true)).Face());
  return own(own(new oc.BRepPrimAPI_MakePrism(face, own(new oc.gp_Vec(0, 0, to - from)), false, true)).Shape());
}

const piecesOf = (flanks: readonly Flank[]): PathPiece[] => flanks.map((f) => f.piece);

function leantAtOnce(oc: OpenCascadeInstance, own: Own, pieces: readonly Flank[], { thickness, reliefDeg }: Plate, inward: number): Result<TopoDS_Shape> {
  // A nose that comes to its point above the bottom: below its point the flanks beside it meet. They are leant without it, and it is cut from them.
  const { sharp, noses } = sharpenNoses(pieces, 1.02 * inward);
  const prism = prismOf(oc, own, piecesOf(sharp), 0, -thickness);
  const flanks = sharp.filter((p) => p.leans).map((p) => p.piece);
  const leant = flanks.length > 0 ? leanIn(oc, own, prism, flanks, reliefDeg) : done(prism);
  if (!leant.ok) return leant;
  if (!isPlausible(oc, own, leant.value, prism, flanks, inward, thickness))
    return failed('outline.no-relief', { angle: reliefDeg, text: 'its flanks do not go together' });
  return done(noses.reduce((solid, nose) => cutOff(oc, own, solid, besideNose(oc, own, nose, reliefDeg, thickness)), leant.value));
}

// The kernel may lean a flank beside a tangent one that does not into something else, and call it valid: no flank takes more than its own wedge.
function isPlausible(
  oc: OpenCascadeInstance,
  own: Own,
  leant: TopoDS_Shape,
  prism: TopoDS_Shape,
  flanks: readonly PathPiece[],
  inward: number,
  thickness: number,
): boolean {
  const volumeOf = (shape: TopoDS_Shape): number => {
    const props = own(new oc.GProp_GProps());
    oc.BRepGProp.VolumeProperties(shape, props, 1e-9, true, true);
    return props.Mass();
  };
  const wedges = flanks.reduce((sum, p) => {
    const wider = p.kind === 'arc' && !p.ccw ? 1 + inward / flatDistance(p.from, p.centre) : 1;
    return sum + (lengthOfPiece(p) * wider * inward * thickness) / 2;
  }, 0);
  const taken = volumeOf(prism) - volumeOf(leant);
  return taken > 0 && taken <= wedges * (1 + 1e-6);
}

// Each straight flank as a plane through all of the plate, each nose as its cone: for what is convex where it leans. Undefined for what is not, or comes to nothing.
function leantOneByOne(
  oc: OpenCascadeInstance,
  own: Own,
  pieces: readonly Flank[],
  { thickness, reliefDeg }: Plate,
  inward: number,
): Result<TopoDS_Shape> | undefined {
  const { sharp, noses } = sharpenNoses(pieces, Infinity);
  const corners = sharp.map((p) => p.piece.from);
  const isConvex = sharp.every(({ piece: { kind, from, to }, leans }) => !leans || (kind === 'line' && corners.every((c) => sideOf(from, to, c) > -SPECK)));
  if (!isConvex) return undefined;
  const [x0, y0, x1, y1] = boxOfPath(piecesOf(sharp));
  const far = 2 * Math.hypot(x1 - x0, y1 - y0) + inward;
  let solid = prismOf(oc, own, piecesOf(sharp), 0, -thickness);
  for (const { piece, leans } of sharp) if (leans) solid = cutOff(oc, own, solid, beyondFlank(oc, own, piece, inward, thickness, far));
  for (const nose of noses) solid = cutOff(oc, own, solid, besideNose(oc, own, nose, reliefDeg, thickness));
  const isSomething = withScope((inner) => listSubShapes(oc, inner, solid, 'TopAbs_FACE').length > 3);
  return isSomething ? done(solid) : undefined;
}

// What lies beyond a leaning plane through an edge of the top, as far as the plate goes.
function beyondFlank(oc: OpenCascadeInstance, own: Own, { from, to }: PathPiece, inward: number, thickness: number, far: number): TopoDS_Shape {
  const l = flatDistance(from, to);
  const [ux, uy] = [(to[0] - from[0]) / l, (to[1] - from[1]) / l];
  // Across the edge: s inwards, z down; a little above the top and below the bottom, so that no faces lie on each other.
  const lean = inward / thickness;
  const over = 0.1 * thickness;
  const outline: readonly (readonly [number, number])[] = [
    [-far, over],
    [-lean * over, over],
    [lean * (thickness + over), -thickness - over],
    [-far, -thickness - over],
  ];
  const at = ([s, z]: readonly [number, number]): Vec3 => [from[0] - far * ux - s * uy, from[1] - far * uy + s * ux, z];
  const wire = own(new oc.BRepBuilderAPI_MakeWire());
  outline.forEach((p, i) => {
    const [a, b] = [at(p), at(outline[(i + 1) % outline.length])].map((q) => own(new oc.gp_Pnt(...q)));
    wire.Add(own(own(new oc.BRepBuilderAPI_MakeEdge(a, b)).Edge()));
  });
  const face = own(own(new oc.BRepBuilderAPI_MakeFace(own(wire.Wire()), true)).Face());
  const along = own(new oc.gp_Vec((l + 2 * far) * ux, (l + 2 * far) * uy, 0));
  return own(own(new oc.BRepPrimAPI_MakePrism(face, along, false, true)).Shape());
}

/** A convex rounded corner between two straight flanks. */
interface Nose {
  readonly centre: FlatPoint;
  readonly from: FlatPoint;
  readonly to: FlatPoint;
  /** Where the flanks' edges would meet. */
  readonly corner: FlatPoint;
}

// Cosine of the angle from which on a corner is none, but a tangent.
const TANGENT = 1 - 1e-9;

// Leaning noses with radii up to `largest` are taken away: the flanks beside them go on to their corner.
function sharpenNoses(pieces: readonly Flank[], largest: number): { sharp: Flank[]; noses: Nose[] } {
  const noses: Nose[] = [];
  let sharp = [...pieces];
  for (const { piece, leans } of pieces) {
    if (piece.kind !== 'arc' || !leans || !piece.ccw || flatDistance(piece.from, piece.centre) > largest) continue;
    const i = sharp.findIndex((p) => p.piece === piece);
    const [before, after] = [sharp.at(i - 1), sharp[(i + 1) % sharp.length]];
    if (!before?.leans || !after.leans || before.piece.kind !== 'line' || after.piece.kind !== 'line') continue;
    const { centre, from, to } = piece;
    if (!isTangent(before.piece, centre, from) || !isTangent(after.piece, centre, to)) continue;
    const corner = crossingOf(before.piece.from, before.piece.to, after.piece.from, after.piece.to)?.at;
    if (!corner) continue;
    noses.push({ centre, from, to, corner });
    const joined = new Map<Flank, Flank>([
      [before, { ...before, piece: { ...before.piece, to: corner } }],
      [after, { ...after, piece: { ...after.piece, from: corner } }],
    ]);
    sharp = sharp.filter((p) => p.piece !== piece).map((p) => joined.get(p) ?? p);
  }
  return { sharp, noses };
}

interface Flank {
  readonly piece: PathPiece;
  readonly leans: boolean;
}

const isTangent = ({ from, to }: PathPiece, centre: FlatPoint, at: FlatPoint): boolean => {
  const [lx, ly, rx, ry] = [to[0] - from[0], to[1] - from[1], at[0] - centre[0], at[1] - centre[1]];
  return Math.abs(lx * ry - ly * rx) > TANGENT * Math.hypot(lx, ly) * Math.hypot(rx, ry);
};

// What is to be cut off at a nose: between its two tangents, outside of its cone, as far down as the plate or the cone goes.
function besideNose(oc: OpenCascadeInstance, own: Own, { centre, from, to, corner }: Nose, reliefDeg: number, thickness: number): TopoDS_Shape {
  const radius = flatDistance(from, centre);
  const lean = Math.tan(radFromDeg(reliefDeg));
  const depth = Math.min(thickness, radius / lean);
  const prism = prismOf(oc, own, loopThrough([centre, from, corner, to]), 0, -depth);
  const end = radius - depth * lean;
  const side = loopThrough([[-depth, 0], [0, 0], [0, radius], ...(end > SPECK ? [[-depth, end] as const] : [])]);
  return cutOff(oc, own, prism, revolveLoop(oc, own, side, { ...IDENTITY_FRAME, origin: [...centre, 0] }));
}

/** A prism below z 0 whose flanks under these pieces of its top lean in. */
export function leanIn(oc: OpenCascadeInstance, own: Own, prism: TopoDS_Shape, pieces: readonly PathPiece[], reliefDeg: number): Result<TopoDS_Shape> {
  const refused = (text: string) => failed('outline.no-relief', { angle: reliefDeg, text });
  const pull = own(new oc.gp_Dir(0, 0, 1));
  const neutral = own(new oc.gp_Pln(own(new oc.gp_Pnt(0, 0, 0)), pull));
  const draft = own(new oc.BRepOffsetAPI_DraftAngle(prism));
  let leant = 0;
  for (const { shape } of listSubShapes(oc, own, prism, 'TopAbs_FACE')) {
    const face = own(oc.TopoDS.Face(shape));
    const surface = readSurface(oc, own, face);
    if (surface.kind === 'plane' && Math.abs(surface.normal[2]) > 0.5) continue;
    const middle = withScope((inner) => middleOfTop(oc, inner, shape));
    if (!middle || !pieces.some((p) => flatDistance(placeOnPiece(p, 0.5), middle) < 1e-6)) continue;
    draft.Add(face, pull, -radFromDeg(reliefDeg), neutral, true);
    if (!draft.AddDone()) return refused('a flank and the one beside it do not go together');
    leant++;
  }
  if (leant === 0) return done(prism);
  draft.Build(own(new oc.Message_ProgressRange()));
  return draft.IsDone() ? done(own(draft.Shape())) : refused('flanks meet above the bottom');
}

// The middle of a flank's edge in the plane z 0.
function middleOfTop(oc: OpenCascadeInstance, own: Own, flank: TopoDS_Shape): FlatPoint | undefined {
  for (const { shape } of listSubShapes(oc, own, flank, 'TopAbs_EDGE')) {
    const curve = own(new oc.BRepAdaptor_Curve(own(oc.TopoDS.Edge(shape))));
    const at = own(curve.Value((curve.FirstParameter() + curve.LastParameter()) / 2));
    const ends = [curve.FirstParameter(), curve.LastParameter()].map((t) => own(curve.Value(t)).Z());
    if (Math.abs(at.Z()) < 1e-6 && ends.every((z) => Math.abs(z) < 1e-6)) return [at.X(), at.Y()];
  }
  return undefined;
}
