import type { SetUpParts } from '#core/carrier';
import { issue, type Issue } from '#core/issues';
import type { TrialRecord } from '#core/records';
import { runTrial, type TrialResult } from './run-trial.ts';
import { readSteps, stockOf, type TrialJob, trialSetting } from './setting.ts';

/** What a trial says: what came out of it, or why it could not be run. Plain data. */
export type TrialAnswer = { readonly faults: readonly Issue[] } | ({ readonly faults?: undefined } & Omit<TrialResult, 'stock'>);

/** What a stored trial asks for. */
export const jobOf = ({ spindle, zero, contour, stock, clearance, tolerance }: TrialRecord): TrialJob => ({
  spindle,
  zero,
  contour: contour ?? undefined,
  stock: stock ?? undefined,
  zeros: {},
  clearance,
  tolerance,
});

/** Runs a stored trial from its program to its end. */
export function answerTrial(parts: SetUpParts, record: TrialRecord): TrialAnswer {
  const setting = trialSetting(parts, jobOf(record));
  const stock = stockOf(setting);
  if (!stock) return { faults: [issue('trial.no-stock', { spindle: record.spindle, name: parts.setUp.name })] };
  const read = readSteps(record.program.text, record.program.name, setting);
  if (!read.ok) return { faults: read.issues };
  const job = runTrial(setting, read.value.steps, stock);
  let step = job.next();
  while (!step.done) step = job.next();
  const { stock: _, ...result } = step.value;
  return { ...result, warnings: [...result.warnings, ...read.value.warnings] };
}
