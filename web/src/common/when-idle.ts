/** Calls `then` once the page has nothing better to do, or after so many ms; at once where the browser cannot tell. */
export function whenIdle(then: () => void, longestMs: number): void {
  if ('requestIdleCallback' in window) window.requestIdleCallback(then, { timeout: longestMs });
  else then();
}

/** The same, to be awaited. */
export const idle = (longestMs: number): Promise<void> => new Promise((resolve) => whenIdle(resolve, longestMs));
