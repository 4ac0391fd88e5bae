/** Lets the page draw, or a worker hear what it is told, before long work goes on. */
export const nextTurn = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 0));
