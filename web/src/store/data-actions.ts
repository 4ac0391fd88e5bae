import { type ComponentSpec, type MadePart, makeComponent, sayUnmade } from '#core/components';
import type { ComponentRecord } from '#core/records';
import { componentOfSpec, makeOfSpec, remake } from '#core/sources';
import { recordsChanged } from '../app/library-slice.ts';
import { showProblem } from '../app/notify.tsx';
import { componentOpened } from '../app/session-slice.ts';
import { selectComponent, store } from '../app/store.ts';
import { newId } from '../common/new-id.ts';
import { freeName } from './free-name.ts';
import { makeShapeModel } from './outline-actions.ts';

const now = () => new Date().toISOString();

/** Makes a component of data and puts it on the Shelf; undefined where its model could not be made. */
export async function addOfData(spec: ComponentSpec, part: MadePart): Promise<string | undefined> {
  const made = await makeShapeModel(part.shape, part.name.replace(/[\\/:]/g, '-'));
  if (!made) return undefined;
  const name = freeName(part.name, 'component');
  const record = componentOfSpec(spec, part, { id: newId(), name, now: now(), modelBlob: made.blob }, made.made);
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
    const made = await makeShapeModel(m.part.shape, m.part.name.replace(/[\\/:]/g, '-'));
    const current = selectComponent(store.getState(), id);
    if (!made || !current) return false;
    // Another number was changed while this was made: it is made again with both.
    if (current.source !== before.source) continue;
    const { record, lost } = remake(current, makeOfSpec(spec, m.part), made.blob, made.made);
    // What is called by its numbers is called by the new ones.
    const renamed = current.name === nameOf(before) ? { ...record, name: freeName(m.part.name, 'component') } : record;
    store.dispatch(recordsChanged(label, { [id]: { ...renamed, changedAt: now() } }));
    if (lost.length > 0) showProblem(`${renamed.name} was made anew. No longer there: ${lost.join('; ')}.`);
    return true;
  }
}

function nameOf({ source }: ComponentRecord): string | undefined {
  const m = source.kind === 'data' ? makeComponent(source.spec) : undefined;
  return m?.ok ? m.part.name : undefined;
}
