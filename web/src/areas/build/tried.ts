import type { ChainChange } from '#core/assembly';
import type { AssemblyRecord, ComponentRecord } from '#core/records';

/** A change of the chain that is shown before it is taken. */
export interface Tried {
  /** The assembly that it was worked out for; of another one it is gone. */
  readonly of: AssemblyRecord;
  /** As the history would call it. */
  readonly label: string;
  /** Components that come into the chain with it. */
  readonly coming: readonly ComponentRecord[];
  readonly change: ChainChange;
}
