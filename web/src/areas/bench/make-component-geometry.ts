import { type ComponentRecord, type GeometryChoice, type GeometryTarget, type MadeGeometry } from '#core/records';
import { runShown } from '../../app/jobs.tsx';
import { changeComponent } from '../../app/store.ts';
import { putBlob } from '../../store/blobs.ts';
import { sourceBytes } from '../../store/source-bytes.ts';
import { readLimitSeconds } from '../../workers/geometry-client.ts';

/** Makes the light geometry of one target in the worker, with progress, and keeps it: one step of the history. False where it was stopped or refused. */
export async function makeComponentGeometry(record: ComponentRecord, target: GeometryTarget, choice: GeometryChoice): Promise<boolean> {
  const bytes = await sourceBytes(record);
  if (!bytes) return false;
  const result = await runShown<{ geometry: MadeGeometry; blob: Uint8Array<ArrayBuffer> }>(
    `Making ${choice.mode} geometry of ${record.name}`,
    { job: `making ${choice.mode} geometry`, limitSeconds: 120 + 2 * readLimitSeconds(bytes.length) },
    (remote, progress) => remote.makeGeometry(record, bytes, target, choice, progress),
  );
  if (!result) return false;
  await putBlob(result.blob, result.geometry.blob);
  changeComponent(record.id, `Made ${choice.mode} geometry, ${target}${choice.drawn ? ', with its profile changed' : ''}`, (r) => ({
    geometry: [...r.geometry.filter((g) => g.target !== target), result.geometry],
  }));
  return true;
}
