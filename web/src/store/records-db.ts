import { type AnyRecord, isNewest, readRecord } from '#core/records';
import { nextTurn } from '../common/next-turn.ts';
import { idle } from '../common/when-idle.ts';
import { exclusively } from './database.ts';
import type { KeptList } from './kept-lists.ts';
import { type Bucket, bucketKeys, bucketOf, readBucket, readLists, type StoredRecord, writeBucket, writeList } from './record-buckets.ts';

// The revision that this tab's copy of each record is based on.
const known = new Map<string, number>();

// Records that cannot be read: taken out of sight, and left in the storage.
const left = new Set<string>();

/** Keeps records as they are in the storage, though they are out of sight. */
export function leaveStored(ids: readonly string[]): void {
  for (const id of ids) left.add(id);
}

const JOURNAL = 'ruota-unwritten';
interface JournalEntry {
  readonly id: string;
  readonly base: number;
  readonly record: AnyRecord | null;
}

/** Keeps, synchronously, what could not be written before the page goes away; the next start takes it up. False where there is no room for all of it: the first of it are kept then. */
export function keepUnwritten(records: readonly (readonly [id: string, record: AnyRecord | null])[]): boolean {
  // Another tab that closes at the same time has its own.
  const own = new Set(records.map(([id]) => id));
  const others = readJournal().filter((e) => !own.has(e.id));
  const mine = records.map(([id, record]): JournalEntry => ({ id, base: known.get(id) ?? 0, record }));
  for (let count = mine.length; ; count = Math.floor(count / 2)) {
    try {
      localStorage.setItem(JOURNAL, JSON.stringify([...others, ...mine.slice(0, count)]));
      return count === mine.length;
    } catch {
      // Storage is full, or closed.
      if (count === 0) return false;
    }
  }
}

// Writes what the last page left behind, unless it was written after all or another tab wrote in between.
async function takeUpUnwritten(): Promise<void> {
  const entries = readJournal();
  if (entries.length === 0) return;
  const byId = new Map(entries.map((e) => [e.id, e]));
  await exclusively('records', () =>
    changeBuckets([...byId.keys()], (id, stored) => {
      const { base, record } = byId.get(id) as JournalEntry;
      return (stored?.revision ?? 0) === base ? { revision: base + 1, record } : undefined;
    }),
  );
  localStorage.removeItem(JOURNAL);
}

// Records are validated when they are loaded; text that is no journal at all holds nothing to save.
function readJournal(): JournalEntry[] {
  try {
    const entries: unknown = JSON.parse(localStorage.getItem(JOURNAL) ?? '[]');
    return Array.isArray(entries) ? (entries as JournalEntry[]) : [];
  } catch {
    return [];
  }
}

function byBucket(ids: readonly string[]): Map<string, string[]> {
  const out = new Map<string, string[]>();
  for (const id of ids) {
    const key = bucketOf(id);
    const own = out.get(key);
    if (own) own.push(id);
    else out.set(key, [id]);
  }
  return out;
}

// Changes records in their buckets, each bucket in one write; undefined leaves a record as it is.
async function changeBuckets(
  ids: readonly string[],
  change: (id: string, stored: StoredRecord | undefined) => StoredRecord | undefined,
  written: (id: string, after: StoredRecord) => void = () => undefined,
): Promise<void> {
  const outcomes = await Promise.allSettled(
    [...byBucket(ids)].map(async ([key, of]) => {
      const bucket = await readBucket(key);
      const changed = of.flatMap((id) => {
        const after = change(id, bucket[id]);
        return after ? [[id, after] as const] : [];
      });
      if (changed.length === 0) return;
      await writeBucket(key, { ...bucket, ...Object.fromEntries(changed) });
      for (const [id, after] of changed) written(id, after);
    }),
  );
  // All have ended: nobody else may write while one of them is still at it.
  const failed = outcomes.find((o) => o.status === 'rejected');
  if (failed) throw failed.reason;
}

export interface LoadedRecords {
  readonly records: Record<string, AnyRecord>;
  /** Stored records that could not be read; they stay where they are. */
  readonly unreadable: readonly string[];
  /** Records of the newest version that are to be validated yet: there are too many to do it before anything is shown. */
  readonly unchecked: readonly string[];
}

/** What this browser stores, before its records are read. */
export interface StoredLibrary {
  /** What lists show of all that is stored; undefined where that has to be worked out of the records, or nobody asked for it. */
  readonly list: KeptList | undefined;
  /** All records of this browser, brought to the newest version. */
  readonly load: () => Promise<LoadedRecords>;
}

// ms that validating may take before anything is shown, and that reading may take between two pictures.
const [CHECK_MS, READ_MS] = [100, 30];
const READ_AT_ONCE = 16;

/** Opens what is stored. `forList`: for a view that can show a list before all is read. */
export async function openStored(forList: boolean): Promise<StoredLibrary> {
  await takeUpUnwritten();
  const keys = await bucketKeys();
  return { list: forList ? await readLists(keys) : undefined, load: () => loadRecords(keys) };
}

async function loadRecords(keys: readonly string[]): Promise<LoadedRecords> {
  const records: Record<string, AnyRecord> = {};
  const unreadable: string[] = [];
  const unchecked: string[] = [];
  const until = performance.now() + CHECK_MS;
  let pause = performance.now() + READ_MS;
  const read = (from: number) => Promise.all(keys.slice(from, from + READ_AT_ONCE).map(readBucket));
  let next = read(0);
  for (let i = 0; i < keys.length; i += READ_AT_ONCE) {
    const buckets = await next;
    // On its way while these are looked at.
    next = read(i + READ_AT_ONCE);
    if (performance.now() > pause) {
      await nextTurn();
      pause = performance.now() + READ_MS;
    }
    for (const [id, stored] of buckets.flatMap((bucket) => Object.entries(bucket))) {
      known.set(id, stored.revision);
      if (stored.record === null) continue;
      if (performance.now() > until && isNewest(stored.record)) {
        records[id] = stored.record;
        unchecked.push(id);
        continue;
      }
      const valid = readRecord(stored.record, id);
      if (valid.ok) records[id] = valid.value;
      else unreadable.push(id);
    }
  }
  return { records, unreadable, unchecked };
}

/** Keeps what lists show beside the records, where an older version did not; one item after the other, between two things that a person does. */
export async function renewLists(): Promise<void> {
  for (const key of await bucketKeys()) {
    await idle(LONGEST_BUSY_MS);
    await exclusively('records', async () => writeList(key, await readBucket(key)));
  }
}

const LONGEST_BUSY_MS = 2000;

export type WriteOutcome = { readonly state: 'written' } | { readonly state: 'conflict'; readonly theirs: AnyRecord | null };

/**
 * Writes records (null deletes one), each if nobody else wrote another one since this tab read it; else says what is there now, and leaves it
 * as it is. A deleted record leaves its revision behind, so that an old copy of it is noticed as well. Fails where the storage does. `onWritten` is called for each
 * that is.
 */
export function writeRecords(
  records: readonly (readonly [id: string, record: AnyRecord | null])[],
  onWritten: () => void = () => undefined,
): Promise<WriteOutcome[]> {
  return exclusively('records', async () => {
    const mine = new Map(records);
    const others = new Map<string, StoredRecord>();
    await changeBuckets(
      [...mine.keys()],
      (id, stored = NOTHING) => {
        const record = mine.get(id) ?? null;
        if (left.has(id) && record === null) return undefined;
        if (stored.revision === (known.get(id) ?? 0)) return { revision: stored.revision + 1, record };
        others.set(id, stored);
        return undefined;
      },
      // Only what was written is known: where the storage fails at one bucket the others are written all the same.
      (id, { revision }) => {
        known.set(id, revision);
        onWritten();
      },
    );
    // Not before all has ended well: what is tried again would overwrite what it is said to have seen.
    const outcomes = new Map([...others].map(([id, stored]) => [id, comparedWith(id, stored, mine.get(id) ?? null)] as const));
    for (const [id, { revision }] of others) {
      known.set(id, revision);
      if (outcomes.get(id)?.state === 'written') onWritten();
    }
    return records.map(([id]) => outcomes.get(id) ?? { state: 'written' });
  });
}

const NOTHING: StoredRecord = { revision: 0, record: null };

// Another tab may have written the same, such as the demo data where two begin together.
const comparedWith = (id: string, stored: StoredRecord, mine: AnyRecord | null): WriteOutcome =>
  JSON.stringify(stored.record) === JSON.stringify(mine) ? { state: 'written' } : { state: 'conflict', theirs: readStored(id, stored) };

function readStored(id: string, stored: StoredRecord | undefined): AnyRecord | null {
  const read = stored?.record ? readRecord(stored.record, id) : undefined;
  return read?.ok ? read.value : null;
}

/**
 * Reads records again that another tab wrote, each bucket once. `isWanted` is asked when all are read, and what is given is to be taken over at once: what was changed
 * here meanwhile is left for its own write, which finds both.
 */
export async function rereadRecords(ids: readonly string[], isWanted: (id: string) => boolean): Promise<Record<string, AnyRecord | null>> {
  const read: (readonly [Partial<Bucket>, readonly string[]])[] = await Promise.all([...byBucket(ids)].map(async ([key, of]) => [await readBucket(key), of]));
  const found: Record<string, AnyRecord | null> = {};
  for (const [bucket, of] of read)
    for (const id of of.filter(isWanted)) {
      known.set(id, bucket[id]?.revision ?? 0);
      found[id] = readStored(id, bucket[id]);
    }
  return found;
}
