import { z } from 'zod';
import { SENSES } from '#core/cutting';
import { shelfPlaceSchema } from './shelf-place.ts';
import { coordinateSchema, idSchema, nameSchema, vec3Schema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const ASSEMBLY_VERSION = 3;

/** One piece of an assembly: which component, and where it sits. */
export const pieceSchema = z.object({
  id: idSchema,
  componentId: idSchema,
  parent: z.object({ pieceId: idSchema, seatId: idSchema }).nullable(),
  /** mm from the seat to the mount along the seat's Z. */
  stickOut: coordinateSchema,
  rollDeg: z.number().min(-3600).max(3600),
  /** It is pressed or threaded into its seat: the two go through each other there, and are meant to. */
  pressed: z.boolean().optional(),
});
export type Piece = z.infer<typeof pieceSchema>;

/** What is said of an edge of an assembly: a tip of one of its pieces, as the control knows it. */
export const assemblyEdgeSchema = z.object({
  pieceId: idSchema,
  tipId: idSchema,
  name: nameSchema.default(''),
  /** Number of its offsets on the control. */
  number: z.number().int().min(1).max(99_999).optional(),
  sense: z.enum(SENSES).optional(),
  spindle: z.enum(['main', 'counter']).optional(),
  /** What is programmed, where it is not what the tool says; a picked one in the coordinates of the piece's file, mm. */
  point: z.union([z.enum(['virtual tip', 'nose centre']), z.object({ name: nameSchema, at: vec3Schema })]).optional(),
});
export type AssemblyEdge = z.infer<typeof assemblyEdgeSchema>;

/** Where the gauge line stands, where it is not the mount of the first piece: a seat of a piece, or a point picked on one, in the coordinates of its file, mm. */
export const gaugeLineSchema = z.union([
  z.object({ pieceId: idSchema, seatId: idSchema }),
  z.object({ pieceId: idSchema, componentId: idSchema, name: nameSchema, at: vec3Schema }),
]);
export type GaugeLine = z.infer<typeof gaugeLineSchema>;

/** An assembly: pieces from the machine outwards; the first has no parent. */
export const assemblySchema = z.object({
  kind: z.literal('assembly'),
  version: z.literal(ASSEMBLY_VERSION),
  id: idSchema,
  name: nameSchema.min(1),
  pieces: z.array(pieceSchema),
  /** Of tips of which something is said. */
  edges: z.array(assemblyEdgeSchema),
  gaugeLine: gaugeLineSchema.optional(),
  shelf: shelfPlaceSchema,
  createdAt: z.string(),
  changedAt: z.string(),
});
export type AssemblyRecord = z.infer<typeof assemblySchema>;

/** An assembly whose components go by other ids: its pieces', and that of a point that its gauge line was picked at. */
export function withComponentIds<T extends Pick<AssemblyRecord, 'pieces' | 'gaugeLine'>>(assembly: T, idOf: (id: string) => string): T {
  const { gaugeLine } = assembly;
  return {
    ...assembly,
    pieces: assembly.pieces.map((p) => ({ ...p, componentId: idOf(p.componentId) })),
    ...(gaugeLine && 'at' in gaugeLine ? { gaugeLine: { ...gaugeLine, componentId: idOf(gaugeLine.componentId) } } : {}),
  };
}
