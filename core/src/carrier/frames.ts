import { compose, type Frame, type Motion, radFromDeg, rotationAbout, translation, type Vec3, worldFromFrame } from '#core/math';
import type { Carrier, CarrierOf, ComponentRecord, MachineRecord, Place, SetUpRecord, SpindleSide } from '#core/records';
import { footFromGauge } from './feet.ts';

// The machine frame is the turning plane of the main spindle at its nose face (ISO 841): Z away from the main chuck, X away from the axis. What stands
// below the axis counts its own X away from the axis on its side: its turning planes are turned by half a turn about Z.

/** How a spindle's work is seen by a carrier: machine coordinates of its turning plane. `at` is where the spindle's nose face stands along Z of the machine. */
export function turningFrame(spindle: SpindleSide, side: Carrier['side'], at: number): Frame {
  const x: Vec3 = side === 'above' ? [1, 0, 0] : [-1, 0, 0];
  return spindle === 'main' ? { origin: [0, 0, at], z: [0, 0, 1], x } : { origin: [0, 0, at], z: [0, 0, -1], x };
}

/** Where the nose face of a spindle stands along Z of the machine; undefined where the machine has no such spindle. */
export function noseAt(machine: Pick<MachineRecord, 'spindles'>, spindle: SpindleSide, setUp?: Pick<SetUpRecord, 'counterAt'>): number | undefined {
  if (spindle === 'main') return 0;
  const { counter } = machine.spindles;
  return counter ? (setUp?.counterAt ?? counter.travel[1]) : undefined;
}

/** The turning plane of a spindle as a carrier on that side sees it; of one that is not there, as if it stood at the machine's origin. */
export const planeOf = (
  { machine, setUp }: { readonly machine: Pick<MachineRecord, 'spindles'>; readonly setUp: Pick<SetUpRecord, 'counterAt'> },
  spindle: SpindleSide,
  side: Carrier['side'],
): Frame => turningFrame(spindle, side, noseAt(machine, spindle, setUp) ?? 0);

/** Z from the nose of a spindle, along its own axis, for Z of the machine; `at`: where that nose stands. */
export const fromNose = (spindle: SpindleSide, at: number, machineZ: number): number => (spindle === 'main' ? machineZ - at : at - machineZ);

/** And back: Z of the machine for Z from the nose. */
export const toMachine = (spindle: SpindleSide, at: number, ownZ: number): number => (spindle === 'main' ? at + ownZ : at - ownZ);

/** Where a carrier points, and which way its stations' X looks, in machine directions, with a swivel head upright. */
function stationAtWork(carrier: Carrier): Frame {
  const inward: Vec3 = carrier.side === 'above' ? [-1, 0, 0] : [1, 0, 0];
  const outward: Vec3 = [-inward[0], 0, 0];
  const along = (faces: SpindleSide): Vec3 => [0, 0, faces === 'main' ? -1 : 1];
  const origin: Vec3 = [0, 0, 0];
  // What points at the axis has its X towards the main chuck: a right-hand tool cuts towards it with M3. What points along it has its X away from the axis.
  switch (carrier.kind) {
    case 'turret':
      return carrier.mounting === 'rim' ? { origin, z: inward, x: along('main') } : { origin, z: along(carrier.faces), x: outward };
    case 'slide':
      return carrier.points === 'across' ? { origin, z: inward, x: along('main') } : { origin, z: along(carrier.points), x: outward };
    case 'swivel head':
      return { origin, z: inward, x: along('main') };
  }
}

/** The motion of a swivel head about its centre (the origin): by `angleDeg` from upright towards the main chuck. */
export function swivelMotion(side: Carrier['side'], angleDeg: number): Motion {
  // About Y: above the axis, a tool that points along -X comes to point along -Z by a negative turn; below it by a positive one.
  return rotationAbout([0, 0, 0], [0, 1, 0], radFromDeg(side === 'above' ? -angleDeg : angleDeg));
}

/**
 * The seat frame of a station at work, in machine directions about the carrier's reference: the seat itself, of a swivel head its swivel centre.
 * `angleDeg`: of a swivel head.
 */
export function seatAtWork(carrier: Carrier, angleDeg = 0): Frame {
  const frame = stationAtWork(carrier);
  if (carrier.kind !== 'swivel head') return frame;
  const { z, x } = frame;
  const upright: Frame = { origin: [z[0] * carrier.seat, z[1] * carrier.seat, z[2] * carrier.seat], z, x };
  const motion = swivelMotion(carrier.side, angleDeg);
  const moved = compose(motion, worldFromFrame(upright));
  return { origin: moved.t, z: [moved.r[2], moved.r[5], moved.r[8]], x: [moved.r[0], moved.r[3], moved.r[6]] };
}

/** A point of a turret's index axis, about the seat of the station at work. */
export const indexAxisOf = ({ side, radius }: Pick<CarrierOf<'turret'>, 'side' | 'radius'>): Vec3 => [side === 'above' ? radius : -radius, 0, 0];

/**
 * Where a station stands while another one is at work: the motion that takes what stands at work to it. Turrets turn about their index axis (domain: station i is
 * station 1 turned by (i - 1) 360 / n), slides stand in their row. Swivel heads hold one tool; the others are in the magazine: undefined.
 */
export function stationMotion(carrier: Carrier, station: number, atWork: number): Motion | undefined {
  if (station === atWork) return translation([0, 0, 0]);
  switch (carrier.kind) {
    case 'turret': {
      // Station `atWork` + 1 comes to work by a turn of the disc by `numbered`: it stands on the other side until then.
      const turnDeg = (-carrier.numbered * (station - atWork) * 360) / carrier.stations;
      return rotationAbout(indexAxisOf(carrier), [0, 0, 1], radFromDeg(turnDeg));
    }
    case 'slide': {
      const off = (station - atWork) * carrier.pitch;
      return translation(carrier.row === 'x' ? [carrier.side === 'above' ? off : -off, 0, 0] : [0, off, 0]);
    }
    case 'swivel head':
      return undefined;
  }
}

/**
 * machine-from-gauge of an assembly at a station that is at work, with the carrier's reference in the machine's origin: the foot of its first piece in the
 * station's seat, turned as the place says.
 */
export function machineFromGauge(
  carrier: Carrier,
  place: Pick<Place, 'turnDeg' | 'angleDeg' | 'foot'>,
  first: Pick<ComponentRecord, 'mount' | 'feet'> | undefined,
): Motion {
  const seat = seatAtWork(carrier, place.angleDeg);
  const turned = compose(worldFromFrame(seat), rotationAbout([0, 0, 0], [0, 0, 1], radFromDeg(place.turnDeg)));
  return compose(turned, footFromGauge(first, place));
}
