import { placeBodies } from '#core/assembly';
import { compose, type Motion, roundTo, translation, type Vec3, worldFromFrame } from '#core/math';
import type { TriMesh } from '#core/mesh';
import { type Carrier, check, type Check, type MachineRecord, type SetUpRecord, SPINDLES, type SpindleSide } from '#core/records';
import { type Nearest, nearestTo, type Positions, type Turned } from './clearance.ts';
import { indexAxisOf, noseAt, seatAtWork, stationMotion, toMachine } from './frames.ts';
import { chuckSteps, discMesh, headMesh } from './machine-shapes.ts';
import { jawFront, workIn } from './spindle.ts';
import type { SetUpParts, SetUpTable, StationRow } from './rows.ts';

/** The nearest that something on a carrier gets to what stands at a spindle, while a station works. */
export interface Clearance {
  readonly carrier: string;
  readonly working: number;
  /** The station of the other one; 0 is the disc or the head itself. The working one itself is told against the other spindle. */
  readonly other: number;
  readonly otherName: string;
  readonly against: string;
  /** mm; 0 where they touch. */
  readonly distance: number;
  readonly at: Vec3;
  /** Where the carrier's reference stands then. */
  readonly position: Vec3;
}

/** What a turret sweeps when it is indexed. */
export interface Swing {
  readonly carrier: string;
  /** About the index axis, mm; of which station (0: the disc). */
  readonly radius: number;
  readonly station: number;
  /** X of the reference, on radius, from which on it clears what stands at the spindle: `against`, at any Z. */
  readonly clearFrom: number;
  readonly against: string;
  /** Whether that is within its travel. */
  readonly isWithin: boolean;
}

/** Something turned, and at which spindle. */
export interface SpindleBody extends Turned {
  readonly spindle: SpindleSide;
  readonly what: 'chuck' | 'jaws' | 'work';
}

/** What stands at the spindles: chuck, jaws as they sweep, work. Cylinders about the spindle axis, in machine coordinates. */
export function turnedBodies(machine: Pick<MachineRecord, 'spindles'>, setUp: Pick<SetUpRecord, 'blanks' | 'counterAt'>): SpindleBody[] {
  return SPINDLES.flatMap((side): SpindleBody[] => {
    const spindle = machine.spindles[side];
    const at = noseAt(machine, side, setUp);
    if (!spindle || at === undefined) return [];
    const { chuck } = spindle;
    const blank = setUp.blanks[side];
    const front = jawFront(spindle);
    const place = (what: SpindleBody['what'], radius: number, from: number, to: number): SpindleBody => ({
      spindle: side,
      what,
      name: `${what} of the ${spindle.name}`,
      radius,
      from: Math.min(toMachine(side, at, from), toMachine(side, at, to)),
      to: Math.max(toMachine(side, at, from), toMachine(side, at, to)),
    });
    return [
      ...chuckSteps(chuck).map(({ what, radius, from, to }) => place(what, radius, from, to)),
      ...(blank ? [place('work', blank.diameter / 2, front - chuck.jawStep, front + blank.length)] : []),
    ];
  });
}

/** Positions of a carrier's reference while a station works at a spindle. */
export interface WorkPositions {
  readonly spindle: SpindleSide;
  readonly positions: Positions;
}

/**
 * Where the reference stands while a station works, for each spindle that it works at: its edges anywhere between the axis and the outside of the work, the jaws and the
 * end of the work, as far as the travel goes. Where there is no blank, as long and wide as is usually gripped.
 */
export function workPositions(
  { carrier, edges }: Pick<StationRow, 'carrier' | 'edges'>,
  { machine, setUp }: Pick<SetUpParts, 'machine' | 'setUp'>,
): WorkPositions[] {
  if (!carrier) return [];
  const own = carrier.side === 'above' ? 1 : -1;
  return SPINDLES.flatMap((side): WorkPositions[] => {
    const spindle = machine.spindles[side];
    const at = noseAt(machine, side, setUp);
    const atWork = edges.filter((e) => e.spindle === side).map((e) => e.atWork);
    if (!spindle || at === undefined || atWork.length === 0) return [];
    const blank = workIn(spindle, setUp.blanks[side]);
    const front = jawFront(spindle);
    const all = atWork.map(({ X, Y, Z, side: of }): Positions => {
      const x = clampRange([-X, (of === 0 ? 0 : blank.diameter / 2) - X], carrier.travel.x).map((v) => own * v);
      const along = [front - Z, front + blank.length - Z].map((v) => toMachine(side, at, v));
      const y = own * (carrier.travel.y ? Math.min(carrier.travel.y[1], Math.max(carrier.travel.y[0], -Y)) : 0);
      return [sorted(x), [y, y], clampRange(sorted(along), carrier.travel.z)];
    });
    const whole = [0, 1, 2].map((k) => [Math.min(...all.map((p) => p[k][0])), Math.max(...all.map((p) => p[k][1]))]);
    return [{ spindle: side, positions: whole as unknown as Positions }];
  });
}

const sorted = (v: readonly number[]): [number, number] => [Math.min(...v), Math.max(...v)];
const clampRange = (v: readonly number[], [low, high]: readonly [number, number]): [number, number] => [
  Math.min(high, Math.max(low, v[0])),
  Math.min(high, Math.max(low, v[1])),
];

/** A mesh on a carrier while a station works: machine-from-mesh, with the reference in the machine's origin. */
export interface Carried {
  readonly station: number;
  readonly name: string;
  /** What the body is called, and whether it cuts; of which piece. */
  readonly body: string;
  readonly bodyId: string;
  readonly placeId: string;
  readonly cuts: boolean;
  readonly piece: string;
  readonly component: string;
  readonly mesh: TriMesh;
  readonly motion: Motion;
}

/**
 * For each station that works, how near each of its neighbours and the disc get to what stands at the spindles, at any position of the working tool; what stays farther away
 * than `within` mm is left out. Gives way between stations, with how far it is (0 to 1).
 */
export function* clearances(table: Pick<SetUpTable, 'stations'>, parts: SetUpParts, within = 1000): Generator<number, Clearance[]> {
  const bodies = turnedBodies(parts.machine, parts.setUp);
  const out: Clearance[] = [];
  const rows = table.stations;
  const held = new Map(rows.map((row) => [row, bodiesAt(row, parts)]));
  for (const [k, row] of rows.entries()) {
    yield k / rows.length;
    const works = workPositions(row, parts);
    if (works.length === 0 || !row.carrier) continue;
    for (const [, carried] of groupedByStation(carriedBy(row, held))) {
      let best: (Nearest & { against: string }) | undefined;
      for (const { positions, spindle } of works)
        for (const body of bodies) {
          // What works gets to its own spindle as near as it has to; the other one it must not touch.
          if (carried[0].station === row.place.station && body.spindle === spindle) continue;
          for (const { mesh, motion } of carried) {
            const near = nearestTo(mesh, motion, body, positions, best?.distance ?? within);
            if (near) best = { ...near, against: body.name };
          }
        }
      if (best)
        out.push({
          carrier: row.carrier.id,
          working: row.place.station,
          other: carried[0].station,
          otherName: carried[0].name,
          against: best.against,
          distance: roundTo(best.distance, 4),
          at: best.at,
          position: best.position,
        });
    }
  }
  return out;
}

const groupedByStation = (all: readonly Carried[]): Map<number, Carried[]> => {
  const groups = new Map<number, Carried[]>();
  for (const c of all) groups.set(c.station, [...(groups.get(c.station) ?? []), c]);
  return groups;
};

/** All that is on a carrier while one of its stations works, in the machine with the carrier's reference in its origin. */
export function carriedWith(working: StationRow, { stations }: Pick<SetUpTable, 'stations'>, parts: SetUpParts): Carried[] {
  return carriedBy(working, new Map(stations.map((row) => [row, bodiesAt(row, parts)])));
}

// What is on the carrier while a station works: that one, the other stations' bodies, and a turret's disc.
function carriedBy(working: StationRow, held: ReadonlyMap<StationRow, readonly Carried[]>): Carried[] {
  const { carrier } = working;
  if (!carrier) return [];
  const all = [...held].flatMap(([row, bodies]) => {
    // Another use of the tool that works is the same tool.
    const isOther = row.place.carrierId === carrier.id && (row === working || row.place.station !== working.place.station);
    const moved = isOther ? stationMotion(carrier, row.place.station, working.place.station) : undefined;
    return moved ? bodies.map((b): Carried => ({ ...b, motion: compose(moved, b.motion) })) : [];
  });
  const own = ownBodyOf(carrier, working.place.angleDeg);
  return own ? [...all, own] : all;
}

// The bodies of a station's assembly where they stand at work.
const bodiesAt = ({ assembly, motion, place }: StationRow, { components, models }: SetUpParts): Carried[] =>
  assembly && motion
    ? placeBodies(assembly, components, models).map(({ body, gaugeFromFile, component, piece }) => ({
        station: place.station,
        name: assembly.name,
        body: body.name,
        bodyId: body.id,
        placeId: place.id,
        cuts: component.bodies.find((e) => e.id === body.id)?.role === 'cutting',
        piece,
        component: component.name,
        mesh: body.mesh,
        motion: compose(motion, gaugeFromFile),
      }))
    : [];

const ownMeshes = new WeakMap<Carrier, TriMesh | undefined>();

/**
 * What a carrier itself is, in the machine with its reference in the origin: a turret's disc about the index axis, a swivel head as it stands at an angle. Around
 * the true one, never inside; undefined where nothing is said of it.
 */
export function ownBodyOf(carrier: Carrier, angleDeg = 0): Carried | undefined {
  if (carrier.kind === 'slide') return undefined;
  if (!ownMeshes.has(carrier)) ownMeshes.set(carrier, carrier.kind === 'turret' ? discMesh(carrier) : headMesh(carrier));
  const mesh = ownMeshes.get(carrier);
  const name = carrier.kind === 'turret' ? 'disc' : 'head';
  const motion = carrier.kind === 'turret' ? translation(indexAxisOf(carrier)) : worldFromFrame(seatAtWork(carrier, angleDeg));
  return mesh && { station: 0, name, body: name, bodyId: '', placeId: '', cuts: false, piece: '', component: name, mesh, motion };
}

/** What each turret sweeps when it is indexed, and from where on it clears what stands at the spindles, whatever its Z; `clear`: mm that are to stay. */
export function swings(table: Pick<SetUpTable, 'stations'>, parts: SetUpParts, clear = 1): Swing[] {
  const bodies = turnedBodies(parts.machine, parts.setUp);
  return parts.machine.carriers.flatMap((carrier): Swing[] => {
    if (carrier.kind !== 'turret') return [];
    const rows = table.stations.filter((r) => r.place.carrierId === carrier.id);
    const axis = indexAxisOf(carrier);
    let swing = { radius: carrier.disc.diameter / 2, station: 0 };
    for (const { station, mesh, motion } of rows.flatMap((r) => bodiesAt(r, parts))) {
      const radius = largestAbout(mesh, motion, axis);
      if (radius > swing.radius) swing = { radius, station };
    }
    const widest = bodies.reduce<Turned | undefined>((a, b) => (a && a.radius >= b.radius ? a : b), undefined);
    if (!widest) return [];
    const clearFrom = widest.radius + swing.radius - carrier.radius + clear;
    return [
      {
        carrier: carrier.id,
        radius: roundTo(swing.radius, 4),
        station: swing.station,
        clearFrom: roundTo(clearFrom, 4),
        against: widest.name,
        isWithin: clearFrom <= carrier.travel.x[1],
      },
    ];
  });
}

function largestAbout({ positions: p }: TriMesh, { r, t }: Motion, axis: Vec3): number {
  let largest = 0;
  for (let i = 0; i < p.length; i += 3) {
    const x = r[0] * p[i] + r[1] * p[i + 1] + r[2] * p[i + 2] + t[0] - axis[0];
    const y = r[3] * p[i] + r[4] * p[i + 1] + r[5] * p[i + 2] + t[1] - axis[1];
    largest = Math.max(largest, x * x + y * y);
  }
  return Math.sqrt(largest);
}

/** What is known of the room of a set-up. */
export interface Room {
  readonly clearances: readonly Clearance[];
  readonly swings: readonly Swing[];
}

/** All room of a set-up at once. */
export function roomOf(table: Pick<SetUpTable, 'stations'>, parts: SetUpParts): Room {
  const job = clearances(table, parts);
  let step = job.next();
  while (!step.done) step = job.next();
  return { clearances: step.value, swings: swings(table, parts) };
}

/** What the room says of a station: who touches what while it works. */
export const checkRoom = ({ place }: Pick<StationRow, 'place'>, room: readonly Clearance[]): Check[] =>
  room
    .filter((c) => c.carrier === place.carrierId && c.working === place.station && c.distance === 0)
    .map(({ other, otherName, against }) => {
      const who = other === 0 ? `the ${otherName}` : other === place.station ? 'its other side' : `${otherName} at station ${other}`;
      return check('room', 'fail', `While station ${place.station} works, ${who} touches the ${against}.`, { value: 0 });
    });

/** What the room says of a turret as a whole. */
export const checkSwing = ({ carrier, radius, station, clearFrom, against, isWithin }: Swing): Check[] =>
  isWithin
    ? []
    : [
        check(
          'swing',
          'warn',
          `${carrier} sweeps ${roundTo(radius, 3)} mm about its axis${station === 0 ? '' : `, by station ${station}`}: beside the ${against} it could be indexed from X ${roundTo(clearFrom, 3)} only, beyond its travel. Retreat along Z first.`,
          { value: clearFrom },
        ),
      ];
