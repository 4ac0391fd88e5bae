import { z } from 'zod';
import { componentSpecSchema, valuesSchema } from '#core/components';
import { toolUseSchema } from '#core/cutting';
import { MODEL_FORMATS } from '#core/mesh';
import { solidShapeSchema } from '#core/outline';
import { addedInsertSchema, bodyEntrySchema, bodyMoveSchema, cutSchema, faceColourSchema } from './body-records.ts';
import { madeGeometrySchema } from './geometry-record.ts';
import { connectionSchema, poseStepSchema, tipSchema } from './mark-records.ts';
import { planSchema } from './plan-record.ts';
import { shelfPlaceSchema } from './shelf-place.ts';
import { hashSchema, idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const COMPONENT_VERSION = 9;

export const COMPONENT_KINDS = ['turning tool', 'boring bar', 'holder', 'adapter', 'station block', 'cutter', 'insert', 'other'] as const;

const sourceFile = {
  /** Of the bytes that the model is made from: see `sourceBytes`. */
  blob: hashSchema,
  fileName: nameSchema.min(1),
  bytes: z.number().int().positive(),
  /** mm per unit as it is used, and as the file says: they differ where a person has changed the unit. */
  unitScale: z.number().positive(),
  foundScale: z.number().positive(),
};

/** Where a component's model comes from: a file as it came, an outline that was drawn or typed, or data. */
export const sourceSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('file'),
    ...sourceFile,
    format: z.enum(MODEL_FORMATS),
    /** As found in the file; 'mm' where it has none. */
    unit: z.string().max(20),
  }),
  z.object({
    kind: z.literal('outline'),
    ...sourceFile,
    format: z.literal('outline'),
    unit: z.literal('mm'),
    /** The record that it was made of; it may be gone. */
    outline: idSchema,
    shape: solidShapeSchema,
  }),
  z.object({
    kind: z.literal('data'),
    ...sourceFile,
    format: z.literal('outline'),
    unit: z.literal('mm'),
    /** What was said of it; its shape follows. */
    spec: componentSpecSchema,
    /** All its numbers: those that were said, those that follow, those that are assumed. */
    values: valuesSchema,
    shape: solidShapeSchema,
  }),
]);
export type ComponentSource = z.infer<typeof sourceSchema>;

/** A component: what it comes from, and everything that was said about it. */
export const componentSchema = z.object({
  kind: z.literal('component'),
  version: z.literal(COMPONENT_VERSION),
  id: idSchema,
  name: nameSchema.min(1),
  componentKind: z.enum(COMPONENT_KINDS),
  source: sourceSchema,
  /** The tessellated model that is drawn; derived from the source. Of data its blob may not be made yet: see `modelKeyOf`. */
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
  /** Other ways in which it stands on a carrier, as some blocks do. */
  feet: z.array(connectionSchema).max(8).optional(),
  seats: z.array(connectionSchema),
  tips: z.array(tipSchema),
  /** How it is used, as far as somebody said it. */
  use: toolUseSchema,
  geometry: z.array(madeGeometrySchema),
  plan: planSchema.nullable(),
  shelf: shelfPlaceSchema,
  createdAt: z.string(),
  changedAt: z.string(),
});
export type ComponentRecord = z.infer<typeof componentSchema>;
