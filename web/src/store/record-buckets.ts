import { isNewest } from '#core/records';
import { storeNamed } from './database.ts';
import { type KeptList, listOf, listOfText, oneList, textOfList } from './kept-lists.ts';

// Many records in one item each: twenty thousand items take seconds to read one by one, and as long to write.
const db = storeNamed('buckets');
// What lists show of a bucket's records.
const lists = storeNamed('lists');
// What a browser had before: an item for each record.
const before = storeNamed('records');
const BUCKETS = 256;

/** A record as it is stored: with a revision that grows by one at each write, whoever writes. */
export interface StoredRecord {
  readonly revision: number;
  /** Null: deleted; its revision stays, so that an old copy of it is noticed. */
  readonly record: unknown;
}
export type Bucket = Readonly<Record<string, StoredRecord>>;

/** The item that a record is kept in. */
export function bucketOf(id: string): string {
  let hash = 0;
  for (let i = 0; i < id.length; i++) hash = (hash * 31 + id.charCodeAt(i)) | 0;
  return String((hash >>> 0) % BUCKETS);
}

// As text: a browser reads that twice as fast as objects.
export const readBucket = async (key: string): Promise<Bucket> => JSON.parse((await db.getItem<string>(key)) ?? '{}') as Bucket;

/** Changes some of a bucket's records in one write. Two of these must not interleave: see `exclusively`. */
export async function writeBucket(key: string, bucket: Bucket): Promise<void> {
  await db.setItem(key, JSON.stringify(bucket));
  // Without it a list is shown a moment later; one that is not true any more is worse.
  await writeList(key, bucket).catch(() => lists.removeItem(key).catch(() => undefined));
}

/** Keeps what lists show of a bucket, where an older version did not. */
export async function writeList(key: string, bucket: Bucket): Promise<void> {
  const records = Object.values(bucket).map((stored) => stored.record);
  await lists.setItem(key, textOfList(listOf(records.filter(isNewest))));
}

/** The keys of all buckets; what is kept one by one yet is taken over first. */
export async function bucketKeys(): Promise<string[]> {
  await takeOver();
  return db.keys();
}

/** What lists show of all buckets; undefined where that has to be worked out of their records. */
export async function readLists(keys: readonly string[]): Promise<KeptList | undefined> {
  return oneList(
    await Promise.all(
      keys.map(async (key) => {
        const text = await lists.getItem<string>(key);
        return text === null ? undefined : listOfText(text);
      }),
    ),
  );
}

async function takeOver(): Promise<void> {
  const old: Record<string, Record<string, StoredRecord>> = {};
  await before.iterate<StoredRecord, void>((stored, id) => void ((old[bucketOf(id)] ??= {})[id] = stored));
  // What is in a bucket already was taken over by a start that was interrupted, and may be newer.
  for (const [key, records] of Object.entries(old)) await writeBucket(key, { ...records, ...(await readBucket(key)) });
  if (Object.keys(old).length > 0) await before.clear();
}
