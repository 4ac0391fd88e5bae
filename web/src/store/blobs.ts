import { type AnyRecord, hashBytes } from '#core/records';
import { storeNamed } from './database.ts';

const blobs = storeNamed('blobs');
// Blobs that are being written, and those that could not be: nothing is lost while the tab is open.
const unsaved = new Map<string, Uint8Array>();
// Blobs of this session: a record may refer to them in a moment.
const recent = new Set<string>();

/** Stores bytes under the hash of their content; a blob that is there already is not written again. */
export async function putBlob(bytes: Uint8Array, hash = hashBytes(bytes)): Promise<{ hash: string; saved: boolean }> {
  recent.add(hash);
  unsaved.set(hash, bytes);
  try {
    if (!(await hasBlob(hash))) await blobs.setItem(hash, bytes);
    unsaved.delete(hash);
    return { hash, saved: true };
  } catch {
    return { hash, saved: false };
  }
}

async function hasBlob(hash: string): Promise<boolean> {
  const keys = await blobs.getItem<Uint8Array>(hash);
  return keys !== null;
}

/** The bytes of a blob that this browser has; undefined for others. */
export const ownBlob = async (hash: string): Promise<Uint8Array | undefined> =>
  unsaved.get(hash) ?? (await blobs.getItem<Uint8Array>(hash).catch(() => null)) ?? undefined;

/** The bytes of a blob: from this browser, or from the demo data that the server ships. Undefined where nobody has it. */
export async function getBlob(hash: string): Promise<Uint8Array | undefined> {
  const held = await ownBlob(hash);
  if (held) return held;
  const response = await fetch(`/demo/blobs/${hash}`).catch(() => undefined);
  if (!response?.ok) return undefined;
  const bytes = new Uint8Array(await response.arrayBuffer());
  // Kept for a later start without the server's demo data; nobody waits for it, and not being able to is no loss.
  void putBlob(bytes, hash);
  return bytes;
}

/**
 * Removes blobs that no record refers to and that are not `wanted` otherwise, at a start when no other tab is open (there is no undo step yet that could want them
 * back), then marks this tab as open. Does nothing where tabs cannot be told (no Web Locks).
 */
export async function removeUnusedBlobs(records: readonly AnyRecord[], wanted: readonly string[]): Promise<number> {
  const locks = navigator.locks as LockManager | undefined;
  if (!locks) return 0;
  const removed = await locks.request(TAB_LOCK, { ifAvailable: true }, async (alone) => {
    if (!alone) return 0;
    const used = new Set([...records.flatMap(blobsOf), ...wanted]);
    const gone = (await blobs.keys()).filter((key) => !used.has(key) && !recent.has(key));
    for (const key of gone) if (!recent.has(key)) await blobs.removeItem(key);
    return gone.length;
  });
  void locks.request(TAB_LOCK, { mode: 'shared' }, () => new Promise<never>(() => undefined));
  return removed;
}

/** What a record refers to. */
export function blobsOf(r: AnyRecord): string[] {
  if (r.kind === 'component') return [r.source.blob, r.model.blob, ...r.geometry.map((g) => g.blob)];
  return r.kind === 'outline' && r.way.kind === 'drawing' ? [r.way.blob] : [];
}

const TAB_LOCK = 'ruota-tab';
