// Models that a worker keeps, so that they need not come along with every question.
import { done, type Result } from '#core/issues';
import { decodeModel, type Model } from '#core/mesh';
import type { ComponentRecord } from '#core/records';

// As many as a usual assembly has components, or a turret tools.
const HELD_MODELS = 24;
const held = new Map<string, Model>();
/** Keeps a model by its hash; of those that are kept the oldest goes. */
export function hold(blob: string, model: Model): void {
  held.delete(blob);
  held.set(blob, model);
  const [oldest] = held.keys();
  if (held.size > HELD_MODELS) held.delete(oldest);
}
export const isHeld = (blob: string): boolean => held.has(blob);

/** A model that is kept; that it is, is for the caller to know. */
export function heldModel(blob: string): Model {
  const model = held.get(blob);
  if (!model) throw new Error(`held-models.heldModel: a model that is held; got ${blob}`);
  return model;
}

/** Models of components: those that came along, encoded, by their hash, and those that are held. */
export function modelsOf(components: readonly ComponentRecord[], sent: Readonly<Record<string, Uint8Array>>): Result<Record<string, Model>> {
  const models: Record<string, Model> = {};
  for (const { id, model } of components) {
    const decoded = model.blob in sent ? decodeModel(sent[model.blob]) : done(heldModel(model.blob));
    if (!decoded.ok) return decoded;
    models[id] = decoded.value;
  }
  for (const { id, model } of components) hold(model.blob, models[id]);
  return done(models);
}
