import type { ComponentRecord } from '#core/records';
import { showProblem } from '../app/notify.tsx';
import { getBlob } from './blobs.ts';

/** The vendor file of a component; says so where this browser has it no more. */
export async function sourceBytes({ name, source }: ComponentRecord): Promise<Uint8Array | undefined> {
  const bytes = await getBlob(source.blob);
  if (!bytes) showProblem(`The vendor file of ${name} is not in this browser's storage any more. Open ${source.fileName} again.`);
  return bytes;
}
