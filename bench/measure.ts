/** One measured number; with a limit where the product promises one. */
export interface BenchRow {
  readonly what: string;
  readonly value: number;
  /** 'ms', 'x' (a ratio), 'kB', 'MB' or a count. */
  readonly unit: string;
  readonly limit?: number;
}

/** The median of `rounds` runs in ms, after `warm` runs that do not count. */
export async function medianMs(work: () => unknown, { rounds = 7, warm = 2 } = {}): Promise<number> {
  for (let i = 0; i < warm; i++) await work();
  const times: number[] = [];
  for (let i = 0; i < rounds; i++) {
    const from = performance.now();
    await work();
    times.push(performance.now() - from);
  }
  return times.sort((a, b) => a - b)[Math.floor(rounds / 2)];
}
