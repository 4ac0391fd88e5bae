import type { EventKind } from '#core/trial';

export const KIND_WORDS: Readonly<Record<EventKind, string>> = {
  touch: 'touches',
  rapid: 'rapid through the work',
  gouge: 'cuts into the part',
  sense: 'turns the wrong way',
  feed: 'fed the wrong way',
  travel: 'beyond the travel',
  near: 'near',
};

export const sayTime = (s: number): string => (s < 60 ? `${s.toFixed(1)} s` : `${Math.floor(s / 60)} min ${Math.round(s % 60)} s`);
