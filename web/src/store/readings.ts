import type { Model } from '#core/mesh';
import type { Reading } from '#core/reading';
import { geometryClient, withHeldModel } from '../workers/geometry-client.ts';

// Readings by model blob: a model is read once in a session, as long as it is among the last that were looked at.
const KEPT_READINGS = 24;
const readings = new Map<string, Promise<Reading | undefined>>();

/** What is read from a model; the worker has it still where it has just opened it, else it is sent. */
export function readingOf(blob: string, model: () => Promise<Model | undefined>): Promise<Reading | undefined> {
  const known = readings.get(blob);
  if (known) return known;
  const made = geometryClient
    .run<Reading>({ job: 'reading the model', limitSeconds: 60 }, (remote) => withHeldModel(remote, blob, model, () => remote.read(blob)))
    .then((result) => (result.state === 'done' ? result.value : undefined));
  readings.set(blob, made);
  const [oldest] = readings.keys();
  if (readings.size > KEPT_READINGS) readings.delete(oldest);
  return made;
}
