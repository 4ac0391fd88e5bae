import { newId } from '../common/new-id.ts';
import { foreignChanged, type RecordsById, recordsChanged } from '../app/library-slice.ts';
import { saveFaultChanged, type SessionState, unwrittenChanged } from '../app/session-slice.ts';
import { z } from 'zod';
import { keptViewSchema } from '../app/shelf-slice.ts';
import { store } from '../app/store.ts';
import { keepUnwritten, rereadRecords, writeRecords } from './records-db.ts';
import { readSetting, writeSetting } from './settings.ts';

// Records that are written at once: between two of these another tab may write. Each touches nearly every bucket, so that two take twice as long as one.
const BATCH = 20_000;
// Writing so many takes a while, and is shown; and how often, in ms.
const MANY = 300;
const SHOWN_EACH_MS = 200;

type Notify = (message: string) => void;

/** What tabs tell each other: which records one of them has written. */
interface Told {
  readonly ids: readonly string[];
}

/** What other tabs have written since somebody began to listen, until it is taken over. */
export interface Others {
  readonly channel: BroadcastChannel;
  readonly written: string[];
}

/** Listens to other tabs, before the storage is read: what one of them is writing meanwhile would be missed between the two. */
export function hearOthers(): Others {
  const others: Others = { channel: new BroadcastChannel('ruota-written'), written: [] };
  others.channel.onmessage = ({ data }: MessageEvent<Told>) => void others.written.push(...data.ids);
  return others;
}

/**
 * Writes every change of records to the browser's storage, record by record and in order, and takes over what other tabs
 * write. Where both changed the same record, the other tab's stays under its name and this tab's is kept as a copy.
 * `stored` is what the storage holds already: of twenty thousand records none is written again because they were read. `others` were listened to before it was read.
 */
export function startAutosave(notify: Notify, stored: RecordsById, others: Others): () => void {
  const { channel } = others;
  let saved = stored;
  let { session, shelf } = store.getState();
  let view = '';
  const pending = new Set<string>();
  let writing: ReadonlySet<string> = new Set();
  let running = false;
  let takingOver = false;
  let sessionWrites = 0;

  // What is written is shown where it takes a while.
  let shown = 0;
  let shownAt = 0;
  const show = (left: number) => {
    const isDue = left === 0 ? shown > 0 : shown === 0 ? left > MANY : performance.now() > shownAt + SHOWN_EACH_MS;
    if (!isDue) return;
    shown = left;
    shownAt = performance.now();
    store.dispatch(unwrittenChanged(left));
  };

  const flush = async () => {
    if (running) return;
    running = true;
    try {
      while (pending.size > 0) {
        const batch = [...pending].slice(0, BATCH);
        for (const id of batch) pending.delete(id);
        writing = new Set(batch);
        const { records } = store.getState().library;
        let left = batch.length + pending.size;
        show(left);
        const outcomes = await writeRecords(
          batch.map((id) => [id, records[id] ?? null]),
          () => show(--left),
        );
        writing = new Set();
        const written = batch.filter((_, i) => outcomes[i].state === 'written');
        if (written.length > 0) channel.postMessage({ ids: written } satisfies Told);
        for (const [i, outcome] of outcomes.entries()) if (outcome.state === 'conflict') keepBoth(batch[i], outcome.theirs);
      }
      if (store.getState().session.saveFault) store.dispatch(saveFaultChanged(null));
    } catch (error) {
      // Written or not: what was on its way is tried again with the rest.
      for (const id of writing) pending.add(id);
      writing = new Set();
      store.dispatch(saveFaultChanged(error instanceof Error ? error.message : String(error)));
    } finally {
      running = false;
      show(0);
    }
  };

  // What another tab wrote is taken over without being written again.
  const takeOver = (theirs: Readonly<Record<string, RecordsById[string] | null>>) => {
    if (Object.keys(theirs).length === 0) return;
    takingOver = true;
    store.dispatch(foreignChanged(theirs));
    takingOver = false;
  };

  const keepBoth = (id: string, theirs: RecordsById[string] | null) => {
    const mine = store.getState().library.records[id];
    takeOver({ [id]: theirs });
    if (!mine) return;
    const copy = { ...mine, id: newId(), name: `${mine.name} (this tab)` };
    store.dispatch(recordsChanged(`Kept this tab's ${mine.name} as a copy`, { [copy.id]: copy }));
    notify(`${mine.name} was also changed in another tab. Yours is kept as "${copy.name}".`);
  };

  let keptText = '';
  const keepSession = () => {
    const kept = keptSession(session);
    keptText = JSON.stringify(kept);
    sessionWrites++;
    void writeSetting('session', kept)
      .catch(() => undefined)
      .finally(() => sessionWrites--);
  };
  // What a person did before it was watched: the first line may be put away while the demo data is on its way.
  keepSession();

  const stop = store.subscribe(() => {
    const state = store.getState();
    if (state.session !== session) {
      session = state.session;
      if (JSON.stringify(keptSession(session)) !== keptText) keepSession();
    }
    if (state.shelf !== shelf) {
      shelf = state.shelf;
      const kept = keptViewSchema.parse(shelf);
      const text = JSON.stringify(kept);
      if (text !== view) void writeSetting('shelf', kept).catch(() => undefined);
      view = text;
    }
    const { records } = state.library;
    if (records === saved) return;
    if (takingOver) {
      saved = records;
      return;
    }
    for (const id of new Set([...Object.keys(records), ...Object.keys(saved)])) if (records[id] !== saved[id]) pending.add(id);
    saved = records;
    void flush();
  });

  // A record that is waiting to be written here is compared when its turn comes.
  const isFree = (id: string) => !pending.has(id) && !writing.has(id);
  const reread = (ids: readonly string[]) => void rereadRecords(ids, isFree).then(takeOver);
  channel.onmessage = ({ data }: MessageEvent<Told>) => reread(data.ids);
  if (others.written.length > 0) reread(others.written);
  const retry = setInterval(() => {
    if (!store.getState().session.saveFault) return;
    if (pending.size === 0) for (const id of Object.keys(store.getState().library.records)) pending.add(id);
    void flush();
  }, 15_000);

  // A reload in the middle of a write: what is on its way is kept for the next start. False where it is more than can be kept.
  const leave = (): boolean => {
    // What is written already, most of it, comes last: it is left out first.
    const ids = [...pending, ...writing];
    const { records } = store.getState().library;
    const isKept = ids.length === 0 || keepUnwritten(ids.map((id) => [id, records[id] ?? null]));
    try {
      if (sessionWrites > 0) localStorage.setItem(LEFT_SESSION, JSON.stringify(keptSession(store.getState().session)));
    } catch {
      // Full or closed: what was open last is no loss.
    }
    return isKept;
  };
  // Then the browser asks whether the page is really to be left.
  const ask = (event: BeforeUnloadEvent) => {
    if (!leave()) event.preventDefault();
  };
  window.addEventListener('beforeunload', ask);
  window.addEventListener('pagehide', leave);

  return () => {
    stop();
    window.removeEventListener('beforeunload', ask);
    window.removeEventListener('pagehide', leave);
    clearInterval(retry);
    channel.close();
  };
}

// Where a session is that a reload kept from being written.
const LEFT_SESSION = 'ruota-left-session';
const keptSessionSchema = z
  .object({
    unit: z.enum(['mm', 'inch']),
    lastComponent: z.string().nullable(),
    lastAssembly: z.string().nullable(),
    lastOutline: z.string().nullable(),
    lastSetUp: z.string().nullable(),
    lastTrial: z.string().nullable(),
    isNew: z.boolean(),
  })
  .partial();

function keptSession({ unit, lastComponent, lastAssembly, lastOutline, lastSetUp, lastTrial, isNew }: SessionState): z.infer<typeof keptSessionSchema> {
  return { unit, lastComponent, lastAssembly, lastOutline, lastSetUp, lastTrial, isNew };
}

/** What was open last in this browser, a session that a reload kept from being written included; null where nothing is known. */
export async function restoreSession(): Promise<z.infer<typeof keptSessionSchema> | null> {
  const stored: unknown = await readSetting('session').catch(() => null);
  let left: unknown = null;
  try {
    left = JSON.parse(localStorage.getItem(LEFT_SESSION) ?? 'null');
    localStorage.removeItem(LEFT_SESSION);
  } catch {
    // Without such storage there is none.
  }
  const [before, after] = [stored, left].map((s) => keptSessionSchema.safeParse(s));
  if (after.success) return { ...(before.success ? before.data : {}), ...after.data };
  return before.success ? before.data : null;
}

/** How the Shelf was looked at last; null where that cannot be read. */
export async function restoreShelfView(): Promise<z.infer<typeof keptViewSchema> | null> {
  const kept = keptViewSchema.safeParse(await readSetting('shelf').catch(() => null));
  return kept.success ? kept.data : null;
}
