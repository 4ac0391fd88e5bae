import { z } from 'zod';
import { halfProfileSchema, flatPointSchema } from '#core/outline';
import { sketchSchema } from '#core/sketch';
import { stackSchema } from '#core/stack';
import { connectionSizeSchema } from './mark-records.ts';
import { ON_MASTER, shelfPlaceSchema } from './shelf-place.ts';
import { coordinateSchema, hashSchema, idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const OUTLINE_VERSION = 2;

export const OUTLINE_PURPOSES = ['cutter', 'holder', 'insert'] as const;
export type OutlinePurpose = (typeof OUTLINE_PURPOSES)[number];

export const DRAWING_FORMATS = ['dxf', 'svg', 'png', 'jpg'] as const;

/** From where to where, in mm from the work end. */
const stretchSchema = z.object({ from: coordinateSchema, to: coordinateSchema });

/** What was said about how a drawing is to be read; null where it is found out. */
export const drawingChoiceSchema = z.object({
  layers: z.array(nameSchema).readonly().nullable(),
  form: z.enum(['revolved', 'flat']).nullable(),
  unit: z.enum(['mm', 'inch']).nullable(),
  /** mm. */
  bridge: z.number().min(0).max(100).nullable(),
  tolerance: z.number().positive().max(10).nullable(),
  /** The tip is at the other end than was found. */
  flip: z.boolean(),
  /** The axis, by two points in the drawing's own coordinates and unit. */
  axis: z.object({ from: flatPointSchema, to: flatPointSchema }).nullable(),
  /** A point of the thing that is meant, where there are several: in the drawing's own coordinates and unit. */
  at: flatPointSchema.nullable(),
  /** Of a picture: two points in pixels, and mm between them. */
  scale: z.object({ from: flatPointSchema, to: flatPointSchema, mm: z.number().positive().max(1e5) }).nullable(),
});
export type DrawingChoice = z.infer<typeof drawingChoiceSchema>;

/** How a drawing was read, for whoever looks at it; the numbers are the outline's own. */
export const drawingReadSchema = z.object({
  unit: z.string().max(20),
  unitScale: z.number().positive(),
  layers: z.array(z.object({ name: nameSchema, entities: z.number().int(), isHidden: z.boolean(), used: z.boolean() })).readonly(),
  steps: z.array(z.object({ code: z.string().max(40), message: z.string().max(600) })).readonly(),
  warnings: z.array(z.string().max(600)).readonly(),
  /** In the drawing's own coordinates and unit; from the tip into the tool. */
  axis: z.object({ point: flatPointSchema, direction: flatPointSchema }).nullable(),
  /** What was found of the outline besides: what differs from it now was said by hand. */
  mount: connectionSizeSchema.nullable(),
  cutting: stretchSchema.nullable(),
});
export type DrawingRead = z.infer<typeof drawingReadSchema>;

/** Where an outline comes from. */
export const outlineWaySchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('drawing'),
    blob: hashSchema,
    fileName: nameSchema.min(1),
    format: z.enum(DRAWING_FORMATS),
    choice: drawingChoiceSchema,
    read: drawingReadSchema.nullable(),
  }),
  z.object({ kind: z.literal('stack'), stack: stackSchema }),
  /** By hand, from nothing. */
  z.object({ kind: z.literal('drawn') }),
]);
export type OutlineWay = z.infer<typeof outlineWaySchema>;

/** What a flat outline becomes: a plate with its top in the plane of the outline. */
export const insertSchema = z.object({
  thickness: z.number().min(0.05).max(1000),
  reliefDeg: z.number().min(0).max(45),
  /** Numbers of the pieces that cut; null for all. */
  cutting: z.array(z.number().int().nonnegative()).readonly().nullable(),
  hole: z.object({ at: flatPointSchema, diameter: z.number().min(0.05).max(1000) }).nullable(),
});

/** Values that can be typed and are compared with the profile's, by their ISO 13399 names; mm. */
export const TYPED_VALUES = ['DC', 'LCF', 'DCON', 'LS', 'OAL'] as const;
export type TypedValue = (typeof TYPED_VALUES)[number];

/** An outline: where it comes from, what it is now, and what it is for. */
export const outlineSchema = z.object({
  kind: z.literal('outline'),
  version: z.literal(OUTLINE_VERSION),
  id: idSchema,
  name: nameSchema.min(1),
  purpose: z.enum(OUTLINE_PURPOSES),
  way: outlineWaySchema,
  /** The profile was changed by hand after it was read. */
  byHand: z.boolean(),
  /**
   * What it is: of what is turned the half section in [z, r], z towards the work from the mount's reference plane; of an insert its edge in [x, y]. Empty
   * where nothing was found, and `fault` says why.
   */
  profile: halfProfileSchema,
  /** What is said of its corners and pieces, where it was changed by hand. */
  sketch: sketchSchema.nullable().default(null),
  fault: z.string().max(1000).nullable(),
  /** Which stretch cuts, in mm from the work end; null for none. */
  cutting: stretchSchema.nullable(),
  rotation: z.enum(['right', 'left']),
  mount: connectionSizeSchema.nullable(),
  /** Where the mount's reference plane is, in the profile's z. */
  mountZ: coordinateSchema.default(0),
  /** A connection at the work end. */
  seat: connectionSizeSchema.extend({ z: coordinateSchema }).nullable(),
  insert: insertSchema,
  typed: z.partialRecord(z.enum(TYPED_VALUES), z.number().positive().max(1e5)),
  shelf: shelfPlaceSchema,
  createdAt: z.string(),
  changedAt: z.string(),
});
export type OutlineRecord = z.infer<typeof outlineSchema>;

export const NO_CHOICE: DrawingChoice = { layers: null, form: null, unit: null, bridge: null, tolerance: null, flip: false, axis: null, at: null, scale: null };

/** A new outline with nothing in it yet. */
export const newOutline = (given: { id: string; name: string; purpose: OutlinePurpose; way: OutlineWay; now: string }): OutlineRecord => ({
  kind: 'outline',
  version: OUTLINE_VERSION,
  id: given.id,
  name: given.name,
  purpose: given.purpose,
  way: given.way,
  byHand: false,
  profile: [],
  sketch: null,
  fault: null,
  cutting: null,
  rotation: 'right',
  mount: null,
  mountZ: 0,
  seat: null,
  insert: { thickness: 4.76, reliefDeg: 7, cutting: null, hole: null },
  typed: {},
  shelf: ON_MASTER,
  createdAt: given.now,
  changedAt: given.now,
});
