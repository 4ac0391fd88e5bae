import type { Issue } from '#core/issues';
import type { AnyRecord } from '#core/records';
import { heldValue } from '../common/held.ts';

/** Another Shelf that waits for somebody to say what is done with it. */
export interface OfferedShelf {
  readonly from: string;
  readonly records: Readonly<Record<string, AnyRecord>>;
  readonly blobs: Readonly<Record<string, Uint8Array>>;
  readonly faults: readonly Issue[];
}

export const { set: offerMerge, useIt: useOfferedShelf } = heldValue<OfferedShelf>();
