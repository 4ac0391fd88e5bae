import { z } from 'zod';
import { CONNECTION_STANDARDS } from '#core/standards';
import { directionSchema, frameSchema, idSchema, nameSchema, originSchema, vec3Schema } from './values.ts';

const diameter = z.number().min(0).max(1000);

export const connectionSizeSchema = z.object({
  standard: z.enum(CONNECTION_STANDARDS),
  size: z.union([diameter, z.string().max(20)]),
  /** Of a seat that closes on a round shank: the smallest and the largest diameter. */
  clamps: z
    .tuple([diameter, diameter])
    .refine(([from, to]) => from <= to, 'the smallest diameter that is clamped is larger than the largest')
    .readonly()
    .optional(),
});

/** A mount or a seat: a frame in the coordinates of the vendor file (mm) with a standard and a size; `leastIn`: mm that a seat wants to hold of a shank at least. */
export const connectionSchema = z.object({
  id: idSchema,
  name: nameSchema,
  frame: frameSchema,
  connection: connectionSizeSchema,
  origin: originSchema,
  leastIn: z.number().min(0).max(1000).optional(),
});
export type Connection = z.infer<typeof connectionSchema>;

const sign = z.union([z.literal(-1), z.literal(0), z.literal(1)]);

/** A cutting corner in the coordinates of the vendor file; `corner` is the side of the virtual tip along the mount's X and Z. */
export const tipSchema = z.object({
  id: idSchema,
  name: nameSchema,
  noseRadius: z.number().min(0).max(500),
  noseCentre: vec3Schema,
  corner: z.object({ x: sign, z: sign }),
  /** Where the corner points, as it was picked: the side follows from it when the mount changes. */
  towards: directionSchema.optional(),
  /** Normal of the nose circle's plane, either way round: a tilted circle is seen as an ellipse. */
  rake: directionSchema.optional(),
  programmedPoint: z.enum(['virtual tip', 'nose centre']),
  /** How it is meant to cut: the sense of the spindle by its code (ISO 6983), and the feed. */
  runs: z.object({ sense: z.enum(['M3', 'M4']), feed: z.enum(['towards the chuck', 'away from it']) }).optional(),
  origin: originSchema,
});
export type Tip = z.infer<typeof tipSchema>;

/** One step of the pose, posed-from-file; steps apply in order. */
export const poseStepSchema = z.discriminatedUnion('kind', [
  z.object({ id: idSchema, kind: z.literal('rotate'), point: vec3Schema, axis: directionSchema, angleDeg: z.number().min(-3600).max(3600), note: nameSchema }),
  z.object({ id: idSchema, kind: z.literal('move'), by: vec3Schema, note: nameSchema }),
  z.object({ id: idSchema, kind: z.literal('align'), point: vec3Schema, from: directionSchema, to: directionSchema, note: nameSchema }),
]);
export type PoseStep = z.infer<typeof poseStepSchema>;
