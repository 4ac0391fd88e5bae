import { useEffect, useMemo, useState } from 'react';
import { decodeModel, type Model } from '#core/mesh';
import type { ComponentRecord } from '#core/records';
import { selectComponents, store } from '../app/store.ts';
import { geometryClient, readLimitSeconds } from '../workers/geometry-client.ts';
import type { ReopenedModel } from '../workers/geometry.worker.ts';
import { getBlob, ownBlob, putBlob } from './blobs.ts';
import { bytesOfSource } from './source-bytes.ts';

// Decoded models by the hash of their blob; the newest few stay.
const cache = new Map<string, Promise<Model | undefined>>();
const MOST_MODELS = 24;

/** The model of a blob, decoded once; one that is not there (of data, or of a Shelf that was brought back) is made of its component's source. Undefined where that cannot be. */
export function loadModel(hash: string): Promise<Model | undefined> {
  const known = cache.get(hash);
  if (known) {
    cache.delete(hash);
    cache.set(hash, known);
    return known;
  }
  const record = selectComponents(store.getState()).find((c) => c.model.blob === hash);
  // The demo data has no models of data.
  const loading = (record?.source.kind === 'data' ? ownBlob(hash) : getBlob(hash))
    .then((bytes) => bytes ?? (record && makeModel(record)))
    .then((bytes) => {
      const read = bytes && decodeModel(bytes);
      if (!read?.ok) cache.delete(hash);
      return read?.ok ? read.value : undefined;
    });
  keep(hash, loading);
  return loading;
}

// The model of a component, of its source with all that is done to that.
async function makeModel(record: ComponentRecord): Promise<Uint8Array | undefined> {
  const bytes = await bytesOfSource(record);
  if (!bytes) return undefined;
  const made = await geometryClient.run<ReopenedModel>({ job: `making ${record.name}`, limitSeconds: readLimitSeconds(bytes.length) }, (remote, progress) =>
    remote.reopen(record, bytes, progress),
  );
  if (made.state !== 'done') return undefined;
  void putBlob(made.value.model, record.model.blob);
  return made.value.model;
}

/** Keeps a model that was just opened, so that it is not read from the browser's storage for its first picture. */
export function keepModel(hash: string, bytes: Uint8Array): void {
  const read = decodeModel(bytes);
  if (read.ok) keep(hash, Promise.resolve(read.value));
}

function keep(hash: string, loading: Promise<Model | undefined>): void {
  cache.set(hash, loading);
  const oldest = cache.keys().next().value;
  if (cache.size > MOST_MODELS && oldest !== undefined) cache.delete(oldest);
}

export type LoadState<T> = { readonly state: 'loading' } | { readonly state: 'ready'; readonly value: T } | { readonly state: 'missing' };

/** Models by blob hash, as they arrive. Keeps what it has while others load. */
export function useModels(hashes: readonly string[]): Readonly<Record<string, LoadState<Model>>> {
  const [models, setModels] = useState<Record<string, LoadState<Model>>>({});
  const key = hashes.join(' ');
  useEffect(() => {
    let live = true;
    for (const hash of key ? key.split(' ') : []) {
      void loadModel(hash).then((model) => {
        if (live)
          setModels((before) =>
            before[hash]?.state === 'ready' ? before : { ...before, [hash]: model ? { state: 'ready', value: model } : { state: 'missing' } },
          );
      });
    }
    return () => {
      live = false;
    };
  }, [key]);
  return models;
}

/** The models of components by component id, as far as they are there, and whether some are still on their way. */
export function useComponentModels(components: readonly ComponentRecord[]): {
  readonly models: Readonly<Record<string, Model | undefined>>;
  readonly isLoading: boolean;
} {
  const loaded = useModels(useMemo(() => [...new Set(components.map((c) => c.model.blob))], [components]));
  return useMemo(() => {
    const models = components.map((c): [string, Model | undefined] => {
      const model = loaded[c.model.blob];
      return [c.id, model?.state === 'ready' ? model.value : undefined];
    });
    return { models: Object.fromEntries(models), isLoading: components.some((c) => (loaded[c.model.blob]?.state ?? 'loading') === 'loading') };
  }, [components, loaded]);
}

export function useModel(hash: string | undefined): LoadState<Model> {
  const models = useModels(hash ? [hash] : []);
  return (hash && models[hash]) || { state: 'loading' };
}
