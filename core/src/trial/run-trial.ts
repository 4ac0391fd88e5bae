import { areaOfPolygon, flattenPath, type HalfProfile } from '#core/outline';
import { inTime } from './channels/in-time.ts';
import type { ChannelSteps } from './channels/read-channels.ts';
import type { Step } from './program/moves.ts';
import { Run } from './run.ts';
import type { TrialSetting } from './setting.ts';
import type { TrialResult } from './trial-result.ts';

/** Runs the channels of a trial together: cuts the stock, and tells what goes wrong. Gives way between moves, with how far it is (0 to 1). */
export function* runChannels(setting: TrialSetting, channels: readonly ChannelSteps[], stock: HalfProfile): Generator<number, TrialResult> {
  const run = new Run(setting, channels, stock);
  const spindle = setting.parts.machine.spindles[setting.job.spindle] ?? setting.parts.machine.spindles.main;
  const times = inTime(
    channels.map((c) => c.steps),
    spindle.largestSpeed,
  );
  let next = times.next();
  for (let i = 0; !next.done; next = times.next()) {
    if (i++ % 64 === 0) yield next.value.share;
    run.together(next.value);
  }
  return run.result(next.value);
}

/** Runs the steps of one program. */
export const runTrial = (setting: TrialSetting, steps: readonly Step[], stock: HalfProfile): Generator<number, TrialResult> =>
  runChannels(setting, [{ index: 0, name: '', setting, steps }], stock);

/** The same at once. */
export const runToEnd = (setting: TrialSetting, steps: readonly Step[], stock: HalfProfile): TrialResult => toEnd(runTrial(setting, steps, stock));

/** What a run gives, without pauses. */
export function toEnd(run: Generator<number, TrialResult>): TrialResult {
  let step = run.next();
  while (!step.done) step = run.next();
  return step.value;
}

/** What comes out of a trial as what another one starts with: its pieces, hollows in them left out. */
export const wholePieces = (part: HalfProfile): HalfProfile => part.filter((loop) => areaOfPolygon(flattenPath(loop, 0.01, false)) > 0);
