import { z } from 'zod';
import { SENSES } from '#core/cutting';
import { LARGEST_LENGTH } from '#core/math';
import { SPINDLES } from './machine-record.ts';
import { coordinateSchema, idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const SET_UP_VERSION = 1;

const size = z.number().min(0).max(LARGEST_LENGTH);
const controlNumber = z.number().int().min(1).max(99_999_999);

/** What is said of an edge where it stands: a tip of a piece of the assembly, as the control is to know it. */
export const placedEdgeSchema = z.object({
  pieceId: idSchema,
  tipId: idSchema,
  tool: controlNumber.optional(),
  offset: controlNumber.optional(),
  spindle: z.enum(SPINDLES).optional(),
  sense: z.enum(SENSES).optional(),
});
export type PlacedEdge = z.infer<typeof placedEdgeSchema>;

/** An assembly at a station. */
export const placeSchema = z.object({
  id: idSchema,
  carrierId: idSchema,
  station: z.number().int().min(1).max(200),
  assemblyId: idSchema,
  /** Which way round: degrees about the station's Z. */
  turnDeg: z.number().min(-360).max(360),
  /** The foot of its first piece that it stands on, where that is not its mount. */
  foot: idSchema.optional(),
  /** The spindle that it works at. */
  spindle: z.enum(SPINDLES),
  /** Of a swivel head, degrees of the head. */
  angleDeg: z.number().min(-360).max(360).optional(),
  edges: z.array(placedEdgeSchema),
});
export type Place = z.infer<typeof placeSchema>;

/** The work in a spindle: bar or blank by its diameter, bore and how far it stands out of the jaws; mm. */
export const blankSchema = z.object({ diameter: size, bore: size, length: size });
export type Blank = z.infer<typeof blankSchema>;

/** A job on a machine: what stands where. */
export const setUpSchema = z.object({
  kind: z.literal('set-up'),
  version: z.literal(SET_UP_VERSION),
  id: idSchema,
  name: nameSchema.min(1),
  machineId: idSchema,
  places: z.array(placeSchema).max(500),
  blanks: z.object({ main: blankSchema.nullable(), counter: blankSchema.nullable() }),
  /** Where the counter spindle's nose face stands; without it at the end of its travel. */
  counterAt: coordinateSchema.optional(),
  createdAt: z.string(),
  changedAt: z.string(),
});
export type SetUpRecord = z.infer<typeof setUpSchema>;

/** A set-up whose machine and assemblies go by other ids. */
export const setUpWithIds = (setUp: SetUpRecord, idOf: (id: string) => string): SetUpRecord => ({
  ...setUp,
  machineId: idOf(setUp.machineId),
  places: setUp.places.map((p) => ({ ...p, assemblyId: idOf(p.assemblyId) })),
});
