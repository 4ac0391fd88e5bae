import { z } from 'zod';
import { done, failed, type Issue, type Result } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { LARGEST_LENGTH } from '#core/math';
import { counterClockwise, flatPointSchema, halfProfileSchema, type HalfProfile, loopThrough, turnedRound, validateProfile, withFrontAt } from '#core/outline';
import { readText, SPINDLES, supportSchema } from '#core/records';
import { readPartSection } from '#core/sources';
import { type Operation, operationSchema, readSteps, runToEnd, stockOf, type TrialJob, trialSetting, wholePieces, WORK_ZEROS, writeProgram } from '#core/trial';
import type { SetUpParts } from '#core/carrier';
import { cookSetUp, setUpFileSchema } from './set-up-file.ts';

const length = z.number().min(-LARGEST_LENGTH).max(LARGEST_LENGTH);

/** A half section: places [z, r] that lines join and that closes from the last to the first, or loops of lines and arcs. */
const sectionSchema = z.union([z.object({ points: z.array(flatPointSchema).min(3).max(20_000) }).strict(), z.object({ loops: halfProfileSchema }).strict()]);

/** A trial as a file. Documented in docs/trial.md; mm, Z of the part: 0 at its zero, away from the chuck. */
export const trialFileSchema = z.object({
  /** A set-up file, or one itself. */
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
  /** Cuts that a program is written of, where there is none. */
  operations: z.array(operationSchema).max(200).default([]),
  zeros: z.partialRecord(z.enum(WORK_ZEROS), length).default({}),
  clearance: z.number().min(0).max(100).default(0.5),
  tolerance: z.number().min(0.0005).max(5).default(0.005),
});
export type TrialFile = z.infer<typeof trialFileSchema>;

/** A trial file with all that it names, read. */
export interface CookedTrial {
  readonly parts: SetUpParts;
  readonly job: TrialJob;
  /** The name of its program. */
  readonly program: string | undefined;
  readonly operations: readonly Operation[];
  readonly warnings: readonly Issue[];
}

/** Set-ups by the names of their files, and trials that one comes after, the last one first. */
export interface KnownTrials {
  readonly before: readonly string[];
  readonly setUps: Map<string, Result<CookedSetUp>>;
}
type CookedSetUp = Extract<Awaited<ReturnType<typeof cookSetUp>>, { ok: true }>['value'];

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
  const isFile = typeof said.setUp === 'string';
  const setUpName = isFile ? (said.setUp as string) : file;
  // What a set-up file names lies beside it.
  const folder = isFile && setUpName.includes('/') ? setUpName.slice(0, setUpName.lastIndexOf('/') + 1) : '';
  const parts =
    (isFile && known.setUps.get(setUpName)) ||
    (await cookSetUp(kernel, isFile ? asText(setUpName) : JSON.stringify(said.setUp), setUpName, (name) => fileBytes(folder + name), now));
  if (isFile) known.setUps.set(setUpName, parts);
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
  return done({
    parts: parts.value,
    job: { spindle, zero, zeros, support, clearance, tolerance, contour: contour.value, stock: stock.value },
    program: said.program,
    operations: said.operations,
    warnings: [...parts.value.warnings, ...notes],
  });
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
  const { parts, job, program, operations } = cooked.value;
  const setting = trialSetting(parts, job);
  const stock = stockOf(setting);
  if (!stock) return failed('record.bad', { file, field: 'stock', text: 'the set-up has no blank in that spindle; say what is turned' });
  const text = program === undefined ? writeProgram(setting, operations, stock) : done({ text: asText(program), notes: [] });
  if (!text.ok) return text;
  const read = readSteps(text.value.text, program ?? file, setting);
  if (!read.ok) return read;
  return done(wholePieces(runToEnd(setting, read.value.steps, stock).part));
}

function asProfile(given: z.infer<typeof sectionSchema>, file: string, field: string): Result<HalfProfile> {
  const profile = 'points' in given ? [counterClockwise(loopThrough(given.points))] : given.loops.map((l) => [...l]);
  const [fault] = validateProfile(profile);
  return fault === undefined ? done(profile) : failed('record.bad', { file, field, text: fault });
}
