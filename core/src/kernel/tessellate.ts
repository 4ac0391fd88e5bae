import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { DISPLAY_ANGLE_RAD } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { vecOfPoint } from './gp.ts';
import { withScope } from './scope.ts';

export interface BodyTessellation {
  readonly mesh: TriMesh;
  readonly faceStart: Uint32Array;
  readonly faceHashes: number[];
}

export interface TessellateOptions {
  readonly chordTolerance: number;
  readonly angleRad?: number;
  /**
   * Corners in doubles, for envelopes and proofs: 5 microseconds a corner. Without it they have single precision,
   * enough to draw and point at (1e-5 mm at 150 mm).
   */
  readonly precise?: boolean;
}

/** Tessellates a body; triangles come face by face, in the explorer's order. */
export function tessellate(oc: OpenCascadeInstance, shape: TopoDS_Shape, options: TessellateOptions): BodyTessellation {
  return withScope((own) => {
    const data = own(oc.ReplicadMeshExtractor.extract(shape, options.chordTolerance, options.angleRad ?? DISPLAY_ANGLE_RAD, true));
    const { buffer } = oc.wasmMemory;
    const groups = new Int32Array(buffer, data.getFaceGroupsPtr(), data.getFaceGroupsSize()).slice();
    const triangles = new Uint32Array(buffer, data.getTrianglesPtr(), data.getTrianglesSize()).slice();
    let positions: Float64Array = Float64Array.from(new Float32Array(buffer, data.getVerticesPtr(), data.getVerticesSize()));
    if (options.precise) positions = readNodes(oc, shape, positions);
    const faceStart = new Uint32Array(groups.length / 3 + 1);
    const faceHashes: number[] = [];
    for (let i = 0; i < groups.length; i += 3) {
      faceStart[i / 3] = groups[i] / 3;
      faceHashes.push(groups[i + 2]);
    }
    faceStart[groups.length / 3] = triangles.length / 3;
    return { mesh: { positions, triangles }, faceStart, faceHashes };
  });
}

// The extractor lists the nodes face by face in the order of each face's triangulation.
function readNodes(oc: OpenCascadeInstance, shape: TopoDS_Shape, rough: Float64Array): Float64Array {
  const positions = new Float64Array(rough.length);
  let at = 0;
  withScope((own) => {
    const explorer = own(new oc.TopExp_Explorer(shape, 'TopAbs_FACE'));
    const location = own(new oc.TopLoc_Location());
    for (; explorer.More(); explorer.Next()) {
      withScope((inner) => {
        const face = inner(oc.TopoDS.Face(inner(explorer.Current())));
        const triangulation = oc.BRep_Tool.Triangulation(face, location, 0);
        if (!triangulation) return;
        inner(triangulation);
        const trsf = location.IsIdentity() ? undefined : inner(location.Transformation());
        const count = triangulation.NbNodes();
        for (let i = 1; i <= count; i++) {
          const node = triangulation.Node(i);
          if (trsf) node.Transform(trsf);
          [positions[at], positions[at + 1], positions[at + 2]] = vecOfPoint(node);
          at += 3;
        }
      });
    }
  });
  const agrees = at === rough.length && positions.every((v, i) => Math.abs(v - rough[i]) <= 1e-3);
  if (!agrees) throw new Error(`tessellate.readNodes: nodes in another order than the extractor's; got ${at}, expected ${rough.length}`);
  return positions;
}

/** Polylines of the edges by the edge's hash, packed points. */
export function readEdgePolylines(oc: OpenCascadeInstance, shape: TopoDS_Shape, chordTolerance: number): Map<number, Float64Array> {
  return withScope((own) => {
    const data = own(oc.ReplicadEdgeMeshExtractor.extract(shape, chordTolerance, DISPLAY_ANGLE_RAD));
    const { buffer } = oc.wasmMemory;
    const lines = new Float32Array(buffer, data.getLinesPtr(), data.getLinesSize());
    const groups = new Int32Array(buffer, data.getEdgeGroupsPtr(), data.getEdgeGroupsSize());
    const polylines = new Map<number, Float64Array>();
    for (let i = 0; i < groups.length; i += 3) {
      const [start, count] = [groups[i] * 3, groups[i + 1]];
      // The extractor gives pairs of points; a polyline needs the first of all and the second of each.
      const points = new Float64Array(count > 0 ? 3 * (count / 2 + 1) : 0);
      points.set(lines.subarray(start, start + Math.min(3, 3 * count)));
      for (let k = 0; k < count / 2; k++) points.set(lines.subarray(start + 6 * k + 3, start + 6 * k + 6), 3 * k + 3);
      polylines.set(groups[i + 2], points);
    }
    return polylines;
  });
}
