import { z } from 'zod';
import { LARGEST_LENGTH } from '#core/math';

const lengthSchema = z.number().min(-LARGEST_LENGTH).max(LARGEST_LENGTH);
export const flatPointSchema = z.tuple([lengthSchema, lengthSchema]).readonly();

const pathPieceSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('line'), from: flatPointSchema, to: flatPointSchema }),
  z.object({ kind: z.literal('arc'), from: flatPointSchema, to: flatPointSchema, centre: flatPointSchema, ccw: z.boolean() }),
]);
/** Lines and arcs; see `PathPiece`. */
export const pathSchema = z.array(pathPieceSchema).readonly();
/** Loops of lines and arcs in [z, r]; see `HalfProfile`. */
export const halfProfileSchema = z.array(pathSchema).readonly();
