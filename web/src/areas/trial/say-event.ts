import type { Channel } from '#core/records';
import type { EventKind, TrialEvent } from '#core/trial';

export const KIND_WORDS: Readonly<Record<EventKind, string>> = {
  touch: 'touches',
  rapid: 'rapid through the work',
  gouge: 'cuts into the part',
  sense: 'turns the wrong way',
  feed: 'fed the wrong way',
  depth: 'deeper than its edge is long',
  travel: 'beyond the travel',
  near: 'near',
};

export const sayTime = (s: number): string => (s < 60 ? `${s.toFixed(1)} s` : `${Math.floor(s / 60)} min ${Math.round(s % 60)} s`);

/** The line of an event, with its program where there are several. */
export const sayLine = ({ channel, line }: TrialEvent, programs: readonly Channel[]): string =>
  programs.length > 1 && programs[channel] ? `${programs[channel].name}, line ${line}` : `line ${line}`;
