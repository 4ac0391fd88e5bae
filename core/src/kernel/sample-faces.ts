import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { done, failed, type Result } from '#core/issues';
import { meshVolume, pairHalfEdges, type Surface, type TriMesh } from '#core/mesh';
import { coordinatesAt, polesOf } from './face-poles.ts';
import { listSubShapes } from './gp.ts';
import type { Kernel } from './kernel.ts';
import type { ModelWork } from './model-work.ts';
import { type OpenSolids, withSolids } from './open-solids.ts';
import { withScope } from './scope.ts';
import { putCurvePoints, surfacePoints } from './surface-points.ts';
import { eachFaceNodes, tessellate } from './tessellate.ts';
import { readSurface } from './topology.ts';

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

// Where on each triangle the true face is looked up, as weights of its corners: the middles of the sides and the
// centre, where a tessellation loses most, and two uneven points that no builder uses.
const WEIGHTS = [
  [0.5, 0.5, 0],
  [0, 0.5, 0.5],
  [0.5, 0, 0.5],
  [1 / 3, 1 / 3, 1 / 3],
  [0.62, 0.27, 0.11],
  [0.17, 0.31, 0.52],
] as const;

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
      const body = sampleBody(step.kernel.oc, solids[index], id, chordTolerance);
      if (!body) return failed('kernel.no-mesh', { file: step.file, body: index + 1, chord: Number(chordTolerance.toPrecision(3)) });
      sampled.push(body);
    }
    return done(sampled);
  });
}

const PER_TRIANGLE = WEIGHTS.length;
// Of `skin` what edges take at most.
const POINTS_AN_EDGE = 25; // odd against the usual powers of two of a tessellation

/** A shape tessellated and sampled on its true faces; undefined where one of them cannot be meshed. */
export function sampleBody(oc: OpenCascadeInstance, solid: TopoDS_Shape, id: string, chordTolerance: number): SampledBody | undefined {
  const tessellation = tessellate(oc, solid, { chordTolerance });
  if (!tessellation) return undefined;
  const { mesh: rough, faceStart } = tessellation;
  const { triangles } = rough;
  const partner = pairHalfEdges(rough);
  const mesh = { positions: new Float64Array(rough.positions.length), triangles };
  const surfaces: Surface[] = [];
  const samples = new Samples(triangles.length / 3);
  // The mesh holds the nodes of face after face.
  let nodesBefore = 0;
  eachFaceNodes(oc, solid, ({ face, positions, uv }, faceAt) => {
    const surface = withScope((own) => readSurface(oc, own, face));
    surfaces.push(surface);
    mesh.positions.set(positions, 3 * nodesBefore);
    const base = nodesBefore;
    nodesBefore += positions.length / 3;
    // A plane's triangles are the face; its curved borders belong to a neighbour too.
    if (surface.kind === 'plane' || !uv) return;
    withScope((own) => {
      const put = surfacePoints(own(new oc.BRepAdaptor_Surface(face, true)));
      const poles = polesOf(put, surface, uv);
      for (let t = faceStart[faceAt]; t < faceStart[faceAt + 1]; t++) {
        const [a, b, c] = [0, 1, 2].map((k) => 2 * (triangles[3 * t + k] - base));
        const [ua, ub, uc] = coordinatesAt(uv, poles, a, b, c, 0);
        const [va, vb, vc] = coordinatesAt(uv, poles, a, b, c, 1);
        // Which of its sides are used by no other triangle of the face, as bits.
        const border = (partner[3 * t] < 0 ? 1 : 0) | (partner[3 * t + 1] < 0 ? 2 : 0) | (partner[3 * t + 2] < 0 ? 4 : 0);
        samples.add(t, border, (w, out, at) => {
          const [wa, wb, wc] = WEIGHTS[w];
          put(wa * ua + wb * ub + wc * uc, wa * va + wb * vb + wc * vc, out, at);
        });
      }
    });
  });
  requireSameNodes(mesh.positions, rough.positions, nodesBefore);
  const skinEdges = samples.skinLength;
  withScope((own) => {
    for (const { shape } of listSubShapes(oc, own, solid, 'TopAbs_EDGE')) {
      const edge = own(oc.TopoDS.Edge(shape));
      if (oc.BRep_Tool.Degenerated(edge)) continue;
      samples.addEdge(own(new oc.BRepAdaptor_Curve(edge)));
    }
  });
  const { points, pointTriangle, skin } = samples.packed();
  return {
    id,
    chordTolerance,
    mesh,
    faceStart,
    surfaces,
    volume: meshVolume(mesh) + volumeOver(mesh, points, pointTriangle),
    points,
    pointTriangle,
    skin,
    skinEdges,
  };
}

function requireSameNodes(precise: Float64Array, rough: Float64Array, count: number): void {
  if (3 * count !== rough.length || precise.some((v, i) => Math.abs(v - rough[i]) > 1e-3))
    throw new Error(`sample-faces.sampleBody: nodes in the extractor's order; got ${count} of ${rough.length / 3}`);
}

// Places of a body as they are gathered, packed.
class Samples {
  private points: Float64Array;
  private pointTriangle: Uint32Array;
  private skin: Float64Array;
  private count = 0;
  skinLength = 0;

  constructor(triangles: number) {
    this.points = new Float64Array(3 * PER_TRIANGLE * triangles);
    this.pointTriangle = new Uint32Array(PER_TRIANGLE * triangles);
    this.skin = new Float64Array(3 * PER_TRIANGLE * triangles + 1024);
  }

  /** The places of a triangle; of one at its face's border (a bit a side) only the middles of its inner sides are surely on the face. */
  add(triangle: number, border: number, put: (w: number, out: Float64Array, at: number) => void): void {
    for (let w = 0; w < PER_TRIANGLE; w++) {
      const at = 3 * this.count;
      put(w, this.points, at);
      this.pointTriangle[this.count++] = triangle;
      if (border !== 0 && (w > 2 || (border & (1 << w)) !== 0)) continue;
      for (let k = 0; k < 3; k++) this.skin[this.skinLength + k] = this.points[at + k];
      this.skinLength += 3;
    }
  }

  addEdge(curve: InstanceType<OpenCascadeInstance['BRepAdaptor_Curve']>): void {
    const steps = (curve.GetType() as unknown as string) === 'GeomAbs_Line' ? 1 : POINTS_AN_EDGE;
    const length = this.skinLength + 3 * (steps + 1);
    if (length > this.skin.length) {
      const grown = new Float64Array(2 * length);
      grown.set(this.skin);
      this.skin = grown;
    }
    putCurvePoints(curve, steps, this.skin, this.skinLength);
    this.skinLength = length;
  }

  packed(): Pick<SampledBody, 'points' | 'pointTriangle' | 'skin'> {
    return {
      points: this.points.slice(0, 3 * this.count),
      pointTriangle: this.pointTriangle.slice(0, this.count),
      skin: this.skin.slice(0, this.skinLength),
    };
  }
}

// Between triangles and the true faces over them: a third of a triangle's area times the heights over the middles of its sides, exact for parabolas.
function volumeOver({ positions: p, triangles: t }: TriMesh, points: Float64Array, pointTriangle: Uint32Array): number {
  let sum = 0;
  for (let i = 0; i < pointTriangle.length; i += PER_TRIANGLE) {
    const f = 3 * pointTriangle[i];
    const [a, b, c] = [3 * t[f], 3 * t[f + 1], 3 * t[f + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const [nx, ny, nz] = [uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx];
    for (let w = 0; w < 3; w++) {
      const at = 3 * (i + w);
      sum += nx * (points[at] - p[a]) + ny * (points[at + 1] - p[a + 1]) + nz * (points[at + 2] - p[a + 2]);
    }
  }
  return sum / 6;
}
