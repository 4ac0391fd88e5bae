import type { OpenCascadeInstance, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs';
import { done, failed, type Result } from '#core/issues';
import { addScaled, type Frame, IDENTITY_FRAME, radFromDeg, type Vec3 } from '#core/math';
import {
  crossingOf,
  type FlatPoint,
  type FlatShape,
  flatDistance,
  lengthOfPiece,
  loopThrough,
  type PathPiece,
  placeOnPiece,
  type SolidShape,
} from '#core/outline';
import { listSubShapes } from './gp.ts';
import { type Own, withScope } from './scope.ts';
import { readSurface } from './topology.ts';

/** The bodies of a shape as solids with true faces: planes, cylinders, cones, tori and spheres. */
export function makeShapeSolids(oc: OpenCascadeInstance, own: Own, shape: SolidShape, file: string): Result<TopoDS_Shape[]> {
  if (shape.form === 'flat') {
    const plate = makePlate(oc, own, shape);
    return plate.ok ? done([plate.value]) : plate;
  }
  const solids = shape.bodies.flatMap(({ profile }) => profile.map((loop) => revolveLoop(oc, own, loop, IDENTITY_FRAME)));
  const broken = solids.findIndex((s) => s.IsNull());
  return broken < 0 ? done(solids) : failed('step.unreadable', { file, text: `body ${broken + 1} cannot be turned` });
}

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

// A plate with its top at z 0; flanks that have relief lean in from there down.
function makePlate(oc: OpenCascadeInstance, own: Own, { loop, thickness, reliefDeg, relieved, hole }: FlatShape): Result<TopoDS_Shape> {
  const leaning = new Set(reliefDeg > 0 ? (relieved ?? loop.keys()) : []);
  const pieces = loop.map((piece, i) => ({ piece, leans: leaning.has(i) }));
  // A nose that comes to its point above the bottom: below its point the flanks beside it meet. They are leant without it, and it is cut from them.
  const { sharp, noses } = sharpenNoses(pieces, thickness * Math.tan(radFromDeg(reliefDeg)));
  const flat = wireOf(
    oc,
    own,
    sharp.map((p) => p.piece),
    ([x, y]) => [x, y, 0],
  );
  const top = own(own(new oc.BRepBuilderAPI_MakeFace(flat, true)).Face());
  const prism = own(own(new oc.BRepPrimAPI_MakePrism(top, own(new oc.gp_Vec(0, 0, -thickness)), false, true)).Shape());
  const flanks = sharp.filter((p) => p.leans).map((p) => p.piece);
  const leant = flanks.length > 0 ? leanIn(oc, own, prism, flanks, reliefDeg) : done(prism);
  if (!leant.ok) return leant;
  const range = () => own(new oc.Message_ProgressRange());
  const rounded = noses.reduce((solid, nose) => own(own(new oc.BRepAlgoAPI_Cut(solid, besideNose(oc, own, nose, reliefDeg), range())).Shape()), leant.value);
  if (!hole) return done(rounded);
  const axes = own(new oc.gp_Ax2(own(new oc.gp_Pnt(...hole.at, -2 * thickness)), own(new oc.gp_Dir(0, 0, 1))));
  const drill = own(own(new oc.BRepPrimAPI_MakeCylinder(axes, hole.diameter / 2, 4 * thickness)).Shape());
  return done(own(own(new oc.BRepAlgoAPI_Cut(rounded, drill, range())).Shape()));
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

function sharpenNoses(pieces: readonly Flank[], inward: number): { sharp: Flank[]; noses: Nose[] } {
  const noses: Nose[] = [];
  let sharp = [...pieces];
  for (const { piece, leans } of pieces) {
    if (piece.kind !== 'arc' || !leans || !piece.ccw || flatDistance(piece.from, piece.centre) > 1.02 * inward) continue;
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

// What is to be cut off at a nose: between its two tangents, outside of the cone that it comes to a point by.
function besideNose(oc: OpenCascadeInstance, own: Own, { centre, from, to, corner }: Nose, reliefDeg: number): TopoDS_Shape {
  const radius = flatDistance(from, centre);
  const depth = radius / Math.tan(radFromDeg(reliefDeg));
  const kite = wireOf(oc, own, loopThrough([centre, from, corner, to]), ([x, y]) => [x, y, 0]);
  const face = own(own(new oc.BRepBuilderAPI_MakeFace(kite, true)).Face());
  const prism = own(own(new oc.BRepPrimAPI_MakePrism(face, own(new oc.gp_Vec(0, 0, -depth)), false, true)).Shape());
  const side = loopThrough([
    [-depth, 0],
    [0, 0],
    [0, radius],
  ]);
  const cone = revolveLoop(oc, own, side, { ...IDENTITY_FRAME, origin: [...centre, 0] });
  return own(own(new oc.BRepAlgoAPI_Cut(prism, cone, own(new oc.Message_ProgressRange()))).Shape());
}

function leanIn(oc: OpenCascadeInstance, own: Own, prism: TopoDS_Shape, pieces: readonly PathPiece[], reliefDeg: number): Result<TopoDS_Shape> {
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
