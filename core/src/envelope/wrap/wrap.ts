import { failed, done, type Result } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import { isClosedMesh, placeOfFault, type Solids, type TriMesh, validateMesh } from '#core/mesh';
import { closeOpenings } from './close-openings.ts';
import { computeExactGeometry, type ExactGeometry } from '../exact/exact.ts';
import { progressiveHull } from './progressive-hull.ts';

export interface WrapOptions {
  /** mm. How far the wrap may stand outside the body, openings that were closed apart. */
  readonly tolerance: number;
  /** mm. Openings of flat faces up to this width are closed; 0 closes none. */
  readonly closeBelow: number;
  /** The body's exact geometry, where it is made already. */
  readonly exact?: ExactGeometry;
  /** What stands with it: in there the wrap may be where it likes. */
  readonly others?: Solids;
  /** Stops when no more triangles than this are left. */
  readonly triangles?: number;
  readonly onProgress?: (share: number) => void;
}

export interface Wrap {
  readonly mesh: TriMesh;
  /** What the wrap was made around: the body's faces pushed out by their sag, with its openings closed. */
  readonly around: TriMesh;
  /** How far `around` stands outside the true faces at most, mm. */
  readonly pushed: number;
  readonly openings: number;
  readonly widest: number;
  readonly hollows: number;
}

/**
 * A light closed mesh around a body: its own faces pushed out by their sag, small openings closed with what lies behind them, then simplified
 * outwards. The sampling's sag and the simplification together keep the tolerance.
 */
export function computeWrap(body: SampledBody, options: WrapOptions): Result<Wrap> {
  const { others, triangles, onProgress, exact = computeExactGeometry(body) } = options;
  const faults = validateMesh(exact.mesh);
  if (!isClosedMesh(faults)) return failed('envelope.open-body', { body: body.id, open: faults.openEdges, bad: faults.badEdges, at: placeOfFault(exact.mesh) });
  const { mesh: around, openings, widest, hollows } = closeOpenings(exact.mesh, exact.faceOf, body, options.closeBelow);
  const pushed = exact.growth.max;
  const left = options.tolerance - pushed;
  const mesh = left > 1e-4 ? progressiveHull(around, { tolerance: 0.98 * left, others, triangles, onProgress }) : around;
  return done({ mesh, around, pushed, openings, widest, hollows });
}

/** A wrap made lighter, as far as it may stand out `more` mm further; nothing of what is in it is lost. Quicker than to wrap the body anew, and not quite as light. */
export const lightenWrap = (mesh: TriMesh, more: number, others: Solids): TriMesh => progressiveHull(mesh, { tolerance: 0.98 * more, others });
