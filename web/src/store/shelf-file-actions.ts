import { blobsNeededBy, merge, type MergeChoice, type MergeState, planMerge, selectionOf, type ShelfContent } from '#core/shelf';
import type { AnyRecord } from '#core/records';
import type { Issue } from '#core/issues';
import { runShown } from '../app/jobs.tsx';
import { recordsChanged } from '../app/library-slice.ts';
import { showDone, showProblem } from '../app/notify.tsx';
import { store } from '../app/store.ts';
import { newId } from '../common/new-id.ts';
import { saveFile } from '../common/save-file.ts';
import { getBlob, putBlob } from './blobs.ts';
import { keepCopy } from './copies.ts';
import { offerMerge } from './open-merge.ts';

const day = () => new Date().toISOString().slice(0, 10);

/** Writes records with all that they are made of as one file; all of the Shelf where no ids are given. */
export async function saveShelf(name: string, ids?: readonly string[]): Promise<void> {
  const all = store.getState().library.records;
  const records = ids ? selectionOf(all, ids) : all;
  const blobs: Record<string, Uint8Array> = {};
  for (const { hash, fileName, role } of Object.values(records).flatMap(blobsNeededBy)) {
    const bytes = await getBlob(hash);
    if (bytes) blobs[hash] = bytes;
    else if (role !== 'geometry') showProblem(`${fileName} is not in this browser any more: the file is written without it.`);
  }
  const title = `Writing ${Object.keys(records).length} records`;
  const bytes = await runShown<Uint8Array<ArrayBuffer>>(title, { job: 'writing the Shelf’s file', limitSeconds: 300 }, (remote) =>
    remote.writeShelf({ records, blobs }, new Date().toISOString()),
  );
  if (bytes) saveFile(`${name} ${day()}.ruota-shelf.zip`, bytes, 'application/zip');
}

/** Reads a Shelf's file and asks what is to be done with it. */
export async function openShelfFile(bytes: Uint8Array<ArrayBuffer>, fileName: string): Promise<boolean> {
  const read = await runShown<ShelfContent & { faults: readonly Issue[] }>(`Opening ${fileName}`, { job: `opening ${fileName}`, limitSeconds: 300 }, (remote) =>
    remote.readShelf(bytes, fileName),
  );
  if (!read) return false;
  offerMerge({ from: fileName, records: read.records, blobs: read.blobs, faults: read.faults });
  return true;
}

/** Brings in the records of another Shelf by what was chosen, as one step; its files are stored first. */
export async function bringIn(
  given: { readonly from: string; readonly records: Readonly<Record<string, AnyRecord>>; readonly blobs: Readonly<Record<string, Uint8Array>> },
  choices: Readonly<Partial<Record<MergeState, MergeChoice>>>,
): Promise<void> {
  const mine = store.getState().library.records;
  const after = merge(mine, planMerge(mine, given.records), { choices, newId });
  const count = Object.keys(after).length;
  if (count === 0) {
    showDone(`${given.from}: nothing is to be changed.`);
    return;
  }
  await keepCopy(`before: brought in ${given.from}`);
  const needed = Object.values(after).flatMap((r) => blobsNeededBy(r).filter(({ hash }) => given.blobs[hash]));
  const stored = await Promise.all(needed.map(({ hash }) => putBlob(given.blobs[hash], hash)));
  if (stored.some((s) => !s.saved))
    showProblem('This browser’s storage is full: some files of it stay in this tab only. Remove something, and bring it in again.');
  store.dispatch(recordsChanged(`Brought in ${given.from}`, after));
  showDone(`${count} ${count === 1 ? 'record' : 'records'} of ${given.from} ${count === 1 ? 'is' : 'are'} on the Shelf. Ctrl+Z takes them back.`);
}
