import { addScaled, type Frame } from '#core/math';
import { type CutRecord, withCuts } from '#core/records';
import type { FoundSplit } from '#core/reading';
import { formatLength, type LengthUnit } from '#core/units';
import { newId } from '../../../common/new-id.ts';
import { reworkComponent } from '../../../store/library-actions.ts';

// mm. Wider than any tool.
const WIDE = 5000;

/** A rectangle about the origin of a cut's frame. */
export const rectangle = (x0: number, x1: number, y0: number, y1: number): [number, number][] => [
  [x0, y0],
  [x1, y0],
  [x1, y1],
  [x0, y1],
];

/** Everything in front of a height of the mount's Z, mm. */
export const cutAcross = (mount: Frame, from: number): Pick<CutRecord, 'frame' | 'outline' | 'from' | 'to'> => ({
  frame: { ...mount, origin: addScaled(mount.origin, mount.z, from) },
  outline: rectangle(-WIDE, WIDE, -WIDE, WIDE),
  from: 0,
  to: WIDE,
});

/** Cuts off what of a one-solid cutter cuts, from where it begins along the mount's Z to the end. */
export function cutAtSplit(id: string, split: FoundSplit, mount: Frame, unit: LengthUnit): void {
  const note = `${formatLength(split.to - split.from, unit)} that cut, to the end`;
  const cut = { id: newId(), body: split.body, ...cutAcross(mount, split.from), note };
  void reworkComponent(id, `Cut off: ${note}`, (r) => (r.cuts.length > 0 ? r : withCuts(r, [cut])));
}
