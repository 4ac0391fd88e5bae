import type { Motion } from '#core/math';
import type { StageItem } from '../../../scene/picks.ts';

// mm, and of the entries of a rotation.
const SAME = 1e-6;

const isSamePlace = (a: Motion, b: Motion): boolean => a.r.every((v, i) => Math.abs(v - b.r[i]) < SAME) && a.t.every((v, i) => Math.abs(v - b.t[i]) < SAME);

/** What of one assembly is not in another at the same place. */
export const differing = (items: readonly StageItem[], others: readonly StageItem[]): StageItem[] =>
  items.filter((i) => !others.some((o) => o.model === i.model && isSamePlace(o.stageFromModel, i.stageFromModel)));
