import type { TableTool } from '#core/components';
import { shapeFileName, writeSolidShape } from '#core/outline';
import type { AnyRecord } from '#core/records';
import { componentOfSpec, makeOfSpec, remake } from '#core/sources';
import { runShown } from '../app/jobs.tsx';
import { recordsChanged } from '../app/library-slice.ts';
import { selectComponents, store } from '../app/store.ts';
import { newId } from '../common/new-id.ts';
import type { ReopenedModel } from '../workers/geometry.worker.ts';
import { putBlob } from './blobs.ts';
import { nameBeside, namesOf } from './free-name.ts';
import { keepModel } from './models.ts';

const now = () => new Date().toISOString();

/** Puts the tools of a table on the Shelf, all of them or none, as one step of the history. Those that are there by their name are made anew instead of twice. */
export async function addTools(tools: readonly TableTool[], fileName: string): Promise<{ readonly added: number; readonly renewed: number } | undefined> {
  const title = `Making ${tools.length} tools of ${fileName}`;
  const shapes = tools.map(({ made, name }) => ({ bytes: writeSolidShape(made.part.shape), fileName: shapeFileName(name.replace(/[\\/:]/g, '-')) }));
  const models = await runShown<ReopenedModel[]>(title, { job: 'making tools', limitSeconds: 60 + 3 * tools.length }, (remote, progress) =>
    remote.modelsOfShapes(shapes, progress),
  );
  if (!models) return undefined;
  const known = new Map(selectComponents(store.getState()).flatMap((c) => (c.source.kind === 'data' ? [[c.name, c] as const] : [])));
  const taken = namesOf('component');
  const after: Record<string, AnyRecord> = {};
  let renewed = 0;
  for (const [i, { name, spec, made }] of tools.entries()) {
    const { blob, model, made: summary } = models[i];
    keepModel(blob, model);
    await putBlob(model, blob);
    const before = known.get(name);
    // Of two rows of one name the first renews it, the other is another tool.
    if (before && !after[before.id]) {
      renewed++;
      after[before.id] = { ...remake(before, makeOfSpec(spec, made.part), blob, summary).record, changedAt: now() };
      continue;
    }
    const record = componentOfSpec(spec, made.part, { id: newId(), name: nameBeside(name, taken), now: now(), modelBlob: blob }, summary);
    taken.add(record.name);
    after[record.id] = record;
  }
  store.dispatch(recordsChanged(`${tools.length} tools of ${fileName}`, after));
  return { added: tools.length - renewed, renewed };
}
