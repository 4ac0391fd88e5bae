import { say } from '#core/issues';
import { CENTRE_HEIGHT_LIMIT, degFromRad, frameFromWorld, move, roundTo, turn } from '#core/math';
import { type Carrier, check, type Check, type ComponentRecord, type MachineRecord, mountFrameOf, type Place, type SpindleSide, useOf } from '#core/records';
import { findMistakes } from '#core/reading';
import { checkFit, sayConnection } from '#core/standards';
import { checkBolts } from './bolts.ts';
import { standingOn } from './feet.ts';
import { indexError, USUAL_DIAMETER } from './edge-at-work.ts';
import type { EdgeRow, SetUpParts, StationRow } from './rows.ts';

const mm = (v: number): string => `${roundTo(v, 3)} mm`;
const micrometres = (v: number): string => `${roundTo(v * 1000, 1)} µm`;

/** The checks of one station: whether it is there, takes the assembly, drives it, and lets it get to its work. */
export function checkPlace(row: Omit<StationRow, 'checks'>, parts: SetUpParts): Check[] {
  const { place, carrier, assembly } = row;
  const { machine } = parts;
  if (!carrier) return [check('carrier', 'fail', `${machine.name} has no carrier ${place.carrierId}.`)];
  const where = `${carrier.name}, station ${place.station}`;
  const out: Check[] = [];
  if (place.station > carrier.stations)
    out.push(
      check('station', 'fail', `${carrier.name} has ${carrier.stations} stations; there is no station ${place.station}.`, {
        value: place.station,
        limit: carrier.stations,
      }),
    );
  if (!assembly) return [...out, check('assembly', 'fail', `${where}: its assembly is not there any more. Load another one, or clear the station.`)];
  const { first: piece } = row;
  if (!piece) return [...out, check('assembly', 'fail', `${where}: ${assembly.name} has no first piece that could sit there.`)];
  const first = standingOn(piece, place);
  if (place.foot !== undefined && first.mount?.id !== place.foot)
    out.push(check('foot', 'warn', `${first.name} has no such foot any more as it is said to stand on: it stands on its mount.`));
  if (!first.mount) out.push(check('mount', 'fail', `${first.name} has no mount, so nothing says how it sits.`));
  else {
    const fit = checkFit(first.mount.connection, carrier.connection);
    out.push(
      fit.ok
        ? check('mount', 'pass', `${first.name} fits ${sayConnection(carrier.connection)} of ${carrier.name}`)
        : check('mount', 'fail', `${first.name} does not fit ${carrier.name}: ${fit.issues.map(say).join(' ')}`),
    );
  }
  out.push(...checkFoot(first, parts), ...checkBolts(first, parts.models[first.id], carrier, place.turnDeg), ...checkSeats(first));
  if (carrier.kind === 'swivel head') out.push(...checkSwivel(place, carrier));
  if (Math.abs(place.turnDeg / 90 - Math.round(place.turnDeg / 90)) > 1e-9)
    out.push(
      check('turn', 'warn', `${assembly.name} is turned by ${place.turnDeg}° in its station: its edges do not lie in the turning plane.`, {
        value: place.turnDeg,
      }),
    );
  if (row.edges.length === 0)
    out.push(
      check('tip', 'warn', `${assembly.name} has no tip, so nothing is told of how it cuts here. Put a tool into it in Build, or mark its tip on the Bench.`),
    );
  out.push(...checkDrive(row, parts), ...checkReach(row, parts));
  return out;
}

// The mount has to lie on the component's own foot or shank, or it floats before the carrier, or is sunk into it.
function checkFoot(first: ComponentRecord, { models }: SetUpParts): Check[] {
  const model = models[first.id];
  if (!model || !first.mount) return [];
  const wrong = findMistakes(first, model).filter((m) => m.at === 'mount' && m.code !== 'z-turned');
  if (wrong.length === 0) return [check('foot', 'pass', `${first.name} sits on its foot`)];
  return wrong.map((m) => check('foot', 'fail', `${first.name} floats at the carrier, or is sunk into it: ${m.message}`));
}

/** How a seat of a station block lies in its block: its height over the centre plane (Y = 0 of the mount), and how far it points away from along and across. */
export interface SeatLie {
  readonly name: string;
  readonly id: string;
  readonly height: number;
  /** Degrees from the nearest of the four ways along Z and X of the mount. */
  readonly offDeg: number;
}

/** How the seats of a component lie in its mount's frame. */
export function liesOfSeats(component: Pick<ComponentRecord, 'mount' | 'seats'>): SeatLie[] {
  const inMount = frameFromWorld(mountFrameOf(component));
  return component.seats.map(({ id, name, frame }) => {
    const way = turn(inMount, frame.z);
    const straight = Math.max(Math.abs(way[0]), Math.abs(way[2]));
    return { id, name, height: move(inMount, frame.origin)[1], offDeg: degFromRad(Math.atan2(Math.sqrt(Math.max(0, 1 - straight * straight)), straight)) };
  });
}

// mm. Less than half of what raises a warning at the tip: a seat's error comes on top of the tool's own.
const SEAT_HEIGHT_LIMIT = 0.02;
// Degrees: 0.02 mm at 100 mm.
const SEAT_ANGLE_LIMIT = 0.0115;

function checkSeats(first: ComponentRecord): Check[] {
  if (first.componentKind !== 'station block') return [];
  return liesOfSeats(first).flatMap(({ name, height, offDeg }): Check[] => {
    const of = `${name || 'the seat'} of ${first.name}`;
    const out: Check[] = [];
    if (Math.abs(height) > SEAT_HEIGHT_LIMIT)
      out.push(
        check(
          'seat-plane',
          'fail',
          `${of} lies ${mm(Math.abs(height))} ${height > 0 ? 'above' : 'below'} the centre plane: a tool in it is moved by that when it is indexed, ${micrometres(indexError(height, USUAL_DIAMETER))} on the radius of a part of ${USUAL_DIAMETER} mm. Move the seat onto the plane.`,
          { value: roundTo(height, 6), limit: SEAT_HEIGHT_LIMIT },
        ),
      );
    if (offDeg > SEAT_ANGLE_LIMIT)
      out.push(
        check('seat-angle', 'warn', `${of} points ${roundTo(offDeg, 3)}° beside the axes of its block.`, {
          value: roundTo(offDeg, 6),
          limit: SEAT_ANGLE_LIMIT,
        }),
      );
    return out.length > 0 ? out : [check('seat-plane', 'pass', `${of} lies on the centre plane`, { value: roundTo(height, 6), limit: SEAT_HEIGHT_LIMIT })];
  });
}

function checkSwivel(place: Place, { name, range: [from, to] }: Extract<Carrier, { kind: 'swivel head' }>): Check[] {
  const angle = place.angleDeg ?? 0;
  return angle < from || angle > to
    ? [check('swivel', 'fail', `${name} swivels from ${from}° to ${to}°; ${angle}° is beyond.`, { value: angle, limit: angle < from ? from : to })]
    : [];
}

// Milling needs a driven station; what drills beside the axis does as well, which its place tells.
function checkDrive({ place, carrier, assembly, isDriven, edges }: Omit<StationRow, 'checks'>, { components }: SetUpParts): Check[] {
  if (!carrier || !assembly || isDriven) return [];
  const out: Check[] = [];
  for (const component of new Set(assembly.pieces.map((p) => components[p.componentId]))) {
    const operation = component && useOf(component)?.usual.operation;
    if (operation === 'milling' || operation === 'face milling')
      out.push(check('driven', 'fail', `${component?.name} mills, and station ${place.station} of ${carrier.name} drives nothing.`));
  }
  for (const { own, atWork } of edges)
    if (out.length === 0 && own.spins && atWork.side === 0 && Math.abs(atWork.Y) > CENTRE_HEIGHT_LIMIT && !carrier.travel.y)
      out.push(
        check(
          'driven',
          'fail',
          `${own.name} stands ${mm(Math.abs(atWork.Y))} beside the spindle axis, and station ${place.station} of ${carrier.name} neither drives it nor moves along Y.`,
          {
            value: roundTo(atWork.Y, 6),
            limit: CENTRE_HEIGHT_LIMIT,
          },
        ),
      );
  return out;
}

function checkReach({ carrier, edges, reach }: Omit<StationRow, 'checks'>, { machine, setUp }: SetUpParts): Check[] {
  const out: Check[] = edges.some((e) => !machine.spindles[e.spindle]) ? [check('spindle', 'fail', `${machine.name} has no counter spindle.`)] : [];
  if (!carrier || !reach) return out;
  for (const spindle of new Set(edges.map((e) => e.spindle))) {
    const blank = setUp.blanks[spindle];
    if (blank && reach.longest < blank.length)
      out.push(
        check('reach', 'warn', `The work stands out by ${mm(blank.length)}, and ${reach.edge} gets to a face ${mm(reach.longest)} before the jaws at most.`, {
          value: reach.longest,
          limit: blank.length,
        }),
      );
    if (blank && reach.pastCentre < -blank.diameter / 2)
      out.push(
        check('reach', 'fail', `${reach.edge} ends ${mm(-reach.pastCentre)} before the spindle axis: it does not get to work of ${blank.diameter} mm.`, {
          value: reach.pastCentre,
          limit: -blank.diameter / 2,
        }),
      );
  }
  if (edges.some((e) => e.atWork.side === 0) && reach.pastCentre < 0)
    out.push(
      check('reach', 'fail', `${reach.edge} works on the spindle axis and ends ${mm(-reach.pastCentre)} before it.`, { value: reach.pastCentre, limit: 0 }),
    );
  return out;
}

/** Where an edge stands, and what its assembly says of it. */
interface Standing {
  /** In the assembly; the place may say otherwise. */
  readonly saidSpindle: SpindleSide | undefined;
  readonly place: Place;
  readonly carrier: Carrier;
  readonly machine: MachineRecord;
}

/** The checks of one edge where it stands. */
export function checkEdge(row: Omit<EdgeRow, 'checks'>, { saidSpindle, place, carrier, machine }: Standing): Check[] {
  const { own, atWork, sense, asked, spindle, swivel, slide } = row;
  const out: Check[] = [];
  if (saidSpindle && saidSpindle !== spindle)
    out.push(check('edge-spindle', 'warn', `${own.name} is said to be for the ${saidSpindle} spindle, and stands at the ${spindle} spindle.`));
  if (sense !== null && asked !== undefined && asked !== sense)
    out.push(
      check('sense', 'fail', `${own.name} lies upside down for ${asked}: here it cuts with ${sense}. ${mendSense(asked, sense, atWork, spindle, machine)}`),
    );
  else if (sense !== null) out.push(check('sense', 'pass', `${own.name} cuts with ${sense}`));
  if (Math.abs(atWork.Y) > CENTRE_HEIGHT_LIMIT && !carrier.travel.y && atWork.side !== 0)
    out.push(
      check(
        'centre-height',
        'warn',
        `${own.name} stands ${mm(Math.abs(atWork.Y))} off the turning plane: the radius is wrong by ${micrometres(row.indexError)}.`,
        {
          value: roundTo(atWork.Y, 6),
          limit: CENTRE_HEIGHT_LIMIT,
        },
      ),
    );
  if (swivel && swivel.control === undefined)
    out.push(check('swivel', 'fail', `The control has no value for ${swivel.angle}° of the head: its range ends before.`, { value: swivel.angle }));
  const window = swivel?.window;
  if (swivel && window && (swivel.angle < window.from - 1e-6 || swivel.angle > window.to + 1e-6))
    out.push(
      check(
        'relief',
        'warn',
        `${own.name} does not clear what it leaves at ${swivel.angle}°: it does from ${window.from}° to ${window.to}°, best at ${window.best}°.`,
        {
          value: swivel.angle,
          limit: window.best,
        },
      ),
    );
  if (slide && slide.overlap < 0)
    out.push(
      check(
        'slide',
        'fail',
        `${own.name} ends ${mm(-slide.overlap)} (on diameter) before the centre at the smallest position of ${carrier.name}: it must stand out further.`,
        {
          value: slide.overlap,
          limit: 0,
        },
      ),
    );
  if (row.offset === undefined) out.push(check('offset', 'warn', `${own.name} at station ${place.station} of ${carrier.name} has no offset number yet.`));
  return out;
}

// What makes the work move against the rake face after all.
function mendSense(asked: 'M3' | 'M4', sense: 'M3' | 'M4', atWork: EdgeRow['atWork'], spindle: SpindleSide, { spindles }: MachineRecord): string {
  const ways = [
    atWork.side === 0 ? undefined : 'turn the block by 180° about its axis',
    spindles.counter ? `take it to the ${spindle === 'main' ? 'counter' : 'main'} spindle` : undefined,
    `program ${sense} instead of ${asked}`,
    'take a tool of the other hand',
  ];
  return `What would help: ${ways.filter((w) => w !== undefined).join(', ')}.`;
}

/** The checks of a whole set-up: numbers that are given twice or do not fit the control, stations that hold two things. */
export function checkNumbers(stations: readonly StationRow[], { machine, setUp }: SetUpParts): Check[] {
  const out: Check[] = [];
  const { control } = machine;
  const edges = stations.flatMap((s) => s.edges.map((e) => ({ ...e, station: s })));
  const nameOf = (e: (typeof edges)[number]) => `${e.own.name} (station ${e.station.place.station})`;
  const group = <T>(items: readonly T[], key: (item: T) => string): T[][] => {
    const groups = new Map<string, T[]>();
    for (const item of items) groups.set(key(item), [...(groups.get(key(item)) ?? []), item]);
    return [...groups.values()];
  };
  for (const same of group(stations, (s) => `${s.place.carrierId} ${s.place.station}`)) {
    const assemblies = new Set(same.map((s) => s.place.assemblyId));
    // A swivel head uses one tool under several angles.
    if (same.length > 1 && !(same[0].carrier?.kind === 'swivel head' && assemblies.size === 1))
      out.push(
        check('station', 'fail', `Station ${same[0].place.station} of ${same[0].carrier?.name ?? same[0].place.carrierId} holds ${same.length} assemblies.`),
      );
  }
  // Each carrier has its own program, and its own tables.
  for (const ofCarrier of group(edges, (e) => e.station.place.carrierId)) {
    for (const same of group(ofCarrier, (e) => String(e.tool))) {
      const at = new Set(same.map((e) => e.station.place.station));
      if (at.size > 1)
        out.push(
          check('tool-number', 'fail', `Tool ${same[0].tool} stands at stations ${[...at].sort((a, b) => a - b).join(' and ')}.`, { value: same[0].tool }),
        );
      const offsets = new Set(same.map((e) => e.offset));
      if (offsets.size > control.offsetsPerTool)
        out.push(
          check('offset', 'fail', `Tool ${same[0].tool} has ${offsets.size} offsets; the control knows ${control.offsetsPerTool} of a tool.`, {
            value: offsets.size,
            limit: control.offsetsPerTool,
          }),
        );
    }
    for (const same of group(
      ofCarrier.filter((e) => e.offset !== undefined),
      (e) => String(e.offset),
    )) {
      // One edge under several angles of a head is several edges to the control.
      if (same.length > 1)
        out.push(
          check('offset', 'fail', `Offset ${same[0].offset} is given to ${same.map(nameOf).join(' and ')}: each edge needs its own.`, {
            value: same[0].offset,
          }),
        );
    }
    for (const e of ofCarrier) {
      if (String(e.tool).length > control.toolDigits)
        out.push(
          check('tool-number', 'fail', `Tool ${e.tool} has more digits than the control takes (${control.toolDigits}).`, {
            value: e.tool,
            limit: control.toolDigits,
          }),
        );
      if (e.offset !== undefined && String(e.offset).length > control.offsetDigits)
        out.push(
          check('offset', 'fail', `Offset ${e.offset} has more digits than the control takes (${control.offsetDigits}).`, {
            value: e.offset,
            limit: control.offsetDigits,
          }),
        );
    }
  }
  const { counter } = machine.spindles;
  if (setUp.counterAt !== undefined && !counter)
    out.push(check('spindle', 'fail', `${machine.name} has no counter spindle, and the set-up says where it stands.`));
  if (setUp.counterAt !== undefined && counter && (setUp.counterAt < counter.travel[0] || setUp.counterAt > counter.travel[1]))
    out.push(
      check('spindle', 'fail', `The counter spindle is said to stand at ${setUp.counterAt}, and travels from ${counter.travel[0]} to ${counter.travel[1]}.`, {
        value: setUp.counterAt,
      }),
    );
  return out;
}
