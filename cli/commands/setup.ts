import { basename } from 'node:path';
import { type Clearance, type StationRow, tellSetUp } from '#core/carrier';
import { packSetUp, readSetUp } from '#core/handover';
import { say, unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import type { CommandOutput, CommandRequest, Say } from '../request.ts';
import { table } from '../table.ts';
import { threadCrew } from '../thread-crew.ts';
import { filesBeside } from './beside.ts';
import { checkTable, giveWay, number, writeOutput } from './io.ts';

export async function setup(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'setup' }, progress: Say): Promise<CommandOutput> {
  const now = new Date().toISOString();
  const { out } = request;
  const means = out === undefined ? { now } : { now, crew: threadCrew(), giveWay };
  const parts = unwrap(await readSetUp(kernel, bytes, basename(request.file), filesBeside(request.file), { ...means, withGeometry: out !== undefined }));
  const job = tellSetUp(parts);
  let step = job.next();
  for (; !step.done; step = job.next()) {
    progress(`room of the stations, ${Math.round(100 * step.value)} %`);
    await giveWay();
  }
  const told = step.value;
  const { rows, room, checks, json } = told;
  if (out !== undefined) {
    const packed = unwrap(await packSetUp(kernel, { ...parts, ...means, told, onProgress: (_, text) => progress(text) }));
    await writeOutput(out, packed.bytes);
  }
  return {
    json: { ...json, ...(out === undefined ? {} : { package: out }) },
    text: [edgeTable(rows), ...(room.length > 0 ? [roomTable(room)] : []), checkTable(checks), ...(out === undefined ? [] : [`wrote ${out}`])].join('\n'),
    warnings: parts.warnings.map(say),
    checkFailed: checks.some((c) => c.state === 'fail'),
  };
}

const edgeTable = (rows: readonly StationRow[]) =>
  table(
    ['carrier', 'station', 'edge', 'tool', 'offset', 'spindle', 'tip', 'sense', 'X', 'Z', 'Y'],
    rows.flatMap((s) =>
      s.edges.map((e) => [
        s.carrier?.name ?? '',
        String(s.place.station),
        e.own.name,
        String(e.tool),
        e.offset === undefined ? '–' : String(e.offset),
        e.spindle,
        String(e.tipOrientation),
        e.sense ?? '–',
        number(e.atWork.X),
        number(e.atWork.Z),
        number(e.atWork.Y),
      ]),
    ),
  );

const roomTable = (room: readonly Clearance[]) =>
  table(
    ['working', 'other', 'against', 'distance'],
    room.map((c) => [String(c.working), c.other === 0 ? c.otherName : `${c.other} ${c.otherName}`, c.against, number(c.distance)]),
  );
