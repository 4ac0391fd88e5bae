import type { Frame, Vec3 } from '#core/math';
import type { ConnectionSize } from '#core/standards';
import type { FaceRef, PlaneLook } from './face-table.ts';

/** A connection that was found: where it could be, and how sure that is. */
export interface FoundConnection {
  readonly frame: Frame;
  readonly connection: ConnectionSize;
  readonly confidence: number;
  readonly evidence: string;
  readonly faces: readonly FaceRef[];
  /** X shows in the geometry: a tip, a drive slot, teeth. */
  readonly tellsX?: boolean;
}

/** A shank or taper before it is known which way the work lies. */
export interface Shank {
  readonly connection: ConnectionSize;
  /** A point of the axis (for a square shank: of its middle line), and its direction without sense. */
  readonly origin: Vec3;
  readonly direction: Vec3;
  /** The stretch it takes along the direction, from the origin, mm. */
  readonly from: number;
  readonly to: number;
  readonly confidence: number;
  readonly evidence: string;
  /** The bodies' faces that the evidence names. */
  readonly faces: readonly FaceRef[];
  /** Towards the work, where the shank itself tells it (a taper widens that way). */
  readonly work?: Vec3;
  /** Position of the reference plane along the direction, where it is not a flange: the gauge diameter of a 7/24 taper. */
  readonly plane?: number;
  /** Planes of a square shank, by their outward normals. */
  readonly sides?: readonly PlaneLook[];
  /** The index direction, where it shows: towards the teeth of a serrated shank, a lobe, a drive slot. */
  readonly index?: Vec3;
}

export interface ReadingWarning {
  readonly code: string;
  readonly message: string;
}
