import { addScaled, distance, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';

/** A rounded corner with a flank under it, as a cutting corner has: an arc between a rake side and a nose. */
export interface Corner {
  readonly body: BodyGeometry;
  /** The arc's edges: one, or two where a full radius is drawn in halves. */
  readonly edges: readonly number[];
  readonly radius: number;
  readonly centre: Vec3;
  /** Where the corner points: the middle of its two legs, turned outwards. Unit. */
  readonly towards: Vec3;
  /** Out of the material on the rake side. Unit. */
  readonly rake: Vec3;
  readonly includedDeg: number;
  /** Directions away from the corner along its two edges, unit. */
  readonly legs: readonly [Vec3, Vec3];
  /** Lengths of the straight edges that the legs run along, and their indices; 0 and -1 where there is none. */
  readonly legLengths: readonly [number, number];
  readonly legEdges: readonly [number, number];
  /** Where a leg has no straight edge, the plane flank under it that told its direction; -1 elsewhere. */
  readonly legFlanks?: readonly [number, number];
  /** The faces under the arc and beside it: nose flank and rake side. */
  readonly flank: number;
  readonly top: number;
}

/** mm. Rounder than this is no nose. */
export const LARGEST_NOSE = 8;

/** The furthest point of a corner's arc. */
export const apexOf = (c: Pick<Corner, 'centre' | 'towards' | 'radius'>): Vec3 => addScaled(c.centre, c.towards, c.radius);

/** Whether two arcs, or corners, lie on one circle. */
export const isSameCircle = (a: { readonly radius: number; readonly centre: Vec3 }, b: { readonly radius: number; readonly centre: Vec3 }): boolean =>
  Math.abs(a.radius - b.radius) < 3e-3 && distance(a.centre, b.centre) < 0.02;

// Degrees. No insert is blunter (ISO 1832: 135).
const BLUNTEST = 145;

/** Whether an arc turns so little, without an edge or a flank that goes on from it, that it may be a piece of anything round. */
export const isBluntAlone = (c: Corner): boolean => c.includedDeg > BLUNTEST && c.legEdges.every((e) => e < 0) && (c.legFlanks ?? [-1, -1]).every((f) => f < 0);
