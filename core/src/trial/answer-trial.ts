import type { SetUpParts } from '#core/carrier';
import { issue, type Issue } from '#core/issues';
import { type FlatPoint, placeOnPiece } from '#core/outline';
import type { TrialRecord } from '#core/records';
import type { Operation } from './operations/operation.ts';
import { planOperation } from './operations/plan-operation.ts';
import { writeOperation } from './operations/write-program.ts';
import { readChannels } from './channels/read-channels.ts';
import { Region } from './region/region.ts';
import { secondsOf } from './timing.ts';
import { runChannels, toEnd } from './run-trial.ts';
import type { TrialResult } from './trial-result.ts';
import { ofCarrier, readSteps, stockOf, type TrialJob, trialSetting } from './setting.ts';

/** What a trial says: what came out of it, or why it could not be run. Plain data. */
export type TrialAnswer = { readonly faults: readonly Issue[] } | ({ readonly faults?: undefined } & Omit<TrialResult, 'stock'>);

/** What a stored trial asks for. */
export const jobOf = ({ spindle, zero, zeros, contour, stock, clearance, tolerance, support }: TrialRecord): TrialJob => ({
  spindle,
  zero,
  contour: contour ?? undefined,
  stock: stock ?? undefined,
  support: support ?? undefined,
  zeros,
  clearance,
  tolerance,
});

/** A cut that would be written: its blocks, and what they do; or why there are none. Plain data. */
export type CutAnswer =
  | { readonly faults: readonly Issue[] }
  | {
      readonly faults?: undefined;
      readonly text: string;
      readonly notes: readonly Issue[];
      /** mm3 taken away; mm that are fed; s that it takes. */
      readonly removedVolume: number;
      readonly fed: number;
      readonly time: number;
      /** The ways of the programmed point, [z, x] of the part. */
      readonly ways: readonly { readonly isRapid: boolean; readonly points: readonly FlatPoint[] }[];
    };

/** Writes a cut from the contour of a stored trial. `work`: closed polygons of what is there before it; without them its stock. */
export function answerCut(parts: SetUpParts, record: TrialRecord, op: Operation, work: readonly (readonly FlatPoint[])[] | undefined): CutAnswer {
  const setting = trialSetting(parts, jobOf(record));
  const stock = stockOf(setting);
  if (!stock) return { faults: [issue('trial.no-stock', { spindle: record.spindle, name: parts.setUp.name })] };
  const plan = planOperation(setting, op, work ? Region.ofLoops(work) : Region.ofProfile(stock));
  if (!plan.ok) return { faults: plan.issues };
  const { moves, loaded, notes, removedVolume, fed } = plan.value;
  const { Z, X } = loaded.edge.atWork;
  const text = writeOperation(plan.value, op, setting);
  const steps = readSteps(text, 'cut', ofCarrier(setting, op.carrier));
  const { largestSpeed } = parts.machine.spindles[record.spindle] ?? parts.machine.spindles.main;
  const time = steps.ok
    ? steps.value.steps.reduce((s, m) => s + (m.kind === 'move' ? secondsOf(m.path, m.isRapid, m.feed, m.spindle, largestSpeed) : 0), 0)
    : 0;
  const ways = moves.map(({ kind, path }) => {
    const points = path.kind === 'line' ? [path.from, path.to] : Array.from({ length: DRAWN + 1 }, (_, i) => placeOnPiece(path, i / DRAWN));
    return { isRapid: kind === 'rapid', points: points.map(([z, x]): FlatPoint => [z + Z, x + X]) };
  });
  return { text, notes, removedVolume, fed, time, ways };
}

// Chords of an arc that is drawn.
const DRAWN = 12;

/** Runs a stored trial from its programs to their end. */
export function answerTrial(parts: SetUpParts, record: TrialRecord): TrialAnswer {
  const setting = trialSetting(parts, jobOf(record));
  const stock = stockOf(setting);
  if (!stock) return { faults: [issue('trial.no-stock', { spindle: record.spindle, name: parts.setUp.name })] };
  const read = readChannels(record.programs, setting);
  if (!read.ok) return { faults: read.issues };
  const { stock: _, ...result } = toEnd(runChannels(setting, read.value.channels, stock));
  return { ...result, warnings: [...result.warnings, ...read.value.warnings] };
}
