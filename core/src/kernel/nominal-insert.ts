import type { OpenCascadeInstance, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs';
import { addScaled, dot, type Frame, radFromDeg, scale, type Vec3, yOf } from '#core/math';
import { insertOutline, type NominalInsert } from '#core/standards';
import { listSubShapes } from './gp.ts';
import type { Own } from './scope.ts';
import { readSurface } from './topology.ts';

/**
 * A nominal insert as a solid: its top in the frame's plane with the nose centre of the cutting corner at the origin, the corner along x, and
 * the body below (against z), its flanks leaning in by the clearance angle. No hole and no chip groove: it encloses the real one.
 */
export function makeNominalInsert(oc: OpenCascadeInstance, own: Own, insert: NominalInsert, frame: Frame): TopoDS_Shape {
  const inward = insert.thickness * Math.tan(radFromDeg(insert.clearance));
  const down = (depth: number): Frame => ({ ...frame, origin: addScaled(frame.origin, frame.z, -depth) });
  if (insert.edgeNormals.length === 0) {
    const radius = insert.inscribedCircle / 2;
    const bottom = down(insert.thickness);
    const profile = [bottom.origin, addScaled(bottom.origin, frame.x, radius - inward), addScaled(frame.origin, frame.x, radius), frame.origin];
    const wire = own(new oc.BRepBuilderAPI_MakeWire());
    profile.forEach((p, i) => {
      const [a, b] = [p, profile[(i + 1) % profile.length]].map((q) => own(new oc.gp_Pnt(...q)));
      wire.Add(own(own(new oc.BRepBuilderAPI_MakeEdge(a, b)).Edge()));
    });
    const axis = own(new oc.gp_Ax1(own(new oc.gp_Pnt(...frame.origin)), own(new oc.gp_Dir(...frame.z))));
    const face = own(own(new oc.BRepBuilderAPI_MakeFace(own(wire.Wire()), true)).Face());
    return own(own(new oc.BRepPrimAPI_MakeRevol(face, axis, false)).Shape());
  }
  return draftedPrism(oc, own, insert, frame) ?? loftedPlate(oc, own, insert, inward, frame, down(insert.thickness));
}

// Flat flanks and round ones about the nose's axis, as they are ground: planes, cylinders and cones. Undefined where a nose's cone would come
// to its point above the bottom.
function draftedPrism(oc: OpenCascadeInstance, own: Own, insert: NominalInsert, frame: Frame): TopoDS_Shape | undefined {
  const top = own(own(new oc.BRepBuilderAPI_MakeFace(outlineWire(oc, own, insert, 0, frame), true)).Face());
  const prism = own(own(new oc.BRepPrimAPI_MakePrism(top, own(new oc.gp_Vec(...scale(frame.z, -insert.thickness))), false, true)).Shape());
  if (insert.clearance === 0) return prism;
  if (insert.noseRadius < 1.05 * insert.thickness * Math.tan(radFromDeg(insert.clearance))) return undefined;
  const pull = own(new oc.gp_Dir(...frame.z));
  const neutral = own(new oc.gp_Pln(own(new oc.gp_Pnt(...frame.origin)), pull));
  const draft = own(new oc.BRepOffsetAPI_DraftAngle(prism));
  for (const { shape } of listSubShapes(oc, own, prism, 'TopAbs_FACE')) {
    const face = own(oc.TopoDS.Face(shape));
    const surface = readSurface(oc, own, face);
    if (surface.kind === 'plane' && Math.abs(dot(surface.normal, frame.z)) > 0.5) continue;
    draft.Add(face, pull, -radFromDeg(insert.clearance), neutral, true);
    if (!draft.AddDone()) return undefined;
  }
  draft.Build(own(new oc.Message_ProgressRange()));
  return draft.IsDone() ? own(draft.Shape()) : undefined;
}

function loftedPlate(oc: OpenCascadeInstance, own: Own, insert: NominalInsert, inward: number, frame: Frame, bottom: Frame): TopoDS_Shape {
  const loft = own(new oc.BRepOffsetAPI_ThruSections(true, true, 1e-6));
  loft.AddWire(outlineWire(oc, own, insert, inward, bottom));
  loft.AddWire(outlineWire(oc, own, insert, 0, frame));
  loft.CheckCompatibility(false);
  return own(loft.Shape());
}

function outlineWire(oc: OpenCascadeInstance, own: Own, insert: NominalInsert, inward: number, frame: Frame): TopoDS_Wire {
  const y = yOf(frame);
  const at = ([u, v]: readonly [number, number]): Vec3 => addScaled(addScaled(frame.origin, frame.x, u), y, v);
  const wire = own(new oc.BRepBuilderAPI_MakeWire());
  for (const { from, to, arc } of insertOutline(insert, inward)) {
    const [a, b] = [own(new oc.gp_Pnt(...at(from))), own(new oc.gp_Pnt(...at(to)))];
    if (!arc) {
      wire.Add(own(own(new oc.BRepBuilderAPI_MakeEdge(a, b)).Edge()));
      continue;
    }
    const axes = own(new oc.gp_Ax2(own(new oc.gp_Pnt(...at(arc.centre))), own(new oc.gp_Dir(...frame.z)), own(new oc.gp_Dir(...frame.x))));
    wire.Add(own(own(new oc.BRepBuilderAPI_MakeEdge(own(new oc.gp_Circ(axes, arc.radius)), a, b)).Edge()));
  }
  return own(wire.Wire());
}
