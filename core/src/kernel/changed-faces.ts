import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { listSubShapes } from './gp.ts';
import { withScope } from './scope.ts';

/** A face as the text of a STEP file has it. */
export interface FaceInText {
  /** What it is on, where the kernel is given another surface for that. */
  readonly surface: number | undefined;
  /** Without a seam, which it borders on with both sides: many systems leave those out. */
  readonly edges: number;
}

/**
 * Surfaces that were given to the kernel in place of others, of faces whose edges it took apart: it does so where what bounds a face touches or crosses itself, and may
 * lose a piece. Undefined where it cannot be told which.
 */
export function changedSurfaces(oc: OpenCascadeInstance, solids: readonly TopoDS_Shape[], inText: readonly (readonly FaceInText[])[]): Set<number> | undefined {
  if (inText.length === 0) return new Set();
  const out = new Set<number>();
  const made = solids.map((solid) => edgesByFace(oc, solid));
  for (const faces of inText) {
    const same = made.filter((edges) => edges.length === faces.length);
    if (same.length === 0) return undefined;
    const differing = same.map((edges) => faces.filter((face, i) => face.edges !== edges[i])).reduce((a, b) => (b.length < a.length ? b : a));
    for (const { surface } of differing) if (surface !== undefined) out.add(surface);
  }
  return out;
}

// In the explorer's order, which is that of the text.
function edgesByFace(oc: OpenCascadeInstance, solid: TopoDS_Shape): number[] {
  return withScope((own) =>
    listSubShapes(oc, own, solid, 'TopAbs_FACE').map(({ shape }) =>
      withScope((inner) => {
        const face = inner(oc.TopoDS.Face(shape));
        const edges = listSubShapes(oc, inner, shape, 'TopAbs_EDGE').map((e) => inner(oc.TopoDS.Edge(e.shape)));
        return edges.filter((edge) => !oc.BRep_Tool.Degenerated(edge) && !oc.BRep_Tool.IsClosed(edge, face)).length;
      }),
    ),
  );
}
