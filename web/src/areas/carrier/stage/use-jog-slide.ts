import { useMemo, useRef, useState } from 'react';
import { type Jog, noseAt, type SaidPlace, type SetUpParts, type StationRow, turningFrame } from '#core/carrier';
import { compose, move, roundTo, translation } from '#core/math';
import type { Carrier } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import type { Slide } from '../../../scene/slide.ts';

/** The tool of a station, slid along one axis of its spindle within the travel. */
export function useJogSlide(
  jog: Jog & { readonly to: (said: SaidPlace) => void },
  axis: 'x' | 'z',
  row: StationRow | undefined,
  carrier: Carrier,
  { machine, setUp }: SetUpParts,
  unit: LengthUnit,
): Slide | undefined {
  const [isHeld, setHeld] = useState(false);
  const before = useRef<number | null>(null);
  return useMemo((): Slide | undefined => {
    const { edge } = jog;
    if (!row?.motion || !edge) return undefined;
    const plane = turningFrame(edge.spindle, carrier.side, noseAt(machine, edge.spindle, setUp) ?? 0);
    const value = jog[axis];
    const [least, most] = jog.range[axis];
    const take = (v: number) => jog.to({ [axis]: roundTo(Math.min(most, Math.max(least, v)), 3) });
    const shown = axis === 'x' && machine.control.diameters ? 2 * value : value;
    return {
      label: `${edge.own.name} along ${axis.toUpperCase()}`,
      at: move(compose(translation(jog.reference), row.motion), edge.own.noseCentre),
      along: axis === 'x' ? plane.x : plane.z,
      value,
      least,
      most,
      text: `${axis.toUpperCase()} ${formatLength(shown, unit)}${value <= least || value >= most ? ', end of travel' : ''}`,
      isHeld,
      onMove: (v) => {
        before.current ??= value;
        setHeld(true);
        take(v);
      },
      onEnd: (isTaken) => {
        if (!isTaken && before.current !== null) take(before.current);
        before.current = null;
        setHeld(false);
      },
      onStep: (by) => take(value + by),
    };
  }, [jog, axis, row, carrier, machine, setUp, unit, isHeld]);
}
