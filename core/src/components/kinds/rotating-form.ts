import type { HalfProfile } from '#core/outline';
import type { ConnectionSize } from '#core/standards';

/** What is turned of a rotating tool, z 0 at the machine's end; undefined where something is missing. */
export interface Rotating {
  readonly profile: HalfProfile;
  readonly cutting: number;
  readonly without: string;
  readonly name: string;
  /** Where it is no straight shank. */
  readonly mount?: ConnectionSize;
  /** The corner that cuts, where it does not end on its axis. */
  readonly tip?: { readonly noseRadius: number; readonly z: number; readonly r: number };
}
