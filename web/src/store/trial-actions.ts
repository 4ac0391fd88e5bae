import { failed } from '#core/issues';
import { counterClockwise, flatPointSchema, frontOf, halfProfileSchema, type HalfProfile, loopThrough, turnedRound, validateProfile } from '#core/outline';
import { LONGEST_PROGRAM, type MachineRecord, readText, TRIAL_VERSION, type TrialRecord } from '#core/records';
import { z } from 'zod';
import { recordsChanged } from '../app/library-slice.ts';
import { showIssues, showWarnings } from '../app/notify.tsx';
import { type RootState, store } from '../app/store.ts';
import type { PartSection } from '#core/sources';
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
    contour: null,
    stock: null,
    support: null,
    program: { name: 'program.nc', text: '' },
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
    // As deep in the jaws as they are.
    zero: Math.max(0, length - chuck.jawStep),
    program: { name: 'program.nc', text: '' },
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

/** Takes the program of a file; one that is too long is refused. */
export async function openProgram(id: string, file: File): Promise<void> {
  if (file.size > LONGEST_PROGRAM) {
    showIssues(`Opening ${file.name}`, [
      ...failed('program.too-long', { file: file.name, megabytes: Math.round(file.size / 1e6), limit: LONGEST_PROGRAM / 1e6 }).issues,
    ]);
    return;
  }
  changeTrial(id, `Program ${file.name}`, { program: { name: file.name.slice(0, 200), text: await file.text() } });
}

export const saveProgram = ({ program }: TrialRecord): void => saveFile(program.name || 'program.nc', new TextEncoder().encode(program.text), 'text/plain');

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
