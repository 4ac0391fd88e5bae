import { z } from 'zod';
import { LARGEST_LENGTH } from '#core/math';
import { halfProfileSchema } from '#core/outline';
import { SPINDLES } from './machine-record.ts';
import { idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const TRIAL_VERSION = 2;

/** Characters of a program that is kept with a trial. */
export const LONGEST_PROGRAM = 4_000_000;

const length = z.number().min(-LARGEST_LENGTH).max(LARGEST_LENGTH);

/** What holds the work at its front, and stands still along Z. */
export const supportSchema = z.object({
  kind: z.literal('tailstock'),
  /** mm: the hole that the centre of 60 degrees sits in, and what is behind the centre. */
  hole: z.number().positive().max(500),
  body: z.number().positive().max(1000),
  /** Where that hole's rim is, along Z of the part. */
  at: length,
});
export type Support = z.infer<typeof supportSchema>;

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
  /** What is to come out; null: nothing is compared. */
  contour: halfProfileSchema.nullable(),
  /** What it is turned from; null: the set-up's blank. */
  stock: halfProfileSchema.nullable(),
  support: supportSchema.nullable(),
  program: z.object({ name: nameSchema, text: z.string().max(LONGEST_PROGRAM) }),
  /** mm. What gets nearer than that is told, and how far a cut may go into the part. */
  clearance: z.number().min(0).max(100),
  tolerance: z.number().min(0.0005).max(5),
  createdAt: z.string(),
  changedAt: z.string(),
});
export type TrialRecord = z.infer<typeof trialSchema>;
