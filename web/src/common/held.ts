import { useSyncExternalStore } from 'react';

/** A value that is held outside of all records until somebody has dealt with it, such as a file that waits for an answer. */
export function heldValue<T>(): { readonly set: (value: T | null) => void; readonly useIt: () => T | null } {
  let current: T | null = null;
  const listeners = new Set<() => void>();
  const subscribe = (listener: () => void) => {
    listeners.add(listener);
    return () => listeners.delete(listener);
  };
  return {
    set: (value) => {
      current = value;
      for (const listener of listeners) listener();
    },
    useIt: () => useSyncExternalStore(subscribe, () => current),
  };
}
