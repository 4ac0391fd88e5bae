import { createSlice, type PayloadAction } from '@reduxjs/toolkit';
import type { AnyRecord } from '#core/records';

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
  readonly records: RecordsById;
  readonly past: readonly Change[];
  readonly future: readonly Change[];
}

const MOST_CHANGES = 200;
const initialState: LibraryState = { loaded: false, records: {}, past: [], future: [] };

function applied(records: RecordsById, values: Record<string, AnyRecord | null>): RecordsById {
  const next = { ...records };
  for (const [id, record] of Object.entries(values)) {
    if (record) next[id] = record;
    else delete next[id];
  }
  return next;
}

const touches = (change: Change, ids: readonly string[]) => ids.some((id) => id in change.before);

/**
 * The records with their history. A change lists only the records that it touches, so undo leaves the others as they
 * are, and records that another tab changed only drop the history that touches them.
 */
export const librarySlice = createSlice({
  name: 'library',
  initialState: initialState,
  reducers: {
    libraryLoaded: (state, action: PayloadAction<RecordsById>) => ({ ...state, loaded: true, records: { ...action.payload, ...state.records } }),
    recordsChanged: {
      prepare: (label: string, after: Record<string, AnyRecord | null>) => ({ payload: { label, after, at: new Date().toISOString() } }),
      reducer: (state, { payload }: PayloadAction<{ label: string; after: Record<string, AnyRecord | null>; at: string }>) => {
        const before = Object.fromEntries(Object.keys(payload.after).map((id) => [id, (state.records as RecordsById)[id] ?? null]));
        const last = state.past.at(-1);
        const change: Change = { id: (last?.id ?? 0) + 1, label: payload.label, at: payload.at, before, after: payload.after };
        return {
          ...(state as LibraryState),
          records: applied(state.records, payload.after),
          past: [...(state.past as Change[]), change].slice(-MOST_CHANGES),
          future: [],
        };
      },
    },
    undone: (state) => {
      const change = state.past.at(-1) as Change | undefined;
      if (!change) return state;
      return {
        ...(state as LibraryState),
        records: applied(state.records, change.before),
        past: state.past.slice(0, -1),
        future: [change, ...(state.future as Change[])],
      };
    },
    redone: (state) => {
      const change = state.future[0] as Change | undefined;
      if (!change) return state;
      return {
        ...(state as LibraryState),
        records: applied(state.records, change.after),
        past: [...(state.past as Change[]), change],
        future: state.future.slice(1),
      };
    },
    /** Records that follow what they were made of: no step of the history, as they follow its steps back too. */
    componentsFollowed: (state, { payload }: PayloadAction<Record<string, AnyRecord>>) => ({
      ...(state as LibraryState),
      records: applied(state.records, payload),
    }),
    /** Records that changed outside of this tab; not a step of the history here. */
    foreignChanged: (state, { payload }: PayloadAction<Record<string, AnyRecord | null>>) => {
      const ids = Object.keys(payload);
      return {
        ...(state as LibraryState),
        records: applied(state.records, payload),
        past: (state.past as Change[]).filter((c) => !touches(c, ids)),
        future: (state.future as Change[]).filter((c) => !touches(c, ids)),
      };
    },
  },
});

export const { libraryLoaded, recordsChanged, undone, redone, componentsFollowed, foreignChanged } = librarySlice.actions;
