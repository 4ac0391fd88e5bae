import type { CheckCost, Growth, Proof } from '#core/envelope';
import { failed, type Result, done } from '#core/issues';
import type { Kernel, ModelWork } from '#core/kernel';
import type { Frame } from '#core/math';
import { joinMeshes, type TriMesh, triangleCount, meshVolume, writeStl } from '#core/mesh';
import type { BoreChoice, HalfProfile } from '#core/outline';
import { DEFAULT_CLOSE_BELOW } from '#core/records';
import { GeometryMaker } from './geometry-maker.ts';

/** How one part is made, and for a whole target: `auto` takes what gives the fewest triangles. */
export type PartMode = 'exact' | 'revolved' | 'wrap';
export type GeometryMode = PartMode | 'auto';

export interface GeometryRequest {
  readonly bytes: Uint8Array;
  readonly file: string;
  readonly bodies: readonly string[];
  readonly work?: ModelWork;
  readonly mode: GeometryMode;
  /** Bodies that are made another way than the rest. */
  readonly overrides?: Readonly<Record<string, PartMode>>;
  readonly tolerance: number;
  /** mm. Openings of flat faces up to this width are closed in a wrap; 0 closes none. */
  readonly closeBelow?: number;
  /** Which bores of a revolved envelope stay open; those narrower than `closeBelow` do not. */
  readonly bores?: BoreChoice;
  /** mm. Gaps of a revolved envelope's outside up to this width are filled. */
  readonly bridge?: number;
  /** A half profile of all revolved bodies that stands in place of the computed one; it is proven like any other. */
  readonly drawn?: HalfProfile | null;
  /** A wrap stops at this many triangles. */
  readonly triangles?: number;
  /** Axis of revolution and origin of the profile: its Z. In the file's coordinates. */
  readonly frame: Frame;
  /** Whether the bodies spin about that axis, so that `auto` may revolve them. */
  readonly spins?: boolean;
  readonly onProgress?: (share: number, text: string) => void;
  /** Asked between steps, once others have had their turn: false ends the making with `envelope.stopped`. */
  readonly goesOn?: () => Promise<boolean>;
}

/** One mesh of the result: of one body, or of all that spin together. */
export interface GeometryPart {
  readonly bodies: readonly string[];
  /** Bodies that lie wholly in it, and need nothing of their own. */
  readonly inside: readonly string[];
  readonly mode: PartMode;
  readonly mesh: TriMesh;
  /** First triangle of each of the body's faces, and the count at the end; for an exact part. */
  readonly faceStart?: Uint32Array;
  readonly profile?: HalfProfile;
  readonly trianglesIn: number;
  readonly growth: Growth;
  readonly proof: Proof;
  /** In words: what it is and why it was taken. */
  readonly why: string;
}

/** Simulation geometry in the file's coordinates, with its report. */
export interface GeometryResult {
  readonly parts: readonly GeometryPart[];
  readonly mesh: TriMesh;
  /** Where one revolved envelope is the whole result. */
  readonly profile?: HalfProfile;
  readonly trianglesIn: number;
  readonly trianglesOut: number;
  readonly bytesIn: number;
  readonly bytesOut: number;
  readonly volumeIn: number;
  readonly volumeOut: number;
  readonly growth: Growth;
  readonly closed: boolean;
  /** Boxes and triangles that a collision check looks at, the parts' sums. */
  readonly checkCost: CheckCost;
  readonly milliseconds: number;
}

/** Told how far it is, 0 to 1, and with what. */
export type Report = (share: number, text: string) => void;

/**
 * Makes simulation geometry from bodies of a vendor file. Exact: the tessellation, pushed out by its own sag. Revolved: the outer envelope of
 * all bodies about the frame's Z. Wrap: a light mesh around each body. Every part is proven against the true faces by `proveEnclosure`. The
 * tolerance is shared out to the tessellation, the simplification and the flats, so that the sum keeps it.
 */
export async function makeGeometry(kernel: Kernel, request: GeometryRequest): Promise<Result<GeometryResult>> {
  const start = performance.now();
  const { bytes, bodies, tolerance, closeBelow = DEFAULT_CLOSE_BELOW, bridge = 0, triangles } = request;
  let furthest = 0;
  // What is tried again begins anew, a bar does not go back.
  const report: Report = (share, text) => request.onProgress?.((furthest = Math.max(furthest, share)), text);
  if (!Number.isFinite(tolerance) || tolerance < 0.001 || tolerance > 5) return failed('envelope.bad-tolerance', { tolerance });
  if (!(closeBelow >= 0 && closeBelow <= 200)) return failed('envelope.bad-opening', { width: closeBelow });
  if (!(bridge >= 0 && bridge <= 200)) return failed('envelope.bad-gap', { width: bridge });
  if (triangles !== undefined && !(triangles >= 12 && triangles <= 1e7)) return failed('envelope.bad-budget', { triangles });
  if (bodies.length === 0) return failed('envelope.no-bodies');
  report(0.02, 'Reading the file');
  const maker = new GeometryMaker(kernel, request, report);
  const made = await maker.make();
  if (!made.ok) return made;
  const parts = made.value;
  report(0.97, 'Finishing');
  const mesh = joinMeshes(parts.map((p) => p.mesh));
  const area = parts.reduce((a, p) => a + p.proof.area, 0) || 1;
  return done({
    parts,
    mesh,
    ...(parts.length === 1 && parts[0].profile ? { profile: parts[0].profile } : {}),
    trianglesIn: parts.reduce((n, p) => n + p.trianglesIn, 0),
    trianglesOut: triangleCount(mesh),
    bytesIn: bytes.length,
    bytesOut: writeStl(mesh).length,
    volumeIn: parts.reduce((v, p) => v + p.proof.volumeBefore, 0),
    volumeOut: meshVolume(mesh),
    growth: {
      min: Math.min(...parts.map((p) => p.growth.min)),
      mean: parts.reduce((s, p) => s + (p.growth.mean * p.proof.area) / area, 0),
      max: Math.max(...parts.map((p) => p.growth.max)),
    },
    closed: parts.every((p) => p.proof.closed),
    checkCost: maker.checkCost(parts),
    milliseconds: performance.now() - start,
  });
}
