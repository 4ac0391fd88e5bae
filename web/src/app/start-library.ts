import { issue } from '#core/issues';
import { readRecord } from '#core/records';
import { hearOthers, restoreSession, restoreShelfView, startAutosave } from '../store/autosave.ts';
import { removeUnusedBlobs } from '../store/blobs.ts';
import { listCopies } from '../store/copies.ts';
import { fetchDemo } from '../store/demo.ts';
import { startFollowing } from '../store/follow-outlines.ts';
import { leaveStored, openStored, renewLists } from '../store/records-db.ts';
import { readSetting, writeSetting } from '../store/settings.ts';
import { idle, whenIdle } from '../common/when-idle.ts';
import { foreignChanged, libraryListed, libraryLoaded, type RecordsById } from './library-slice.ts';
import { showProblem, showWarnings } from './notify.tsx';
import { newcomerCame, sessionRestored } from './session-slice.ts';
import { viewChanged } from './shelf-slice.ts';
import { store } from './store.ts';

/** Fills the store with what is kept in this browser, and writes changes back from then on. */
export async function startLibrary(): Promise<void> {
  const others = hearOthers();
  const { stored, demo } = await restore();
  startAutosave((message) => showProblem(message), stored, others);
  startFollowing();
  store.dispatch(libraryLoaded({ ...demo, ...stored }));
  // Only now: whoever reloads before gets the demo data all the same, and from here on what is not written yet is kept for the next start.
  if (isFirst) void writeSetting('begun', true).catch(() => undefined);
  if (unchecked.length > 0) checkLater(unchecked);
}

// Of so many records a list is shown before they are read; fewer are read as fast.
const MANY = 2000;

// Whether the demo data came, at the very first start.
let isFirst = false;

// What is shown before it was validated.
let unchecked: readonly string[] = [];

// What is stored in this browser, or the demo data at the very first start; a browser without storage still works.
async function restore(): Promise<{ readonly stored: RecordsById; readonly demo: RecordsById }> {
  const isAtList = window.location.pathname === '/shelf';
  try {
    const [there, session, begun, view] = await Promise.all([openStored(isAtList), restoreSession(), readSetting<boolean>('begun'), restoreShelfView()]);
    if (view) store.dispatch(viewChanged(view));
    if (session) store.dispatch(sessionRestored(session));
    if (there.list && there.list.entries.length > MANY) {
      store.dispatch(libraryListed(there.list));
      // Drawn first, then read on.
      await idle(LONGEST_BUSY_MS);
    }
    const loaded = await there.load();
    if (isAtList && !there.list && Object.keys(loaded.records).length > MANY) void renewLists().catch(() => undefined);
    // Behind the first screen; what a record of another version may refer to is not touched.
    if (loaded.unreadable.length === 0)
      void listCopies()
        .then((copies) =>
          removeUnusedBlobs(
            Object.values(loaded.records),
            copies.flatMap((c) => c.blobs),
          ),
        )
        .catch(() => 0);
    else sayUnreadable(loaded.unreadable);
    unchecked = loaded.unchecked;
    return { stored: loaded.records, demo: begun ? {} : await firstDemo(session) };
  } catch (error) {
    showProblem(
      `This browser’s storage cannot be used (${error instanceof Error ? error.message : String(error)}). What you do stays in this tab only; write a package to keep it.`,
    );
    return { stored: {}, demo: {} };
  }
}

// Records that are checked at a time, between two things that a person does.
const CHECKED_AT_ONCE = 100;

// Validates what was shown unchecked; one that is no record any more is taken out, said, and stays in the storage as it is.
function checkLater(ids: readonly string[]): void {
  whenIdle(() => {
    const { records } = store.getState().library;
    const bad = ids.slice(0, CHECKED_AT_ONCE).filter((id) => records[id] && !readRecord(records[id], id).ok);
    if (bad.length > 0) {
      leaveStored(bad);
      store.dispatch(foreignChanged(Object.fromEntries(bad.map((id) => [id, null]))));
      sayUnreadable(bad);
    }
    if (ids.length > CHECKED_AT_ONCE) checkLater(ids.slice(CHECKED_AT_ONCE));
  }, LONGEST_BUSY_MS);
}

const LONGEST_BUSY_MS = 2000;

const sayUnreadable = (ids: readonly string[]): void =>
  showWarnings(
    'Some records could not be read',
    ids.map((id) => issue('record.bad', { file: 'this browser', field: id, text: 'it is damaged, or from a newer version; it is kept as it is' })),
  );

async function firstDemo(session: Awaited<ReturnType<typeof restoreSession>>): Promise<RecordsById> {
  // Whoever put the first line away and reloaded before the demo data was there is no newcomer any more.
  if (session?.isNew !== false) store.dispatch(newcomerCame());
  try {
    const demo = await fetchDemo();
    isFirst = true;
    return demo;
  } catch (error) {
    showProblem(`The demo data could not be fetched: ${error instanceof Error ? error.message : String(error)}`);
    return {};
  }
}
