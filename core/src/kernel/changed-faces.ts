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
 * lose a piece. `inText`: the file's shells by their faces. Undefined where it cannot be told which.
 */
export function changedSurfaces(oc: OpenCascadeInstance, whole: TopoDS_Shape, inText: readonly (readonly FaceInText[])[]): Set<number> | undefined {
  const made = withScope((own) => listSubShapes(oc, own, whole, 'TopAbs_SHELL').map(({ shape }) => edgesByFace(oc, shape)));
  const isInOrder = made.length === inText.length && made.every((edges, i) => edges.length === inText[i].length);
  const out = new Set<number>();
  for (const [i, faces] of inText.entries()) {
    if (!faces.some((f) => f.surface !== undefined)) continue;
    // An assembly may have them in another order, and some more than once.
    const same = isInOrder ? [made[i]] : made.filter((edges) => edges.length === faces.length);
    if (same.length === 0) return undefined;
    const differing = same.map((edges) => faces.filter((face, k) => face.edges !== edges[k])).reduce((a, b) => (b.length < a.length ? b : a));
    for (const { surface } of differing) if (surface !== undefined) out.add(surface);
  }
  return out;
}

// In the explorer's order, which is that of the text.
function edgesByFace(oc: OpenCascadeInstance, shell: TopoDS_Shape): number[] {
  return withScope((own) =>
    listSubShapes(oc, own, shell, 'TopAbs_FACE').map(({ shape }) =>
      withScope((inner) => {
        const face = inner(oc.TopoDS.Face(shape));
        const edges = listSubShapes(oc, inner, shape, 'TopAbs_EDGE').map((e) => inner(oc.TopoDS.Edge(e.shape)));
        return edges.filter((edge) => !oc.BRep_Tool.Degenerated(edge) && !oc.BRep_Tool.IsClosed(edge, face)).length;
      }),
    ),
  );
}
