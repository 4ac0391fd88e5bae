import type { EventKind } from '#core/trial';

export const KIND_WORDS: Readonly<Record<EventKind, string>> = {
  touch: 'touches',
  rapid: 'rapid through the work',
  gouge: 'cuts into the part',
  sense: 'turns the wrong way',
  feed: 'cannot be fed so',
  travel: 'beyond the travel',
  near: 'near',
};

/** Nearness alone is no fault. */
export const FAULT_KINDS: ReadonlySet<EventKind> = new Set<EventKind>(['touch', 'rapid', 'gouge', 'sense', 'feed', 'travel']);
