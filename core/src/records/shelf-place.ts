import { z } from 'zod';
import { hashSchema, idSchema, nameSchema } from './values.ts';

/** Where a record is kept: which set, under which tags, who made the thing, and which record of another set it was brought over from. */
export const shelfPlaceSchema = z.object({
  /** Null: the master shelf. */
  set: idSchema.nullable(),
  tags: z.array(nameSchema.min(1).max(40)).max(30),
  maker: nameSchema,
  /** `content`: of the original when it was brought over. */
  from: z.object({ id: idSchema, content: hashSchema, at: z.string() }).nullable(),
});
export type ShelfPlace = z.infer<typeof shelfPlaceSchema>;

/** A record that nobody has put anywhere yet. */
export const ON_MASTER: ShelfPlace = { set: null, tags: [], maker: '', from: null };
