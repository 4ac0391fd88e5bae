import { z } from 'zod';
import { BORE_CHOICES, halfProfileSchema } from '#core/outline';
import { growthSchema, hashSchema, idSchema, vec3Schema } from './values.ts';

/** A result of making geometry; `inputs` is the hash of what it was made from, and it is stale when that changes. */
export const PART_MODES = ['exact', 'revolved', 'wrap'] as const;
const partModeSchema = z.enum(PART_MODES);

/** What was chosen for a target's geometry: how it is made, the tolerance, openings to close, and bodies that are made another way. */
export const geometryChoiceSchema = z.object({
  mode: z.enum(['auto', ...PART_MODES]),
  tolerance: z.number().positive(),
  closeBelow: z.number().min(0).max(200),
  overrides: z.record(z.string(), partModeSchema),
  /** Which bores of a revolved envelope stay open. */
  bores: z.enum(BORE_CHOICES),
  /** mm. Gaps of a revolved envelope's outside up to this width are filled. */
  bridge: z.number().min(0).max(200).default(0),
  /** A half profile changed by hand, in the mount frame, that stands in place of the computed one. */
  drawn: halfProfileSchema.nullable(),
});
export type GeometryChoice = z.infer<typeof geometryChoiceSchema>;

/** One mesh of made geometry, in the order of the blob's bodies, with its proof. */
export const geometryPartSchema = z.object({
  bodies: z.array(idSchema),
  /** Bodies that lie in it wholly and need nothing of their own; geometry of before has none. */
  inside: z.array(idSchema).default([]),
  mode: partModeSchema,
  triangles: z.number().int(),
  growth: growthSchema,
  closed: z.boolean(),
  crossings: z.number().int(),
  samples: z.number().int(),
  leastAt: vec3Schema,
  greatestAt: vec3Schema,
  /** mm2. */
  area: z.number(),
  /** Share of its area by growth, in equal steps from 0 to `histogramTo` mm: the greatest that the proof has seen. */
  histogram: z.array(z.number()),
  histogramTo: z.number(),
  why: z.string().max(400),
});
export type GeometryPartRecord = z.infer<typeof geometryPartSchema>;

export const madeGeometrySchema = geometryChoiceSchema.extend({
  target: z.enum(['cutting', 'non-cutting']),
  parts: z.array(geometryPartSchema),
  inputs: hashSchema,
  blob: hashSchema,
  bodies: z.array(idSchema),
  trianglesIn: z.number().int(),
  trianglesOut: z.number().int(),
  bytesIn: z.number().int(),
  bytesOut: z.number().int(),
  volumeIn: z.number(),
  volumeOut: z.number(),
  growth: growthSchema,
  closed: z.boolean(),
  /** Boxes and triangles that a collision check looks at, by a count. */
  checkCost: z.object({ before: z.number(), after: z.number() }),
  milliseconds: z.number(),
  /** Half profile in the mount frame; for revolved geometry. */
  profile: halfProfileSchema.optional(),
});
export type MadeGeometry = z.infer<typeof madeGeometrySchema>;
