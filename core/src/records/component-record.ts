import { z } from 'zod';
import { MODEL_FORMATS } from '#core/mesh';
import { addedInsertSchema, bodyEntrySchema, bodyMoveSchema, cutSchema, faceColourSchema } from './body-records.ts';
import { madeGeometrySchema } from './geometry-record.ts';
import { connectionSchema, poseStepSchema, tipSchema } from './mark-records.ts';
import { planSchema } from './plan-record.ts';
import { hashSchema, idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const COMPONENT_VERSION = 5;

export const COMPONENT_KINDS = ['turning tool', 'boring bar', 'holder', 'adapter', 'station block', 'cutter', 'other'] as const;

/** A component: the vendor file as it came, and everything that was said about it. */
export const componentSchema = z.object({
  kind: z.literal('component'),
  version: z.literal(COMPONENT_VERSION),
  id: idSchema,
  name: nameSchema.min(1),
  componentKind: z.enum(COMPONENT_KINDS),
  source: z.object({
    blob: hashSchema,
    fileName: nameSchema.min(1),
    format: z.enum(MODEL_FORMATS),
    /** As found in the file; 'mm' where it has none. */
    unit: z.string().max(20),
    /** mm per unit as it is used, and as the file says: they differ where a person has changed the unit. */
    unitScale: z.number().positive(),
    foundScale: z.number().positive(),
    bytes: z.number().int().positive(),
  }),
  /** The tessellated model that is drawn; derived from the source. */
  model: z.object({ blob: hashSchema, faces: z.number().int(), triangles: z.number().int() }),
  bodies: z.array(bodyEntrySchema).min(1),
  cuts: z.array(cutSchema),
  inserts: z.array(addedInsertSchema),
  moves: z.array(bodyMoveSchema),
  faceColours: z.array(faceColourSchema),
  /** What the tool or its insert is called by the standard or the vendor; compared with what is read. */
  designation: nameSchema,
  pose: z.array(poseStepSchema),
  mount: connectionSchema.nullable(),
  seats: z.array(connectionSchema),
  tips: z.array(tipSchema),
  geometry: z.array(madeGeometrySchema),
  plan: planSchema.nullable(),
  createdAt: z.string(),
  changedAt: z.string(),
});
export type ComponentRecord = z.infer<typeof componentSchema>;
