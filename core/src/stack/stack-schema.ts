import { z } from 'zod';
import { CONNECTION_STANDARDS } from '#core/standards';

export const SEGMENT_KINDS = ['cylinder', 'cone', 'convex', 'concave', 'chamfer', 'ball', 'groove'] as const;
export type SegmentKind = (typeof SEGMENT_KINDS)[number];

/** mm. No tool is larger. */
export const LARGEST_SEGMENT = 2000;
const size = z.number().min(0).max(LARGEST_SEGMENT);

/** A stretch of a stack, with its diameters at the machine's side and at the work's. */
export const segmentSchema = z.object({
  id: z.string().min(1).max(80),
  kind: z.enum(SEGMENT_KINDS),
  length: size,
  from: size,
  to: size,
  /** Of an arc. */
  radius: z.number().min(0).max(1e5),
  /** Its first diameter is the last one of the segment before: they change together. */
  shared: z.boolean(),
});
export type Segment = z.infer<typeof segmentSchema>;

const connection = z.object({ standard: z.enum(CONNECTION_STANDARDS), size: z.union([z.number().min(0).max(1000), z.string().max(20)]) });

/** A tool or a holder by its lengths and diameters, from the machine to the work. */
export const stackSchema = z.object({
  /** The machine side: its shape comes before the first segment; `length` of a plain shank. */
  connection: connection.extend({ length: size }).nullable(),
  segments: z.array(segmentSchema).max(200).readonly(),
  /** The work side: a bore with its depth, or the seat of a collet. */
  bore: connection.extend({ depth: size }).nullable(),
});
export type Stack = z.infer<typeof stackSchema>;
