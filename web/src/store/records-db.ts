import localforage from 'localforage';
import { type AnyRecord, readRecord } from '#core/records';

/** A record as it is stored: with a revision that grows by one at each write, whoever writes. */
interface StoredRecord {
  readonly revision: number;
  readonly record: AnyRecord | null;
}

const db = localforage.createInstance({ name: 'ruota', storeName: 'records' });
const settings = localforage.createInstance({ name: 'ruota', storeName: 'settings' });

// The revision that this tab's copy of each record is based on.
const known = new Map<string, number>();

const JOURNAL = 'ruota-unwritten';
interface JournalEntry {
  readonly id: string;
  readonly base: number;
  readonly record: AnyRecord | null;
}

/** Keeps, synchronously, what could not be written before the page goes away; the next start takes it up. */
export function keepUnwritten(records: readonly (readonly [id: string, record: AnyRecord | null])[]): void {
  try {
    // Another tab that closes at the same time has its own.
    const others = readJournal().filter((e) => !records.some(([id]) => id === e.id));
    const mine = records.map(([id, record]): JournalEntry => ({ id, base: known.get(id) ?? 0, record }));
    localStorage.setItem(JOURNAL, JSON.stringify([...others, ...mine]));
  } catch {
    // Storage is full or closed: the write itself has said so already.
  }
}

// Writes what the last page left behind, unless it was written after all or another tab wrote in between.
async function takeUpUnwritten(): Promise<void> {
  const entries = readJournal();
  if (entries.length === 0) return;
  for (const { id, base, record } of entries) {
    await exclusively(async () => {
      const stored = await db.getItem<StoredRecord>(id);
      if ((stored?.revision ?? 0) === base) await db.setItem<StoredRecord>(id, { revision: base + 1, record });
    });
  }
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

/** One tab at a time: read, compare and write must not interleave. Without Web Locks (plain http from afar) it is not guarded. */
function exclusively<T>(work: () => Promise<T>): Promise<T> {
  const locks = navigator.locks as LockManager | undefined;
  return locks ? locks.request('ruota-records', work) : work();
}

export interface LoadedRecords {
  readonly records: Record<string, AnyRecord>;
  /** Stored records that could not be read; they stay where they are. */
  readonly unreadable: readonly string[];
}

/** All records of this browser, brought to the newest version. */
export async function loadRecords(): Promise<LoadedRecords> {
  const records: Record<string, AnyRecord> = {};
  const unreadable: string[] = [];
  await takeUpUnwritten();
  await db.iterate<StoredRecord, void>((stored, id) => {
    known.set(id, stored.revision);
    if (stored.record === null) return;
    const read = readRecord(stored.record, id);
    if (read.ok) records[id] = read.value;
    else unreadable.push(id);
  });
  return { records, unreadable };
}

export type WriteOutcome = { readonly state: 'written' } | { readonly state: 'conflict'; readonly theirs: AnyRecord | null };

/**
 * Writes one record (null deletes it) if nobody else wrote it since this tab read it; else says what is there now, and writes
 * nothing. A deleted record leaves its revision behind, so that an old copy of it is noticed as well.
 */
export function writeRecord(id: string, record: AnyRecord | null): Promise<WriteOutcome> {
  return exclusively(async () => {
    const stored = await db.getItem<StoredRecord>(id);
    const revision = stored?.revision ?? 0;
    if (revision !== (known.get(id) ?? 0)) {
      known.set(id, revision);
      return { state: 'conflict', theirs: stored?.record ?? null };
    }
    await db.setItem<StoredRecord>(id, { revision: revision + 1, record });
    known.set(id, revision + 1);
    return { state: 'written' };
  });
}

/** Reads one record again after another tab wrote it. */
export async function rereadRecord(id: string): Promise<AnyRecord | null> {
  const stored = await db.getItem<StoredRecord>(id);
  known.set(id, stored?.revision ?? 0);
  if (!stored?.record) return null;
  const read = readRecord(stored.record, id);
  return read.ok ? read.value : null;
}

export const readSetting = <T>(key: string): Promise<T | null> => settings.getItem<T>(key);
export const writeSetting = <T>(key: string, value: T): Promise<T> => settings.setItem(key, value);
