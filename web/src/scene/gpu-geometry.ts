import { BufferAttribute, BufferGeometry } from 'three';
import { toCreasedNormals } from 'three/examples/jsm/utils/BufferGeometryUtils.js';
import { MeshBVH } from 'three-mesh-bvh';
import type { BodyGeometry } from '#core/mesh';

/** What the GPU and the pointer need of a body; made once per body and kept as long as the body lives. */
export interface GpuBody {
  readonly surface: BufferGeometry;
  readonly edges: BufferGeometry;
  /** For rays; built at the first use. */
  readonly bvh: () => MeshBVH;
}

// Radians between two triangles of made geometry that meet in an edge.
const SHARP = 0.45;

const cache = new WeakMap<BodyGeometry, GpuBody>();

export function gpuBodyOf(body: BodyGeometry): GpuBody {
  const known = cache.get(body);
  if (known) return known;
  let surface = new BufferGeometry();
  surface.setAttribute('position', new BufferAttribute(Float32Array.from(body.mesh.positions), 3));
  surface.setIndex(new BufferAttribute(body.mesh.triangles, 1));
  // Corners are doubled along face borders, so normals are smooth within a face and sharp between faces. Made geometry is welded and has no
  // edges: there the angle tells.
  if (body.edges.length > 0) surface.computeVertexNormals();
  else surface = toCreasedNormals(surface, SHARP);
  surface.computeBoundingSphere();
  let bvh: MeshBVH | undefined;
  // Indirect: the triangle order must stay, faces are looked up by it.
  const made: GpuBody = { surface, edges: edgeGeometry(body), bvh: () => (bvh ??= new MeshBVH(surface, { indirect: true })) };
  cache.set(body, made);
  return made;
}

/** Takes a body from the graphics card; it comes there again with the next picture that shows it. */
export function releaseGpuBody({ surface, edges }: GpuBody): void {
  surface.dispose();
  edges.dispose();
}

function edgeGeometry(body: BodyGeometry): BufferGeometry {
  const { edgePoints, edgeStart } = body;
  const points: number[] = [];
  for (let e = 0; e + 1 < edgeStart.length; e++) {
    if (isSmooth(body, e)) continue;
    for (let i = edgeStart[e]; i + 1 < edgeStart[e + 1]; i++) for (let k = 0; k < 6; k++) points.push(edgePoints[3 * i + k]);
  }
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', new BufferAttribute(Float32Array.from(points), 3));
  return geometry;
}

// A seam (one face on both sides) is an accident of the B-rep, not an edge of the part.
const isSmooth = (body: BodyGeometry, edge: number) => body.edges[edge].faces.length < 2;

/** The triangles of faces as a geometry that shares its corners with the body. */
export function faceGeometry(body: BodyGeometry, faces: readonly number[]): BufferGeometry {
  const { surface } = gpuBodyOf(body);
  const geometry = new BufferGeometry();
  geometry.setAttribute('position', surface.getAttribute('position'));
  geometry.setAttribute('normal', surface.getAttribute('normal'));
  // Of a surface whose corners are not shared each triangle has its own three.
  const corners = surface.getIndex()?.array;
  const index: number[] = [];
  for (const f of faces.filter((known) => known + 1 < body.faceStart.length))
    for (let i = 3 * body.faceStart[f]; i < 3 * body.faceStart[f + 1]; i++) index.push(corners ? corners[i] : i);
  geometry.setIndex(index);
  return geometry;
}
