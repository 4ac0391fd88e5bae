import type { SampledBody } from '#core/kernel';
import type { TriMesh } from '#core/mesh';

// Results for each body: a press takes up to three, and a person goes back and forth between a few tolerances.
const MOST_KEPT = 9;

/** By the body that it was made of: gone when that is sampled anew, or not kept any more. */
const kept = new WeakMap<SampledBody, Map<string, unknown>>();

/** What a result depends on besides the body: plain values, and other bodies and meshes, which are told apart by being themselves. */
export interface How {
  readonly plain: unknown;
  readonly objects: readonly (SampledBody | TriMesh)[];
}

/** What was made of a body in the same way before; else it is made now, and kept where it `isWorth` that. The newest stay. */
export async function madeOnce<T>(body: SampledBody, how: How, make: () => Promise<T>, isWorth: (made: T) => boolean = () => true): Promise<T> {
  const key = keyOf(how);
  const known = kept.get(body) ?? new Map<string, unknown>();
  kept.set(body, known);
  const before = known.get(key);
  if (before !== undefined) {
    known.delete(key);
    known.set(key, before);
    return before as T;
  }
  const made = await make();
  if (!isWorth(made)) return made;
  known.set(key, made);
  const [oldest] = known.keys();
  if (known.size > MOST_KEPT) known.delete(oldest);
  return made;
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
