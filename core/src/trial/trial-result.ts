import type { Issue } from '#core/issues';
import type { FlatPoint, HalfProfile } from '#core/outline';
import type { Difference, OffAt } from './compare.ts';
import type { TrialEvent } from './events.ts';
import type { Region } from './region/region.ts';
import type { Recording } from './replay.ts';

/** What a trial tells. */
export interface TrialResult {
  readonly stock: Region;
  /** What comes out: what was parted off last, else what is in the chuck. */
  readonly part: HalfProfile;
  readonly removedVolume: number;
  /** What was parted off and fell, piece by piece. */
  readonly fallen: readonly Fallen[];
  /** s. */
  readonly time: number;
  readonly events: readonly TrialEvent[];
  readonly against: Difference | undefined;
  /** The same along the contour. */
  readonly along: readonly OffAt[] | undefined;
  readonly warnings: readonly Issue[];
  readonly recording: Recording;
}

/** A piece that hangs on nothing any more. */
export interface Fallen {
  readonly line: number;
  /** s. */
  readonly time: number;
  /** mm3. */
  readonly volume: number;
  /** Along Z of the part, mm. */
  readonly from: number;
  readonly to: number;
  readonly loops: readonly (readonly FlatPoint[])[];
}
