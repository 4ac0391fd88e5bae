import { configureStore } from '@reduxjs/toolkit';
import { useDispatch, useSelector } from 'react-redux';
import type { AssemblyRecord, ComponentRecord, OutlineRecord } from '#core/records';
import { librarySlice, recordsChanged } from './library-slice.ts';
import { sessionSlice } from './session-slice.ts';
import { type ShelfPart, shelfSlice } from './shelf-slice.ts';

export const store = configureStore({
  reducer: { library: librarySlice.reducer, session: sessionSlice.reducer, shelf: shelfSlice.reducer },
  // Records are plain and validated at every border; walking all of them after each action is not worth its time.
  middleware: (defaults) => defaults({ serializableCheck: false, immutableCheck: false }),
});

export type RootState = ReturnType<typeof store.getState>;
export const useAppSelector = useSelector.withTypes<RootState>();
export const useAppDispatch = useDispatch.withTypes<typeof store.dispatch>();

const stamp = () => new Date().toISOString();

/** Changes one component as one step of the history; does nothing where it is gone. */
export function changeComponent(id: string, label: string, change: (record: ComponentRecord) => Partial<ComponentRecord>): void {
  const record = store.getState().library.records[id];
  if (record?.kind !== 'component') return;
  store.dispatch(recordsChanged(label, { [id]: { ...record, ...change(record), changedAt: stamp() } }));
}

/** Changes one assembly as one step of the history. */
export function changeAssembly(id: string, label: string, change: (record: AssemblyRecord) => Partial<AssemblyRecord>): void {
  const record = store.getState().library.records[id];
  if (record?.kind !== 'assembly') return;
  store.dispatch(recordsChanged(label, { [id]: { ...record, ...change(record), changedAt: stamp() } }));
}

/** Changes one outline as one step of the history. */
export function changeOutline(id: string, label: string, change: (record: OutlineRecord) => Partial<OutlineRecord>): void {
  const record = store.getState().library.records[id];
  if (record?.kind !== 'outline') return;
  store.dispatch(recordsChanged(label, { [id]: { ...record, ...change(record), changedAt: stamp() } }));
}

/** The part of the Shelf that is looked at; all of it where its set is gone. */
export function selectPart({ shelf: { part }, library }: RootState): ShelfPart {
  const isThere = part === 'all' || part === 'master' || library.records[part]?.kind === 'set' || library.listed?.sets.some((s) => s.id === part);
  return isThere ? part : 'all';
}

/** Whether records are still on their way: what there is can be looked at, and what changes something waits. */
export const selectIsReading = ({ library }: RootState): boolean => !library.loaded;

/** The set that what is added while a part is looked at goes to; null: the master shelf. */
export function selectAddingTo(state: RootState): string | null {
  const part = selectPart(state);
  return part === 'all' || part === 'master' ? null : part;
}

let componentCache: { records: unknown; list: ComponentRecord[]; byId: Record<string, ComponentRecord> } | undefined;

function componentsOf(state: RootState) {
  const { records } = state.library;
  if (componentCache?.records !== records) {
    const list = Object.values(records).filter((r): r is ComponentRecord => r.kind === 'component');
    componentCache = { records, list, byId: Object.fromEntries(list.map((c) => [c.id, c])) };
  }
  return componentCache;
}

export const selectComponents = (state: RootState): ComponentRecord[] => componentsOf(state).list;
export const selectComponentsById = (state: RootState): Record<string, ComponentRecord> => componentsOf(state).byId;

export function selectComponent(state: RootState, id: string | undefined): ComponentRecord | undefined {
  const record = id === undefined ? undefined : state.library.records[id];
  return record?.kind === 'component' ? record : undefined;
}

export function selectAssembly(state: RootState, id: string | undefined): AssemblyRecord | undefined {
  const record = id === undefined ? undefined : state.library.records[id];
  return record?.kind === 'assembly' ? record : undefined;
}

export function selectOutline(state: RootState, id: string | undefined): OutlineRecord | undefined {
  const record = id === undefined ? undefined : state.library.records[id];
  return record?.kind === 'outline' ? record : undefined;
}

/** The component that was made of an outline, where there is one; the newest of several. */
export const selectComponentOfOutline = (state: RootState, id: string): ComponentRecord | undefined =>
  selectComponents(state)
    .filter((c) => c.source.kind === 'outline' && c.source.outline === id)
    .sort((a, b) => (a.createdAt < b.createdAt ? 1 : -1))[0];
