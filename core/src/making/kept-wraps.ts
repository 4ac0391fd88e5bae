import type { SampledBody } from '#core/kernel';
import type { Made, WrapChoice } from './tasks.ts';

/** A wrap that was made and proven in earnest. */
export interface KeptWrap {
  readonly choice: WrapChoice;
  readonly made: Made;
}

// Of each body: a person goes back and forth between a few tolerances.
const MOST_KEPT = 4;
// mm. With less than this more nothing becomes lighter.
const LEAST_MORE = 1e-3;

const kept = new WeakMap<SampledBody, readonly KeptWrap[]>();

/** Keeps a wrap as long as the samples of its body. */
export function keepWrap(body: SampledBody, wrap: KeptWrap): void {
  const others = (kept.get(body) ?? []).filter((w) => w.choice.tolerance !== wrap.choice.tolerance || !isSameButTolerance(w.choice, wrap.choice));
  kept.set(body, [...others, wrap].slice(-MOST_KEPT));
}

/** Of a body with several chords, the wrap with the greatest tolerance that is finer than the one wanted: what a wrap may be made of quickly. None where the one wanted was made itself. */
export function finerWrap(samples: readonly SampledBody[], wanted: WrapChoice): { readonly body: SampledBody; readonly wrap: KeptWrap } | undefined {
  const all = samples.flatMap((body) => (kept.get(body) ?? []).map((wrap) => ({ body, wrap })));
  const alike = all.filter(({ wrap: { choice } }) => isSameButTolerance(choice, wanted));
  if (alike.some(({ wrap: { choice } }) => choice.tolerance === wanted.tolerance)) return undefined;
  const finer = alike.filter(({ wrap: { choice } }) => choice.tolerance + LEAST_MORE <= wanted.tolerance);
  return finer.sort((a, b) => b.wrap.choice.tolerance - a.wrap.choice.tolerance)[0];
}

const isSameButTolerance = (a: WrapChoice, b: WrapChoice): boolean => a.closeBelow === b.closeBelow && a.triangles === b.triangles;
