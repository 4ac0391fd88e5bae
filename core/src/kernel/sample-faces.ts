import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { done, failed, type Result } from '#core/issues';
import { meshVolume, pairHalfEdges, type Surface, type TriMesh } from '#core/mesh';
import { asPrimitive } from './as-primitive.ts';
import { polesOf } from './face-poles.ts';
import { FaceSamples, volumeOver } from './face-samples.ts';
import { listSubShapes } from './gp.ts';
import type { Kernel } from './kernel.ts';
import type { ModelWork } from './model-work.ts';
import { type OpenSolids, withSolids } from './open-solids.ts';
import { withScope } from './scope.ts';
import { type FaceMesh, joinFaces, refineFace } from './refine-face.ts';
import { surfacePoints } from './surface-points.ts';
import { eachFaceNodes, tessellate } from './tessellate.ts';
import { readSurface, surfaceOf } from './topology.ts';

/**
 * A body tessellated in doubles, with points of its true faces: what envelopes are built from and what they
 * are measured against.
 */
export interface SampledBody {
  readonly id: string;
  /** mm. The chords that it was tessellated with; 0 where its triangles are what it is. */
  readonly chordTolerance: number;
  readonly mesh: TriMesh;
  /** As in BodyGeometry. */
  readonly faceStart: Uint32Array;
  readonly surfaces: readonly Surface[];
  /** What the faces were fitted as, where the triangles themselves are the true surface. */
  readonly fitted?: readonly Surface[];
  /** mm3, of the true faces, to a few 1e-6. */
  readonly volume: number;
  /** Points on the true surfaces over each curved triangle, packed, and the triangle that each belongs to. */
  readonly points: Float64Array;
  readonly pointTriangle: Uint32Array;
  /**
   * Points that surely lie on the body's skin, packed: those of `points` over triangles away from the face's border (over
   * a border triangle the surface may reach beyond the trimmed face), and points of the true edges.
   */
  readonly skin: Float64Array;
  /** Where in `skin` the points of the edges begin. */
  readonly skinEdges: number;
}

export interface SampleOptions {
  /** mm. */
  readonly chordTolerance: number;
  /** All bodies without it. */
  readonly ids?: readonly string[];
  readonly work?: ModelWork;
  readonly onProgress?: (share: number, text: string) => void;
}

/** Tessellates bodies of a STEP file and samples their true faces. */
export function sampleSolids(kernel: Kernel, bytes: Uint8Array, file: string, options: SampleOptions): Result<SampledBody[]> {
  return withSolids(kernel, bytes, file, options.work, (step) => sampleOpenSolids(step, options));
}

/** The same of a file that is open. */
export function sampleOpenSolids(step: OpenSolids, { chordTolerance, ids, onProgress }: Omit<SampleOptions, 'work'>): Result<SampledBody[]> {
  const names = step.solids.map((_, i) => `b${i + 1}`);
  const wanted = ids ?? names;
  const unknown = wanted.find((id) => !names.includes(id));
  if (unknown !== undefined) return failed('envelope.unknown-body', { file: step.file, body: unknown, found: names.join(', ') });
  return step.use((solids) => {
    const sampled: SampledBody[] = [];
    for (const [i, id] of wanted.entries()) {
      onProgress?.(i / wanted.length, `Sampling body ${i + 1} of ${wanted.length}`);
      const index = names.indexOf(id);
      step.beforeMeshing(index, chordTolerance);
      const body = sampleBody(step.kernel.oc, solids[index], id, chordTolerance, step.surfacesOf(index));
      if (!body) return failed('kernel.no-mesh', { file: step.file, body: index + 1, chord: Number(chordTolerance.toPrecision(3)) });
      sampled.push(body);
    }
    return done(sampled);
  });
}

/**
 * A shape tessellated and sampled on its true faces; undefined where one of them cannot be meshed. `found`: what faces are that are written as something else; those that are missing are
 * looked at and put there. One is believed where every sampled place says so.
 */
export function sampleBody(oc: OpenCascadeInstance, solid: TopoDS_Shape, id: string, chordTolerance: number, found: Surface[] = []): SampledBody | undefined {
  const tessellation = tessellate(oc, solid, { chordTolerance });
  if (!tessellation) return undefined;
  const { mesh: rough, faceStart, filled } = tessellation;
  const { triangles } = rough;
  const partner = pairHalfEdges(rough);
  const precise = new Float64Array(rough.positions.length);
  const surfaces: Surface[] = [];
  // The mesh holds the nodes of face after face.
  const nodeStart = new Uint32Array(faceStart.length);
  // Faces whose triangles had to be halved, and how many triangles that added so far.
  const refined = new Map<number, FaceMesh>();
  let added = 0;
  const samples = new FaceSamples(triangles.length / 3);
  eachFaceNodes(oc, solid, filled, ({ face, positions, uv }, faceAt) => {
    const surface = withScope((own) => readSurface(oc, own, face));
    surfaces.push(surface);
    const base = nodeStart[faceAt];
    precise.set(positions, 3 * base);
    nodeStart[faceAt + 1] = base + positions.length / 3;
    // A plane's triangles are the face; its curved borders belong to a neighbour too.
    if (surface.kind === 'plane' || !uv) return;
    withScope((own) => {
      const put = surfacePoints(own(new oc.BRepAdaptor_Surface(face, true)));
      const [first, last] = [3 * faceStart[faceAt], 3 * faceStart[faceAt + 1]];
      const coarse: FaceMesh = { positions, uv, poles: polesOf(put, surface, uv), triangles: triangles.subarray(first, last).map((v) => v - base) };
      const from = first / 3 + added;
      if (!samples.addFace(coarse, put, from, partner.subarray(first, last), MOST_OFF * chordTolerance)) {
        const fine = refineFace(coarse, put, MOST_OFF * chordTolerance);
        samples.addFace(fine, put, from, pairHalfEdges(fine));
        added += (fine.triangles.length - coarse.triangles.length) / 3;
        refined.set(faceAt, fine);
      }
      if (surface.kind !== 'free') return;
      const meant = (found[faceAt] ??= surfaceOf(oc, own, face));
      const round = asPrimitive(meant);
      if (round && samples.lastFaceLiesOn(round, ROUNDING)) surfaces[faceAt] = meant;
    });
  });
  requireSameNodes(precise, rough.positions, nodeStart[nodeStart.length - 1]);
  const skinEdges = samples.skinLength;
  withScope((own) => {
    for (const { shape } of listSubShapes(oc, own, solid, 'TopAbs_EDGE')) {
      const edge = own(oc.TopoDS.Edge(shape));
      if (oc.BRep_Tool.Degenerated(edge)) continue;
      samples.addEdge(own(new oc.BRepAdaptor_Curve(edge)));
    }
  });
  const whole = joinFaces({ positions: precise, triangles }, faceStart, nodeStart, refined);
  const { points, pointTriangle, skin } = samples.packed();
  return {
    id,
    chordTolerance,
    ...whole,
    surfaces,
    volume: meshVolume(whole.mesh) + volumeOver(whole.mesh, points, pointTriangle),
    points,
    pointTriangle,
    skin,
    skinEdges,
  };
}

// Of a chord, how far the kernel's mesher is let off: it keeps some sides that are a little over.
const MOST_OFF = 1.3;

// mm. Far within what is proven; a file's own numbers are no better.
const ROUNDING = 2e-7;

function requireSameNodes(precise: Float64Array, rough: Float64Array, count: number): void {
  if (3 * count !== rough.length || precise.some((v, i) => Math.abs(v - rough[i]) > 1e-3))
    throw new Error(`sample-faces.sampleBody: nodes in the extractor's order; got ${count} of ${rough.length / 3}`);
}
