import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { done, failed, type Result } from '#core/issues';
import { distanceFrom, meshVolume, pairHalfEdges, PLANE_SIZE, planeOfTriangle, type Surface, type TriMesh, type Unfitted } from '#core/mesh';
import { coordinatesAt, polesOf } from './face-poles.ts';
import { listSubShapes } from './gp.ts';
import type { Kernel } from './kernel.ts';
import type { ModelWork } from './model-work.ts';
import { type OpenSolids, withSolids } from './open-solids.ts';
import { withScope } from './scope.ts';
import { type FaceMesh, refineFace } from './refine-face.ts';
import { type PutPoint, putCurvePoints, surfacePoints } from './surface-points.ts';
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
      const body = sampleBody(step.kernel.oc, solids[index], id, chordTolerance, step.surfacesOf(index));
      if (!body) return failed('kernel.no-mesh', { file: step.file, body: index + 1, chord: Number(chordTolerance.toPrecision(3)) });
      sampled.push(body);
    }
    return done(sampled);
  });
}

const PER_TRIANGLE = WEIGHTS.length;
// The plane of the triangle that was looked at last.
const PLANE = new Float64Array(PLANE_SIZE);
// Of `skin` what edges take at most.
const POINTS_AN_EDGE = 25; // odd against the usual powers of two of a tessellation

/** A shape tessellated and sampled on its true faces; undefined where one of them cannot be meshed. `known`: what its faces are, whatever they are written as; believed where every sampled place says so. */
export function sampleBody(
  oc: OpenCascadeInstance,
  solid: TopoDS_Shape,
  id: string,
  chordTolerance: number,
  known?: readonly Surface[],
): SampledBody | undefined {
  const tessellation = tessellate(oc, solid, { chordTolerance });
  if (!tessellation) return undefined;
  const { mesh: rough, faceStart } = tessellation;
  const { triangles } = rough;
  const partner = pairHalfEdges(rough);
  const precise = new Float64Array(rough.positions.length);
  const surfaces: Surface[] = [];
  // Faces whose triangles had to be halved, and how many triangles that added so far.
  const refined = new Map<number, FaceMesh>();
  const nodeStart = new Uint32Array(faceStart.length);
  let added = 0;
  const samples = new Samples(triangles.length / 3);
  // The mesh holds the nodes of face after face.
  let nodesBefore = 0;
  eachFaceNodes(oc, solid, ({ face, positions, uv }, faceAt) => {
    const surface = withScope((own) => readSurface(oc, own, face));
    surfaces.push(surface);
    precise.set(positions, 3 * nodesBefore);
    const base = nodesBefore;
    nodesBefore += positions.length / 3;
    nodeStart[faceAt + 1] = nodesBefore;
    // A plane's triangles are the face; its curved borders belong to a neighbour too.
    if (surface.kind === 'plane' || !uv) return;
    withScope((own) => {
      const put = surfacePoints(own(new oc.BRepAdaptor_Surface(face, true)));
      const poles = polesOf(put, surface, uv);
      const [first, last] = [3 * faceStart[faceAt], 3 * faceStart[faceAt + 1]];
      const coarse: FaceMesh = { positions, uv, triangles: triangles.subarray(first, last).map((v) => v - base) };
      const before = samples.count;
      const skinBefore = samples.skinLength;
      const from = first / 3 + added;
      const isWithin = sampleFace(samples, coarse, poles, put, from, partner.subarray(first, last), MOST_OFF * chordTolerance);
      const fine = isWithin ? coarse : refineFace(coarse, poles, put, MOST_OFF * chordTolerance);
      if (fine.triangles.length > coarse.triangles.length) {
        samples.goBack(before, skinBefore);
        const withPoles = new Uint8Array(fine.uv.length / 2);
        withPoles.set(poles);
        sampleFace(samples, fine, withPoles, put, from, pairHalfEdges(fine), Infinity);
        added += (fine.triangles.length - coarse.triangles.length) / 3;
        refined.set(faceAt, fine);
      }
      const meant = surface.kind === 'free' ? asPrimitive(known?.[faceAt]) : undefined;
      if (meant && samples.lieOn(meant, before)) surfaces[faceAt] = known?.[faceAt] as Surface;
    });
  });
  requireSameNodes(precise, rough.positions, nodesBefore);
  const skinEdges = samples.skinLength;
  withScope((own) => {
    for (const { shape } of listSubShapes(oc, own, solid, 'TopAbs_EDGE')) {
      const edge = own(oc.TopoDS.Edge(shape));
      if (oc.BRep_Tool.Degenerated(edge)) continue;
      samples.addEdge(own(new oc.BRepAdaptor_Curve(edge)));
    }
  });
  const { mesh, starts } = joinFaces({ positions: precise, triangles }, faceStart, nodeStart, refined);
  const { points, pointTriangle, skin } = samples.packed();
  return {
    id,
    chordTolerance,
    mesh,
    faceStart: starts,
    surfaces,
    volume: meshVolume(mesh) + volumeOver(mesh, points, pointTriangle),
    points,
    pointTriangle,
    skin,
    skinEdges,
  };
}

// Of a chord, how far the kernel's mesher is let off: it keeps some sides that are a little over.
const MOST_OFF = 1.3;

// Samples the triangles of a face, the first of which is the body's triangle `from`; `partner` tells its borders. False where one of them is off its surface by more than `most`.
function sampleFace(
  samples: Samples,
  { positions, uv, triangles }: FaceMesh,
  poles: Uint8Array,
  put: PutPoint,
  from: number,
  partner: Int32Array,
  most: number,
): boolean {
  let isWithin = true;
  for (let t = 0; 3 * t < triangles.length; t++) {
    const [a, b, c] = [0, 1, 2].map((k) => 2 * triangles[3 * t + k]);
    const [ua, ub, uc] = coordinatesAt(uv, poles, a, b, c, 0);
    const [va, vb, vc] = coordinatesAt(uv, poles, a, b, c, 1);
    // Which of its sides are used by no other triangle of the face, as bits.
    const border = (partner[3 * t] < 0 ? 1 : 0) | (partner[3 * t + 1] < 0 ? 2 : 0) | (partner[3 * t + 2] < 0 ? 4 : 0);
    const at = samples.count;
    samples.add(from + t, border, (w, out, i) => {
      const [wa, wb, wc] = WEIGHTS[w];
      put(wa * ua + wb * ub + wc * uc, wa * va + wb * vb + wc * vc, out, i);
    });
    isWithin &&= most === Infinity || samples.greatestOff(at, border, positions, triangles, t) <= most;
  }
  return isWithin;
}

// The mesh of a body of its faces, some of which have other triangles than they came with.
function joinFaces(
  mesh: TriMesh,
  faceStart: Uint32Array,
  nodeStart: Uint32Array,
  refined: ReadonlyMap<number, FaceMesh>,
): { readonly mesh: TriMesh; readonly starts: Uint32Array } {
  if (refined.size === 0) return { mesh, starts: faceStart };
  const starts = new Uint32Array(faceStart.length);
  const nodes = new Uint32Array(nodeStart.length);
  for (let f = 0; f + 1 < starts.length; f++) {
    const fine = refined.get(f);
    starts[f + 1] = starts[f] + (fine ? fine.triangles.length / 3 : faceStart[f + 1] - faceStart[f]);
    nodes[f + 1] = nodes[f] + (fine ? fine.positions.length / 3 : nodeStart[f + 1] - nodeStart[f]);
  }
  const positions = new Float64Array(3 * nodes[nodes.length - 1]);
  const triangles = new Uint32Array(3 * starts[starts.length - 1]);
  for (let f = 0; f + 1 < starts.length; f++) {
    const fine = refined.get(f);
    positions.set(fine ? fine.positions : mesh.positions.subarray(3 * nodeStart[f], 3 * nodeStart[f + 1]), 3 * nodes[f]);
    const own = fine ? fine.triangles : mesh.triangles.subarray(3 * faceStart[f], 3 * faceStart[f + 1]);
    const shift = fine ? nodes[f] : nodes[f] - nodeStart[f];
    triangles.set(
      own.map((v) => v + shift),
      3 * starts[f],
    );
  }
  return { mesh: { positions, triangles }, starts };
}

// mm. Far within what is proven; a file's own numbers are no better.
const ROUNDING = 2e-7;

// A round surface by what distances are told of; undefined for any other.
function asPrimitive(s: Surface | undefined): Unfitted | undefined {
  switch (s?.kind) {
    case 'cylinder':
      return { kind: 'cylinder', origin: s.origin, axis: s.axis, radius: s.radius };
    case 'cone':
      return { kind: 'cone', origin: s.origin, axis: s.axis, radius: s.radiusLarge, slope: -Math.tan(s.halfAngleRad) };
    case 'sphere':
      return { kind: 'sphere', origin: s.centre, radius: s.radius };
    case 'torus':
      return { kind: 'torus', origin: s.centre, axis: s.axis, majorRadius: s.majorRadius, radius: s.minorRadius };
    default:
      return undefined;
  }
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
  count = 0;
  skinLength = 0;

  constructor(triangles: number) {
    this.points = new Float64Array(3 * PER_TRIANGLE * triangles);
    this.pointTriangle = new Uint32Array(PER_TRIANGLE * triangles);
    this.skin = new Float64Array(3 * PER_TRIANGLE * triangles + 1024);
  }

  /** The places of a triangle; of one at its face's border (a bit a side) only the middles of its inner sides are surely on the face. */
  add(triangle: number, border: number, put: (w: number, out: Float64Array, at: number) => void): void {
    this.makeRoom();
    for (let w = 0; w < PER_TRIANGLE; w++) {
      const at = 3 * this.count;
      put(w, this.points, at);
      this.pointTriangle[this.count++] = triangle;
      if (border !== 0 && (w > 2 || (border & (1 << w)) !== 0)) continue;
      for (let k = 0; k < 3; k++) this.skin[this.skinLength + k] = this.points[at + k];
      this.skinLength += 3;
    }
  }

  /** How far the places of a triangle that begin at `at` are off its plane, mm; without those on its face's border, which may be off the face. */
  greatestOff(at: number, border: number, positions: Float64Array, triangles: Uint32Array, triangle: number): number {
    planeOfTriangle(positions, triangles, triangle, PLANE);
    let most = 0;
    for (let w = 0; w < PER_TRIANGLE; w++) {
      if (w < 3 && (border & (1 << w)) !== 0) continue;
      const i = 3 * (at + w);
      most = Math.max(most, Math.abs(PLANE[0] * this.points[i] + PLANE[1] * this.points[i + 1] + PLANE[2] * this.points[i + 2] - PLANE[3]));
    }
    return most;
  }

  /** Whether all places from one on lie on a surface, but for rounding. */
  lieOn(surface: Unfitted, from: number): boolean {
    for (let i = 3 * from; i < 3 * this.count; i += 3)
      if (Math.abs(distanceFrom(surface, this.points[i], this.points[i + 1], this.points[i + 2])) > ROUNDING) return false;
    return true;
  }

  /** Forgets what came after. */
  goBack(count: number, skinLength: number): void {
    this.count = count;
    this.skinLength = skinLength;
  }

  private growSkin(length: number): void {
    const grown = new Float64Array(2 * length);
    grown.set(this.skin);
    this.skin = grown;
  }

  private makeRoom(): void {
    if (this.skinLength + 3 * PER_TRIANGLE > this.skin.length) this.growSkin(this.skinLength + 3 * PER_TRIANGLE);
    const needed = this.count + PER_TRIANGLE;
    if (needed <= this.pointTriangle.length) return;
    const [points, pointTriangle] = [new Float64Array(6 * needed), new Uint32Array(2 * needed)];
    points.set(this.points);
    pointTriangle.set(this.pointTriangle);
    [this.points, this.pointTriangle] = [points, pointTriangle];
  }

  addEdge(curve: InstanceType<OpenCascadeInstance['BRepAdaptor_Curve']>): void {
    const steps = (curve.GetType() as unknown as string) === 'GeomAbs_Line' ? 1 : POINTS_AN_EDGE;
    const length = this.skinLength + 3 * (steps + 1);
    if (length > this.skin.length) this.growSkin(length);
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
