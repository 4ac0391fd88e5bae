import { readFileSync, writeFileSync } from 'node:fs';
import { basename } from 'node:path';
import { IssueError, type Issue, issue, say, unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { roundTo } from '#core/math';
import type { FlatPoint, HalfProfile, PathPiece } from '#core/outline';
import { isFault, readSteps, runTrial, stockOf, type TrialEvent, type TrialSetting, trialSetting, writeProgram } from '#core/trial';
import type { CommandOutput, CommandRequest, Say } from '../request.ts';
import { table } from '../table.ts';
import { giveWay, number } from './io.ts';
import { readTrial } from './trial-input.ts';

export async function trial(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'trial' }, progress: Say): Promise<CommandOutput> {
  const file = basename(request.file);
  const cooked = await readTrial(kernel, bytes, request.file);
  const setting = trialSetting(cooked.parts, cooked.job);
  const stock = stockOf(setting);
  if (!stock) throw new IssueError([issue('record.bad', { file, field: 'stock', text: 'the set-up has no blank in that spindle; say what is turned' })]);
  const { text, name, notes } = programOf(cooked, setting, stock, request, file);
  const { steps, warnings: passedOver } = unwrap(readSteps(text, basename(name), setting));
  const job = runTrial(setting, steps, stock);
  let step = job.next();
  for (; !step.done; step = job.next()) {
    progress(`running the program, ${Math.round(100 * step.value)} %`);
    await giveWay();
  }
  const { part, fallen, removedVolume, time, events, against } = step.value;
  const warnings = [...step.value.warnings, ...passedOver, ...notes];
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
      events: events.map(({ kind, time: t, line, between, depth, at, message }) => ({
        time: roundTo(t, 3),
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
      warnings: warnings.map(say),
    },
    text: [
      `${steps.length} steps, ${number(time)} s, ${number(removedVolume / 1000)} cm3 taken away`,
      ...(against ? [`against the contour: ${number(against.over)} mm too much, ${number(against.under)} mm too little`] : []),
      ...fallen.map((f) => `line ${f.line}: a piece of ${number(f.volume / 1000)} cm3, Z ${number(f.from)} to ${number(f.to)}, is parted off`),
      events.length === 0 ? 'nothing touches' : eventTable(events),
    ].join('\n'),
    warnings: [...cooked.warnings, ...warnings].map(say),
    checkFailed: wrong,
  };
}

// What is given, else what the file names, else what its operations make; those are written where that is asked for.
function programOf(
  { program, operations, read }: Awaited<ReturnType<typeof readTrial>>,
  setting: TrialSetting,
  stock: HalfProfile,
  { program: given, out }: CommandRequest & { command: 'trial' },
  file: string,
): { text: string; name: string; notes: readonly Issue[] } {
  if (out !== undefined && (given !== undefined || program !== undefined))
    throw new IssueError([issue('record.bad', { file, field: '--out', text: 'it writes what operations make, and a program is given' })]);
  if (given !== undefined) return { text: new TextDecoder().decode(readGiven(given)), name: given, notes: [] };
  if (program !== undefined) return { text: new TextDecoder().decode(read(program)), name: program, notes: [] };
  if (operations.length === 0)
    throw new IssueError([issue('record.bad', { file, field: 'program', text: 'there is none; say it there, or by --program, or say operations' })]);
  const { text, notes } = unwrap(writeProgram(setting, operations, stock));
  if (out !== undefined) writeFileSync(out, text);
  return { text, name: out ?? 'operations', notes };
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

const eventTable = (events: readonly TrialEvent[]) =>
  table(
    ['s', 'line', 'what', 'mm', 'z', 'r', ''],
    events.map((e) => [number(e.time), String(e.line), e.kind, number(e.depth), number(e.at[0]), number(e.at[1]), e.message]),
  );
