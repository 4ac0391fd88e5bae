import { z } from 'zod';
import { isOrthonormal, LARGEST_LENGTH } from '#core/math';

// What records are made of. Every number is finite (Zod refuses others).

export const coordinateSchema = z.number().min(-LARGEST_LENGTH).max(LARGEST_LENGTH);
export const idSchema = z.string().min(1).max(80);
export const nameSchema = z.string().max(200);
export const hashSchema = z.string().regex(/^[0-9a-f]{64}$/);
const unitNumber = z.number().min(-1.000001).max(1.000001);

export const vec3Schema = z.tuple([coordinateSchema, coordinateSchema, coordinateSchema]).readonly();
export const directionSchema = z.tuple([unitNumber, unitNumber, unitNumber]).readonly();
export const frameSchema = z
  .object({ origin: vec3Schema, z: directionSchema, x: directionSchema })
  .refine(isOrthonormal, { message: 'its Z and X are not unit vectors at a right angle' });

/** Where a value came from; `evidence` names the faces and edges in words. */
export const originSchema = z.object({ from: z.enum(['read', 'picked', 'typed', 'standard', 'drawn', 'data']), evidence: z.string().max(400).default('') });
export type FactOrigin = z.infer<typeof originSchema>;

export const growthSchema = z.object({ min: z.number(), mean: z.number(), max: z.number() });
