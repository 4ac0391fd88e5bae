import { z } from 'zod';
import type { Result } from '#core/issues';
import { BORE_CHOICES } from '#core/outline';
import { READING_KINDS } from '#core/reading';
import { geometryChoiceSchema, readText } from '#core/records';

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
export const readBatchRecipe = (text: string, file: string): Result<BatchRecipe> => readText(batchRecipeSchema, text, file, 'recipe');
