import { z } from 'zod';
import { isOrthonormal, LARGEST_LENGTH } from '#core/math';
import { MODEL_FORMATS } from '#core/mesh';
import { BORE_CHOICES } from '#core/outline';
import { CONNECTION_STANDARDS, nominalInsertOf } from '#core/standards';

// What is stored, handed over and packed. Versions and migrations: see migrate.ts. Every number is finite (Zod refuses others).

export const COMPONENT_VERSION = 5;
export const ASSEMBLY_VERSION = 1;

const coordinate = z.number().min(-LARGEST_LENGTH).max(LARGEST_LENGTH);
const id = z.string().min(1).max(80);
const name = z.string().max(200);
const hash = z.string().regex(/^[0-9a-f]{64}$/);
const unitNumber = z.number().min(-1.000001).max(1.000001);

export const vec3Schema = z.tuple([coordinate, coordinate, coordinate]).readonly();
const directionSchema = z.tuple([unitNumber, unitNumber, unitNumber]).readonly();
export const frameSchema = z
  .object({ origin: vec3Schema, z: directionSchema, x: directionSchema })
  .refine(isOrthonormal, { message: 'its Z and X are not unit vectors at a right angle' });

export const roleSchema = z.enum(['tool body', 'cutting', 'hardware', 'left out']);
export type BodyRole = z.infer<typeof roleSchema>;

/** Where a value came from; `evidence` names the faces and edges in words. */
export const originSchema = z.object({ from: z.enum(['read', 'picked', 'typed', 'standard']), evidence: z.string().max(400).default('') });
export type FactOrigin = z.infer<typeof originSchema>;

export const connectionSizeSchema = z.object({ standard: z.enum(CONNECTION_STANDARDS), size: z.union([z.number().min(0).max(1000), z.string().max(20)]) });

/** A mount or a seat: a frame in the coordinates of the vendor file (mm) with a standard and a size. */
export const connectionSchema = z.object({ id, name, frame: frameSchema, connection: connectionSizeSchema, origin: originSchema });
export type Connection = z.infer<typeof connectionSchema>;

const sign = z.union([z.literal(-1), z.literal(0), z.literal(1)]);

/** A cutting corner in the coordinates of the vendor file; `corner` is the side of the virtual tip along the mount's X and Z. */
export const tipSchema = z.object({
  id,
  name,
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
  z.object({ id, kind: z.literal('rotate'), point: vec3Schema, axis: directionSchema, angleDeg: z.number().min(-3600).max(3600), note: name }),
  z.object({ id, kind: z.literal('move'), by: vec3Schema, note: name }),
  z.object({ id, kind: z.literal('align'), point: vec3Schema, from: directionSchema, to: directionSchema, note: name }),
]);
export type PoseStep = z.infer<typeof poseStepSchema>;

export const growthSchema = z.object({ min: z.number(), mean: z.number(), max: z.number() });

/** A result of making geometry; `inputs` is the hash of what it was made from, and it is stale when that changes. */
export const PART_MODES = ['exact', 'revolved', 'wrap'] as const;
const partModeSchema = z.enum(PART_MODES);

const flatPointSchema = z.tuple([coordinate, coordinate]).readonly();

const pathPieceSchema = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('line'), from: flatPointSchema, to: flatPointSchema }),
  z.object({ kind: z.literal('arc'), from: flatPointSchema, to: flatPointSchema, centre: flatPointSchema, ccw: z.boolean() }),
]);
const pathSchema = z.array(pathPieceSchema).readonly();
/** A half profile: loops of lines and arcs in [z, r]; see the outline folder's HalfProfile. */
export const halfProfileSchema = z.array(pathSchema).readonly();

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
  bodies: z.array(id),
  /** Bodies that lie in it wholly and need nothing of their own; geometry of before has none. */
  inside: z.array(id).default([]),
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
  inputs: hash,
  blob: hash,
  bodies: z.array(id),
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

/** Outlines in the turning plane, in (z, x) of the mount; `inputs` is the hash of what they were made from. */
export const planSchema = z.object({
  tolerance: z.number().positive(),
  inputs: hash,
  parts: z.array(
    z.object({
      target: z.enum(['cutting', 'non-cutting']),
      loops: z.array(z.object({ hole: z.boolean(), pieces: pathSchema })).readonly(),
      growth: growthSchema,
      /** mm. What the bodies take along the mount's Y. */
      low: z.number(),
      high: z.number(),
    }),
  ),
});
export type PlanRecord = z.infer<typeof planSchema>;

const colourSchema = z.string().regex(/^#[0-9a-f]{6}$/);

export const bodyEntrySchema = z.object({
  id,
  name,
  colour: colourSchema.optional(),
  role: roleSchema,
  hidden: z.boolean().default(false),
  /** The person's own colour, kept in the exports; the role's colour without it. */
  ownColour: colourSchema.optional(),
});
export type BodyEntry = z.infer<typeof bodyEntrySchema>;

/** A body cut in two along a prism; see the kernel's `Cut`. `note` says how it was placed. */
export const cutSchema = z.object({
  id,
  body: id,
  frame: frameSchema,
  outline: z.array(z.tuple([coordinate, coordinate])).min(3),
  from: coordinate,
  to: coordinate,
  note: name,
});
export type CutRecord = z.infer<typeof cutSchema>;

/** A nominal insert by its ISO 1832 designation, added as a body; see the kernel's `makeNominalInsert` for the frame. */
export const addedInsertSchema = z.object({
  id,
  designation: name.min(1).refine((text) => nominalInsertOf(text).ok, 'it is no insert whose form the designation gives'),
  frame: frameSchema,
  /** The vendor's body that is left out for it. */
  replaces: id,
});
export type AddedInsert = z.infer<typeof addedInsertSchema>;

/** A body that is brought to another place within its component, step by step: an insert into its pocket. In the file's coordinates. */
export const bodyMoveSchema = z.object({ id, body: id, step: poseStepSchema });
export type BodyMove = z.infer<typeof bodyMoveSchema>;

/** Faces with a colour of their own: a logo, a band. Indices of faces of the model. */
export const faceColourSchema = z.object({ id, body: id, faces: z.array(z.number().int().nonnegative()).min(1), colour: colourSchema });
export type FaceColour = z.infer<typeof faceColourSchema>;

export const COMPONENT_KINDS = ['turning tool', 'boring bar', 'holder', 'adapter', 'station block', 'cutter', 'other'] as const;

/** A component: the vendor file as it came, and everything that was said about it. */
export const componentSchema = z.object({
  kind: z.literal('component'),
  version: z.literal(COMPONENT_VERSION),
  id,
  name: name.min(1),
  componentKind: z.enum(COMPONENT_KINDS),
  source: z.object({
    blob: hash,
    fileName: name.min(1),
    format: z.enum(MODEL_FORMATS),
    /** As found in the file; 'mm' where it has none. */
    unit: z.string().max(20),
    /** mm per unit as it is used, and as the file says: they differ where a person has changed the unit. */
    unitScale: z.number().positive(),
    foundScale: z.number().positive(),
    bytes: z.number().int().positive(),
  }),
  /** The tessellated model that is drawn; derived from the source. */
  model: z.object({ blob: hash, faces: z.number().int(), triangles: z.number().int() }),
  bodies: z.array(bodyEntrySchema).min(1),
  cuts: z.array(cutSchema),
  inserts: z.array(addedInsertSchema),
  moves: z.array(bodyMoveSchema),
  faceColours: z.array(faceColourSchema),
  /** What the tool or its insert is called by the standard or the vendor; compared with what is read. */
  designation: name,
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

/** One piece of an assembly: which component, and where it sits. */
export const pieceSchema = z.object({
  id,
  componentId: id,
  parent: z.object({ pieceId: id, seatId: id }).nullable(),
  /** mm from the seat to the mount along the seat's Z. */
  stickOut: coordinate,
  rollDeg: z.number().min(-3600).max(3600),
});
export type Piece = z.infer<typeof pieceSchema>;

/** An assembly: pieces from the machine outwards; the first has no parent. */
export const assemblySchema = z.object({
  kind: z.literal('assembly'),
  version: z.literal(ASSEMBLY_VERSION),
  id,
  name: name.min(1),
  pieces: z.array(pieceSchema),
  createdAt: z.string(),
  changedAt: z.string(),
});
export type AssemblyRecord = z.infer<typeof assemblySchema>;

export type AnyRecord = ComponentRecord | AssemblyRecord;

export const checkSchema = z.object({
  code: z.string(),
  state: z.enum(['pass', 'warn', 'fail']),
  message: z.string(),
  value: z.number().optional(),
  limit: z.number().optional(),
});
export type Check = z.infer<typeof checkSchema>;
