import * as Comlink from 'comlink';
import { type ComponentRecord, type GeometryChoice, type GeometryTarget, type MadeGeometry } from '#core/records';
import { runShown } from '../../../app/jobs.tsx';
import { changeComponent } from '../../../app/store.ts';
import { putBlob } from '../../../store/blobs.ts';
import { keepModel } from '../../../store/models.ts';
import { sourceBytes } from '../../../store/source-bytes.ts';
import { readLimitSeconds } from '../../../workers/geometry-client.ts';
import type { TakeFirst } from '../../../workers/geometry.worker.ts';
import { showComing } from './tried-geometry.ts';

/** Makes the light geometry of one target in the worker, with progress, and keeps it: one step of the history. False where it was stopped or refused. */
export const makeComponentGeometry = (record: ComponentRecord, target: GeometryTarget, choice: GeometryChoice): Promise<boolean> =>
  make(record, target, choice.mode, (bytes, first, remote, progress) => remote.makeGeometry(record, bytes, target, choice, progress, first));

/** The same with the least tolerance that takes no more than `budget` triangles. */
export const makeComponentGeometryWithin = (record: ComponentRecord, target: GeometryTarget, choice: GeometryChoice, budget: number): Promise<boolean> =>
  make(record, target, choice.mode, (bytes, _, remote, progress) => remote.makeGeometryWithin(record, bytes, target, choice, budget, progress));

type Call = Parameters<typeof runShown>[2];
type Made = { geometry: MadeGeometry; blob: Uint8Array<ArrayBuffer> };

async function make(
  record: ComponentRecord,
  target: GeometryTarget,
  mode: GeometryChoice['mode'],
  call: (bytes: Uint8Array, first: TakeFirst, ...rest: Parameters<Call>) => ReturnType<Call>,
): Promise<boolean> {
  const bytes = await sourceBytes(record);
  if (!bytes) return false;
  let soFar: { readonly geometry: MadeGeometry; readonly stored: Promise<boolean> } | undefined;
  let isOver = false;
  let isStopped = false;
  const first: TakeFirst = (geometry, blob) => {
    if (isOver) return;
    keepModel(geometry.blob, blob);
    showComing(record, target, geometry);
    soFar = {
      geometry,
      stored: putBlob(blob, geometry.blob).then(
        () => true,
        () => false,
      ),
    };
  };
  const result = await runShown<Made>(
    `Making ${mode} geometry of ${record.name}`,
    {
      job: `making ${mode} geometry, ${target}`,
      limitSeconds: 120 + 2 * readLimitSeconds(bytes.length),
      whenStopped: () => {
        isOver = true;
        isStopped = true;
        return soFar && `What was proven by then is kept: ${soFar.geometry.trianglesOut.toLocaleString('en')} triangles.`;
      },
    },
    (remote, progress) => call(bytes, Comlink.proxy(first), remote, progress),
  );
  isOver = true;
  if (!result) {
    if (!isStopped || !soFar || !(await soFar.stored)) return false;
    keep(record, soFar.geometry);
    return true;
  }
  await putBlob(result.blob, result.geometry.blob);
  keep(record, result.geometry);
  return true;
}

function keep(record: ComponentRecord, made: MadeGeometry): void {
  changeComponent(record.id, `Made ${made.mode} geometry, ${made.target}${made.drawn ? ', with its profile changed' : ''}`, (r) => ({
    geometry: [...r.geometry.filter((g) => g.target !== made.target), made],
  }));
}
