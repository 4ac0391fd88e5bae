import { z } from 'zod';
import { VALUE_NAMES } from './values.ts';

/** Kinds of components that data makes. */
export const SPEC_KINDS = [
  'insert',
  'turning holder',
  'boring bar',
  'drill',
  'centre drill',
  'countersink',
  'reamer',
  'tap',
  'end mill',
  'ball end mill',
  'chamfer mill',
  'slot cutter',
  'step drill',
  'spot drill',
  'tapered mill',
  'dovetail mill',
  'woodruff cutter',
  'T-slot cutter',
  'thread mill',
  'face mill',
  'boring head',
  'collet',
  'sleeve',
  'arbor',
  'grooving insert',
  'threading insert',
  'grooving holder',
  'grooving bar',
  'threading holder',
  'parting blade',
  'solid bar',
] as const;
export type SpecKind = (typeof SPEC_KINDS)[number];

/** Numbers by their ISO 13399 names. */
export const valuesSchema = z.partialRecord(z.enum(VALUE_NAMES), z.number());

/** What was said of a component: its kind, and the numbers that were given by their ISO 13399 names, mm and degrees. All else is worked out or assumed. */
export const componentSpecSchema = z.object({
  kind: z.enum(SPEC_KINDS),
  /** By which standard's code it is called; what it says counts where no number says otherwise. */
  designation: z.string().max(60).default(''),
  values: valuesSchema,
  /** Of an insert: the letter of its shape (ISO 1832). */
  shape: z
    .string()
    .regex(/^[ABCDEHKLMOPRSTVW]?$/)
    .default(''),
  hand: z.enum(['right', 'left', 'neutral']).default('right'),
  /** Of taps and thread mills: what a thread is called that is no metric one. */
  thread: z.string().max(40).default(''),
  /** Of threading tools: for threads in bores. */
  inside: z.boolean().default(false),
  /** Of a collet: the size of its cone (ISO 15488). */
  size: z.string().max(20).default(''),
});
/** The same as people write it by hand: numbers beside the kind, by their names, and what is left out left out. */
export const looseSpecSchema = z
  .looseObject({ kind: z.enum(SPEC_KINDS) })
  .transform((raw, context) => {
    const { values = {}, ...rest } = raw as Record<string, unknown>;
    const named = Object.fromEntries(VALUE_NAMES.flatMap((name) => (rest[name] === undefined ? [] : [[name, rest[name]]])));
    const known = new Set<string>([...VALUE_NAMES, 'kind', 'designation', 'shape', 'hand', 'size', 'inside', 'thread']);
    for (const key of Object.keys(rest)) if (!known.has(key)) context.addIssue({ code: 'custom', path: [key], message: 'no component has such a value' });
    return { ...rest, values: { ...(typeof values === 'object' ? values : {}), ...named } };
  })
  .pipe(componentSpecSchema);

export type ComponentSpec = z.infer<typeof componentSpecSchema>;
