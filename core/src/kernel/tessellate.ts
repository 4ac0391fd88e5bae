import type { gp_Pnt2d, gp_Trsf, OpenCascadeInstance, Poly_Triangulation, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs';
import { DISPLAY_ANGLE_RAD } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { listSubShapes, vecOfPoint } from './gp.ts';
import { memoryOf, type PackedMemory, packedMemoryOf } from './packed-memory.ts';
import { type Own, withScope } from './scope.ts';

export interface BodyTessellation {
  readonly mesh: TriMesh;
  readonly faceStart: Uint32Array;
  readonly faceHashes: number[];
}

export interface TessellateOptions {
  readonly chordTolerance: number;
  readonly angleRad?: number;
}

/** Tessellates a body; triangles come face by face, in the explorer's order. Corners have single precision, enough to draw and point at (1e-5 mm at 150 mm). */
export function tessellate(oc: OpenCascadeInstance, shape: TopoDS_Shape, options: TessellateOptions): BodyTessellation {
  return withScope((own) => {
    const data = own(oc.ReplicadMeshExtractor.extract(shape, options.chordTolerance, options.angleRad ?? DISPLAY_ANGLE_RAD, true));
    const buffer = memoryOf(oc);
    const groups = new Int32Array(buffer, data.getFaceGroupsPtr(), data.getFaceGroupsSize()).slice();
    const triangles = new Uint32Array(buffer, data.getTrianglesPtr(), data.getTrianglesSize()).slice();
    const positions = Float64Array.from(new Float32Array(buffer, data.getVerticesPtr(), data.getVerticesSize()));
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

/** The nodes of a face's own triangulation. */
export interface FaceNodes {
  readonly face: TopoDS_Face;
  /** In doubles, packed. */
  readonly positions: Float64Array;
  /** In the face's own coordinates, two a node, where it has them. */
  readonly uv?: Float64Array;
}

/** Goes over the faces of a shape that is tessellated, in the order of `tessellate`'s triangles; the faces are freed after each. */
export function eachFaceNodes(oc: OpenCascadeInstance, shape: TopoDS_Shape, visit: (nodes: FaceNodes, face: number) => void): void {
  withScope((own) => {
    const location = own(new oc.TopLoc_Location());
    const memory = packedMemoryOf(oc);
    listSubShapes(oc, own, shape, 'TopAbs_FACE').forEach((found, i) =>
      withScope((inner) => {
        const face = inner(oc.TopoDS.Face(found.shape));
        const triangulation = oc.BRep_Tool.Triangulation(face, location, 0);
        if (!triangulation) return visit({ face, positions: new Float64Array(0) }, i);
        inner(triangulation);
        const positions = readNodes(memory, inner, triangulation);
        if (!location.IsIdentity()) transformInPlace(positions, inner(location.Transformation()));
        const uv = triangulation.HasUVNodes() ? readUv(memory, inner, triangulation) : undefined;
        visit({ face, positions, ...(uv ? { uv } : {}) }, i);
      }),
    );
  });
}

function readNodes(memory: PackedMemory, own: Own, triangulation: Poly_Triangulation): Float64Array {
  const count = triangulation.NbNodes();
  const at = (i: number) => vecOfPoint(triangulation.Node(i + 1));
  const packed = memory.points(own(own(triangulation.MapNodeArray()).Array1()));
  const isRead = packed?.length === 3 * count && [0, count - 1].every((i) => at(i).every((v, k) => packed[3 * i + k] === v));
  return isRead ? packed : Float64Array.from(Array.from({ length: count }, (_, i) => at(i)).flat());
}

function readUv(memory: PackedMemory, own: Own, triangulation: Poly_Triangulation): Float64Array {
  const count = triangulation.NbNodes();
  const at = (i: number) => withScope((inner) => ((p: gp_Pnt2d) => [p.X(), p.Y()])(inner(triangulation.UVNode(i + 1))));
  const packed = memory.flatPoints(own(own(triangulation.MapUVNodeArray()).Array1()));
  const isRead = packed?.length === 2 * count && [0, count - 1].every((i) => at(i).every((v, k) => packed[2 * i + k] === v));
  return isRead ? packed : Float64Array.from(Array.from({ length: count }, (_, i) => at(i)).flat());
}

function transformInPlace(p: Float64Array, trsf: gp_Trsf): void {
  const m = Array.from({ length: 12 }, (_, i) => trsf.Value(Math.floor(i / 4) + 1, (i % 4) + 1));
  for (let i = 0; i < p.length; i += 3) {
    const [x, y, z] = [p[i], p[i + 1], p[i + 2]];
    for (let k = 0; k < 3; k++) p[i + k] = m[4 * k] * x + m[4 * k + 1] * y + m[4 * k + 2] * z + m[4 * k + 3];
  }
}

/** Polylines of the edges by the edge's hash, packed points. */
export function readEdgePolylines(oc: OpenCascadeInstance, shape: TopoDS_Shape, chordTolerance: number): Map<number, Float64Array> {
  return withScope((own) => {
    const data = own(oc.ReplicadEdgeMeshExtractor.extract(shape, chordTolerance, DISPLAY_ANGLE_RAD));
    const buffer = memoryOf(oc);
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
