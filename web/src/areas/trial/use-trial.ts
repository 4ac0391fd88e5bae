import { useMemo } from 'react';
import type { SetUpParts } from '#core/carrier';
import type { MachineRecord, SetUpRecord, TrialRecord } from '#core/records';
import { type CutAnswer, type CutAt, jobOf, type Operation, type Reach, Replay, type TrialAnswer, type TrialSetting, trialSetting } from '#core/trial';
import { useAppSelector } from '../../app/store.ts';
import { machineOf, selectSetUp } from '../../store/set-up-actions.ts';
import { modelsFor } from '../../workers/geometry-client.ts';
import { useAsked } from '../../workers/use-asked.ts';
import { useSetUp } from '../carrier/use-set-up.ts';

export interface OpenTrial {
  readonly parts: SetUpParts;
  readonly setting: TrialSetting;
  readonly isLoading: boolean;
  /** What came out of it, once it is known of what is shown now. */
  readonly answer: TrialAnswer | undefined;
  readonly isRunning: boolean;
  readonly replay: Replay | undefined;
  /** How hard the edges work over time, where that was asked for. */
  readonly cuts: readonly CutAt[] | undefined;
  /** What the edges can cut of the contour, where that was asked for. */
  readonly reach: Reach | undefined;
  readonly isLooking: boolean;
  /** What the cut that is being written would be, where there is one; `isReady` where it is known what it is made of. */
  readonly cut: CutAnswer | undefined;
  readonly isCutReady: boolean;
}

/** What is looked at. */
interface Wanted {
  readonly wantsReach: boolean;
  readonly wantsCuts: boolean;
  /** The cut that is being written. */
  readonly op: Operation | undefined;
}

/** A trial with its set-up, run anew whenever one of them changes. */
export function useTrial(trial: TrialRecord, setUp: SetUpRecord, machine: MachineRecord, { wantsReach, wantsCuts, op }: Wanted): OpenTrial {
  const { parts, isLoading } = useSetUp(setUp, machine);
  const setting = useMemo(() => trialSetting(parts, jobOf(trial)), [parts, trial]);
  // Made when something changes, not with every moment that is looked at.
  const where = useMemo(
    () => JSON.stringify([setUp.places, setUp.blanks, setUp.counterAt, machine, Object.values(parts.assemblies), Object.values(parts.components)]),
    [setUp, machine, parts.assemblies, parts.components],
  );
  const key = useMemo(() => {
    const { name: _, createdAt: __, changedAt: ___, ...asked } = trial;
    return `${JSON.stringify(asked)} ${where}`;
  }, [trial, where]);
  const { value: answer, isOpen } = useAsked<TrialAnswer>({
    key,
    isReady: !isLoading && hasText(trial),
    job: 'running the program',
    stillMs: 400,
    ask: async (remote) => {
      const { models, ...rest } = parts;
      return remote.trial(rest, trial, await modelsFor(remote, Object.values(parts.components), models));
    },
  });
  // Program and tolerances are no part of what can be reached.
  const reached = useMemo(
    () => `${JSON.stringify([trial.setUpId, trial.spindle, trial.zero, trial.contour, trial.stock, trial.support])} ${where}`,
    [trial, where],
  );
  const { value: reach, isOpen: isLooking } = useAsked<Reach | null>({
    key: reached,
    isReady: !isLoading && wantsReach && trial.contour !== null,
    job: 'looking what the edges reach',
    stillMs: 250,
    ask: async (remote) => {
      const { models, ...rest } = parts;
      return remote.reach(rest, trial, await modelsFor(remote, Object.values(parts.components), models));
    },
  });
  const replay = useMemo(() => (answer && !answer.faults ? new Replay(answer.recording) : undefined), [answer]);
  const { value: cuts } = useAsked<readonly CutAt[]>({
    key,
    isReady: wantsCuts && answer !== undefined && !answer.faults,
    job: 'looking how hard the edges work',
    stillMs: 0,
    ask: (remote) => (answer && !answer.faults ? remote.cutsOverTime(answer.recording) : Promise.resolve({ ok: false, issues: [] })),
  });
  const hasProgram = hasText(trial);
  const isCutReady = !hasProgram || (answer !== undefined && !answer.faults);
  const { value: cut } = useAsked<CutAnswer>({
    key: `${JSON.stringify(op)} ${key}`,
    isReady: !isLoading && op !== undefined && trial.contour !== null && isCutReady,
    job: 'writing a cut',
    stillMs: 250,
    ask: async (remote) => {
      const { models, ...rest } = parts;
      const work = answer && !answer.faults ? replay?.at(answer.time)?.region.loops : undefined;
      return op ? remote.cut(rest, trial, op, work, await modelsFor(remote, Object.values(parts.components), models)) : { ok: false, issues: [] };
    },
  });
  return { parts, setting, isLoading, answer, isRunning: isOpen, replay, cuts, reach: reach ?? undefined, isLooking, cut: op && cut, isCutReady };
}

/** Whether any program of a trial says anything. */
export const hasText = ({ programs }: TrialRecord): boolean => programs.some((p) => p.text.trim() !== '');

/** The set-up of a trial and its machine, as far as they are there. */
export function useSetUpOf(trial: TrialRecord | undefined): { readonly setUp: SetUpRecord | undefined; readonly machine: MachineRecord | undefined } {
  const setUp = useAppSelector((s) => selectSetUp(s, trial?.setUpId));
  const records = useAppSelector((s) => s.library.records);
  return { setUp, machine: setUp && machineOf(records, setUp.machineId) };
}
