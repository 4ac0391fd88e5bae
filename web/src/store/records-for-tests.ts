import { makeComponent, readWords } from '#core/components';
import type { ComponentRecord } from '#core/records';
import { componentOfSpec } from '#core/sources';

/** The record of a tool by what is printed on its box. */
export function tool(words: string, id: string): ComponentRecord {
  const { spec } = readWords(words);
  const made = spec && makeComponent(spec);
  if (!spec || !made?.ok) throw new Error(words);
  return componentOfSpec(spec, made.part, { id, name: made.part.name, now: '2026-01-01T00:00:00Z' });
}
