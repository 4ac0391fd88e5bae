import type { Vec3 } from '#core/math';
import type { FoundSplit } from './find-split.ts';
import type { FoundConnection, ReadingWarning } from './found.ts';
import type { ReadKind } from './kinds.ts';
import type { RoleProposal } from './roles.ts';
import type { FoundTip } from './tips.ts';

/** What could be read from a model: proposals with evidence and confidence (0 to 1), in the coordinates of the file, mm and degrees. */
export interface Reading {
  readonly kind: ReadKind;
  readonly roles: readonly RoleProposal[];
  readonly axis?: { readonly origin: Vec3; readonly direction: Vec3; readonly confidence: number };
  readonly mount?: FoundConnection;
  /** What else the mount could be, the surest first. */
  readonly otherMounts: readonly FoundConnection[];
  readonly seats: readonly FoundConnection[];
  readonly tips: readonly FoundTip[];
  /** What of a one-solid cutter cuts, as a stretch along the mount's Z. */
  readonly splits?: readonly FoundSplit[];
  /** The cutting part is no body of its own: the tips are on the tool's one solid. */
  readonly isFused: boolean;
  readonly warnings: readonly ReadingWarning[];
}
