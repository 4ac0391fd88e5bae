import { z } from 'zod';

export const checkSchema = z.object({
  code: z.string(),
  state: z.enum(['pass', 'warn', 'fail']),
  message: z.string(),
  value: z.number().optional(),
  limit: z.number().optional(),
});
export type Check = z.infer<typeof checkSchema>;

/** A check with its place among others: what it is about, how it came out, in words, and the number with its limit. */
export const check = (code: string, state: Check['state'], message: string, numbers: { value?: number; limit?: number } = {}): Check => ({
  code,
  state,
  message,
  ...numbers,
});

const ORDER: Record<Check['state'], number> = { fail: 0, warn: 1, pass: 2 };

/** Checks, the worst first. */
export const worstFirst = (checks: readonly Check[]): Check[] => [...checks].sort((a, b) => ORDER[a.state] - ORDER[b.state]);

/** How the worst of checks came out; of none, that all is well. */
export const worstOf = (checks: readonly Check[]): Check['state'] => worstFirst(checks)[0]?.state ?? 'pass';
