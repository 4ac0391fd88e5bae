import { useMemo } from 'react';
import { type ChainDimension, dimensionsTo, type PlacedTip, stickOutForDimension } from '#core/assembly';
import type { AssemblyRecord, ComponentRecord } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { changeAssembly } from '../../../app/store.ts';
import type { StripDimension, StripDimensions } from '../../../section/chain-dimensions.tsx';

/** The dimensions of a chain on its way to an edge; those that a stick-out sets can be typed, unless it is only looked at. */
export function useDimensions(
  record: AssemblyRecord,
  components: Readonly<Record<string, ComponentRecord>>,
  tip: PlacedTip | undefined,
  unit: LengthUnit,
  isFixed: boolean,
): StripDimensions | undefined {
  return useMemo(() => {
    if (!tip) return undefined;
    const nameOf = (pieceId: string | undefined) => components[record.pieces.find((p) => p.id === pieceId)?.componentId ?? '']?.name ?? '';
    const drawn = (d: ChainDimension, key: string, label: string, text: string): StripDimension => ({
      key,
      label,
      from: d.from,
      to: d.to,
      text,
      ...(d.slides && !isFixed
        ? {
            onCommit: (length: number) => {
              const stickOut = stickOutForDimension(record, d, length);
              if (stickOut === undefined) return;
              changeAssembly(record.id, `${label} ${formatLength(length, unit)}`, (r) => ({
                pieces: r.pieces.map((p) => (p.id === d.slides?.piece ? { ...p, stickOut } : p)),
              }));
            },
          }
        : {}),
    });
    const { parts, totals } = dimensionsTo(record, components, tip);
    const chain = (axis: 'L' | 'Q') =>
      parts
        .filter((d) => d.axis === axis)
        .map((d) => drawn(d, `${d.axis} ${d.piece}`, `Length of ${d.name}${axis === 'Q' ? ' across' : ''}`, formatLength(Math.abs(d.to - d.from), unit)));
    const total = (axis: 'L' | 'Q') => {
      const d = totals.find((t) => t.axis === axis);
      const by = d?.slides ? `, by the stick-out of ${nameOf(d.slides.piece)}` : '';
      return d && drawn(d, `total ${axis}`, `${axis} of ${d.name}${by}`, `${axis} ${formatLength(d.to, unit)}`);
    };
    return { along: chain('L'), across: chain('Q'), alongTotal: total('L'), acrossTotal: total('Q') };
  }, [record, components, tip, unit, isFixed]);
}
