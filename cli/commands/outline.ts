import { basename, extname } from 'node:path';
import { closedLoop, readDrawing, type ReadDrawingOptions, type ReadOutline, readDxf, readPicture, readSvg, readTraced, traceEdge } from '#core/drawing';
import { flatsAround, revolveToMesh } from '#core/envelope';
import { IssueError, issue, say, unwrap } from '#core/issues';
import { type Kernel, writeRevolvedStep } from '#core/kernel';
import { IDENTITY_FRAME } from '#core/math';
import { writeGlb, writeStl, writeThreeMf } from '#core/mesh';
import { type HalfProfile, writeDxf, writeSvg } from '#core/outline';
import { safeFileName } from '#core/records';
import { MM_PER_INCH } from '#core/units';
import type { CommandOutput, CommandRequest } from '../request.ts';
import { table } from '../table.ts';
import { number, writeOutput } from './io.ts';

// mm. How far flats and chords of a mesh are from the outline at most.
const MESH_TOLERANCE = 0.01;

/** Reads a drawing or a picture as an outline, and writes what it makes. */
export async function outline(kernel: () => Promise<Kernel>, bytes: Uint8Array, request: CommandRequest & { command: 'outline' }): Promise<CommandOutput> {
  const file = basename(request.file);
  const { read, format } = request.scale ? fromPicture(bytes, file, request, request.scale) : fromDrawing(bytes, file, request);
  if (request.out) await writeOutline(kernel, read, request.out);
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

const optionsOf = ({ form, tolerance, flip }: Wanted): ReadDrawingOptions => ({
  ...(form ? { form } : {}),
  ...(tolerance === undefined ? {} : { tolerance }),
  ...(flip ? { flip } : {}),
});

function fromDrawing(bytes: Uint8Array, file: string, wanted: Wanted): { read: ReadOutline; format: string } {
  const { unit, layers, bridge } = wanted;
  const scale = unit && (unit === 'inch' ? MM_PER_INCH : 1);
  const drawing = unwrap((extname(file).toLowerCase() === '.svg' ? readSvg : readDxf)(bytes, file, scale));
  const options = {
    ...optionsOf(wanted),
    ...(layers ? { layers } : {}),
    ...(bridge === undefined ? {} : { bridge }),
    isUnitKnown: scale !== undefined,
  };
  return { read: unwrap(readDrawing(drawing, file, options)), format: drawing.format };
}

function fromPicture(bytes: Uint8Array, file: string, wanted: Wanted, [x1, y1, x2, y2, mm]: readonly number[]): { read: ReadOutline; format: string } {
  const pixels = Math.hypot(x2 - x1, y2 - y1);
  if (!(pixels >= 1) || !(mm > 0)) throw new IssueError([issue('picture.bad-scale', { text: `${mm} mm over ${number(pixels)} pixels` })]);
  const edge = unwrap(traceEdge(unwrap(readPicture(bytes, file)), file));
  return { read: unwrap(readTraced(edge, file, mm / pixels, optionsOf(wanted))), format: extname(file).slice(1).toLowerCase() };
}

async function writeOutline(kernel: () => Promise<Kernel>, read: ReadOutline, out: string): Promise<void> {
  const kind = extname(out).toLowerCase();
  const name = safeFileName(basename(out, extname(out)));
  const loops: HalfProfile = read.form === 'revolved' ? read.profile.map(closedLoop) : read.profile;
  const layer = [{ name: 'OUTLINE', colour: '#1f5f8b', loops }];
  if (kind === '.dxf') return writeOutput(out, new TextEncoder().encode(writeDxf(layer)));
  if (kind === '.svg') return writeOutput(out, new TextEncoder().encode(writeSvg(layer, name)));
  if (read.form === 'flat') throw new IssueError([issue('outline.no-solid', { kind })]);
  if (kind === '.step') return writeOutput(out, writeRevolvedStep(await kernel(), loops, IDENTITY_FRAME, name));
  const mesh = revolveToMesh(loops, { origin: IDENTITY_FRAME.origin, direction: IDENTITY_FRAME.z }, (r) => flatsAround(r, MESH_TOLERANCE), MESH_TOLERANCE);
  const named = [{ name, colour: '#59626b', mesh }];
  return writeOutput(out, kind === '.stl' ? writeStl(mesh) : kind === '.3mf' ? writeThreeMf(named) : await writeGlb(named));
}
