import { firstPiece } from '#core/assembly';
import type { Motion } from '#core/math';
import { type Carrier, type CarrierOf, type ComponentRecord, isDriven, type MachineRecord, type Place } from '#core/records';
import { type EdgeAtWork, edgeAtWork, indexError, ownEdges, type OwnEdge, reliefFor, USUAL_DIAMETER } from './edge-at-work.ts';
import { machineFromGauge, planeOf, turningFrame } from './frames.ts';
import { checkEdge, checkNumbers, checkPlace } from './place-checks.ts';
import { reachOf } from './reach.ts';
import type { EdgeRow, SetUpParts, SetUpTable, StationRow, SwivelRow } from './rows.ts';
import { slideGeometry } from './slide.ts';
import { controlAngle, swivelWindow } from './swivel.ts';

/** mm on diameter. How far a slide's tool is to pass the centre. */
const USUAL_OVERLAP = 0.4;
/** Degrees between an edge and what it leaves, at least. */
export const LEAST_RELIEF = 2;

/** The station table of a set-up: every number that follows from tools, stations, spindles and control, and the checks. */
export function setUpTable(parts: SetUpParts): SetUpTable {
  const stations = parts.setUp.places.map((place) => stationRow(place, parts));
  return { stations, checks: checkNumbers(stations, parts) };
}

function stationRow(place: Place, parts: SetUpParts): StationRow {
  const { machine, assemblies, components, models } = parts;
  const carrier = machine.carriers.find((c) => c.id === place.carrierId);
  const assembly = assemblies[place.assemblyId];
  const driven = carrier !== undefined && isDriven(carrier, place.station);
  const first = firstPiece(assembly, components);
  const motion = carrier && machineFromGauge(carrier, place, first);
  const row = { place, carrier, assembly, first, isDriven: driven, motion };
  const edges =
    carrier && motion && assembly ? ownEdges(assembly, components, models).map((own, k) => edgeRow(own, k, { ...row, carrier, motion }, parts)) : [];
  const reach = carrier && reachOf(edges, carrier, parts);
  return { ...row, edges, reach, checks: checkPlace({ ...row, edges, reach }, parts) };
}

/** Where an edge stands. */
interface Standing extends Pick<StationRow, 'place' | 'first'> {
  readonly carrier: Carrier;
  readonly motion: Motion;
}

function edgeRow(own: OwnEdge, k: number, standing: Standing, { machine, setUp, assemblies }: SetUpParts): EdgeRow {
  const { place, carrier, motion } = standing;
  const isIt = (e: { pieceId: string; tipId: string }) => e.pieceId === own.piece && e.tipId === own.tip;
  const said = place.edges.find(isIt);
  const inAssembly = assemblies[place.assemblyId]?.edges.find(isIt);
  const spindle = said?.spindle ?? place.spindle;
  const atWork = edgeAtWork(own, motion, planeOf({ machine, setUp }, spindle, carrier.side));
  const { control, spindles } = machine;
  const { clockwise } = spindles[spindle] ?? spindles.main;
  const against = clockwise === 'M3' ? 'M4' : 'M3';
  const sense = atWork.clockwise === null ? null : own.spins ? (atWork.clockwise ? 'M3' : 'M4') : atWork.clockwise ? clockwise : against;
  const blank = setUp.blanks[spindle];
  const row: Omit<EdgeRow, 'checks'> = {
    own,
    said,
    spindle,
    atWork,
    tool: said?.tool ?? place.station,
    offset: said?.offset ?? inAssembly?.number ?? (k === 0 ? place.station : undefined),
    tipOrientation: control.tipNumbers[atWork.tipOrientation - 1],
    sense,
    asked: said?.sense ?? inAssembly?.sense,
    controlX: control.diameters ? 2 * atWork.X : atWork.X,
    indexError: indexError(atWork.Y, blank?.diameter || USUAL_DIAMETER),
    ...(carrier.kind === 'swivel head' ? { swivel: swivelRow({ own, spindle, atWork }, standing, carrier, machine) } : {}),
    ...(carrier.kind === 'slide' && carrier.reference ? { slide: slideGeometry(carrier.reference, atWork.X, USUAL_OVERLAP) } : {}),
  };
  return { ...row, checks: checkEdge(row, { saidSpindle: inAssembly?.spindle, place, carrier, machine }) };
}

/** What an edge leaves at an angle of its head, for the side that its corner is to cut at; `first`: the piece that stands in the head. */
export function reliefsOfHead(
  { own, spindle, atWork: { corner } }: Pick<EdgeRow, 'own' | 'spindle' | 'atWork'>,
  place: Place,
  carrier: CarrierOf<'swivel head'>,
  first: ComponentRecord | undefined,
): (headDeg: number) => EdgeAtWork['relief'] {
  const plane = turningFrame(spindle, carrier.side, 0);
  return (headDeg) => reliefFor(own, machineFromGauge(carrier, { ...place, angleDeg: headDeg }, first), plane, corner);
}

function swivelRow(
  edge: Pick<EdgeRow, 'own' | 'spindle' | 'atWork'>,
  { place, first }: Standing,
  carrier: CarrierOf<'swivel head'>,
  { control }: MachineRecord,
): SwivelRow {
  const angle = place.angleDeg ?? 0;
  const { corner } = edge.atWork;
  return {
    angle,
    control: controlAngle(control.swivel, angle),
    window: corner.x !== 0 && corner.z !== 0 ? swivelWindow(reliefsOfHead(edge, place, carrier, first), carrier.range, LEAST_RELIEF) : undefined,
  };
}
