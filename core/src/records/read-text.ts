import type { z } from 'zod';
import { done, failed, issue, type Result } from '#core/issues';

// Faults beyond these say nothing new.
const MOST_FAULTS = 5;

/** Reads JSON text by a schema; what is wrong is named with its place, or as `whole` where it is the text itself. */
export function readText<T>(schema: z.ZodType<T>, text: string, file: string, whole: string): Result<T> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return failed('record.bad', { file, field: whole, text: error instanceof Error ? error.message : 'not JSON' });
  }
  const parsed = schema.safeParse(json);
  if (parsed.success) return done(parsed.data);
  return {
    ok: false,
    issues: parsed.error.issues.slice(0, MOST_FAULTS).map((i) => issue('record.bad', { file, field: i.path.join('.') || whole, text: i.message })),
  };
}
