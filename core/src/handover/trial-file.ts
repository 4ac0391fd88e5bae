import { z } from 'zod';
import { done, failed, type Issue, type Result } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { LARGEST_LENGTH } from '#core/math';
import { counterClockwise, flatPointSchema, halfProfileSchema, type HalfProfile, loopThrough, turnedRound, validateProfile, withFrontAt } from '#core/outline';
import { type Channel, MOST_CHANNELS, OTHER_ZEROS, readText, SPINDLES, supportSchema } from '#core/records';
import { readPartSection } from '#core/sources';
import {
  jobOf,
  type Operation,
  operationSchema,
  readChannels,
  runChannels,
  stockOf,
  toEnd,
  type TrialJob,
  trialSetting,
  wholePieces,
  writeProgram,
} from '#core/trial';
import type { SetUpParts } from '#core/carrier';
import { type CookedSetUp, cookSetUp, readSetUp, setUpFileSchema } from './set-up-file.ts';

const length = z.number().min(-LARGEST_LENGTH).max(LARGEST_LENGTH);

/** A half section: places [z, r] that lines join and that closes from the last to the first, or loops of lines and arcs. */
const sectionSchema = z.union([z.object({ points: z.array(flatPointSchema).min(3).max(20_000) }).strict(), z.object({ loops: halfProfileSchema }).strict()]);

/** A trial as a file. Documented in docs/trial.md; mm, Z of the part: 0 at its zero, away from the chuck. */
export const trialFileSchema = z.object({
  /** A set-up file or package, or one itself. */
  setUp: z.union([z.string().min(1), setUpFileSchema]),
  spindle: z.enum(SPINDLES).default('main'),
  /** From the jaws' front to the zero of the part. */
  zero: length,
  contour: z.union([z.string().min(1), sectionSchema]).optional(),
  stock: z
    .union([
      z.string().min(1),
      sectionSchema,
      /** What another trial leaves, its other end in front unless it is not turned round, and where that end stands along Z. */
      z.object({ after: z.string().min(1), turned: z.boolean().default(true), front: length.default(0) }).strict(),
    ])
    .optional(),
  support: supportSchema.optional(),
  program: z.string().min(1).optional(),
  /** Or several that run together, each with the carrier that it moves where its tools do not say so. */
  channels: z
    .array(z.object({ program: z.string().min(1), carrier: z.string().min(1).optional() }).strict())
    .min(2)
    .max(MOST_CHANNELS)
    .optional(),
  /** Cuts that a program is written of, where there is none. */
  operations: z.array(operationSchema).max(200).default([]),
  zeros: z.partialRecord(z.enum(OTHER_ZEROS), length).default({}),
  clearance: z.number().min(0).max(100).default(0.5),
  tolerance: z.number().min(0.0005).max(5).default(0.005),
});
export type TrialFile = z.infer<typeof trialFileSchema>;

/** A trial file with all that it names, read. */
export interface CookedTrial {
  readonly parts: SetUpParts;
  readonly job: TrialJob;
  /** Its programs, read; none where they are written of operations. */
  readonly programs: readonly Channel[];
  readonly operations: readonly Operation[];
  readonly warnings: readonly Issue[];
}

/** Set-ups by the names of their files, and trials that one comes after, the last one first. */
export interface KnownTrials {
  readonly before: readonly string[];
  readonly setUps: Map<string, Result<CookedSetUp>>;
}

/** Reads a trial file and what it names. `fileBytes` gives a file's content by its name. `known`: what was read for others in the same breath. */
export async function cookTrial(
  kernel: Kernel,
  text: string,
  file: string,
  fileBytes: (name: string) => Uint8Array,
  now: string,
  known: KnownTrials = { before: [], setUps: new Map() },
): Promise<Result<CookedTrial>> {
  const read = readText(trialFileSchema, text, file, 'trial');
  if (!read.ok) return read;
  const said = read.value;
  const after = typeof said.stock === 'object' && 'after' in said.stock ? said.stock.after : undefined;
  if (after !== undefined && (after === file || known.before.includes(after) || known.before.length >= MOST_BEFORE))
    return failed('record.bad', { file, field: 'stock', text: `${after} would come after itself` });
  const asText = (name: string) => new TextDecoder().decode(fileBytes(name));
  const parts =
    typeof said.setUp === 'string'
      ? await setUpFrom(kernel, said.setUp, fileBytes, now, known)
      : await cookSetUp(kernel, JSON.stringify(said.setUp), file, fileBytes, { now });
  if (!parts.ok) return parts;
  const notes: Issue[] = [];
  const sectionOf = async (given: TrialFile['stock'], field: string): Promise<Result<HalfProfile | undefined>> => {
    if (given === undefined) return done(undefined);
    if (typeof given === 'object' && 'after' in given) {
      const left = await leftByTrial(kernel, given.after, fileBytes, now, { ...known, before: [file, ...known.before] });
      return left.ok ? done(withFrontAt(given.turned ? turnedRound(left.value) : left.value, given.front)) : left;
    }
    if (typeof given !== 'string') return asProfile(given, file, field);
    if (!/\.json$/i.test(given)) {
      const part = await readPartSection(kernel, fileBytes(given), given);
      if (part.ok) notes.push(...part.value.warnings);
      return part.ok ? done(part.value.profile) : part;
    }
    const section = readText(sectionSchema, asText(given), given, 'half section');
    return section.ok ? asProfile(section.value, given, field) : section;
  };
  const contour = await sectionOf(said.contour, 'contour');
  if (!contour.ok) return contour;
  const stock = await sectionOf(said.stock, 'stock');
  if (!stock.ok) return stock;
  if (!parts.value.machine.spindles[said.spindle])
    return failed('record.bad', { file, field: 'spindle', text: `${parts.value.machine.name} has no ${said.spindle} spindle` });
  const { spindle, zero, zeros, clearance, tolerance, support } = said;
  if (said.program !== undefined && said.channels) return failed('record.bad', { file, field: 'channels', text: 'there is a program beside them' });
  // Carriers are said by id or by name.
  const { name: machineName, carriers } = parts.value.machine;
  const idOf = (carrier: string) => carriers.find((c) => c.id === carrier || c.name === carrier)?.id;
  const channels = said.channels ?? (said.program === undefined ? [] : [{ program: said.program, carrier: undefined }]);
  for (const [field, list] of [
    ['channels', channels],
    ['operations', said.operations],
  ] as const) {
    const odd = list.find(({ carrier }) => carrier !== undefined && idOf(carrier) === undefined)?.carrier;
    if (odd !== undefined) return failed('record.bad', { file, field, text: `${machineName} has no carrier ${odd}` });
  }
  const carrierOf = (carrier: string | undefined) => (carrier === undefined ? undefined : idOf(carrier));
  return done({
    parts: parts.value,
    job: { spindle, zero, zeros, support, clearance, tolerance, contour: contour.value, stock: stock.value },
    programs: channels.map(({ program, carrier }): Channel => ({ name: program, text: asText(program), carrier: carrierOf(carrier) ?? null })),
    operations: said.operations.map((op): Operation => ({ ...op, carrier: carrierOf(op.carrier) })),
    warnings: [...parts.value.warnings, ...notes],
  });
}

async function setUpFrom(
  kernel: Kernel,
  name: string,
  fileBytes: (name: string) => Uint8Array,
  now: string,
  { setUps }: KnownTrials,
): Promise<Result<CookedSetUp>> {
  const before = setUps.get(name);
  if (before) return before;
  // What a set-up file names lies beside it.
  const folder = name.includes('/') ? name.slice(0, name.lastIndexOf('/') + 1) : '';
  const read = await readSetUp(kernel, fileBytes(name), name, (other) => fileBytes(folder + other), { now });
  setUps.set(name, read);
  return read;
}

/** A trial of a set-up's package: the one of that name, or the only one. */
export async function trialOfPackage(kernel: Kernel, bytes: Uint8Array, file: string, name?: string): Promise<Result<CookedTrial>> {
  const read = await readSetUp(kernel, bytes, file, () => new Uint8Array(0), { now: '' });
  if (!read.ok) return read;
  const { trials, warnings } = read.value;
  const found = trials.filter((t) => name === undefined || t.name === name);
  if (found.length !== 1) return failed('package.which-trial', { file, names: trials.map((t) => t.name).join(', ') || 'none' });
  return done({ parts: read.value, job: jobOf(found[0]), programs: found[0].programs, operations: [], warnings });
}

// Trials one after the other.
const MOST_BEFORE = 8;

async function leftByTrial(
  kernel: Kernel,
  file: string,
  fileBytes: (name: string) => Uint8Array,
  now: string,
  known: KnownTrials,
): Promise<Result<HalfProfile>> {
  const asText = (name: string) => new TextDecoder().decode(fileBytes(name));
  const cooked = await cookTrial(kernel, asText(file), file, fileBytes, now, known);
  if (!cooked.ok) return cooked;
  const { parts, job, programs, operations } = cooked.value;
  const setting = trialSetting(parts, job);
  const stock = stockOf(setting);
  if (!stock) return failed('record.bad', { file, field: 'stock', text: 'the set-up has no blank in that spindle; say what is turned' });
  const text = programs.length === 0 ? writeProgram(setting, operations, stock) : undefined;
  if (text && !text.ok) return text;
  const read = readChannels(text ? [{ name: file, text: text.value.text, carrier: text.value.carrier }] : programs, setting);
  if (!read.ok) return read;
  return done(wholePieces(toEnd(runChannels(setting, read.value.channels, stock)).part));
}

function asProfile(given: z.infer<typeof sectionSchema>, file: string, field: string): Result<HalfProfile> {
  const profile = 'points' in given ? [counterClockwise(loopThrough(given.points))] : given.loops.map((l) => [...l]);
  const [fault] = validateProfile(profile);
  return fault === undefined ? done(profile) : failed('record.bad', { file, field, text: fault });
}
