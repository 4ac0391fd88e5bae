import type { Frame, Vec3 } from '#core/math';
import type { SolidShape } from '#core/outline';
import type { ConnectionSize } from '#core/standards';
import type { Assumed, Conflict, Derived } from './filling.ts';
import type { ValueName, Values } from './values.ts';

/** A connection with its place, in the shape's coordinates. */
export interface PlacedConnection {
  readonly connection: ConnectionSize;
  readonly frame: Frame;
  readonly evidence: string;
}

/** A corner that cuts, in the shape's coordinates. */
export interface PlacedTip {
  readonly noseRadius: number;
  readonly noseCentre: Vec3;
  /** From the nose's centre out of the material, between both edges; absent where it ends on the axis. */
  readonly towards?: Vec3;
  /** Normal of the top beside it. */
  readonly rake?: Vec3;
  readonly evidence: string;
}

/** What a specification makes: its geometry, and everything that is known of it. */
export interface MadePart {
  readonly name: string;
  readonly role: 'cutter' | 'insert' | 'holder' | 'adapter' | 'turning tool' | 'boring bar';
  readonly shape: SolidShape;
  readonly mount: PlacedConnection | null;
  readonly seats: readonly PlacedConnection[];
  readonly tips: readonly PlacedTip[];
  readonly values: Values;
  readonly derived: readonly Derived[];
  readonly assumed: readonly Assumed[];
  /** Given numbers that follow from the others anyway. */
  readonly confirmed: readonly ValueName[];
  readonly warnings: readonly string[];
  /** What of the real thing is not drawn. */
  readonly without: string;
}

/** Why nothing can be made: what is missing, and what contradicts. */
export interface Unmade {
  readonly missing: readonly ValueName[];
  readonly conflicts: readonly Conflict[];
}
