import { heldValue } from '../common/held.ts';

/** A table that was dropped or pasted, until its tools are on the Shelf. */
export interface OpenTable {
  readonly fileName: string;
  readonly text: string;
}

export const { set: openTable, useIt: useOpenTable } = heldValue<OpenTable>();
