import { z } from 'zod';
import { SENSES } from '#core/cutting';
import { LARGEST_LENGTH } from '#core/math';
import { flatPointSchema } from '#core/outline';
import { connectionSizeSchema } from './mark-records.ts';
import { coordinateSchema, idSchema, nameSchema } from './values.ts';

// Versions and migrations: see migrate.ts.
export const MACHINE_VERSION = 3;

const size = z.number().min(0).max(LARGEST_LENGTH);
const stations = z.number().int().min(1).max(200);

/** From the smaller to the larger value. */
const rangeOf = (value: z.ZodNumber) =>
  z
    .tuple([value, value])
    .refine(([from, to]) => from <= to, 'it goes from the larger value to the smaller one')
    .readonly();
const travelSchema = rangeOf(coordinateSchema);

/** What a shape was measured of: a component, and its model and mount as they were. The shape holds without it. */
const measuredOfSchema = z.object({ component: idSchema, name: nameSchema, inputs: z.string().max(200) });

const stretch = { from: coordinateSchema, to: coordinateSchema };
const isStretch = ({ from, to }: { readonly from: number; readonly to: number }): boolean => from < to;

/** What turns, as cylinders one behind the other along Z of its mount: never inside the true one. */
const measuredChuckSchema = measuredOfSchema.extend({
  steps: z
    .array(z.object({ ...stretch, radius: size }).refine(isStretch, 'it ends before it begins'))
    .min(1)
    .max(100),
});

/** What stands still, as prisms one behind the other along Z of its mount: what the true one covers there, as polygons in X and Y, clockwise around holes. */
const measuredDiscSchema = measuredOfSchema.extend({
  slabs: z
    .array(
      z.object({ ...stretch, outline: z.array(z.array(flatPointSchema).min(3).max(20_000)).min(1).max(500) }).refine(isStretch, 'it ends before it begins'),
    )
    .min(1)
    .max(24),
});
export type MeasuredChuck = z.infer<typeof measuredChuckSchema>;
export type MeasuredDisc = z.infer<typeof measuredDiscSchema>;

/** A chuck or a collet nose by its sizes, mm. It sits on the spindle's nose face; its jaws stand out of its own face, and the work is gripped in a step of theirs. */
export const chuckSchema = z.object({
  diameter: size,
  length: size,
  /** 0: a collet. */
  jaws: z.number().int().min(0).max(12),
  jawHeight: size,
  /** How deep the step is that the work sits in: from the jaws' front to its end. */
  jawStep: size,
  /** The diameter that is gripped when the set-up says nothing of its work. */
  gripped: size,
  bore: size,
  /** Its true shape with its jaws; diameter and length are its own then. */
  measured: measuredChuckSchema.optional(),
});
export type Chuck = z.infer<typeof chuckSchema>;

const spindle = {
  name: nameSchema.min(1),
  chuck: chuckSchema,
  /** 1/min. */
  largestSpeed: z.number().positive().max(1e6),
  /** The code that turns it clockwise, seen from it towards its work. */
  clockwise: z.enum(SENSES),
};
const mainSpindleSchema = z.object(spindle);
const counterSpindleSchema = z.object({
  ...spindle,
  /** Where its nose face can stand, along Z of the machine. */
  travel: travelSchema,
});
export type Spindle = z.infer<typeof mainSpindleSchema>;
export const SPINDLES = ['main', 'counter'] as const;
export type SpindleSide = (typeof SPINDLES)[number];

const carrier = {
  id: idSchema,
  name: nameSchema.min(1),
  /** On which side of the spindle axis it stands; its own X counts away from the axis on that side. */
  side: z.enum(['above', 'below']),
  /**
   * Where its reference can stand, mm in its own turning plane (X on radius): the seat of the station at work, of a swivel head its swivel centre.
   * Without Y it has no such axis.
   */
  travel: z.object({ x: travelSchema, y: travelSchema.nullable(), z: travelSchema }),
  /** What its stations take. */
  connection: connectionSizeSchema,
  /** The bolts that a bolted face has for what sits there, in X and Y of its seat; mm. */
  bolts: z
    .array(z.object({ x: coordinateSchema, y: coordinateSchema, diameter: z.number().positive().max(100) }))
    .max(40)
    .optional(),
  stations,
  /** Stations that drive a tool. */
  driven: z.union([z.literal('all'), z.array(stations).max(200)]),
};

/** What carries tools. Station 1 is the one that its numbers start from; the others follow about the index axis or along the row. */
export const carrierSchema = z.discriminatedUnion('kind', [
  z.object({
    ...carrier,
    kind: z.literal('turret'),
    /** Stations on its rim point at the spindle axis, those on its face along it, towards the spindle that it faces. */
    mounting: z.enum(['rim', 'face']),
    faces: z.enum(SPINDLES),
    /** From the index axis, which is parallel to Z, to the stations' seats. */
    radius: size,
    disc: z.object({ diameter: size, width: size, measured: measuredDiscSchema.optional() }),
    /** Whether station 2 comes to work by a turn about +Z or about -Z. */
    numbered: z.union([z.literal(1), z.literal(-1)]),
  }),
  z.object({
    ...carrier,
    kind: z.literal('slide'),
    row: z.enum(['x', 'y']),
    /** Where station 2 stands beside station 1; negative the other way. */
    pitch: coordinateSchema,
    /** Across: towards the spindle axis. */
    points: z.enum(['across', ...SPINDLES]),
    /** Positions of the slide on diameter, between the reference that its tools are measured from and the spindle axis. */
    reference: travelSchema.nullable(),
  }),
  z.object({
    ...carrier,
    kind: z.literal('swivel head'),
    /** From the swivel centre to the seat, along the tool axis. */
    seat: size,
    /** What the seat sits in, behind it along the tool axis: a nose and the housing behind that, round; `length` is that of both. */
    head: z.object({ noseDiameter: size, noseLength: size, diameter: size, length: size, measured: measuredDiscSchema.optional() }).optional(),
    /** Degrees of the head: 0 upright, pointing at the spindle axis; 90 towards the main chuck. */
    range: rangeOf(z.number().min(-360).max(360)),
  }),
]);
export type Carrier = z.infer<typeof carrierSchema>;
export type CarrierOf<K extends Carrier['kind']> = Extract<Carrier, { kind: K }>;

// Below are the codes of ISO 6983 itself.
const LEAST_WAIT = 31;
/** What is taken until a machine says its own: three digits are the builder's to give. */
export const USUAL_WAITS = [100, 199] as const;

/** How a control counts. */
export const controlSchema = z.object({
  /** Whether X is told as a diameter. */
  diameters: z.boolean(),
  /** What the control calls the tip orientations 1 to 9 of ISO. */
  tipNumbers: z.array(z.number().int().min(0).max(99)).length(9),
  /** A control's swivel angle is sense (angle of the head - zero), brought into its range. */
  swivel: z.object({
    zero: z.number().min(-360).max(360),
    sense: z.union([z.literal(1), z.literal(-1)]),
    range: rangeOf(z.number().min(-720).max(720)),
  }),
  toolDigits: z.number().int().min(1).max(8),
  offsetDigits: z.number().int().min(1).max(8),
  offsetsPerTool: z.number().int().min(1).max(99),
  /** M codes at which its channels wait for each other, the first and the last. */
  waits: rangeOf(z.number().int().min(LEAST_WAIT).max(9999)),
});
export type Control = z.infer<typeof controlSchema>;

/** A machine, as far as its tools are concerned. Its frame is the turning plane of the main spindle at its nose face (ISO 841); mm and degrees. */
export const machineSchema = z
  .object({
    kind: z.literal('machine'),
    version: z.literal(MACHINE_VERSION),
    id: idSchema,
    name: nameSchema.min(1),
    unit: z.enum(['mm', 'inch']),
    spindles: z.object({ main: mainSpindleSchema, counter: counterSpindleSchema.nullable() }),
    carriers: z.array(carrierSchema).min(1).max(12),
    control: controlSchema,
    createdAt: z.string(),
    changedAt: z.string(),
  })
  .refine(({ carriers }) => new Set(carriers.map((c) => c.id)).size === carriers.length, { message: 'two carriers have the same id', path: ['carriers'] });
export type MachineRecord = z.infer<typeof machineSchema>;

/** The machine with other ids of the components that its shapes were measured of. */
export function machineWithIds(machine: MachineRecord, idOf: (id: string) => string): MachineRecord {
  const renamed = <T extends { readonly measured?: MeasuredChuck | MeasuredDisc }>(shape: T): T =>
    shape.measured ? { ...shape, measured: { ...shape.measured, component: idOf(shape.measured.component) } } : shape;
  const chucked = <T extends { readonly chuck: Chuck }>(spindle: T): T => ({ ...spindle, chuck: renamed(spindle.chuck) });
  const { main, counter } = machine.spindles;
  const renamedOn = (c: Carrier): Carrier => {
    if (c.kind === 'turret') return { ...c, disc: renamed(c.disc) };
    return c.kind === 'swivel head' && c.head ? { ...c, head: renamed(c.head) } : c;
  };
  return {
    ...machine,
    spindles: { main: chucked(main), counter: counter && chucked(counter) },
    carriers: machine.carriers.map(renamedOn),
  };
}

/** Whether a station drives a tool. */
export const isDriven = ({ driven }: Pick<Carrier, 'driven'>, station: number): boolean => driven === 'all' || driven.includes(station);
