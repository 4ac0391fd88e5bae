// What is asked of a worker about machines, set-ups and trials. Models that are not held come with a question, encoded, by their hash.
import booleansUrl from 'manifold-3d/manifold.wasm?url';
import { chuckLike, discLike, headLike, headRoom, type HeadRoom, type Room, roomOf, type SetUpParts, setUpTable } from '#core/carrier';
import { done, type Result } from '#core/issues';
import { loadFlatBooleans } from '#core/kernel';
import type { FlatPoint } from '#core/outline';
import type { CarrierOf, Chuck, ComponentRecord, TrialRecord } from '#core/records';
import {
  answerCut,
  answerTrial,
  type CutAnswer,
  type CutAt,
  cutsOverTime,
  jobOf,
  type Operation,
  type Reach,
  reachOf,
  type ReachOverAngles,
  type Recording,
  reachOverAngles,
  type TrialAnswer,
  trialSetting,
} from '#core/trial';
import { modelsOf } from './held-models.ts';
import type { JobAnswer, Progress } from './job-answer.ts';

function withModels(parts: Omit<SetUpParts, 'models'>, sent: Readonly<Record<string, Uint8Array>>): Result<SetUpParts> {
  const models = modelsOf(
    Object.values(parts.components).filter((c) => c !== undefined),
    sent,
  );
  return models.ok ? done({ ...parts, models: models.value }) : models;
}

export const machineJobs = {
  /** A chuck with the shape of a component. */
  chuckLike(chuck: Chuck, component: ComponentRecord, sent: Readonly<Record<string, Uint8Array>>): JobAnswer<Chuck> {
    const models = modelsOf([component], sent);
    return models.ok ? chuckLike(chuck, component, models.value[component.id]) : models;
  },

  /** A turret's disc with the shape of a component. */
  async discLike(component: ComponentRecord, sent: Readonly<Record<string, Uint8Array>>): Promise<JobAnswer<CarrierOf<'turret'>['disc']>> {
    const models = modelsOf([component], sent);
    return models.ok ? discLike(component, models.value[component.id], await loadFlatBooleans({ booleansUrl })) : models;
  },

  /** A swivel head with the shape of a component. */
  async headLike(component: ComponentRecord, sent: Readonly<Record<string, Uint8Array>>): Promise<JobAnswer<NonNullable<CarrierOf<'swivel head'>['head']>>> {
    const models = modelsOf([component], sent);
    return models.ok ? headLike(component, models.value[component.id], await loadFlatBooleans({ booleansUrl })) : models;
  },

  /** How much room a set-up leaves. */
  room(parts: Omit<SetUpParts, 'models'>, sent: Readonly<Record<string, Uint8Array>>): JobAnswer<Room> {
    const whole = withModels(parts, sent);
    return whole.ok ? done(roomOf(setUpTable(whole.value), whole.value)) : whole;
  },

  /** Runs the program of a trial. */
  trial(parts: Omit<SetUpParts, 'models'>, record: TrialRecord, sent: Readonly<Record<string, Uint8Array>>): JobAnswer<TrialAnswer> {
    const whole = withModels(parts, sent);
    return whole.ok ? done(answerTrial(whole.value, record)) : whole;
  },

  /** How hard the edges of a run work, over its time. */
  cutsOverTime(recording: Recording): JobAnswer<readonly CutAt[]> {
    return done(cutsOverTime(recording));
  },

  /** Writes a cut from the contour of a trial; `work`: what is there before it, else its stock. */
  cut(
    parts: Omit<SetUpParts, 'models'>,
    record: TrialRecord,
    op: Operation,
    work: readonly (readonly FlatPoint[])[] | undefined,
    sent: Readonly<Record<string, Uint8Array>>,
  ): JobAnswer<CutAnswer> {
    const whole = withModels(parts, sent);
    return whole.ok ? done(answerCut(whole.value, record, op, work)) : whole;
  },

  /** What the edges of a trial's set-up can cut of its contour; null where there is none. */
  reach(parts: Omit<SetUpParts, 'models'>, record: TrialRecord, sent: Readonly<Record<string, Uint8Array>>): JobAnswer<Reach | null> {
    const whole = withModels(parts, sent);
    return whole.ok ? done(reachOf(trialSetting(whole.value, jobOf(record))) ?? null) : whole;
  },

  /** What an edge of a place makes of a trial's contour over the angles of its swivel head. */
  reachOverAngles(
    parts: Omit<SetUpParts, 'models'>,
    record: TrialRecord,
    placeId: string,
    edge: number,
    sent: Readonly<Record<string, Uint8Array>>,
    progress: Progress,
  ): JobAnswer<ReachOverAngles> {
    const whole = withModels(parts, sent);
    if (!whole.ok) return whole;
    const looking = reachOverAngles(whole.value, jobOf(record), placeId, edge);
    let step = looking.next();
    for (; !step.done; step = looking.next()) progress(step.value, 'looking at the angles');
    return done(step.value);
  },

  /** How much room an edge of a place leaves over the angles of its swivel head. */
  headRoom(parts: Omit<SetUpParts, 'models'>, placeId: string, edge: number, sent: Readonly<Record<string, Uint8Array>>): JobAnswer<HeadRoom> {
    const whole = withModels(parts, sent);
    if (!whole.ok) return whole;
    const row = setUpTable(whole.value).stations.find((s) => s.place.id === placeId);
    const at = row?.edges[edge];
    if (!at || row.carrier?.kind !== 'swivel head') return done({ angles: [], clear: [] });
    return done(headRoom(whole.value, row.place, row.carrier, at));
  },
};
