import { roundTo, type Vec3 } from '#core/math';
import type { Check } from '#core/records';
import { checkRoom, checkSwing, type Clearance, clearances, swings } from './room.ts';
import type { EdgeRow, SetUpParts, StationRow } from './rows.ts';
import { setUpTable } from './set-up-table.ts';

/** All that is told of a set-up, as plain data: see docs/set-up.md. */
export interface ToldSetUp {
  readonly rows: readonly StationRow[];
  readonly room: readonly Clearance[];
  readonly checks: readonly Check[];
  readonly json: Readonly<Record<string, unknown>>;
}

/** Tells a set-up with its room; gives way from time to time with the share that is done. */
export function* tellSetUp(parts: SetUpParts): Generator<number, ToldSetUp> {
  const told = setUpTable(parts);
  const room = yield* clearances(told, parts);
  const rows = told.stations;
  const swung = swings(told, parts);
  const checks = [
    ...rows.flatMap((s) => [...s.checks, ...s.edges.flatMap((e) => e.checks), ...checkRoom(s, room)]),
    ...told.checks,
    ...swung.flatMap(checkSwing),
  ];
  const json = {
    stations: rows.map(tellStation),
    clearances: room.map((c) => ({ ...c, at: tidy(c.at), position: tidy(c.position) })),
    swings: swung,
    swivel: rows.flatMap((s) => s.edges.flatMap((e) => (e.swivel ? [tellSwivel(e)] : []))),
    slides: rows.flatMap((s) => s.edges.flatMap((e) => (e.slide ? [tellSlide(e)] : []))),
    checks,
  };
  return { rows, room, checks, json };
}

/** What the control's tables are to hold of every edge, row by row: X as the control tells it, lengths in mm. */
export const offsetTable = (rows: readonly StationRow[]): Record<string, string | number>[] =>
  rows.flatMap((s) =>
    s.edges.map((e) => ({
      carrier: s.carrier?.name ?? s.place.carrierId,
      station: s.place.station,
      assembly: s.assembly?.name ?? s.place.assemblyId,
      edge: e.own.name,
      tool: e.tool,
      offset: e.offset ?? '',
      spindle: e.spindle,
      tipOrientation: e.tipOrientation,
      sense: e.asked ?? e.sense ?? '',
      X: roundTo(e.controlX, 4),
      Z: roundTo(e.atWork.Z, 4),
      Y: roundTo(e.atWork.Y, 4),
      noseRadius: roundTo(e.own.noseRadius, 4),
    })),
  );

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
