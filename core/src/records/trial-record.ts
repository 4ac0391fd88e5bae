import { z } from 'zod';
import { LARGEST_LENGTH } from '#core/math';
import { halfProfileSchema } from '#core/outline';
import { SPINDLES } from './machine-record.ts';
import { idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const TRIAL_VERSION = 5;

/** Characters of a program that is kept with a trial. */
export const LONGEST_PROGRAM = 4_000_000;

const length = z.number().min(-LARGEST_LENGTH).max(LARGEST_LENGTH);

/** Work coordinate systems of a program beside the part's own, which is G54 (ISO 6983). */
export const OTHER_ZEROS = ['G55', 'G56', 'G57', 'G58', 'G59'] as const;
export type OtherZero = (typeof OTHER_ZEROS)[number];

/** What holds the work at its front, and stands still along Z; mm. */
export const supportSchema = z.discriminatedUnion('kind', [
  z.object({
    kind: z.literal('tailstock'),
    /** The hole that the centre of 60 degrees sits in, and what is behind the centre. */
    hole: z.number().positive().max(500),
    body: z.number().positive().max(1000),
    /** Where that hole's rim is, along Z of the part. */
    at: length,
  }),
  z.object({
    kind: z.literal('steady rest'),
    /** Its outside; inside it stands on what is turned. */
    body: z.number().positive().max(2000),
    width: z.number().positive().max(1000),
    /** Where its front is, along Z of the part. */
    at: length,
  }),
]);
export type Support = z.infer<typeof supportSchema>;

/** Programs that run at the same time, at most. */
export const MOST_CHANNELS = 4;

/** The program of a channel of the control; `carrier`: the id of what it moves, null for whichever has its first tool. */
export const channelSchema = z.object({ name: nameSchema, text: z.string().max(LONGEST_PROGRAM), carrier: z.string().max(200).nullable() });
export type Channel = z.infer<typeof channelSchema>;

/** A program tried against a set-up. Half sections in [z, r] of the part, mm: z 0 is its zero, away from the chuck. */
export const trialSchema = z.object({
  kind: z.literal('trial'),
  version: z.literal(TRIAL_VERSION),
  id: idSchema,
  name: nameSchema.min(1),
  setUpId: z.string().max(200),
  spindle: z.enum(SPINDLES),
  /** From the jaws' front to the zero of the part. */
  zero: length,
  /** Where others lie along Z of the part. */
  zeros: z.partialRecord(z.enum(OTHER_ZEROS), length),
  /** What is to come out; null: nothing is compared. */
  contour: halfProfileSchema.nullable(),
  /** What it is turned from; null: the set-up's blank. */
  stock: halfProfileSchema.nullable(),
  support: supportSchema.nullable(),
  /** One for each channel; they wait for each other at marks (see Control). */
  programs: z.array(channelSchema).min(1).max(MOST_CHANNELS),
  /** mm. What gets nearer than that is told, and how far a cut may go into the part. */
  clearance: z.number().min(0).max(100),
  tolerance: z.number().min(0.0005).max(5),
  createdAt: z.string(),
  changedAt: z.string(),
});
export type TrialRecord = z.infer<typeof trialSchema>;
