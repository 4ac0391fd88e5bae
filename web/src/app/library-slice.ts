import { createSlice, original, type PayloadAction } from '@reduxjs/toolkit';
import type { AnyRecord } from '#core/records';
import type { KeptList } from '../store/kept-lists.ts';

export type RecordsById = Record<string, AnyRecord>;

/** One change of records: what they were and what they became; null where a record did not exist. */
export interface Change {
  readonly id: number;
  readonly label: string;
  readonly at: string;
  readonly before: Record<string, AnyRecord | null>;
  readonly after: Record<string, AnyRecord | null>;
}

export interface LibraryState {
  readonly loaded: boolean;
  /** Of many records: what a list shows of them, while they are read; null before and after. */
  readonly listed: KeptList | null;
  readonly records: RecordsById;
  readonly past: readonly Change[];
  readonly future: readonly Change[];
}

const MOST_CHANGES = 200;
const initialState: LibraryState = { loaded: false, listed: null, records: {}, past: [], future: [] };

function applied(records: RecordsById, values: Record<string, AnyRecord | null>): RecordsById {
  const next = { ...records };
  for (const [id, record] of Object.entries(values)) {
    if (record) next[id] = record;
    else delete next[id];
  }
  return whole(next);
}

// Immer freezes all that is returned to it, record by record, unless it is frozen: with twenty thousand records that takes longer than all else.
const whole = <T extends object>(records: T): T => Object.freeze(records);

// The state itself: asked of its draft, each of many records would get a draft of its own.
const stateOf = (state: unknown): LibraryState => original(state) as LibraryState;

const touches = (change: Change, ids: readonly string[]) => ids.some((id) => id in change.before);

/**
 * The records with their history. A change lists only the records that it touches, so undo leaves the others as they
 * are, and records that another tab changed only drop the history that touches them.
 */
export const librarySlice = createSlice({
  name: 'library',
  initialState: initialState,
  reducers: {
    /** What there is, before it is read. */
    libraryListed: (state, { payload }: PayloadAction<KeptList>) => ({ ...stateOf(state), listed: whole(payload) }),
    libraryLoaded: (state, action: PayloadAction<RecordsById>) => {
      const now = stateOf(state);
      return { ...now, loaded: true, listed: null, records: whole({ ...action.payload, ...now.records }) };
    },
    recordsChanged: {
      prepare: (label: string, after: Record<string, AnyRecord | null>) => ({ payload: { label, after, at: new Date().toISOString() } }),
      reducer: (state, { payload }: PayloadAction<{ label: string; after: Record<string, AnyRecord | null>; at: string }>) => {
        const now = stateOf(state);
        const before = Object.fromEntries(Object.keys(payload.after).map((id) => [id, now.records[id] ?? null]));
        const change: Change = { id: (now.past.at(-1)?.id ?? 0) + 1, label: payload.label, at: payload.at, before: whole(before), after: whole(payload.after) };
        return { ...now, records: applied(now.records, payload.after), past: [...now.past, change].slice(-MOST_CHANGES), future: [] };
      },
    },
    undone: (state) => {
      const now = stateOf(state);
      const change = now.past.at(-1);
      if (!change) return now;
      return { ...now, records: applied(now.records, change.before), past: now.past.slice(0, -1), future: [change, ...now.future] };
    },
    redone: (state) => {
      const now = stateOf(state);
      const [change] = now.future;
      if (!change) return now;
      return { ...now, records: applied(now.records, change.after), past: [...now.past, change], future: now.future.slice(1) };
    },
    /** Records that follow what they were made of: no step of the history, as they follow its steps back too. */
    componentsFollowed: (state, { payload }: PayloadAction<Record<string, AnyRecord>>) => {
      const now = stateOf(state);
      return { ...now, records: applied(now.records, payload) };
    },
    /** Records that changed outside of this tab; not a step of the history here. */
    foreignChanged: (state, { payload }: PayloadAction<Record<string, AnyRecord | null>>) => {
      const now = stateOf(state);
      const ids = Object.keys(payload);
      return {
        ...now,
        records: applied(now.records, payload),
        past: now.past.filter((c) => !touches(c, ids)),
        future: now.future.filter((c) => !touches(c, ids)),
      };
    },
  },
});

export const { libraryListed, libraryLoaded, recordsChanged, undone, redone, componentsFollowed, foreignChanged } = librarySlice.actions;
