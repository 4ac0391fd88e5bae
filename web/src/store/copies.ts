import { type AnyRecord, readRecord } from '#core/records';
import { store } from '../app/store.ts';
import { blobsOf } from './blobs.ts';
import { storeNamed } from './database.ts';

const copies = storeNamed('copies');

// Copies that are kept; the oldest go.
const MOST_COPIES = 5;
// Under it stands what copies there are: they are large, and are read only when one is asked for.
const LIST = 'list';

/** A copy of all records as they were. */
export interface KeptCopy {
  readonly key: string;
  readonly at: string;
  readonly why: string;
  readonly count: number;
  /** What its records refer to: not to be removed as long as it is kept. */
  readonly blobs: readonly string[];
}

/** The copies that are kept, newest first. */
export const listCopies = async (): Promise<readonly KeptCopy[]> => (await copies.getItem<readonly KeptCopy[]>(LIST)) ?? [];

/** Keeps all records as they are now, before a large change. Not being able to (a full disk) does not hold the change up: undo is there. */
export async function keepCopy(why: string): Promise<void> {
  const records = Object.values(store.getState().library.records);
  const at = new Date().toISOString();
  try {
    await copies.setItem(at, JSON.stringify(records));
    const all = [{ key: at, at, why, count: records.length, blobs: [...new Set(records.flatMap(blobsOf))] }, ...(await listCopies())];
    await copies.setItem<readonly KeptCopy[]>(LIST, all.slice(0, MOST_COPIES));
    for (const { key } of all.slice(MOST_COPIES)) await copies.removeItem(key);
  } catch {
    // The storage is full: what cannot be stored is said where records are written.
  }
}

/** The records of a copy, brought to the newest version; those that cannot be read are left out. */
export async function readCopy(key: string): Promise<Record<string, AnyRecord>> {
  const stored = JSON.parse((await copies.getItem<string>(key)) ?? '[]') as unknown[];
  const read = stored.map((r) => readRecord(r, 'copy'));
  return Object.fromEntries(read.flatMap((r) => (r.ok ? [[r.value.id, r.value] as const] : [])));
}
