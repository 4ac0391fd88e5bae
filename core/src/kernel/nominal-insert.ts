import type { OpenCascadeInstance, TopoDS_Shape, TopoDS_Wire } from 'replicad-opencascadejs';
import { done } from '#core/issues';
import { addScaled, type Frame, radFromDeg, type Vec3, worldFromFrame, yOf } from '#core/math';
import { loopThrough, type PathPiece } from '#core/outline';
import { insertOutline, type NominalInsert } from '#core/standards';
import { trsfOf } from './gp.ts';
import type { Own } from './scope.ts';
import { leanIn, prismOf, revolveLoop } from './shape-solids.ts';

/**
 * A nominal insert as a solid: its top in the frame's plane with the nose centre of the cutting corner at the origin, the corner along x, and
 * the body below (against z), its flanks leaning in by the clearance angle. No hole and no chip groove: it encloses the real one.
 */
export function makeNominalInsert(oc: OpenCascadeInstance, own: Own, insert: NominalInsert, frame: Frame): TopoDS_Shape {
  const inward = insert.thickness * Math.tan(radFromDeg(insert.clearance));
  const down = (depth: number): Frame => ({ ...frame, origin: addScaled(frame.origin, frame.z, -depth) });
  if (insert.edgeNormals.length === 0) {
    const radius = insert.inscribedCircle / 2;
    const side = loopThrough([
      [-insert.thickness, 0],
      [0, 0],
      [0, radius],
      [-insert.thickness, radius - inward],
    ]);
    return revolveLoop(oc, own, side, frame);
  }
  return draftedPrism(oc, own, insert, frame) ?? loftedPlate(oc, own, insert, inward, frame, down(insert.thickness));
}

// Flat flanks and round ones about the nose's axis, as they are ground: planes, cylinders and cones. Undefined where a nose's cone would come
// to its point above the bottom.
function draftedPrism(oc: OpenCascadeInstance, own: Own, insert: NominalInsert, frame: Frame): TopoDS_Shape | undefined {
  if (insert.clearance > 0 && insert.noseRadius < 1.05 * insert.thickness * Math.tan(radFromDeg(insert.clearance))) return undefined;
  const loop = insertOutline(insert, 0).map(
    ({ from, to, arc }): PathPiece => (arc ? { kind: 'arc', from, to, centre: arc.centre, ccw: true } : { kind: 'line', from, to }),
  );
  const prism = prismOf(oc, own, loop, 0, -insert.thickness);
  const leant = insert.clearance > 0 ? leanIn(oc, own, prism, loop, insert.clearance) : done(prism);
  if (!leant.ok) return undefined;
  const placed = own(new oc.BRepBuilderAPI_Transform(leant.value, trsfOf(oc, own, worldFromFrame(frame)), true, false));
  return own(placed.Shape());
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
