import type { OpenCascadeInstance, TopoDS_Shape } from 'replicad-opencascadejs';
import { done, failed, type Result } from '#core/issues';
import type { Surface, TriMesh } from '#core/mesh';
import { coordinatesAt, polesOf } from './face-poles.ts';
import { listSubShapes, vecOfPoint } from './gp.ts';
import type { Kernel } from './kernel.ts';
import type { ModelWork } from './model-work.ts';
import { withScope } from './scope.ts';
import { checkStepText, withStepSolids } from './step-read.ts';
import { tessellate } from './tessellate.ts';
import { readSurface } from './topology.ts';

/**
 * A body tessellated in doubles, with points of its true faces: what envelopes are built from and what they
 * are measured against.
 */
export interface SampledBody {
  readonly id: string;
  readonly mesh: TriMesh;
  /** As in BodyGeometry. */
  readonly faceStart: Uint32Array;
  readonly surfaces: readonly Surface[];
  /** What the faces were fitted as, where the triangles themselves are the true surface. */
  readonly fitted?: readonly Surface[];
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

/** Tessellates bodies of a STEP file at `chordTolerance` (mm) and samples their true faces. `ids` picks bodies; all without it. */
export function sampleStep(
  kernel: Kernel,
  bytes: Uint8Array,
  file: string,
  options: { chordTolerance: number; ids?: readonly string[]; work?: ModelWork; onProgress?: (share: number, text: string) => void },
): Result<SampledBody[]> {
  const facts = checkStepText(bytes, file);
  if (!facts.ok) return facts;
  return withStepSolids(kernel, bytes, file, { ...facts.value, work: options.work }, (solids) => {
    const names = solids.map((_, i) => `b${i + 1}`);
    const wanted = options.ids ?? names;
    const unknown = wanted.find((id) => !names.includes(id));
    if (unknown !== undefined) return failed('envelope.unknown-body', { file, body: unknown, found: names.join(', ') });
    return done(
      wanted.map((id, i) => {
        options.onProgress?.(i / wanted.length, `Sampling body ${i + 1} of ${wanted.length}`);
        return sampleBody(kernel.oc, solids[names.indexOf(id)], id, options.chordTolerance);
      }),
    );
  });
}

/** A shape tessellated and sampled on its true faces. */
export function sampleBody(oc: OpenCascadeInstance, solid: TopoDS_Shape, id: string, chordTolerance: number): SampledBody {
  return withScope((own) => {
    const { mesh, faceStart } = tessellate(oc, solid, { chordTolerance, precise: true });
    const points: number[] = [];
    const skin: number[] = [];
    const pointTriangle: number[] = [];
    const surfaces: Surface[] = [];
    const location = own(new oc.TopLoc_Location());
    // The mesh holds the nodes of face after face.
    let nodesBefore = 0;
    listSubShapes(oc, own, solid, 'TopAbs_FACE').forEach(({ shape }, faceAt) => {
      withScope((inner) => {
        const face = inner(oc.TopoDS.Face(shape));
        const surface = readSurface(oc, inner, face);
        surfaces.push(surface);
        const triangulation = oc.BRep_Tool.Triangulation(face, location, 0);
        if (!triangulation) return;
        inner(triangulation);
        const base = nodesBefore;
        nodesBefore += triangulation.NbNodes();
        // A plane's triangles are the face; its curved borders belong to a neighbour too.
        if (surface.kind === 'plane' || !triangulation.HasUVNodes()) return;
        const adaptor = inner(new oc.BRepAdaptor_Surface(face, true));
        const uv = readUv(triangulation);
        const poles = polesOf(adaptor, surface, uv);
        const [first, last] = [faceStart[faceAt], faceStart[faceAt + 1]];
        const border = bordersOf(mesh.triangles, first, last);
        for (let t = first; t < last; t++) {
          const [a, b, c] = [0, 1, 2].map((k) => 2 * (mesh.triangles[3 * t + k] - base));
          const atBorder = border[t - first];
          const [ua, ub, uc] = coordinatesAt(uv, poles, a, b, c, 0);
          const [va, vb, vc] = coordinatesAt(uv, poles, a, b, c, 1);
          WEIGHTS.forEach(([wa, wb, wc], w) => {
            const u = wa * ua + wb * ub + wc * uc;
            const v = wa * va + wb * vb + wc * vc;
            const p = vecOfPoint(adaptor.Value(u, v));
            points.push(...p);
            pointTriangle.push(t);
            // Of a border triangle only the middles of its inner sides are surely on the face.
            if (atBorder === 0 || (w < 3 && (atBorder & (1 << w)) === 0)) skin.push(...p);
          });
        }
      });
    });
    const skinEdges = skin.length;
    pushEdgePoints(oc, solid, skin);
    const properties = own(new oc.GProp_GProps());
    oc.BRepGProp.VolumeProperties(solid, properties, 1e-9, true, true);
    return {
      id,
      mesh,
      faceStart,
      surfaces,
      volume: properties.Mass(),
      points: Float64Array.from(points),
      pointTriangle: Uint32Array.from(pointTriangle),
      skin: Float64Array.from(skin),
      skinEdges,
    };
  });
}

// Per triangle of a face, which of its sides (0-1, 1-2, 2-0) are used by no other triangle of the face, as bits.
function bordersOf(triangles: Uint32Array, first: number, last: number): Uint8Array {
  const uses = new Map<string, number>();
  const key = (t: number, k: number) => {
    const [a, b] = [triangles[3 * t + k], triangles[3 * t + ((k + 1) % 3)]];
    return a < b ? `${a},${b}` : `${b},${a}`;
  };
  for (let t = first; t < last; t++) for (let k = 0; k < 3; k++) uses.set(key(t, k), (uses.get(key(t, k)) ?? 0) + 1);
  return Uint8Array.from({ length: last - first }, (_, i) => [0, 1, 2].reduce((bits, k) => bits | (uses.get(key(first + i, k)) === 1 ? 1 << k : 0), 0));
}

const POINTS_AN_EDGE = 25; // odd against the usual powers of two of a tessellation

function pushEdgePoints(oc: OpenCascadeInstance, solid: TopoDS_Shape, skin: number[]): void {
  withScope((own) => {
    for (const { shape } of listSubShapes(oc, own, solid, 'TopAbs_EDGE')) {
      const edge = own(oc.TopoDS.Edge(shape));
      if (oc.BRep_Tool.Degenerated(edge)) continue;
      const curve = own(new oc.BRepAdaptor_Curve(edge));
      const [from, to] = [curve.FirstParameter(), curve.LastParameter()];
      const n = (curve.GetType() as unknown as string) === 'GeomAbs_Line' ? 1 : POINTS_AN_EDGE;
      for (let i = 0; i <= n; i++) skin.push(...vecOfPoint(curve.Value(from + ((to - from) * i) / n)));
    }
  });
}

function readUv(triangulation: { NbNodes(): number; UVNode(i: number): { X(): number; Y(): number; delete(): void } }): Float64Array {
  const count = triangulation.NbNodes();
  const uv = new Float64Array(2 * count);
  for (let i = 0; i < count; i++) {
    const p = triangulation.UVNode(i + 1);
    uv[2 * i] = p.X();
    uv[2 * i + 1] = p.Y();
    p.delete();
  }
  return uv;
}
