import { failed } from '#core/issues';
import { counterClockwise, flatPointSchema, frontOf, halfProfileSchema, type HalfProfile, loopThrough, turnedRound, validateProfile } from '#core/outline';
import { type Channel, LONGEST_PROGRAM, type MachineRecord, readText, TRIAL_VERSION, type TrialRecord } from '#core/records';
import { z } from 'zod';
import { recordsChanged } from '../app/library-slice.ts';
import { showIssues, showWarnings } from '../app/notify.tsx';
import { type RootState, store } from '../app/store.ts';
import type { PartSection } from '#core/sources';
import { ofCarrier, readSteps, type TrialSetting } from '#core/trial';
import { newId } from '../common/new-id.ts';
import { saveFile } from '../common/save-file.ts';
import { geometryClient } from '../workers/geometry-client.ts';
import { freeName } from './free-name.ts';

const now = () => new Date().toISOString();

export function selectTrial(state: RootState, id: string | null | undefined): TrialRecord | undefined {
  const record = id ? state.library.records[id] : undefined;
  return record?.kind === 'trial' ? record : undefined;
}

/** Starts a trial on a set-up and gives its id: its zero is the face of what is gripped. */
export function newTrial(setUpId: string): string {
  const id = newId();
  const name = freeName('Trial', 'trial');
  const setUp = store.getState().library.records[setUpId];
  const record: TrialRecord = {
    kind: 'trial',
    version: TRIAL_VERSION,
    id,
    name,
    setUpId,
    spindle: 'main',
    zero: (setUp?.kind === 'set-up' && setUp.blanks.main?.length) || 0,
    zeros: {},
    contour: null,
    stock: null,
    support: null,
    programs: [{ name: 'program.nc', text: '', carrier: null }],
    clearance: 0.5,
    tolerance: 0.005,
    createdAt: now(),
    changedAt: now(),
  };
  store.dispatch(recordsChanged(`New trial ${name}`, { [id]: record }));
  return id;
}

/** Starts a trial on what another one leaves, its other end in front: in the counter spindle where there is one. Gives its id. */
export function furtherTrial(trial: TrialRecord, part: HalfProfile, machine: MachineRecord): string {
  const id = newId();
  const name = freeName(`${trial.name}, other side`, 'trial');
  const spindle = trial.spindle === 'main' && machine.spindles.counter ? 'counter' : 'main';
  const { chuck } = machine.spindles[spindle] ?? machine.spindles.main;
  const stock = turnedRound(part);
  const length = frontOf(part) - Math.min(...part.flat().flatMap((p) => [p.from[0], p.to[0]]));
  const record: TrialRecord = {
    ...trial,
    id,
    name,
    spindle,
    stock,
    contour: null,
    support: null,
    zeros: {},
    // As deep in the jaws as they are.
    zero: Math.max(0, length - chuck.jawStep),
    programs: [{ name: 'program.nc', text: '', carrier: null }],
    createdAt: now(),
    changedAt: now(),
  };
  store.dispatch(recordsChanged(`New trial ${name}`, { [id]: record }));
  return id;
}

/** Changes a trial as one step of the history. */
export function changeTrial(id: string, label: string, change: Partial<TrialRecord>): void {
  const record = selectTrial(store.getState(), id);
  if (record) store.dispatch(recordsChanged(label, { [id]: { ...record, ...change, changedAt: now() } }));
}

export function deleteTrial(record: TrialRecord): void {
  store.dispatch(recordsChanged(`Deleted ${record.name}`, { [record.id]: null }));
}

/** Changes one of the programs of a trial. */
export function changeProgram(id: string, index: number, label: string, change: Partial<Channel>): void {
  const record = selectTrial(store.getState(), id);
  if (record) changeTrial(id, label, { programs: record.programs.map((p, i) => (i === index ? { ...p, ...change } : p)) });
}

/**
 * Adds a program that runs beside the others, of a carrier that none of them moves. Those that are not said to move one are from now on: the first that their tools stand
 * on. Gives its place.
 */
export function addProgram({ id, programs }: TrialRecord, setting: TrialSetting): number {
  const free = setting.parts.machine.carriers.map((c) => c.id).filter((c) => !programs.some((p) => p.carrier === c));
  const take = (suits: (carrier: string) => boolean): string | null => {
    const at = Math.max(0, free.findIndex(suits));
    return free.splice(at, 1).at(0) ?? null;
  };
  const own = programs.map((p) => (p.carrier === null ? { ...p, carrier: take((c) => readSteps(p.text, p.name, ofCarrier(setting, c)).ok) } : p));
  const added = { name: `program-${programs.length + 1}.nc`, text: '', carrier: take(() => true) };
  changeTrial(id, 'Another program', { programs: [...own, added] });
  return programs.length;
}

export function removeProgram({ id, programs }: TrialRecord, index: number): void {
  changeTrial(id, `Program ${programs[index].name} removed`, { programs: programs.filter((_, i) => i !== index) });
}

/** Takes the program of a file; one that is too long is refused. */
export async function openProgram(id: string, index: number, file: File): Promise<void> {
  if (file.size > LONGEST_PROGRAM) {
    showIssues(`Opening ${file.name}`, [
      ...failed('program.too-long', { file: file.name, megabytes: Math.round(file.size / 1e6), limit: LONGEST_PROGRAM / 1e6 }).issues,
    ]);
    return;
  }
  changeProgram(id, index, `Program ${file.name}`, { name: file.name.slice(0, 200), text: await file.text() });
}

export const saveProgram = ({ name, text }: Channel): void => saveFile(name || 'program.nc', new TextEncoder().encode(text), 'text/plain');

const sectionSchema = z.union([z.object({ points: z.array(flatPointSchema).min(3).max(20_000) }), z.object({ loops: halfProfileSchema })]);

/** Takes a half section from a file, as the command line does: its numbers, a drawing, or a model of the part. One that cannot be turned is refused. */
export async function openSection(id: string, what: 'contour' | 'stock', file: File): Promise<void> {
  if (!/\.json$/i.test(file.name)) {
    const bytes = new Uint8Array(await file.arrayBuffer());
    const read = await geometryClient.run<PartSection>({ job: `reading ${file.name}`, limitSeconds: 120 }, (remote) => remote.partSection(bytes, file.name));
    if (read.state === 'done') {
      showWarnings(file.name, read.value.warnings);
      takeSection(id, what, read.value.profile, file.name);
    }
    if (read.state === 'failed') showIssues(`Opening ${file.name}`, read.issues);
    return;
  }
  const read = readText(sectionSchema, await file.text(), file.name, 'half section');
  if (!read.ok) {
    showIssues(`Opening ${file.name}`, read.issues);
    return;
  }
  takeSection(id, what, 'points' in read.value ? [counterClockwise(loopThrough(read.value.points))] : read.value.loops, file.name);
}

/** Takes a half section; one that cannot be turned is refused. */
export function takeSection(id: string, what: 'contour' | 'stock', profile: HalfProfile, name: string): void {
  const [fault] = validateProfile(profile);
  if (fault !== undefined) {
    showIssues(name, failed('record.bad', { file: name, field: what, text: fault }).issues);
    return;
  }
  changeTrial(id, `${what === 'contour' ? 'Contour' : 'Stock'} from ${name}`, { [what]: profile });
}
