import { writeSolidShape } from '#core/outline';
import type { ComponentRecord } from '#core/records';
import { showProblem } from '../app/notify.tsx';
import { getBlob } from './blobs.ts';

/** What a component's model is made from: its vendor file, or its shape; undefined where this browser has it no more. */
export const bytesOfSource = ({ source }: ComponentRecord): Promise<Uint8Array | undefined> =>
  source.kind === 'file' ? getBlob(source.blob) : Promise.resolve(writeSolidShape(source.shape));

/** The same; says so where it is gone. */
export async function sourceBytes(record: ComponentRecord): Promise<Uint8Array | undefined> {
  const { name, source } = record;
  const bytes = await bytesOfSource(record);
  if (!bytes) showProblem(`The vendor file of ${name} is not in this browser's storage any more. Open ${source.fileName} again.`);
  return bytes;
}
