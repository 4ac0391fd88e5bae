import type { gp_Pnt2d, gp_Trsf, OpenCascadeInstance, Poly_Triangulation, TopoDS_Face, TopoDS_Shape } from 'replicad-opencascadejs';
import { DISPLAY_ANGLE_RAD } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { type EdgeNodes, fillFace, touchesItself } from './fill-face.ts';
import { listSubShapes, vecOfPoint } from './gp.ts';
import { memoryOf, type PackedMemory, packedMemoryOf } from './packed-memory.ts';
import { type FaceMesh, joinFaces } from './refine-face.ts';
import { type Own, withScope } from './scope.ts';

export interface BodyTessellation {
  readonly mesh: TriMesh;
  readonly faceStart: Uint32Array;
  readonly faceHashes: number[];
  /** Faces by number that were filled and not meshed by the kernel, and nodes of edges, by hash, that no meshed face has. */
  readonly filled?: ReadonlyMap<number, FaceMesh>;
  readonly ownEdges?: ReadonlyMap<number, EdgeNodes>;
}

const NOTHING: BodyTessellation = { mesh: { positions: new Float64Array(0), triangles: new Uint32Array(0) }, faceStart: Uint32Array.of(0), faceHashes: [] };

export interface TessellateOptions {
  readonly chordTolerance: number;
  readonly angleRad?: number;
}

/**
 * Tessellates a body; triangles come face by face, in the explorer's order. Corners have single precision, enough to draw and point at (1e-5 mm at 150 mm). A face
 * whose border touches itself is filled between its edges: the kernel does not mesh it with most chords, or leaves a gap at the hole (0.22 mm with chords of 0.01 was seen).
 * Undefined where a face cannot be meshed either way: a body without it would have a hole unsaid.
 */
export function tessellate(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  { chordTolerance, angleRad = DISPLAY_ANGLE_RAD }: TessellateOptions,
): BodyTessellation | undefined {
  return withScope((own) => {
    const faces = listSubShapes(oc, own, shape, 'TopAbs_FACE');
    // Where it meshes a face that touches itself too, the kernel divides its edges as it fails: into a dozen times as many as they need (1,393 nodes of an edge was seen).
    const others = faces.filter((f) => !touchesItself(oc, f.shape));
    const mesh = (part: TopoDS_Shape) => extractMesh(oc, part, chordTolerance, angleRad);
    const made = others.length === faces.length ? undefined : others.length > 0 ? mesh(compound(oc, own, others)) : NOTHING;
    return (made && withRest(oc, own, shape, faces, made, chordTolerance)) ?? withRest(oc, own, shape, faces, mesh(shape), chordTolerance);
  });
}

function compound(oc: OpenCascadeInstance, own: Own, parts: readonly { readonly shape: TopoDS_Shape }[]): TopoDS_Shape {
  const whole = own(new oc.TopoDS_Compound());
  const builder = own(new oc.TopoDS_Builder());
  builder.MakeCompound(whole);
  for (const { shape } of parts) builder.Add(whole, shape);
  return whole;
}

// A mesh with those faces filled that it lacks; undefined where one cannot be.
function withRest(
  oc: OpenCascadeInstance,
  own: Own,
  shape: TopoDS_Shape,
  faces: readonly { readonly shape: TopoDS_Shape; readonly hash: number }[],
  made: BodyTessellation,
  chord: number,
): BodyTessellation | undefined {
  const meshed = new Set(made.faceHashes);
  const filled = new Map<number, FaceMesh>();
  const ownEdges = new Map<number, EdgeNodes>();
  for (const [i, face] of faces.entries()) {
    if (meshed.has(face.hash)) continue;
    const mesh = fillFace(oc, own(oc.TopoDS.Face(face.shape)), chord, ownEdges);
    if (!mesh) return undefined;
    filled.set(i, mesh);
  }
  return filled.size === 0 ? made : { ...withFilled(oc, shape, made, filled), filled, ownEdges };
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
export function eachFaceNodes(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  filled: BodyTessellation['filled'],
  visit: (nodes: FaceNodes, face: number) => void,
): void {
  const memory = packedMemoryOf(oc);
  eachTriangulation(oc, shape, ({ face, triangulation, positions }, i) =>
    withScope((own) => {
      const mesh = filled?.get(i);
      if (mesh) return visit({ face, positions: mesh.positions, uv: mesh.uv }, i);
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

// A mesh with faces that were filled in place of those that it has or lacks.
function withFilled(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  made: BodyTessellation,
  filled: ReadonlyMap<number, FaceMesh>,
): Pick<BodyTessellation, 'mesh' | 'faceStart' | 'faceHashes'> {
  const [starts, nodes, faceHashes]: number[][] = [[0], [0], []];
  const oriented = new Map<number, FaceMesh>();
  let found = 0;
  eachTriangulation(oc, shape, ({ face, hash, positions }, i) => {
    if (made.faceHashes[found] === hash) found++;
    starts.push(made.faceStart[found]);
    nodes.push(nodes[i] + positions.length / 3);
    faceHashes.push(hash);
    const mesh = filled.get(i);
    const isReversed = (face.Orientation() as unknown as string) === 'TopAbs_REVERSED';
    if (mesh) oriented.set(i, isReversed ? { ...mesh, triangles: mesh.triangles.map((_, k, all) => all[k - (k % 3) + ((3 - (k % 3)) % 3)]) } : mesh);
  });
  return { ...joinFaces(made.mesh, Uint32Array.from(starts), Uint32Array.from(nodes), oriented), faceHashes };
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

/** Polylines of the edges of a shape that is tessellated, by the edge's hash, packed points. */
export function readEdgePolylines(
  oc: OpenCascadeInstance,
  shape: TopoDS_Shape,
  chordTolerance: number,
  { filled, ownEdges }: Pick<BodyTessellation, 'filled' | 'ownEdges'> = {},
): Map<number, Float64Array> {
  const polylines = new Map<number, Float64Array>();
  if (!filled?.size) {
    putPolylines(oc, shape, chordTolerance, polylines);
    return polylines;
  }
  // Asked for a face that it did not mesh, the kernel may be busy with that for minutes.
  for (const [hash, { positions }] of ownEdges ?? []) polylines.set(hash, positions);
  withScope((own) =>
    listSubShapes(oc, own, shape, 'TopAbs_FACE').forEach((face, i) => {
      if (!filled.has(i)) putPolylines(oc, face.shape, chordTolerance, polylines);
    }),
  );
  return polylines;
}

function putPolylines(oc: OpenCascadeInstance, shape: TopoDS_Shape, chordTolerance: number, polylines: Map<number, Float64Array>): void {
  withScope((own) => {
    const data = own(oc.ReplicadEdgeMeshExtractor.extract(shape, chordTolerance, DISPLAY_ANGLE_RAD));
    const buffer = memoryOf(oc);
    const lines = new Float32Array(buffer, data.getLinesPtr(), data.getLinesSize());
    const groups = new Int32Array(buffer, data.getEdgeGroupsPtr(), data.getEdgeGroupsSize());
    for (let i = 0; i < groups.length; i += 3) {
      const [start, count] = [groups[i] * 3, groups[i + 1]];
      // The extractor gives pairs of points; a polyline needs the first of all and the second of each.
      const points = new Float64Array(count > 0 ? 3 * (count / 2 + 1) : 0);
      points.set(lines.subarray(start, start + Math.min(3, 3 * count)));
      for (let k = 0; k < count / 2; k++) points.set(lines.subarray(start + 6 * k + 3, start + 6 * k + 6), 3 * k + 3);
      polylines.set(groups[i + 2], points);
    }
  });
}
