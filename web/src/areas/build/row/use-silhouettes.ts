import { useEffect, useMemo, useState } from 'react';
import type { Model } from '#core/mesh';
import { type ComponentRecord, mountFrameOf } from '#core/records';
import { outlineBehind } from '../section/outline-behind.ts';

/** What a component looks like along its mount's Y, in the mount frame: loops of z, x. */
export interface Silhouette {
  readonly body: readonly Float64Array[];
  readonly cutting: readonly Float64Array[];
  /** z0, z1, x0, x1, mm. */
  readonly box: readonly [number, number, number, number];
}

// Those of the last components, by what they follow from.
const KNOWN = new Map<string, Silhouette>();
const MOST = 64;
// mm: in front of everything.
const IN_FRONT = 1e5;

const keyOf = (c: ComponentRecord): string => JSON.stringify([c.model.blob, mountFrameOf(c), c.bodies.map((b) => b.role)]);

/** Silhouettes of components whose models are there, as they come, by component id. */
export function useSilhouettes(
  used: readonly ComponentRecord[],
  models: Readonly<Record<string, Model | undefined>>,
): Readonly<Record<string, Silhouette | undefined>> {
  const [, setCount] = useState(0);
  const key = useMemo(() => JSON.stringify(used.map((c) => [keyOf(c), models[c.id] !== undefined])), [used, models]);
  useEffect(() => {
    let live = true;
    const ask = async () => {
      for (const component of used) {
        const model = models[component.id];
        if (!live || !model || KNOWN.has(keyOf(component))) continue;
        const found = await silhouetteOf(component, model);
        if (!found) continue;
        KNOWN.set(keyOf(component), found);
        if (KNOWN.size > MOST) KNOWN.delete([...KNOWN.keys()][0]);
        if (live) setCount((n) => n + 1);
      }
    };
    void ask();
    return () => {
      live = false;
    };
    // biome-ignore lint: the key stands for all of them
  }, [key]); // oxlint-disable-line react/exhaustive-deps
  return Object.fromEntries(used.map((c) => [c.id, KNOWN.get(keyOf(c))]));
}

async function silhouetteOf(component: ComponentRecord, model: Model): Promise<Silhouette | undefined> {
  const outline = async (isCutting: boolean) => {
    const bodies = model.bodies
      .filter((b) => {
        const role = component.bodies.find((e) => e.id === b.id)?.role;
        return role !== 'left out' && (role === 'cutting') === isCutting;
      })
      .map((b) => b.id);
    return bodies.length === 0 ? [] : outlineBehind(component.model.blob, model, bodies, mountFrameOf(component), IN_FRONT);
  };
  const [body, cutting] = [await outline(false), await outline(true)];
  if (!body || !cutting) return undefined;
  const box: [number, number, number, number] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const p of [...body, ...cutting])
    for (let i = 0; i < p.length; i += 2) {
      box[0] = Math.min(box[0], p[i]);
      box[1] = Math.max(box[1], p[i]);
      box[2] = Math.min(box[2], p[i + 1]);
      box[3] = Math.max(box[3], p[i + 1]);
    }
  return box[1] > box[0] ? { body, cutting, box } : undefined;
}
