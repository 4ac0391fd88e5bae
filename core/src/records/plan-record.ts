import { z } from 'zod';
import { pathSchema } from '#core/outline';
import { growthSchema, hashSchema } from './values.ts';

/** Outlines in the turning plane, in (z, x) of the mount; `inputs` is the hash of what they were made from. */
export const planSchema = z.object({
  tolerance: z.number().positive(),
  inputs: hashSchema,
  parts: z.array(
    z.object({
      target: z.enum(['cutting', 'non-cutting']),
      loops: z.array(z.object({ hole: z.boolean(), pieces: pathSchema })).readonly(),
      growth: growthSchema,
      /** mm. What the bodies take along the mount's Y. */
      low: z.number(),
      high: z.number(),
    }),
  ),
});
export type PlanRecord = z.infer<typeof planSchema>;
