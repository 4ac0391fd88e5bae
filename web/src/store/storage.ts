/** What this browser's storage holds, in bytes, and whether it may be cleared when space gets short. Undefined where a browser does not say. */
export interface StorageState {
  readonly used: number;
  readonly free: number;
  readonly isKept: boolean;
}

// The parts of it that not every browser has.
type MaybeStorage = Partial<StorageManager> | undefined;
const manager = (): MaybeStorage => navigator.storage;

export async function storageState(): Promise<StorageState | undefined> {
  const { usage, quota } = (await manager()?.estimate?.()) ?? {};
  if (usage === undefined || quota === undefined) return undefined;
  return { used: usage, free: Math.max(0, quota - usage), isKept: (await manager()?.persisted?.()) ?? false };
}

/** Asks the browser not to clear what is kept here; whether it will not. */
export const askToKeep = async (): Promise<boolean> => (await manager()?.persist?.()) ?? false;
