import { issue } from '#core/issues';
import { type AnyRecord, readRecord } from '#core/records';
import { recordsChanged } from '../app/library-slice.ts';
import { showDone, showIssues } from '../app/notify.tsx';
import { store } from '../app/store.ts';

/** The demo records as the server ships them; their blobs are fetched when they are looked at. */
export async function fetchDemo(): Promise<Record<string, AnyRecord>> {
  const response = await fetch('/demo/records.json');
  if (!response.ok) throw new Error(`the server answered ${response.status}`);
  const records: Record<string, AnyRecord> = {};
  for (const raw of (await response.json()) as unknown[]) {
    const read = readRecord(raw, 'demo');
    if (read.ok) records[read.value.id] = read.value;
  }
  return records;
}

/** Puts the demo records (back) on the Shelf; those that are there keep what was done to them. */
export async function bringBackDemo(): Promise<void> {
  try {
    const demo = await fetchDemo();
    const { records } = store.getState().library;
    const missing = Object.fromEntries(Object.entries(demo).filter(([id]) => !records[id]));
    if (Object.keys(missing).length === 0) showDone('The demo data is all there.');
    else store.dispatch(recordsChanged('Brought back the demo data', missing));
  } catch (error) {
    showIssues('Bringing back the demo data', [
      issue('record.bad', { file: 'demo data', field: 'server', text: error instanceof Error ? error.message : String(error) }),
    ]);
  }
}
