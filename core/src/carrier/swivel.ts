import { roundTo } from '#core/math';
import type { CarrierOf, Control } from '#core/records';
import type { EdgeAtWork } from './edge-at-work.ts';

type Convention = Control['swivel'];

/** What a control calls an angle of the head, degrees: sense (b - zero), brought into its range by whole turns; undefined where it has no name for it. */
export function controlAngle({ zero, sense, range }: Convention, headDeg: number): number | undefined {
  return intoRange(sense * (headDeg - zero), range);
}

/** The angle of the head that a control's value means, degrees, brought into the head's range; undefined where the head cannot stand there. */
export function headAngle({ zero, sense }: Convention, controlDeg: number, range: CarrierOf<'swivel head'>['range']): number | undefined {
  return intoRange(controlDeg / sense + zero, range);
}

function intoRange(value: number, [from, to]: readonly [number, number]): number | undefined {
  // As it is where that is in the range, else by the fewest whole turns; rounding must not lose an end.
  const isIn = (v: number) => v >= from - 1e-9 && v <= to + 1e-9;
  const turned = isIn(value)
    ? value
    : value < from
      ? value + 360 * Math.ceil((from - value) / 360 - 1e-12)
      : value - 360 * Math.ceil((value - to) / 360 - 1e-12);
  return isIn(turned) ? roundTo(turned, 9) : undefined;
}

/** Usual poses of a head: pointing at the spindle axis, halfway, at the main chuck, and the same towards the counter spindle. */
export const USUAL_POSES = [-90, -45, 0, 45, 90] as const;

/** Part of a swivel range over which both reliefs of a corner are at least what is asked; degrees of the head. */
export interface SwivelWindow {
  readonly from: number;
  readonly to: number;
  /** Where the smaller of the two reliefs is largest. */
  readonly best: number;
  readonly relief: { readonly face: number; readonly side: number };
}

/**
 * The angles of a head at which a corner clears a shoulder and a cylinder by `least` degrees. `reliefAt`: what it leaves at an angle of the head, for the side that it
 * is to cut at. Both change with the head one for one, with opposite sign (domain), so two of them tell all. Undefined where it never clears within the range.
 */
export function swivelWindow(
  reliefAt: (headDeg: number) => EdgeAtWork['relief'],
  [lowest, highest]: readonly [number, number],
  least: number,
): SwivelWindow | undefined {
  // From where no edge has come round: half a turn from it, angles would count from the other end.
  const start = anglesBetween(lowest, highest, 5).find((b) => {
    const r = reliefAt(b);
    return r !== undefined && Math.abs(r.face) < NEAR && Math.abs(r.side) < NEAR;
  });
  const relief = start === undefined ? undefined : reliefAt(start);
  const beside = start === undefined ? undefined : reliefAt(start + 1);
  if (start === undefined || !relief || !beside) return undefined;
  const way = Math.sign(beside.side - relief.side);
  const ends = [start + (relief.face - least) * way, start - (relief.side - least) * way].sort((a, b) => a - b);
  const [from, to] = [Math.max(lowest, ends[0]), Math.min(highest, ends[1])];
  if (from > to || relief.face + relief.side < 2 * least) return undefined;
  const best = Math.min(to, Math.max(from, start + ((relief.face - relief.side) / 2) * way));
  const at = reliefAt(best) ?? relief;
  return { from: roundTo(from, 3), to: roundTo(to, 3), best: roundTo(best, 3), relief: at };
}

// Degrees.
const NEAR = 80;

/** Angles from one end to the other, both included, `step` degrees apart at most. */
export function anglesBetween(from: number, to: number, step: number): number[] {
  const count = Math.max(1, Math.ceil((to - from) / step));
  return Array.from({ length: count + 1 }, (_, i) => from + ((to - from) * i) / count);
}
