import { storeNamed } from './database.ts';

const settings = storeNamed('settings');

// What is on its way to the storage: a reload in the middle of it would lose it.
const underWay = new Map<string, { readonly value: unknown }>();
const JOURNAL = 'ruota-unwritten-settings';

/** Keeps a value under a key of this browser. Fails where the storage does. */
export async function writeSetting<T>(key: string, value: T): Promise<void> {
  const mine = { value };
  underWay.set(key, mine);
  try {
    await settings.setItem(key, value);
  } finally {
    if (underWay.get(key) === mine) underWay.delete(key);
  }
}

/** What was kept under a key last; null where nothing was. Fails where the storage does. */
export async function readSetting<T>(key: string): Promise<T | null> {
  await takenUp;
  return settings.getItem<T>(key);
}

const keepUnwritten = (): void => {
  if (underWay.size === 0) return;
  try {
    localStorage.setItem(JOURNAL, JSON.stringify([...underWay].map(([key, { value }]) => [key, value])));
  } catch {
    // Storage is full or closed.
  }
};

// Writes what the last page left behind. Text that is no journal holds nothing to save.
async function takeUp(): Promise<void> {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(JOURNAL) ?? '[]');
    if (Array.isArray(kept)) for (const [key, value] of kept as [string, unknown][]) await settings.setItem(key, value);
    localStorage.removeItem(JOURNAL);
  } catch {
    // The storage is closed: whoever reads or writes is told.
  }
}

const takenUp = takeUp();
window.addEventListener('pagehide', keepUnwritten);
