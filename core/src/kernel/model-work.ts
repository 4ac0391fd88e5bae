import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { done, failed, type Result } from '#core/issues';
import { addScaled, type Frame, type Motion, scale, type Vec3, yOf } from '#core/math';
import type { Model, NamedPlacement } from '#core/mesh';
import type { NominalInsert } from '#core/standards';
import { listSubShapes, trsfOf } from './gp.ts';
import { makeNominalInsert } from './nominal-insert.ts';
import { type Own, withScope } from './scope.ts';

/** Cuts a body in two along a prism: what lies inside becomes a body of its own, after all others. Coordinates in mm. */
export interface Cut {
  readonly body: string;
  readonly frame: Frame;
  /** Corners of the prism's outline in the frame's x and y, counter-clockwise. */
  readonly outline: readonly (readonly [number, number])[];
  /** The stretch of the prism along the frame's z. */
  readonly from: number;
  readonly to: number;
}

/**
 * What is done to the vendor's bodies each time that the file is opened, in this order; the file itself stays as it came. Bodies are numbered
 * as they come: the vendor's, what was cut off, inserts.
 */
export interface ModelWork {
  /** Factor on the lengths that the file gives: where its unit is not what it says. */
  readonly scale: number;
  readonly cuts: readonly Cut[];
  /** Nominal inserts that are added; see `makeNominalInsert` for the frame. */
  readonly inserts: readonly { readonly insert: NominalInsert; readonly frame: Frame }[];
  /** Bodies that are brought to another place, one motion after the other. */
  readonly moves: readonly { readonly body: string; readonly motion: Motion }[];
}
export const NO_WORK: ModelWork = { scale: 1, cuts: [], inserts: [], moves: [] };

/** What the bodies are called that the work adds to a file's `vendorCount`: undefined for the vendor's own. */
export function workName(work: ModelWork, vendorCount: number, index: number): string | undefined {
  if (index < vendorCount) return undefined;
  const cut = index - vendorCount;
  return cut < work.cuts.length ? `Cut ${cut + 1}` : work.inserts[cut - work.cuts.length]?.insert.code;
}

/** The solids of a file after its work. */
export function workSolids(oc: OpenCascadeInstance, own: Own, solids: readonly TopoDS_Shape[], work: ModelWork, file: string): Result<TopoDS_Shape[]> {
  let out = [...solids];
  if (work.scale !== 1) {
    const trsf = own(new oc.gp_Trsf());
    trsf.SetScale(own(new oc.gp_Pnt(0, 0, 0)), work.scale);
    out = out.map((s) => own(own(new oc.BRepBuilderAPI_Transform(s, trsf, true, false)).Shape()));
  }
  for (const [i, cut] of work.cuts.entries()) {
    const index = Number(cut.body.slice(1)) - 1;
    if (!out[index]) return unknownBody(file, cut.body, out.length);
    const prism = makePrism(oc, own, cut);
    const range = own(new oc.Message_ProgressRange());
    const inside = own(own(new oc.BRepAlgoAPI_Common(out[index], prism, range)).Shape());
    const outside = own(own(new oc.BRepAlgoAPI_Cut(out[index], prism, range)).Shape());
    if (faceCount(oc, inside) === 0 || faceCount(oc, outside) === 0)
      return failed('cut.nothing', { file, body: cut.body, cut: i + 1, what: faceCount(oc, inside) === 0 ? 'outside' : 'inside' });
    out[index] = outside;
    out.push(inside);
  }
  for (const { insert, frame } of work.inserts) out.push(makeNominalInsert(oc, own, insert, frame));
  const strange = work.moves.find((m) => !out[Number(m.body.slice(1)) - 1]);
  if (strange) return unknownBody(file, strange.body, out.length);
  return done(out.map((shape, i) => moveShape(oc, own, shape, work, `b${i + 1}`)));
}

/** A body after the moves that the work has for it. */
export const moveShape = (oc: OpenCascadeInstance, own: Own, shape: TopoDS_Shape, work: ModelWork, body: string): TopoDS_Shape =>
  work.moves
    .filter((m) => m.body === body)
    .reduce((s, { motion }) => own(own(new oc.BRepBuilderAPI_Transform(s, trsfOf(oc, own, motion), true, false)).Shape()), shape);

/** The work names a body that the file has not. */
export const unknownBody = (file: string, body: string, count: number) =>
  failed('envelope.unknown-body', { file, body, found: Array.from({ length: count }, (_, k) => `b${k + 1}`).join(', ') });

const faceCount = (oc: OpenCascadeInstance, shape: TopoDS_Shape): number =>
  shape.IsNull() ? 0 : withScope((own) => listSubShapes(oc, own, shape, 'TopAbs_FACE').length);

function makePrism(oc: OpenCascadeInstance, own: Own, { frame, outline, from, to }: Cut): TopoDS_Shape {
  const y = yOf(frame);
  const at = ([u, v]: readonly [number, number]): Vec3 => addScaled(addScaled(addScaled(frame.origin, frame.x, u), y, v), frame.z, from);
  const wire = own(new oc.BRepBuilderAPI_MakeWire());
  outline.forEach((p, i) => {
    const [a, b] = [at(p), at(outline[(i + 1) % outline.length])];
    wire.Add(own(own(new oc.BRepBuilderAPI_MakeEdge(own(new oc.gp_Pnt(...a)), own(new oc.gp_Pnt(...b)))).Edge()));
  });
  const face = own(own(new oc.BRepBuilderAPI_MakeFace(own(wire.Wire()), true)).Face());
  const way = addScaled([0, 0, 0], frame.z, to - from);
  return own(own(new oc.BRepPrimAPI_MakePrism(face, own(new oc.gp_Vec(...way)), false, true)).Shape());
}

/** A model's named coordinate systems after work on its unit; nothing for none. */
export const workPlacements = (named: readonly NamedPlacement[], work: ModelWork): Pick<Model, 'placements'> =>
  named.length > 0 ? { placements: named.map((p) => ({ ...p, frame: { ...p.frame, origin: scale(p.frame.origin, work.scale) } })) } : {};
