import type { TopoDS_Shape } from 'replicad-opencascadejs';
import type { Motion } from '#core/math';
import { trsfOf } from './gp.ts';
import type { Kernel } from './kernel.ts';
import { type Own, withScope } from './scope.ts';
import { writeShapes } from './step-write.ts';

/** Solids with known numbers, for tests and benchmarks: at the origin, axis Z, lengths in mm. */
export type PlainSolid =
  | { readonly kind: 'box'; readonly size: readonly [number, number, number] }
  | { readonly kind: 'cylinder'; readonly radius: number; readonly height: number }
  | { readonly kind: 'sphere'; readonly radius: number }
  | { readonly kind: 'torus'; readonly major: number; readonly minor: number };

function makeSolid(kernel: Kernel, own: Own, solid: PlainSolid): TopoDS_Shape {
  const { oc } = kernel;
  switch (solid.kind) {
    case 'box':
      return own(own(new oc.BRepPrimAPI_MakeBox(...solid.size)).Shape());
    case 'cylinder':
      return own(own(new oc.BRepPrimAPI_MakeCylinder(solid.radius, solid.height)).Shape());
    case 'sphere':
      return own(own(new oc.BRepPrimAPI_MakeSphere(solid.radius)).Shape());
    case 'torus':
      return own(own(new oc.BRepPrimAPI_MakeTorus(solid.major, solid.minor)).Shape());
  }
}

/** A STEP file of plain solids, each with its name and place. */
export function writePlainStep(kernel: Kernel, solids: readonly { solid: PlainSolid; name: string; fileFromSolid: Motion }[]): Uint8Array {
  return withScope((own) =>
    writeShapes(
      kernel.oc,
      own,
      solids.map(({ solid, name, fileFromSolid }) => {
        const moved = own(new kernel.oc.BRepBuilderAPI_Transform(makeSolid(kernel, own, solid), trsfOf(kernel.oc, own, fileFromSolid), true, false));
        return { name, shape: own(moved.Shape()) };
      }),
    ),
  );
}
