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

// Where a face's border touches itself, whether the kernel meshes it goes by where the corners of its chords happen to lie: shares of the chord, and the largest
// angle (rad). Of 3 such faces at 5 chords each about half of these helped.
const OTHER_WAYS = [0.9, 0.7, 0.8, 0.6, 0.95, 0.85, 0.75, 0.65].flatMap((share) => [
  [share, 0.12],
  [share, 0.09],
]);

/**
 * Tessellates a body; triangles come face by face, in the explorer's order. Corners have single precision, enough to draw and point at (1e-5 mm at 150 mm). A face
 * that cannot be meshed with the chord that is asked for is tried with finer ones; undefined where none helps: a body without it would have a hole unsaid.
 */
export function tessellate(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  { chordTolerance, angleRad = DISPLAY_ANGLE_RAD }: TessellateOptions,
): BodyTessellation | undefined {
  const made = extractMesh(oc, shape, chordTolerance, angleRad);
  return withScope((own) => {
    const faces = listSubShapes(oc, own, shape, 'TopAbs_FACE');
    const meshed = new Set(made.faceHashes);
    const missing = faces.filter((f) => !meshed.has(f.hash));
    if (missing.length === 0) return made;
    const location = own(new oc.TopLoc_Location());
    for (const [share, angle] of OTHER_WAYS) {
      // First and alone, so that what lies beside it takes its corners and is no finer than was asked for.
      oc.BRepTools.Clean(shape, true);
      const isMeshed = missing.every((face) => {
        own(new oc.BRepMesh_IncrementalMesh(face.shape, share * chordTolerance, false, Math.min(angle, angleRad), false));
        const triangulation = oc.BRep_Tool.Triangulation(own(oc.TopoDS.Face(face.shape)), location, 0);
        return triangulation !== null && own(triangulation).NbTriangles() > 0;
      });
      if (!isMeshed) continue;
      own(new oc.BRepMesh_IncrementalMesh(shape, chordTolerance, false, angleRad, false));
      // The extractor would mesh it again.
      const read = readMeshed(oc, shape);
      if (read.faceHashes.length === faces.length) return read;
    }
    return undefined;
  });
}

function extractMesh(oc: OpenCascadeInstance, shape: TopoDS_Shape, chord: number, angle: number): BodyTessellation {
  return withScope((own) => {
    const data = own(oc.ReplicadMeshExtractor.extract(shape, chord, angle, true));
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
  const memory = packedMemoryOf(oc);
  eachTriangulation(oc, shape, ({ face, triangulation, positions }, i) =>
    withScope((own) => {
      const uv = triangulation?.HasUVNodes() ? readUv(memory, own, triangulation) : undefined;
      visit({ face, positions, ...(uv ? { uv } : {}) }, i);
    }),
  );
}

interface Triangulated {
  readonly face: TopoDS_Face;
  readonly hash: number;
  readonly triangulation: Poly_Triangulation | undefined;
  readonly positions: Float64Array;
}

function eachTriangulation(oc: OpenCascadeInstance, shape: TopoDS_Shape, visit: (found: Triangulated, face: number) => void): void {
  withScope((own) => {
    const location = own(new oc.TopLoc_Location());
    const memory = packedMemoryOf(oc);
    listSubShapes(oc, own, shape, 'TopAbs_FACE').forEach(({ shape: sub, hash }, i) =>
      withScope((inner) => {
        const face = inner(oc.TopoDS.Face(sub));
        const triangulation = oc.BRep_Tool.Triangulation(face, location, 0) ?? undefined;
        if (!triangulation) return visit({ face, hash, triangulation, positions: new Float64Array(0) }, i);
        inner(triangulation);
        const positions = readNodes(memory, inner, triangulation);
        if (!location.IsIdentity()) transformInPlace(positions, inner(location.Transformation()));
        visit({ face, hash, triangulation, positions }, i);
      }),
    );
  });
}

// The mesh that a shape has, without its faces that have none.
function readMeshed(oc: OpenCascadeInstance, shape: TopoDS_Shape): BodyTessellation {
  const [positions, triangles, starts, faceHashes]: number[][] = [[], [], [0], []];
  eachTriangulation(oc, shape, ({ face, hash, triangulation, positions: nodes }) => {
    if (!triangulation) return;
    const before = positions.length / 3;
    for (const v of nodes) positions.push(v);
    const order = (face.Orientation() as unknown as string) === 'TopAbs_REVERSED' ? [1, 3, 2] : [1, 2, 3];
    for (let t = 1; t <= triangulation.NbTriangles(); t++)
      withScope((own) => {
        const triangle = own(triangulation.Triangle(t));
        for (const k of order) triangles.push(before + triangle.Value(k) - 1);
      });
    starts.push(triangles.length / 3);
    faceHashes.push(hash);
  });
  return { mesh: { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) }, faceStart: Uint32Array.from(starts), faceHashes };
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
