import { done, failed, type Issue, issue, type Result } from '#core/issues';
import type { Channel } from '#core/records';
import type { Step } from '../program/moves.ts';
import { edgeOf, ofCarrier, readSteps, type TrialSetting } from '../setting.ts';
import { checkWaits } from './check-waits.ts';

/** A channel as it is run: its place among the programs, and the set-up with the edges of its carrier only. */
export interface ChannelSteps {
  readonly index: number;
  readonly name: string;
  readonly setting: TrialSetting;
  readonly steps: readonly Step[];
}

/**
 * Reads the programs of a trial, those without text left out. Several have to move different carriers, and to wait for each other at the same marks in the same order.
 */
export function readChannels(
  programs: readonly Channel[],
  setting: TrialSetting,
): Result<{ readonly channels: readonly ChannelSteps[]; readonly warnings: readonly Issue[] }> {
  const channels: ChannelSteps[] = [];
  const warnings: Issue[] = [];
  const written = programs.flatMap((p, index) => (p.text.trim() === '' ? [] : [{ ...p, index }]));
  for (const { index, name, text, carrier } of written) {
    const own = ofCarrier(setting, carrier);
    const read = readSteps(text, name, own);
    if (!read.ok) return read;
    warnings.push(...read.value.warnings);
    channels.push({ index, name, setting: own, steps: read.value.steps });
  }
  const [only] = channels;
  if (!only) return failed('program.empty', { file: programs[0]?.name ?? '' });
  if (channels.length === 1) {
    const wait = only.steps.find((s) => s.kind === 'wait');
    if (wait) warnings.push(issue('program.waits-unheard', { file: only.name, line: wait.line, text: `M${wait.mark}` }));
    return done({ channels, warnings });
  }
  const moved = new Map<string, string>();
  for (const channel of channels) {
    const carrier = carrierOf(channel);
    const other = carrier && moved.get(carrier.id);
    if (carrier && other !== undefined) return failed('program.same-carrier', { file: channel.name, carrier: carrier.name, other });
    if (carrier) moved.set(carrier.id, channel.name);
  }
  const wrong = checkWaits(channels);
  return wrong ? { ok: false, issues: [wrong] } : done({ channels, warnings });
}

// What a channel moves: that of its first tool; it calls none of another one.
function carrierOf({ steps, setting }: ChannelSteps) {
  const call = steps.find((s) => s.kind === 'tool');
  return call && edgeOf(setting, call.tool, call.offset)?.carrier;
}
