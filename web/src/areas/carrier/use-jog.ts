import { useMemo, useState } from 'react';
import { type EdgeRow, jawFront, noseAt, type SetUpParts, type StationRow } from '#core/carrier';
import { roundTo, type Vec3 } from '#core/math';
import type { Carrier } from '#core/records';

export interface Jog {
  /** Where the carrier's reference stands, in the machine. */
  readonly reference: Vec3;
  /** The edge that is told. */
  readonly edge: EdgeRow | undefined;
  /** Where its programmed point stands: X as the control tells it, Z from the front of the jaws. */
  readonly shown: { readonly x: number; readonly z: number };
  readonly range: { readonly x: readonly [number, number]; readonly z: readonly [number, number] };
  readonly to: (at: { readonly x?: number; readonly z?: number }) => void;
  /** Takes the carrier's reference to a place of the machine. */
  readonly toReference: (place: Vec3) => void;
}

// mm before the face of the work, where a tool stands first.
const BEFORE = 2;

/** Where the tool of a station stands, within the travel of its carrier: first before the work, at its outside. */
export function useJog(row: StationRow | undefined, carrier: Carrier, { machine, setUp }: Pick<SetUpParts, 'machine' | 'setUp'>): Jog {
  const [typed, setTyped] = useState<{ readonly of: string; readonly x?: number; readonly z?: number }>({ of: '' });
  const key = row ? `${row.place.id} ${row.place.spindle}` : '';
  return useMemo((): Jog => {
    const own = carrier.side === 'above' ? 1 : -1;
    const edge = row?.edges.find((e) => e.spindle === row.place.spindle) ?? row?.edges[0];
    const spindleSide = edge?.spindle ?? 'main';
    const spindle = machine.spindles[spindleSide] ?? machine.spindles.main;
    const at = noseAt(machine, spindleSide, setUp) ?? 0;
    const blank = setUp.blanks[spindleSide];
    const front = jawFront(spindle);
    const [X, Y, Z] = edge ? [edge.atWork.X, edge.atWork.Y, edge.atWork.Z] : [-100, 0, 0];
    const per = machine.control.diameters ? 2 : 1;
    // Places of the tip that the travel allows, on radius, and along Z from the jaws.
    const xs: [number, number] = [carrier.travel.x[0] + X, carrier.travel.x[1] + X];
    const ends = carrier.travel.z.map((z) => (spindleSide === 'main' ? z - at : at - z) + Z - front);
    const zs: [number, number] = [Math.min(...ends), Math.max(...ends)];
    const into = (v: number, [low, high]: [number, number]) => Math.min(high, Math.max(low, v));
    const said = typed.of === key ? typed : undefined;
    const usualX = edge?.atWork.side === 0 ? 0 : (blank?.diameter ?? spindle.chuck.gripped) / 2;
    const x = into(said?.x ?? usualX, xs);
    const z = into(said?.z ?? (blank?.length ?? 0) + BEFORE, zs);
    const along = front + z - Z;
    const y = carrier.travel.y ? into(-Y, [...carrier.travel.y]) : 0;
    return {
      reference: [own * (x - X), own * y, spindleSide === 'main' ? at + along : at - along],
      edge,
      shown: { x: roundTo(x * per, 6), z: roundTo(z, 6) },
      range: { x: [xs[0] * per, xs[1] * per], z: zs },
      toReference: (place) => setTyped({ of: key, x: own * place[0] + X, z: (spindleSide === 'main' ? place[2] - at : at - place[2]) + Z - front }),
      to: (more) =>
        setTyped((before) => ({
          ...(before.of === key ? before : {}),
          of: key,
          ...(more.x === undefined ? {} : { x: more.x / per }),
          ...(more.z === undefined ? {} : { z: more.z }),
        })),
    };
  }, [row, carrier, machine, setUp, typed, key]);
}
