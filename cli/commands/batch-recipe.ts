import { z } from 'zod';
import { failed, issue, type Result, done } from '#core/issues';
import { BORE_CHOICES } from '#core/outline';
import { READING_KINDS } from '#core/reading';
import { geometryChoiceSchema } from '#core/records';

/** What is made of every model of a folder; documented in docs/recipe.md. */
export const batchRecipeSchema = z.strictObject({
  /** What the models are, where they are all of one kind. */
  kind: z.enum(READING_KINDS).default('auto'),
  geometry: z
    .array(
      z.strictObject({
        /** Names the files that are written. */
        name: z.string().regex(/^[\w-]{1,40}$/),
        bodies: z.enum(['all', 'cutting', 'non-cutting']).default('all'),
        mode: geometryChoiceSchema.shape.mode.default('auto'),
        tolerance: z.number().min(0.001).max(5),
        closeBelow: z.number().min(0).max(200).optional(),
        bores: z.enum(BORE_CHOICES).optional(),
        bridge: z.number().min(0).max(200).optional(),
        formats: z
          .array(z.enum(['stl', 'glb', '3mf', 'step']))
          .min(1)
          .default(['stl']),
      }),
    )
    .min(1)
    .refine((all) => new Set(all.map((g) => g.name)).size === all.length, 'two have the same name'),
});
export type BatchRecipe = z.infer<typeof batchRecipeSchema>;

/** Validates a batch recipe's text. */
export function readBatchRecipe(text: string, file: string): Result<BatchRecipe> {
  let json: unknown;
  try {
    json = JSON.parse(text);
  } catch (error) {
    return failed('record.bad', { file, field: 'recipe', text: error instanceof Error ? error.message : 'not JSON' });
  }
  const parsed = batchRecipeSchema.safeParse(json);
  if (parsed.success) return done(parsed.data);
  return {
    ok: false,
    issues: parsed.error.issues.slice(0, 5).map((i) => issue('record.bad', { file, field: i.path.join('.') || 'recipe', text: i.message })),
  };
}
