import type { Issue } from '#core/issues';
import type { FlatPoint, PathPiece } from '#core/outline';

/** mm. Ends nearer to each other than this are one. */
export const SAME_PLACE = 1e-3;

/** A line or an arc of a drawing, in mm, and where it came from. */
export interface Drawn {
  readonly piece: PathPiece;
  /** Number in the drawing's layers. */
  readonly layer: number;
  /** Number of the entity in the file, blocks counted at each place they stand. */
  readonly entity: number;
  /** Part of a spline or an ellipse: a short chord of it. */
  readonly isCurve: boolean;
  /** Drawn as a centre line: long and short dashes. */
  readonly isCentreLine: boolean;
}

export interface DrawingLayer {
  readonly name: string;
  /** Lines, arcs and curves on it, blocks exploded. */
  readonly entities: number;
  /** Switched off or frozen. */
  readonly isHidden: boolean;
  /** Texts, dimensions, hatches and the like on it. */
  readonly notes: number;
}

/** What was left out while a file was read: kind of thing, and how many. */
export type LeftOut = Readonly<Record<string, number>>;

/** A drawing as a file holds it: exploded into lines and arcs, near the origin. */
export interface Drawing {
  readonly format: 'dxf' | 'svg' | 'picture';
  /** As the file says; 'unknown' where it does not. */
  readonly unit: 'mm' | 'inch' | 'cm' | 'm' | 'foot' | 'px' | 'pt' | 'unknown';
  /** mm of one unit of the file. */
  readonly unitScale: number;
  /** Place in the file's coordinates (times `unitScale`) that is the origin here: far from the origin digits are lost. */
  readonly origin: FlatPoint;
  /** The file's y runs downwards; here it runs up. */
  readonly isUpsideDown: boolean;
  readonly layers: readonly DrawingLayer[];
  readonly drawn: readonly Drawn[];
  readonly leftOut: LeftOut;
  readonly warnings: readonly Issue[];
}
