import { readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { IssueError, type Issue, issue, say, unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { roundTo } from '#core/math';
import type { Channel } from '#core/records';
import type { FlatPoint, HalfProfile, PathPiece } from '#core/outline';
import {
  cutsOverTime,
  hardestOf,
  isFault,
  readChannels,
  runChannels,
  stockOf,
  type TrialEvent,
  type TrialSetting,
  trialSetting,
  writeProgram,
} from '#core/trial';
import type { CommandOutput, CommandRequest, Say } from '../request.ts';
import { table } from '../table.ts';
import { giveWay, number } from './io.ts';
import { readTrial } from './trial-input.ts';

export async function trial(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'trial' }, progress: Say): Promise<CommandOutput> {
  const file = basename(request.file);
  const cooked = await readTrial(kernel, bytes, request);
  const setting = trialSetting(cooked.parts, cooked.job);
  const stock = stockOf(setting);
  if (!stock) throw new IssueError([issue('record.bad', { file, field: 'stock', text: 'the set-up has no blank in that spindle; say what is turned' })]);
  const { programs, notes } = programsOf(cooked, setting, stock, request, file);
  const { channels, warnings: passedOver } = unwrap(readChannels(programs, setting));
  const job = runChannels(setting, channels, stock);
  let step = job.next();
  for (; !step.done; step = job.next()) {
    progress(`running the program, ${Math.round(100 * step.value)} %`);
    await giveWay();
  }
  const { part, fallen, removedVolume, time, events, against, recording } = step.value;
  const load = hardestOf(cutsOverTime(recording)).map((h) => ({ name: recording.tools[h.tool].name, ...h }));
  const warnings = [...step.value.warnings, ...passedOver, ...notes];
  const programOf = ({ channel }: { readonly channel: number }) => (channels.length > 1 ? { program: programs[channel].name } : {});
  const wrong = events.some(isFault);
  return {
    json: {
      part: part.map((loop) => loop.map(tellPiece)),
      removedVolume: roundTo(removedVolume, 4),
      fallen: fallen.map(({ line, time: t, volume, from, to }) => ({
        line,
        time: roundTo(t, 3),
        volume: roundTo(volume, 4),
        from: roundTo(from, 4),
        to: roundTo(to, 4),
      })),
      time: roundTo(time, 3),
      events: events.map(({ kind, time: t, line, channel, between, depth, at, message }) => ({
        time: roundTo(t, 3),
        ...programOf({ channel }),
        line,
        kind,
        between,
        depth: roundTo(depth, 4),
        at: tidy(at),
        message,
      })),
      ...(against
        ? { against: { over: roundTo(against.over, 4), under: roundTo(against.under, 4), at: { over: tidy(against.at.over), under: tidy(against.at.under) } } }
        : {}),
      load: load.map((h) => ({
        tool: h.name,
        line: h.line,
        time: roundTo(h.time, 3),
        depth: roundTo(h.depth, 4),
        section: roundTo(h.section, 5),
        feed: roundTo(h.feed, 5),
        surfaceSpeed: roundTo(h.surface, 2),
        speed: roundTo(h.speed, 1),
        rate: roundTo(h.rate, 3),
      })),
      warnings: warnings.map(say),
    },
    text: [
      `${channels.reduce((n, c) => n + c.steps.length, 0)} steps, ${number(time)} s, ${number(removedVolume / 1000)} cm3 taken away`,
      ...(against ? [`against the contour: ${number(against.over)} mm too much, ${number(against.under)} mm too little`] : []),
      ...fallen.map((f) => `line ${f.line}: a piece of ${number(f.volume / 1000)} cm3, Z ${number(f.from)} to ${number(f.to)}, is parted off`),
      ...(load.length > 0 ? [loadTable(load)] : []),
      events.length === 0 ? 'nothing touches' : eventTable(events, (e) => programOf(e).program),
    ].join('\n'),
    warnings: [...cooked.warnings, ...warnings].map(say),
    checkFailed: wrong,
  };
}

// What each edge has to do at most.
const loadTable = (load: readonly ({ readonly name: string } & ReturnType<typeof hardestOf>[number])[]): string =>
  table(
    ['edge', 'depth mm', 'chip mm2', 'feed mm', 'm/min', 'cm3/min', 'thickest chip at'],
    load.map((h) => [h.name, number(h.depth), number(h.section), number(h.feed), number(h.surface), number(h.rate), `line ${h.line}`]),
  );

// What is given, else what the file names, else what its operations make; those are written where that is asked for.
function programsOf(
  { programs, operations }: Awaited<ReturnType<typeof readTrial>>,
  setting: TrialSetting,
  stock: HalfProfile,
  { program: given, out }: CommandRequest & { command: 'trial' },
  file: string,
): { programs: readonly Channel[]; notes: readonly Issue[] } {
  if (out !== undefined && (given !== undefined || programs.length > 0))
    throw new IssueError([issue('record.bad', { file, field: '--out', text: 'it writes what operations make, and a program is given' })]);
  if (given !== undefined) return { programs: [{ name: basename(given), text: new TextDecoder().decode(readGiven(given)), carrier: null }], notes: [] };
  if (programs.length > 0) return { programs: programs.map((p) => ({ ...p, name: basename(p.name) })), notes: [] };
  if (operations.length === 0)
    throw new IssueError([issue('record.bad', { file, field: 'program', text: 'there is none; say it there, or by --program, or say operations' })]);
  const { text, carrier, notes } = unwrap(writeProgram(setting, operations, stock));
  if (out !== undefined) writeFileSync(out, text);
  return { programs: [{ name: out === undefined ? 'operations' : basename(out), text, carrier }], notes };
}

function readGiven(name: string): Buffer {
  try {
    return readFileSync(name);
  } catch {
    throw new IssueError([issue('recipe.missing', { file: basename(name), field: '--program', text: name })]);
  }
}

const tidy = (p: FlatPoint) => p.map((v) => roundTo(v, 4) + 0);
const tellPiece = (p: PathPiece) =>
  p.kind === 'line'
    ? { kind: p.kind, from: tidy(p.from), to: tidy(p.to) }
    : { kind: p.kind, from: tidy(p.from), to: tidy(p.to), centre: tidy(p.centre), ccw: p.ccw };

const eventTable = (events: readonly TrialEvent[], programOf: (event: TrialEvent) => string | undefined) =>
  table(
    ['s', 'line', 'what', 'mm', 'z', 'r', ''],
    events.map((e) => [
      number(e.time),
      [programOf(e), String(e.line)].filter((t) => t !== undefined).join(' '),
      e.kind,
      number(e.depth),
      number(e.at[0]),
      number(e.at[1]),
      e.message,
    ]),
  );
