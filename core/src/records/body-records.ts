import { z } from 'zod';
import { nominalInsertOf } from '#core/standards';
import { poseStepSchema } from './mark-records.ts';
import { coordinateSchema, frameSchema, idSchema, nameSchema } from './values.ts';

export const roleSchema = z.enum(['tool body', 'cutting', 'hardware', 'left out']);
export type BodyRole = z.infer<typeof roleSchema>;

const colourSchema = z.string().regex(/^#[0-9a-f]{6}$/);

/** What bodies are made of: density in g/cm3, modulus of elasticity in GPa. */
export const MATERIALS = {
  // Usual values of machine construction.
  steel: { density: 7.85, modulus: 210 },
  carbide: { density: 14.5, modulus: 600 },
  'high-speed steel': { density: 8.1, modulus: 220 },
  // ASTM B777, class 2.
  'heavy metal': { density: 17.5, modulus: 340 },
  aluminium: { density: 2.7, modulus: 70 },
} as const;
export type Material = keyof typeof MATERIALS;
export const MATERIAL_NAMES = Object.keys(MATERIALS) as Material[];

export const bodyEntrySchema = z.object({
  id: idSchema,
  name: nameSchema,
  colour: colourSchema.optional(),
  role: roleSchema,
  hidden: z.boolean().default(false),
  /** The person's own colour, kept in the exports; the role's colour without it. */
  ownColour: colourSchema.optional(),
  /** What it is made of, where somebody said it. */
  material: z.enum(MATERIAL_NAMES).optional(),
});
export type BodyEntry = z.infer<typeof bodyEntrySchema>;

/** A body cut in two along a prism; see the kernel's `Cut`. `note` says how it was placed. */
export const cutSchema = z.object({
  id: idSchema,
  body: idSchema,
  frame: frameSchema,
  outline: z.array(z.tuple([coordinateSchema, coordinateSchema])).min(3),
  from: coordinateSchema,
  to: coordinateSchema,
  note: nameSchema,
});
export type CutRecord = z.infer<typeof cutSchema>;

/** A nominal insert by its ISO 1832 designation, added as a body; see the kernel's `makeNominalInsert` for the frame. */
export const addedInsertSchema = z.object({
  id: idSchema,
  designation: nameSchema.min(1).refine((text) => nominalInsertOf(text).ok, 'it is no insert whose form the designation gives'),
  frame: frameSchema,
  /** The vendor's body that is left out for it. */
  replaces: idSchema,
});
export type AddedInsert = z.infer<typeof addedInsertSchema>;

/** A body that is brought to another place within its component, step by step: an insert into its pocket. In the file's coordinates. */
export const bodyMoveSchema = z.object({ id: idSchema, body: idSchema, step: poseStepSchema });
export type BodyMove = z.infer<typeof bodyMoveSchema>;

/** Faces with a colour of their own: a logo, a band. Indices of faces of the model. */
export const faceColourSchema = z.object({ id: idSchema, body: idSchema, faces: z.array(z.number().int().nonnegative()).min(1), colour: colourSchema });
export type FaceColour = z.infer<typeof faceColourSchema>;
