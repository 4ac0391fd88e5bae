import localforage from 'localforage';
import { hashBytes } from '#core/records';

const blobs = localforage.createInstance({ name: 'ruota', storeName: 'blobs' });
// Blobs that could not be written stay here, so that nothing is lost while the tab is open.
const unsaved = new Map<string, Uint8Array>();

/** Stores bytes under the hash of their content; a blob that is there already is not written again. */
export async function putBlob(bytes: Uint8Array, hash = hashBytes(bytes)): Promise<{ hash: string; saved: boolean }> {
  try {
    if (!(await hasBlob(hash))) await blobs.setItem(hash, bytes);
    return { hash, saved: true };
  } catch {
    unsaved.set(hash, bytes);
    return { hash, saved: false };
  }
}

async function hasBlob(hash: string): Promise<boolean> {
  const keys = await blobs.getItem<Uint8Array>(hash);
  return keys !== null;
}

/** The bytes of a blob: from this browser, or from the demo data that the server ships. Undefined where nobody has it. */
export async function getBlob(hash: string): Promise<Uint8Array | undefined> {
  const held = unsaved.get(hash) ?? (await blobs.getItem<Uint8Array>(hash).catch(() => null));
  if (held) return held;
  const response = await fetch(`/demo/blobs/${hash}`).catch(() => undefined);
  if (!response?.ok) return undefined;
  const bytes = new Uint8Array(await response.arrayBuffer());
  // Kept for a later start without the server's demo data; not being able to is no loss.
  await putBlob(bytes, hash);
  return bytes;
}

/** Removes blobs that no record refers to. Only safe while no other tab is open and no undo step is held. */
export async function removeUnusedBlobs(used: ReadonlySet<string>): Promise<number> {
  const keys = await blobs.keys();
  const gone = keys.filter((key) => !used.has(key));
  for (const key of gone) await blobs.removeItem(key);
  return gone.length;
}
