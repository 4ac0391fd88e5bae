import { issue } from '#core/issues';
import type { AnyRecord } from '#core/records';
import { restoreSession, startAutosave } from '../store/autosave.ts';
import { removeUnusedBlobs } from '../store/blobs.ts';
import { fetchDemo } from '../store/demo.ts';
import { startFollowing } from '../store/follow-outlines.ts';
import { loadRecords, readSetting, writeSetting } from '../store/records-db.ts';
import { libraryLoaded } from './library-slice.ts';
import { showProblem, showWarnings } from './notify.tsx';
import { newcomerCame, sessionRestored } from './session-slice.ts';
import { store } from './store.ts';

/** Fills the store with what is kept in this browser, and writes changes back from then on. */
export async function startLibrary(): Promise<void> {
  const records = await restore();
  startAutosave((message) => showProblem(message));
  startFollowing();
  store.dispatch(libraryLoaded(records));
}

// What is stored in this browser, or the demo data at the very first start; a browser without storage still works.
async function restore(): Promise<Record<string, AnyRecord>> {
  try {
    const [loaded, session, begun] = await Promise.all([loadRecords(), restoreSession(), readSetting<boolean>('begun')]);
    if (session) store.dispatch(sessionRestored(session));
    // Behind the first screen; what a record of another version may refer to is not touched.
    if (loaded.unreadable.length === 0) void removeUnusedBlobs(Object.values(loaded.records)).catch(() => 0);
    else
      showWarnings(
        'Some records could not be read',
        loaded.unreadable.map((id) =>
          issue('record.bad', { file: 'this browser', field: id, text: 'it is damaged, or from a newer version; it is kept as it is' }),
        ),
      );
    return begun ? loaded.records : { ...(await firstDemo()), ...loaded.records };
  } catch (error) {
    showProblem(
      `This browser’s storage cannot be used (${error instanceof Error ? error.message : String(error)}). What you do stays in this tab only; write a package to keep it.`,
    );
    return {};
  }
}

async function firstDemo(): Promise<Record<string, AnyRecord>> {
  // In this order: whoever reloads in between is still a newcomer.
  void writeSetting('session', { isNew: true })
    .then(() => writeSetting('begun', true))
    .catch(() => undefined);
  store.dispatch(newcomerCame());
  return fetchDemo().catch((error: unknown) => {
    showProblem(`The demo data could not be fetched: ${error instanceof Error ? error.message : String(error)}`);
    return {};
  });
}
