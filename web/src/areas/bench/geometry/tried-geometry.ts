// Geometry that is looked at while a tolerance is dragged: made like any other, but kept by no record until the pointer is let go.
import * as Comlink from 'comlink';
import { useSyncExternalStore } from 'react';
import type { RecordGeometry } from '#core/making';
import type { ComponentRecord, GeometryChoice, GeometryTarget, MadeGeometry } from '#core/records';
import { putBlob } from '../../../store/blobs.ts';
import { keepModel } from '../../../store/models.ts';
import { sourceBytes } from '../../../store/source-bytes.ts';
import { geometryClient, readLimitSeconds } from '../../../workers/geometry-client.ts';
import type { TakeFirst } from '../../../workers/geometry.worker.ts';

export interface Tried {
  readonly recordId: string;
  readonly target: GeometryTarget;
  /** The tolerance that is being made; undefined when nothing is. */
  readonly making?: number;
  /** What was made last. */
  readonly geometry?: MadeGeometry;
  /** It will be bettered yet: lighter, within the same tolerance. */
  readonly isComing?: boolean;
}

interface Wish {
  readonly record: ComponentRecord;
  readonly target: GeometryTarget;
  readonly choice: GeometryChoice;
}

// What takes longer than this is stopped for a newer wish; what is nearly there is let end, so that something is seen while dragging.
const PATIENCE_MS = 800;

let tried: Tried | undefined;
let tries = 0;
/** What is being made: when it began, and how it is stopped. */
let current: { readonly since: number; readonly stop: () => void } | undefined;
let running: Promise<void> | undefined;
let wish: Wish | undefined;
const newest = (): Wish | undefined => wish;
const listeners = new Set<() => void>();
const set = (next: Tried | undefined) => {
  tried = next;
  for (const listener of listeners) listener();
};
const subscribe = (listener: () => void) => {
  listeners.add(listener);
  return () => listeners.delete(listener);
};

/** Makes geometry to look at. While one is being made only the newest wish is remembered, and one that takes long is stopped for it. */
export function tryGeometry(record: ComponentRecord, target: GeometryTarget, choice: GeometryChoice): void {
  wish = { record, target, choice };
  const before = tried?.recordId === record.id && tried.target === target ? tried.geometry : undefined;
  set({ recordId: record.id, target, making: choice.tolerance, ...(before ? { geometry: before } : {}) });
  if (current && Date.now() - current.since > PATIENCE_MS) current.stop();
  running ??= makeWishes().finally(() => {
    running = undefined;
  });
}

// Of a tolerance that is there, one that it may be dragged to: finer, so that little of what was made can be taken as it is.
const AHEAD = 0.8;

/** Has a tolerance tried before one is dragged, so that the first that is finds samples, proofs and compiled code; nothing is shown of it, and it ends where work comes. */
export async function tryAhead(record: ComponentRecord, target: GeometryTarget, choice: GeometryChoice): Promise<void> {
  const bytes = await sourceBytes(record);
  if (bytes) geometryClient.ahead((remote) => remote.tryAhead(record, bytes, target, { ...choice, tolerance: AHEAD * choice.tolerance }));
}

async function makeWishes(): Promise<void> {
  while (wish) {
    const { record, target, choice } = wish;
    wish = undefined;
    const bytes = await sourceBytes(record);
    if (!bytes) return forgetTried();
    // It may have been let go, or another component's turn may have come meanwhile.
    const isWanted = () => tried?.recordId === record.id && tried.target === target;
    // Not the lightest yet: it is seen until that is there, and may arrive after it.
    let isOver = false;
    const first: TakeFirst = (geometry, blob) => {
      if (isOver || !isWanted()) return;
      keepModel(geometry.blob, blob);
      set({ recordId: record.id, target, making: (newest()?.choice ?? choice).tolerance, geometry, isComing: true });
    };
    const result = await geometryClient.run<RecordGeometry>(
      { job: `trying ${choice.mode} geometry`, limitSeconds: 120 + 2 * readLimitSeconds(bytes.length) },
      (remote, progress) => {
        const name = `try ${++tries}`;
        current = { since: Date.now(), stop: () => void remote.stopTrying(name) };
        return remote.tryGeometry(record, bytes, target, choice, name, progress, Comlink.proxy(first));
      },
    );
    isOver = true;
    current = undefined;
    if (!isWanted()) continue;
    // What cannot be made is said when it is asked for in earnest.
    if (result.state === 'done') {
      keepModel(result.value.geometry.blob, result.value.blob);
      void putBlob(result.value.blob, result.value.geometry.blob);
      const next = newest();
      const { geometry } = result.value;
      set({ recordId: record.id, target, ...(next ? { making: next.choice.tolerance } : {}), geometry });
    } else if (!newest()) forgetTried();
  }
}

/** The pointer was let go: what was only wished for is not made any more. Resolves when what is being made is there to be taken: it may be just that. */
export async function stopTrying(): Promise<void> {
  // What is made for an older wish would not be taken.
  if (wish) current?.stop();
  wish = undefined;
  await running;
}

/** Ends the looking: what was tried is gone unless a record has taken it. */
export function forgetTried(): void {
  wish = undefined;
  current?.stop();
  set(undefined);
}

/** Proven geometry that will be bettered yet, to look at meanwhile. */
export function showComing(record: ComponentRecord, target: GeometryTarget, geometry: MadeGeometry): void {
  set({ recordId: record.id, target, geometry, isComing: true });
}

/** What is being tried for a component. */
export function useTried(recordId: string): Tried | undefined {
  const now = useSyncExternalStore(subscribe, () => tried);
  return now?.recordId === recordId ? now : undefined;
}

/** A record with what is being tried in place of what was made. */
export const withTried = (record: ComponentRecord, now: Tried | undefined): ComponentRecord =>
  now?.geometry ? { ...record, geometry: [...record.geometry.filter((g) => g.target !== now.target), now.geometry] } : record;
