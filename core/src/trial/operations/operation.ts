import { LARGEST_LENGTH } from '#core/math';
import { z } from 'zod';

const length = z.number().min(-LARGEST_LENGTH).max(LARGEST_LENGTH);
const positive = (most: number) => z.number().positive().max(most);
const number = z.number().int().min(0).max(9999);

const common = {
  /** The edge that cuts, as its set-up numbers it. */
  tool: number,
  offset: number.optional(),
  /** The id of what it stands on, where several carriers have a tool of that number. */
  carrier: z.string().min(1).max(200).optional(),
  /** m/min of the surface, for what spins 1/min are worked out from its diameter. */
  surfaceSpeed: positive(5000).default(150),
  /** 1/min; no more. */
  fastest: positive(100_000).default(3000),
  /** mm a turn. */
  feed: positive(50),
};
/** Of the part along Z: what is cut lies between; without them all of the contour. */
const range = { from: length.optional(), to: length.optional() };
const side = z.enum(['outside', 'inside']).default('outside');
/** mm that stay for a finish, square to the contour. */
const allowance = z.number().min(0).max(20);

const faceSchema = z.object({ kind: z.literal('face'), ...common, feed: common.feed.default(0.2), depthOfCut: positive(50).default(1.5) }).strict();
const turnSchema = z
  .object({
    kind: z.literal('turn'),
    ...common,
    feed: common.feed.default(0.25),
    ...range,
    side,
    /** Roughing: in cuts along the axis, in cuts along the contour, or none. */
    rough: z.enum(['axis', 'contour', 'none']).default('axis'),
    depthOfCut: positive(50).default(1.5),
    /** What roughing leaves. */
    allowance: allowance.default(0.3),
    finish: z.boolean().default(true),
    finishFeed: positive(50).default(0.12),
    /** Where the feed goes. */
    towards: z.enum(['chuck', 'tailstock']).default('chuck'),
  })
  .strict();
const grooveSchema = z
  .object({
    kind: z.literal('groove'),
    ...common,
    feed: common.feed.default(0.08),
    ...range,
    side: z.enum(['outside', 'inside', 'face']).default('outside'),
    allowance: allowance.default(0.1),
    finish: z.boolean().default(true),
  })
  .strict();
const partOffSchema = z
  .object({
    kind: z.literal('part off'),
    ...common,
    feed: common.feed.default(0.06),
    /** Where the part is to end, along its Z; without it where the contour does. */
    at: length.optional(),
  })
  .strict();
const drillSchema = z
  .object({
    kind: z.literal('drill'),
    ...common,
    feed: common.feed.default(0.12),
    /** Of the drill's point from Z 0; without it as deep as the contour lets it. */
    depth: positive(LARGEST_LENGTH).optional(),
    /** Drawn back after each of that many mm. */
    peck: positive(LARGEST_LENGTH).optional(),
  })
  .strict();
const threadSchema = z
  .object({
    kind: z.literal('thread'),
    ...common,
    feed: common.feed.optional(),
    side,
    from: length,
    to: length,
    pitch: positive(50),
    /** Of the thread, on radius; without it that of an ISO metric one. */
    depth: positive(50).optional(),
    passes: z.number().int().min(1).max(50).optional(),
  })
  .strict();

/** A cut that is written from the contour and a few values; mm, degrees, Z of the part. */
export const operationSchema = z.discriminatedUnion('kind', [faceSchema, turnSchema, grooveSchema, partOffSchema, drillSchema, threadSchema]);
export type Operation = z.infer<typeof operationSchema>;
export type OperationKind = Operation['kind'];
export type OperationOf<K extends OperationKind> = Extract<Operation, { kind: K }>;
export const OPERATION_KINDS = ['face', 'turn', 'groove', 'part off', 'drill', 'thread'] as const satisfies readonly OperationKind[];

/**
 * Depth of an ISO metric thread on radius: of a bolt 17/24 H less the rounding of its root, 0.61343 P; of a nut 5/8 H, 0.54127 P (ISO 68-1, H = sqrt(3)/2 P).
 */
export const threadDepth = (pitch: number, isInside: boolean): number => (isInside ? (5 * Math.sqrt(3)) / 16 : 0.61343) * pitch;
