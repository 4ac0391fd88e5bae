import { type ComponentSpec, type MadePart, makeComponent, sayUnmade } from '#core/components';
import { AS_USUAL, type ToolUse } from '#core/cutting';
import { writeSolidShape } from '#core/outline';
import type { ComponentRecord } from '#core/records';
import { componentOfSpec, makeOfSpec, modelKeyOf, type NewMake, remake, summaryOfShape } from '#core/sources';
import { runShown } from '../app/jobs.tsx';
import { recordsChanged } from '../app/library-slice.ts';
import { showProblem } from '../app/notify.tsx';
import { componentOpened } from '../app/session-slice.ts';
import { selectComponent, store } from '../app/store.ts';
import type { ReopenedModel } from '../workers/geometry.worker.ts';
import { newId } from '../common/new-id.ts';
import { freeName } from './free-name.ts';
import { putBlob } from './blobs.ts';
import { keepModel } from './models.ts';

const now = () => new Date().toISOString();

/** Puts a component of data on the Shelf; its model is made when it is looked at. */
export function addOfData(spec: ComponentSpec, part: MadePart, set: string | null = null, use: ToolUse = AS_USUAL): string {
  const name = freeName(part.name, 'component', set);
  const made = componentOfSpec(spec, part, { id: newId(), name, now: now(), use });
  const record = { ...made, shelf: { ...made.shelf, set } };
  store.dispatch(recordsChanged(`${name} on the Shelf`, { [record.id]: record }));
  store.dispatch(componentOpened(record.id));
  return record.id;
}

/** Makes a component of data anew of what is said of it now, as one step of the history; what was marked by hand stays, and so does what is changed meanwhile. Whether it was done. */
export async function changeSpec(id: string, label: string, change: (spec: ComponentSpec) => ComponentSpec): Promise<boolean> {
  for (;;) {
    const before = selectComponent(store.getState(), id);
    if (before?.source.kind !== 'data') return false;
    const spec = change(before.source.spec);
    const m = makeComponent(spec);
    if (!m.ok) {
      showProblem(`${label} was left: ${sayUnmade(m).join('; ')}.`);
      return false;
    }
    const make = makeOfSpec(spec, m.part);
    const made = await modelOfChanged(before, make);
    const current = selectComponent(store.getState(), id);
    if (!made || !current) return false;
    // Another number was changed while this was made: it is made again with both.
    if (current.source !== before.source) continue;
    const { record, lost } = remake(current, make, made.blob, made.made);
    // What is called by its numbers is called by the new ones.
    const renamed = current.name === nameOf(before) ? { ...record, name: freeName(m.part.name, 'component', record.shelf.set) } : record;
    store.dispatch(recordsChanged(label, { [id]: { ...renamed, changedAt: now() } }));
    if (lost.length > 0) showProblem(`${renamed.name} was made anew. No longer there: ${lost.join('; ')}.`);
    return true;
  }
}

// The model of a component whose numbers have changed: what is cut, added or moved on it is made again with it, all else when it is looked at.
async function modelOfChanged(before: ComponentRecord, { source }: NewMake): Promise<Pick<ReopenedModel, 'blob' | 'made'> | undefined> {
  if (before.cuts.length + before.inserts.length + before.moves.length === 0) return { blob: modelKeyOf(source), made: summaryOfShape(source.shape) };
  const bytes = writeSolidShape(source.shape);
  const made = await runShown<ReopenedModel>(`Making ${before.name}`, { job: `making ${before.name}`, limitSeconds: 90 }, (remote, progress) =>
    remote.reopen({ ...before, source }, bytes, progress),
  );
  if (!made) return undefined;
  keepModel(made.blob, made.model);
  await putBlob(made.model, made.blob);
  return made;
}

function nameOf({ source }: ComponentRecord): string | undefined {
  const m = source.kind === 'data' ? makeComponent(source.spec) : undefined;
  return m?.ok ? m.part.name : undefined;
}
