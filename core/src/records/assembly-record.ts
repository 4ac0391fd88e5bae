import { z } from 'zod';
import { coordinateSchema, idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const ASSEMBLY_VERSION = 1;

/** One piece of an assembly: which component, and where it sits. */
export const pieceSchema = z.object({
  id: idSchema,
  componentId: idSchema,
  parent: z.object({ pieceId: idSchema, seatId: idSchema }).nullable(),
  /** mm from the seat to the mount along the seat's Z. */
  stickOut: coordinateSchema,
  rollDeg: z.number().min(-3600).max(3600),
});
export type Piece = z.infer<typeof pieceSchema>;

/** An assembly: pieces from the machine outwards; the first has no parent. */
export const assemblySchema = z.object({
  kind: z.literal('assembly'),
  version: z.literal(ASSEMBLY_VERSION),
  id: idSchema,
  name: nameSchema.min(1),
  pieces: z.array(pieceSchema),
  createdAt: z.string(),
  changedAt: z.string(),
});
export type AssemblyRecord = z.infer<typeof assemblySchema>;
