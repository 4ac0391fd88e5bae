import { readFileSync } from 'node:fs';
import { basename, dirname, resolve } from 'node:path';
import { checkRoom, checkSwing, type Clearance, clearances, type EdgeRow, setUpTable, type StationRow, swings } from '#core/carrier';
import { cookSetUp } from '#core/handover';
import { IssueError, issue, say, unwrap } from '#core/issues';
import type { Kernel } from '#core/kernel';
import { roundTo, type Vec3 } from '#core/math';
import type { CommandOutput, CommandRequest, Say } from '../request.ts';
import { table } from '../table.ts';
import { checkTable, giveWay, number } from './io.ts';

export async function setup(kernel: Kernel, bytes: Uint8Array, request: CommandRequest & { command: 'setup' }, progress: Say): Promise<CommandOutput> {
  const folder = dirname(resolve(request.file));
  const file = basename(request.file);
  const read = (name: string) => {
    try {
      return readFileSync(resolve(folder, name));
    } catch {
      throw new IssueError([issue('recipe.missing', { file, field: 'file', text: name })]);
    }
  };
  const parts = unwrap(await cookSetUp(kernel, new TextDecoder().decode(bytes), file, read, new Date().toISOString()));
  const told = setUpTable(parts);
  const job = clearances(told, parts);
  let step = job.next();
  for (; !step.done; step = job.next()) {
    progress(`room of the stations, ${Math.round(100 * step.value)} %`);
    await giveWay();
  }
  const room = step.value;
  const rows = told.stations;
  const swung = swings(told, parts);
  const checks = [
    ...rows.flatMap((s) => [...s.checks, ...s.edges.flatMap((e) => e.checks), ...checkRoom(s, room)]),
    ...told.checks,
    ...swung.flatMap(checkSwing),
  ];
  return {
    json: {
      stations: rows.map(tellStation),
      clearances: room.map((c) => ({ ...c, at: tidy(c.at), position: tidy(c.position) })),
      swings: swung,
      swivel: rows.flatMap((s) => s.edges.flatMap((e) => (e.swivel ? [tellSwivel(e)] : []))),
      slides: rows.flatMap((s) => s.edges.flatMap((e) => (e.slide ? [tellSlide(e)] : []))),
      checks,
    },
    text: [edgeTable(rows), ...(room.length > 0 ? [roomTable(room)] : []), checkTable(checks)].join('\n'),
    warnings: parts.warnings.map(say),
    checkFailed: checks.some((c) => c.state === 'fail'),
  };
}

const tidy = (v: Vec3) => v.map((c) => roundTo(c, 4) + 0);

const tellStation = ({ place, carrier, assembly, edges, reach, checks }: StationRow) => ({
  station: place.station,
  carrier: carrier?.id ?? place.carrierId,
  assembly: assembly?.name ?? place.assemblyId,
  edges: edges.map((e) => ({
    edge: e.own.name,
    tool: e.tool,
    ...(e.offset === undefined ? {} : { offset: e.offset }),
    spindle: e.spindle,
    tipOrientation: e.tipOrientation,
    sense: e.sense,
    hand: e.own.hand,
    feeds: e.atWork.feeds,
    X: roundTo(e.atWork.X, 6),
    Z: roundTo(e.atWork.Z, 6),
    Y: roundTo(e.atWork.Y, 6),
    controlX: roundTo(e.controlX, 6),
    indexError: roundTo(e.indexError, 9),
  })),
  ...(reach ? { reach: { x: reach.pastCentre, z: reach.pastJaws, longest: reach.longest } } : {}),
  checks: [...checks, ...edges.flatMap((e) => e.checks)],
});

// The angles against the feed along the axis, where it can be fed so.
function tellSwivel({ own, swivel, atWork }: EdgeRow) {
  const along = atWork.feeds?.find((f) => f.feed === 'towards the chuck' || f.feed === 'away from it');
  return {
    edge: own.name,
    angle: swivel?.angle,
    control: swivel?.control ?? null,
    ...(along ? { enteringAngle: along.enteringAngle, endCuttingAngle: along.endCuttingAngle } : {}),
    ...(atWork.relief ? { reliefFace: atWork.relief.face, reliefSide: atWork.relief.side } : {}),
    ...(swivel?.window ? { window: [swivel.window.from, swivel.window.to], best: swivel.window.best } : {}),
  };
}

const tellSlide = ({ own, slide, atWork, tipOrientation }: EdgeRow) => ({
  edge: own.name,
  geometryX: slide?.wanted,
  modelX: slide?.model,
  geometryZ: roundTo(atWork.Z, 6),
  overlap: slide?.overlap,
  tipOrientation,
});

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
    room.map((c) => [String(c.working), c.other === 0 ? 'disc' : `${c.other} ${c.otherName}`, c.against, number(c.distance)]),
  );
