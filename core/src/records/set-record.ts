import { z } from 'zod';
import { idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const SET_VERSION = 1;

export const SET_PURPOSES = ['job', 'machine'] as const;
export type SetPurpose = (typeof SET_PURPOSES)[number];

/** A set of the Shelf: what one job takes, or what stands in a machine. What is in it says so itself. */
export const setSchema = z.object({
  kind: z.literal('set'),
  version: z.literal(SET_VERSION),
  id: idSchema,
  name: nameSchema.min(1),
  purpose: z.enum(SET_PURPOSES),
  createdAt: z.string(),
  changedAt: z.string(),
});
export type SetRecord = z.infer<typeof setSchema>;
