import { useCallback, useLayoutEffect, useRef } from 'react';

/** A function that stays the same and does what the last one given does: what it is handed to need not be drawn again for it. */
export function useStable<A extends unknown[], R>(change: (...given: A) => R): (...given: A) => R {
  const latest = useRef(change);
  useLayoutEffect(() => {
    latest.current = change;
  });
  return useCallback((...given: A) => latest.current(...given), []);
}
