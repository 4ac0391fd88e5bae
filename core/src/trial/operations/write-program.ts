import { done, type Issue, issue, type Result } from '#core/issues';
import type { Channel } from '#core/records';
import { type FlatPoint, type HalfProfile, mapPiece, type PathPiece, splitArc } from '#core/outline';
import { Region } from '../region/region.ts';
import type { TrialSetting } from '../setting.ts';
import type { Operation } from './operation.ts';
import { type PlannedCut, planOperation } from './plan-operation.ts';

const DIGITS = 1000;
// An arc by R is told best below a quarter of a turn.
const QUARTER = Math.PI / 2;

/** A planned cut as blocks (ISO 6983), in mm: from the tool call to where the carrier goes home. The places are those of the programmed point; nothing is left to a control's compensation. */
export function writeOperation({ loaded, moves, diameter }: PlannedCut, op: Operation, { parts, job }: TrialSetting): string {
  const { control } = parts.machine;
  const { edge } = loaded;
  const digits = (value: number, count: number) => String(value).padStart(count, '0');
  const perX = control.diameters ? 2 : 1;
  const point = ([z, x]: FlatPoint): FlatPoint => [z + edge.atWork.Z, x + edge.atWork.X];
  const spindle = parts.machine.spindles[job.spindle] ?? parts.machine.spindles.main;
  const fastest = Math.min(op.fastest, spindle.largestSpeed);
  const lines = [
    `(${sayOperation(op).toUpperCase()}: ${plain(edge.own.name)})`,
    'G21 G18 G40 G90 G95',
    `T${digits(op.tool, control.toolDigits)}${digits(edge.offset ?? op.offset ?? op.tool, control.offsetDigits)}`,
    ...speedOf(op, edge.sense ?? 'M3', fastest, diameter),
  ];
  let at: FlatPoint | undefined;
  let [code, feed] = ['', 0];
  for (const move of moves)
    for (const path of inQuarters(mapPiece(move.path, point))) {
      const [z, x] = [rounded(path.to[0]), rounded(path.to[1] * perX)];
      const words: string[] = [];
      if (!at || rounded(at[1] * perX) !== x) words.push(`X${number(x)}`);
      if (!at || rounded(at[0]) !== z) words.push(`Z${number(z)}`);
      at = path.to;
      if (words.length === 0) continue;
      const next = codeOf(move.kind, path);
      if (path.kind === 'arc') words.push(`R${number(rounded(Math.hypot(path.from[0] - path.centre[0], path.from[1] - path.centre[1])))}`);
      if (move.kind !== 'rapid' && move.feed !== feed) words.push(`F${number(move.feed)}`);
      if (move.kind !== 'rapid') feed = move.feed;
      lines.push([...(next === code ? [] : [next]), ...words].join(' '));
      code = next;
    }
  lines.push('G28 U0 W0', 'M5');
  return lines.join('\n');
}

/** A whole program of operations, each planned from what those before it leave, and what it moves where they say so; a fault says which one. */
export function writeProgram(
  setting: TrialSetting,
  operations: readonly Operation[],
  stock: HalfProfile,
): Result<Pick<Channel, 'text' | 'carrier'> & { readonly notes: readonly Issue[] }> {
  const parts: string[] = [];
  const notes: Issue[] = [];
  let left = Region.ofProfile(stock);
  for (const [i, op] of operations.entries()) {
    const plan = planOperation(setting, op, left);
    if (!plan.ok) return { ok: false, issues: [issue('operation.failed', { number: i + 1, text: sayOperation(op) }), ...plan.issues] };
    parts.push(writeOperation(plan.value, op, setting));
    notes.push(...plan.value.notes);
    left = plan.value.stock;
  }
  return done({ text: withBlocks('', parts.join('\n')), carrier: operations.find((op) => op.carrier !== undefined)?.carrier ?? null, notes });
}

/** A program with blocks put in where its main program ends: before its M30 or M2, or behind all of it where it has none. */
export function withBlocks(program: string, blocks: string): string {
  if (program.trim() === '') return `%\nO0001\n${blocks}\nM30\n%\n`;
  const lines = program.replace(/\r\n?/g, '\n').split('\n');
  const end = lines.findIndex((l) => /M0*(30|2)(?!\d)/i.test(l.replace(/\([^)]*\)|;.*$/g, '')));
  if (end >= 0) return [...lines.slice(0, end), ...blocks.split('\n'), ...lines.slice(end)].join('\n');
  const last = lines.findLastIndex((l) => l.trim() !== '' && l.trim() !== '%');
  return [...lines.slice(0, last + 1), ...blocks.split('\n'), ...lines.slice(last + 1)].join('\n');
}

/** An operation in words. */
export function sayOperation(op: Operation): string {
  switch (op.kind) {
    case 'turn':
      return `turn ${op.side}${op.rough === 'none' ? ', finish' : op.finish ? ', rough and finish' : ', rough'}`;
    case 'groove':
      return op.side === 'face' ? 'groove in the face' : `groove ${op.side}`;
    case 'thread':
      return `thread ${op.side}, pitch ${op.pitch}`;
    default:
      return op.kind;
  }
}

// Controls read plain letters in comments.
const plain = (text: string): string =>
  text
    .normalize('NFKD')
    .replace(/[^\x20-\x7e]|[()]/g, '')
    .toUpperCase()
    .slice(0, 60);

const rounded = (v: number): number => Math.round(v * DIGITS) / DIGITS + 0;
const number = (v: number): string => (Number.isInteger(v) ? `${v}.` : String(v));

const codeOf = (kind: PlannedCut['moves'][number]['kind'], path: PathPiece): string => {
  if (kind === 'rapid') return 'G0';
  if (kind === 'thread') return 'G33';
  return path.kind === 'line' ? 'G1' : path.ccw ? 'G3' : 'G2';
};

const inQuarters = (path: PathPiece): PathPiece[] => (path.kind === 'line' ? [path] : splitArc(path, QUARTER));

function speedOf(op: Operation, sense: string, fastest: number, diameter: number): string[] {
  if (op.kind !== 'drill' && op.kind !== 'thread') return [`G50 S${Math.round(fastest)}`, `G96 S${Math.round(op.surfaceSpeed)} ${sense}`];
  // n = 1000 v / (pi D)
  const n = Math.min(fastest, (1000 * op.surfaceSpeed) / (Math.PI * Math.max(diameter, 1)));
  return [`G97 S${Math.round(n)} ${sense}`];
}
