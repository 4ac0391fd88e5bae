import { roundTo, type Vec3 } from '#core/math';
import type { Carrier } from '#core/records';
import { fromNose, noseAt, toMachine } from './frames.ts';
import { jawFront, workIn } from './spindle.ts';
import type { EdgeRow, SetUpParts, StationRow } from './rows.ts';

/** Where a tool's programmed point is to stand: X on radius from the axis, Z from the front of the jaws; mm. What is not said is as usual. */
export interface SaidPlace {
  readonly x?: number;
  readonly z?: number;
}

/** Where a carrier stands for that. */
export interface Jog {
  /** Of its reference, in the machine. */
  readonly reference: Vec3;
  /** The edge that is told. */
  readonly edge: EdgeRow | undefined;
  readonly x: number;
  readonly z: number;
  /** What its travel allows. */
  readonly range: { readonly x: readonly [number, number]; readonly z: readonly [number, number] };
  /** What to say so that the reference comes to a place of the machine. */
  readonly saidFor: (reference: Vec3) => SaidPlace;
}

// mm before the face of the work, where a tool stands first.
const BEFORE = 2;

/**
 * Where the carrier stands with the tool of a station at a place, within its travel; where nothing is said, at the outside of the work (on the axis where it works there), a
 * little before its face. Without a station it stands as for a tool of 100 mm.
 */
export function jogOf(row: StationRow | undefined, carrier: Carrier, { machine, setUp }: Pick<SetUpParts, 'machine' | 'setUp'>, said: SaidPlace = {}): Jog {
  const own = carrier.side === 'above' ? 1 : -1;
  const edge = row?.edges.find((e) => e.spindle === row.place.spindle) ?? row?.edges[0];
  const side = edge?.spindle ?? 'main';
  const spindle = machine.spindles[side] ?? machine.spindles.main;
  const at = noseAt(machine, side, setUp) ?? 0;
  const blank = setUp.blanks[side];
  const front = jawFront(spindle);
  const [X, Y, Z] = edge ? [edge.atWork.X, edge.atWork.Y, edge.atWork.Z] : [-100, 0, 0];
  const xs: [number, number] = [carrier.travel.x[0] + X, carrier.travel.x[1] + X];
  const ends = carrier.travel.z.map((z) => fromNose(side, at, z) + Z - front);
  const zs: [number, number] = [Math.min(...ends), Math.max(...ends)];
  const into = (v: number, [low, high]: readonly [number, number]) => Math.min(high, Math.max(low, v));
  const usualX = edge?.atWork.side === 0 ? 0 : workIn(spindle, blank).diameter / 2;
  const x = into(said.x ?? usualX, xs);
  const z = into(said.z ?? (blank?.length ?? 0) + BEFORE, zs);
  const y = carrier.travel.y ? into(0 - Y, carrier.travel.y) : 0;
  return {
    reference: [own * (x - X), own * y, toMachine(side, at, front + z - Z)],
    edge,
    x: roundTo(x, 6),
    z: roundTo(z, 6),
    range: { x: xs, z: zs },
    saidFor: (place) => ({ x: own * place[0] + X, z: fromNose(side, at, place[2]) + Z - front }),
  };
}

/** Where a carrier stands while another one works: as far from the axis as it goes, in the middle of its way along it. */
export const parkedAt = ({ side, travel: { x, z } }: Carrier): Vec3 => [side === 'above' ? x[1] : -x[1], 0, (z[0] + z[1]) / 2];
