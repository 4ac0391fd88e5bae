import type { SampledBody } from '#core/kernel';
import type { TriMesh } from '#core/mesh';

// Results for each body: a press takes up to five, and a person goes back and forth between a few tolerances.
const MOST_KEPT = 15;

/** By the body that it was made of: gone when that is sampled anew, or not kept any more. */
const kept = new WeakMap<SampledBody, Map<string, Promise<unknown>>>();

/** What a result depends on besides the body: plain values, and other bodies and meshes, which are told apart by being themselves. */
export interface How {
  readonly plain: unknown;
  readonly objects: readonly (SampledBody | TriMesh)[];
}

/**
 * What was made of a body in the same way before, or is being made; else it is made now, and kept where it `isWorth` that: what was stopped half way is not, and
 * who waited for it makes it anew. The newest stay.
 */
export async function madeOnce<T>(body: SampledBody, how: How, make: () => Promise<T>, isWorth: (made: T) => boolean = () => true): Promise<T> {
  const key = keyOf(how);
  const known = kept.get(body) ?? new Map<string, Promise<unknown>>();
  kept.set(body, known);
  for (let before = known.get(key); before; before = known.get(key)) {
    const made = (await before.catch(() => undefined)) as T | undefined;
    if (made === undefined || !isWorth(made)) {
      if (known.get(key) === before) known.delete(key);
      continue;
    }
    if (known.delete(key)) known.set(key, before);
    return made;
  }
  const making = make();
  known.set(key, making);
  let isKept = false;
  try {
    const made = await making;
    isKept = isWorth(made);
    return made;
  } finally {
    if (!isKept && known.get(key) === making) known.delete(key);
    const [oldest] = known.keys();
    if (known.size > MOST_KEPT) known.delete(oldest);
  }
}

/** Whether it was made before. */
export const isMade = (body: SampledBody, how: How): boolean => kept.get(body)?.has(keyOf(how)) ?? false;

const keyOf = ({ plain, objects }: How): string => JSON.stringify([plain, objects.map(tagOf)]);

const tags = new WeakMap<object, number>();
let lastTag = 0;
function tagOf(thing: object): number {
  const tag = tags.get(thing) ?? ++lastTag;
  tags.set(thing, tag);
  return tag;
}
