import { firstPiece, placeBodies } from '#core/assembly';
import { compose, roundTo } from '#core/math';
import type { CarrierOf, Place } from '#core/records';
import { nearestTo, type Positions } from './clearance.ts';
import { edgeAtWork } from './edge-at-work.ts';
import { machineFromGauge, noseAt, toMachine, turningFrame } from './frames.ts';
import { ownBodyOf, turnedBodies } from './room.ts';
import { jawFront, workIn } from './spindle.ts';
import type { EdgeRow, SetUpParts } from './rows.ts';
import { anglesBetween, type SwivelWindow } from './swivel.ts';

/** How much room a tool in a swivel head leaves at an angle: mm from what holds it to chuck, jaws and work. */
export interface RoomAtAngle {
  readonly angle: number;
  readonly distance: number;
  readonly against: string;
}

export interface HeadRoom {
  readonly angles: readonly RoomAtAngle[];
  /** Ranges of the head in which the room is enough, degrees. */
  readonly clear: readonly (readonly [from: number, to: number])[];
}

/** mm that are to stay between what holds an edge and what it must not touch: the pocket under an insert is some tenths behind its corner on many a holder. */
export const LEAST_ROOM = 0.1;
// mm before the jaws, where the edge is to get to.
const BEFORE_JAWS = 2;
// Degrees between angles that are looked at, and how exactly an end of a range is found.
const STEP = 3;
const END_WITHIN = 0.02;

/**
 * The room of an edge over all angles of its head, for what it is used for at the angle where it is now: outside or inside. It stands on the outside of the work (inside: on its bore) 2 mm before the jaws for chuck and jaws, and anywhere along
 * the work for the work itself; what cuts may touch, all else may not. Ends of the clear ranges are found by halving, within 0.02 degrees.
 */
export function headRoom(
  parts: SetUpParts,
  place: Place,
  carrier: CarrierOf<'swivel head'>,
  { own: edge, spindle: spindleSide, atWork: { inside } }: Pick<EdgeRow, 'own' | 'spindle' | 'atWork'>,
): HeadRoom {
  const { machine, setUp, assemblies } = parts;
  const spindle = machine.spindles[spindleSide];
  const at = noseAt(machine, spindleSide, setUp);
  const assembly = assemblies[place.assemblyId];
  if (!spindle || at === undefined || !assembly) return { angles: [], clear: [] };
  const plane = turningFrame(spindleSide, carrier.side, at);
  const outward = carrier.side === 'above' ? 1 : -1;
  const front = jawFront(spindle);
  const blank = workIn(spindle, setUp.blanks[spindleSide]);
  const bodies = turnedBodies(machine, { ...setUp, blanks: { ...setUp.blanks, [spindleSide]: blank } }).filter((b) => b.spindle === spindleSide);
  const holding = placeBodies(assembly, parts.components, parts.models).filter(
    ({ component, body }) => component.bodies.find((b) => b.id === body.id)?.role !== 'cutting',
  );
  const roomAt = (angle: number): RoomAtAngle => {
    const motion = machineFromGauge(carrier, { ...place, angleDeg: angle }, firstPiece(assembly, parts.components));
    const own = ownBodyOf(carrier, angle);
    const carried = [...holding.map((h) => ({ mesh: h.body.mesh, motion: compose(motion, h.gaugeFromFile) })), ...(own ? [own] : [])];
    // Told of the nose's centre: where the corner points does not matter then.
    const nose = edgeAtWork({ ...edge, programmed: 'nose centre' }, motion, plane);
    const r = edge.noseRadius;
    const radius = inside ? blank.bore / 2 - r : blank.diameter / 2 + r;
    const along = (z: number) => toMachine(spindleSide, at, z - nose.Z);
    const x = outward * (radius - nose.X);
    const y = carrier.travel.y ? outward * -edgeAtWork(edge, motion, plane).Y : 0;
    const still = along(front + BEFORE_JAWS + r);
    const ends = [along(front + r), along(front + blank.length + r)];
    let least: RoomAtAngle = { angle, distance: Infinity, against: '' };
    for (const body of bodies) {
      const isWork = body.name.startsWith('work');
      if (isWork && inside) continue;
      const z = isWork ? ([Math.min(...ends), Math.max(...ends)] as const) : ([still, still] as const);
      const positions: Positions = [[x, x], [y, y], z];
      for (const held of carried) {
        const near = nearestTo(held.mesh, held.motion, body, positions, least.distance);
        if (near) least = { angle, distance: near.distance, against: body.name };
      }
    }
    return { ...least, distance: roundTo(least.distance, 4) };
  };
  const [lowest, highest] = carrier.range;
  const angles = anglesBetween(lowest, highest, STEP).map(roomAt);
  const isClear = (room: RoomAtAngle) => room.distance >= LEAST_ROOM;
  const end = (inside: number, outside: number): number => {
    let [a, b] = [inside, outside];
    while (Math.abs(a - b) > END_WITHIN) {
      const middle = (a + b) / 2;
      if (isClear(roomAt(middle))) a = middle;
      else b = middle;
    }
    return a;
  };
  const clear: [number, number][] = [];
  angles.forEach((room, i) => {
    if (!isClear(room)) return;
    const before = angles[i - 1];
    const after = angles[i + 1];
    if (!before || !isClear(before)) clear.push([before ? end(room.angle, before.angle) : room.angle, room.angle]);
    const range = clear[clear.length - 1];
    range[1] = after && !isClear(after) ? end(room.angle, after.angle) : room.angle;
  });
  return { angles, clear: clear.map(([from, to]) => [roundTo(from, 3), roundTo(to, 3)] as const) };
}

/** The room at an angle between two that were looked at, mm; undefined beyond them. */
export function roomBetween({ angles }: HeadRoom, angle: number): number | undefined {
  const after = angles.findIndex((a) => a.angle >= angle - 1e-9);
  if (after < 0) return undefined;
  const [p, q] = [angles[Math.max(0, after - 1)], angles[after]];
  const share = q.angle === p.angle ? 0 : Math.min(1, (angle - p.angle) / (q.angle - p.angle));
  return roundTo(p.distance + share * (q.distance - p.distance), 3);
}

/** Where an edge clears what it leaves and what holds it clears the rest; `best`: as near as can be to where the smaller relief is largest. */
export interface AllowedRange {
  readonly from: number;
  readonly to: number;
}

/** The angles that are allowed: the window of the reliefs where there is room, and the best of them. */
export function allowedAngles(
  window: SwivelWindow | undefined,
  room: HeadRoom,
): { readonly ranges: readonly AllowedRange[]; readonly best: number | undefined } {
  if (!window) return { ranges: [], best: undefined };
  const ranges = room.clear.map(([from, to]) => ({ from: Math.max(from, window.from), to: Math.min(to, window.to) })).filter((r) => r.from <= r.to);
  const bests = ranges.map((r) => Math.min(r.to, Math.max(r.from, window.best)));
  const best = bests.length > 0 ? bests.reduce((a, b) => (Math.abs(b - window.best) < Math.abs(a - window.best) ? b : a)) : undefined;
  return { ranges, best };
}
