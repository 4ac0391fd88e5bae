import { writeSolidShape } from '#core/outline';
import type { ComponentRecord } from '#core/records';
import { showProblem } from '../app/notify.tsx';
import { getBlob } from './blobs.ts';

/** What a component's model is made from: its vendor file, or its shape. Says so where this browser has it no more. */
export async function sourceBytes({ name, source }: ComponentRecord): Promise<Uint8Array | undefined> {
  if (source.kind !== 'file') return writeSolidShape(source.shape);
  const bytes = await getBlob(source.blob);
  if (!bytes) showProblem(`The vendor file of ${name} is not in this browser's storage any more. Open ${source.fileName} again.`);
  return bytes;
}
