import { basename, extname } from 'node:path';
import { IssueError, issue, say, unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { areaOfPath, mirrorProfile, type PathPiece, profileVolume, reversePath } from '#core/outline';
import { type DrawingChoice, hashBytes, newOutline, NO_CHOICE, type OutlineRecord, readRecordFile } from '#core/records';
import {
  contradictionsOf,
  drawingFormatOf,
  extentOf,
  OUTLINE_FILES,
  outlineFacts,
  outlinePartOf,
  readOutlineFile,
  shapeOfOutline,
  writeOutlineFile,
} from '#core/sources';
import type { CommandOutput, CommandRequest } from '../request.ts';
import { table } from '../table.ts';
import { number, writeOutput } from './io.ts';

/** Reads a drawing, a picture or an outline's record, and writes what it makes. */
export async function outline(kernel: () => Promise<Kernel>, bytes: Uint8Array, request: CommandRequest & { command: 'outline' }): Promise<CommandOutput> {
  const file = basename(request.file);
  if (extname(file).toLowerCase() === '.json') return fromRecord(kernel, bytes, file, request.out);
  const choice = choiceOf(request);
  const read = unwrap(readOutlineFile(bytes, file, choice));
  const format = drawingFormatOf(file) ?? 'dxf';
  if (request.out) {
    const { read: said, ...part } = outlinePartOf(read);
    const way = { kind: 'drawing' as const, blob: hashBytes(bytes), fileName: file, format, choice, read: said };
    const name = basename(file, extname(file)) || 'outline';
    const isSolid = !/\.(dxf|svg|json)$/i.test(request.out);
    if (part.purpose === 'insert' && isSolid && request.thickness === undefined)
      throw new IssueError([issue('outline.no-solid', { kind: extname(request.out) })]);
    const record = newOutline({ id: hashBytes(bytes).slice(0, 16), name, purpose: part.purpose, way, now: new Date(0).toISOString() });
    await writeAs(kernel, { ...record, ...part, insert: { ...record.insert, thickness: request.thickness ?? 1, reliefDeg: request.relief ?? 0 } }, request.out);
  }
  const unit = request.unit ?? read.unit;
  const { profile, warnings, largestDiameter, length, area, volume, cutting, shank, axis, tip, steps } = read;
  const json = {
    format,
    unit,
    unitScale: read.unitScale,
    layers: read.layers.map(({ name, entities, used }) => ({ name, entities, used })),
    form: read.form,
    ...(axis ? { axis, tip } : {}),
    profile: profile.flat(),
    largestDiameter,
    length,
    area,
    ...(volume === undefined ? {} : { volume }),
    ...(cutting ? { cutting } : {}),
    ...(shank ? { shank } : {}),
    steps,
    warnings: warnings.map((w) => ({ code: w.code, message: say(w) })),
  };
  const size = read.form === 'revolved' ? `diameter ${number(largestDiameter)}, length ${number(length)}` : `${number(length)} mm across`;
  const held = shank && cutting ? `\ncuts up to ${number(cutting.to)}, shank ${number(shank.diameter)} x ${number(shank.length)}` : '';
  return {
    json,
    text: `${file}: ${read.form}, ${unit}, ${profile.flat().length} pieces; ${size}${held}\n${table(
      ['step', ''],
      steps.map((s) => [s.code, s.message]),
    )}${request.out ? `\nwrote ${request.out}` : ''}`,
    warnings: warnings.map(say),
    checkFailed: false,
  };
}

type Wanted = CommandRequest & { command: 'outline' };

const choiceOf = ({ form, tolerance, flip, unit, layers, bridge, scale }: Wanted): DrawingChoice => ({
  ...NO_CHOICE,
  layers: layers ?? null,
  form: form ?? null,
  unit: unit ?? null,
  bridge: bridge ?? null,
  tolerance: tolerance ?? null,
  flip: flip ?? false,
  scale: scale ? { from: [scale[0], scale[1]], to: [scale[2], scale[3]], mm: scale[4] } : null,
});

// A record that was saved in the Outline area, or elsewhere: its numbers as it has them.
async function fromRecord(kernel: () => Promise<Kernel>, bytes: Uint8Array, file: string, out: string | undefined): Promise<CommandOutput> {
  const read = unwrap(readRecordFile(bytes, file));
  if (read.kind !== 'outline') throw new IssueError([issue('record.bad', { file, field: 'kind', text: `it is an ${read.kind}` })]);
  if (out) await writeAs(kernel, read, out);
  const { profile, purpose, cutting, fault } = read;
  const facts = outlineFacts(read);
  const value = (name: string) => facts.find((f) => f.name === name)?.value;
  const isFlat = purpose === 'insert';
  const { low, high, radius } = profile.length > 0 ? extentOf(profile) : { low: 0, high: 0, radius: 0 };
  const shape = shapeOfOutline(read);
  const wrong = [...(fault === null ? [] : [fault]), ...(shape.ok ? [] : shape.issues.map(say)), ...contradictionsOf(read).map((c) => c.message)];
  const shank = value('DCON') === undefined ? undefined : { diameter: value('DCON'), length: value('LS') };
  // As drawings are: from the tip along the axis.
  const ways = isFlat ? profile : mirrorProfile(profile, high).map(surfaceOf);
  const area = profile.reduce((sum, loop) => sum + areaOfPath(loop), 0);
  const json = {
    format: 'json',
    unit: 'mm',
    unitScale: 1,
    layers: [],
    form: isFlat ? 'flat' : 'revolved',
    profile: ways.flat(),
    largestDiameter: isFlat ? value('L') : 2 * radius,
    length: isFlat ? value('L') : high - low,
    area,
    ...(isFlat ? {} : { volume: profileVolume(profile) }),
    ...(cutting ? { cutting } : {}),
    ...(shank ? { shank } : {}),
    steps: [],
    warnings: wrong.map((message) => ({ code: 'outline', message })),
  };
  const rows = facts.map((f) => [f.name, f.meaning, number(f.value)]);
  return {
    json,
    text: `${file}: ${read.name}, ${purpose}\n${table(['', '', ''], rows)}${out ? `\nwrote ${out}` : ''}`,
    warnings: wrong,
    checkFailed: wrong.length > 0,
  };
}

// A loop without what lies on the axis, run from the tip on: against material's sense.
const surfaceOf = (loop: readonly PathPiece[]): PathPiece[] => {
  const way = reversePath(loop);
  const first = way.findIndex((p, i) => !isOnAxis(p) && isOnAxis(way[(i + way.length - 1) % way.length]));
  const turned = first < 0 ? way : [...way.slice(first), ...way.slice(0, first)];
  return turned.filter((p) => !isOnAxis(p));
};
const isOnAxis = (p: PathPiece): boolean => p.kind === 'line' && p.from[1] < 1e-9 && p.to[1] < 1e-9;

async function writeAs(kernel: () => Promise<Kernel>, outline: OutlineRecord, out: string): Promise<void> {
  const kind = OUTLINE_FILES.find((k) => extname(out).toLowerCase() === `.${k}`);
  if (!kind) throw new IssueError([issue('outline.no-solid', { kind: extname(out) })]);
  await writeOutput(out, unwrap(await writeOutlineFile(kernel, outline, kind)));
}
