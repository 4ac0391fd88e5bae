import { useSyncExternalStore } from 'react';

/** A table that was dropped or pasted, until its tools are on the Shelf. */
export interface OpenTable {
  readonly fileName: string;
  readonly text: string;
}

let current: OpenTable | null = null;
const listeners = new Set<() => void>();

export function openTable(table: OpenTable | null): void {
  current = table;
  for (const listener of listeners) listener();
}

const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

export const useOpenTable = (): OpenTable | null => useSyncExternalStore(subscribe, () => current);
