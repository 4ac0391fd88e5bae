import { useState } from 'react';
import type { LengthUnit } from '#core/units';
import { NumberField } from '../common/number-field.tsx';
import { AcrossLines, AlongLines } from './drawing-parts.tsx';
import { LABEL_HIGH, labelWidth, NumberLabel } from './number-label.tsx';
import { spread } from './spread.ts';

/** A dimension on the section; one that can be set is pressed and typed there. */
export interface StripDimension {
  readonly key: string;
  /** What it is the length of. */
  readonly label: string;
  /** Its ends along its axis, mm in the frame. */
  readonly from: number;
  readonly to: number;
  /** As it is written. */
  readonly text: string;
  readonly onCommit?: ((length: number) => void) | undefined;
}

/** Dimensions in a chain along the drawing and across it, each with what they come to; without a chain only that. */
export interface StripDimensions {
  readonly along: readonly StripDimension[];
  readonly across: readonly StripDimension[];
  readonly alongTotal: StripDimension | undefined;
  readonly acrossTotal: StripDimension | undefined;
}

// Half of a tick, pixels; below the drawing the chain and the total, beside it the same two.
const TICK = 4;
/** Room that a chain of dimensions takes below and at the right of a drawing, pixels. */
export const ROOM = { below: 60, right: 190 };
const ROWS = { chain: 33, total: 52 };
const COLUMNS = { chain: 40, total: 124 };

interface Props {
  readonly dimensions: StripDimensions;
  readonly at: { readonly sx: (z: number) => number; readonly sy: (x: number) => number };
  /** Pixels: the lowest and the rightmost of what is drawn, where the total across begins, and what there is room for. */
  readonly bottom: number;
  readonly right: number;
  readonly edge: number;
  readonly size: readonly [width: number, height: number];
  readonly unit: LengthUnit;
}

interface Label {
  readonly d: StripDimension;
  readonly x: number;
  readonly y: number;
}

/** The lengths of a chain as on a drawing: one after the other, the total outside; labels are moved along so that none lies on another. */
export function ChainDimensions({ dimensions, at: { sx, sy }, bottom, right, edge, size: [width, height], unit }: Props) {
  const [asked, ask] = useState<string | null>(null);
  // One that is the whole is drawn as the total only.
  const along = dimensions.along.length > 1 ? dimensions.along : [];
  const across = dimensions.across.length > 1 ? dimensions.across : [];
  const rowTotal = Math.min(height - 12, bottom + (along.length > 0 ? ROWS.total : 24));
  const rowChain = Math.min(rowTotal - 19, bottom + ROWS.chain);
  const middle = (d: StripDimension, of: (v: number) => number) => (of(d.from) + of(d.to)) / 2;
  const inOrder = (list: readonly StripDimension[], of: (v: number) => number) => [...list].sort((a, b) => middle(a, of) - middle(b, of));
  const alongOrder = inOrder(along, sx);
  const alongAt = spread(
    alongOrder.map((d) => ({ at: middle(d, sx), size: labelWidth(d.text) })),
    [8, width - 8],
  );
  const acrossOrder = inOrder(across, sy);
  const acrossAt = spread(
    acrossOrder.map((d) => ({ at: middle(d, sy), size: LABEL_HIGH - 1 })),
    [44, height - 30],
    2,
  );
  const columnChain = Math.min(width - 170, right + COLUMNS.chain);
  const columnTotal = across.length > 0 ? Math.min(width - 90, columnChain + COLUMNS.total - COLUMNS.chain) : Math.min(width - 96, right + 46);
  const { alongTotal, acrossTotal } = dimensions;
  // Between its arrows, or in front of them where there is no room.
  const besideWhereShort = (d: StripDimension) =>
    Math.abs(sx(d.to) - sx(d.from)) > labelWidth(d.text) + 24 ? middle(d, sx) : Math.max(sx(d.to), sx(d.from)) + labelWidth(d.text) / 2 + 6;
  const labels: readonly Label[] = [
    ...alongOrder.map((d, i) => ({ d, x: alongAt[i], y: rowChain - 10 })),
    ...acrossOrder.map((d, i) => ({ d, x: columnChain + 7 + labelWidth(d.text) / 2, y: acrossAt[i] })),
    ...(alongTotal ? [{ d: alongTotal, x: besideWhereShort(alongTotal), y: rowTotal }] : []),
    ...(acrossTotal ? [{ d: acrossTotal, x: columnTotal + 7 + labelWidth(acrossTotal.text) / 2, y: middle(acrossTotal, sy) }] : []),
  ];
  const label = ({ d, x, y }: Label) => {
    const leave = () => ask(null);
    const typed = d.onCommit && {
      name: `${d.text}: ${d.label}, change it`,
      isAsked: asked === d.key,
      onAsk: () => ask(d.key),
      onLeave: leave,
      field: (
        <NumberField
          kind="length"
          unit={unit}
          aria-label={d.label}
          autoFocus
          min={0}
          value={Math.abs(d.to - d.from)}
          onCommit={(v) => {
            d.onCommit?.(v);
            leave();
          }}
        />
      ),
    };
    return <NumberLabel key={d.key} {...{ x, y, typed }} text={d.text} title={typed ? `${d.label}. Press to change it.` : d.label} />;
  };
  return (
    <g>
      {alongOrder.map((d, i) => (
        <g key={d.key} className="chain-dimension" data-settable={d.onCommit ? true : undefined}>
          {[d.from, d.to].map((v) => (
            <path
              key={v}
              d={`M${sx(v)} ${rowChain - 12}V${rowChain + 5}M${sx(v) - TICK} ${rowChain + TICK}l${2 * TICK} ${-2 * TICK}`}
              className="dimension-help"
            />
          ))}
          <line x1={sx(d.from)} x2={sx(d.to)} y1={rowChain} y2={rowChain} className="dimension" />
          {Math.abs(alongAt[i] - middle(d, sx)) > 1 && <line x1={middle(d, sx)} x2={alongAt[i]} y1={rowChain} y2={rowChain - 5} className="dimension-help" />}
        </g>
      ))}
      {acrossOrder.map((d, i) => (
        <g key={d.key} className="chain-dimension">
          {[d.from, d.to].map((v) => (
            <path
              key={v}
              d={`M${columnChain - 12} ${sy(v)}H${columnChain + 5}M${columnChain - TICK} ${sy(v) + TICK}l${2 * TICK} ${-2 * TICK}`}
              className="dimension-help"
            />
          ))}
          <line x1={columnChain} x2={columnChain} y1={sy(d.from)} y2={sy(d.to)} className="dimension" />
          {Math.abs(acrossAt[i] - middle(d, sy)) > 1 && (
            <line x1={columnChain} x2={columnChain + 6} y1={middle(d, sy)} y2={acrossAt[i]} className="dimension-help" />
          )}
        </g>
      ))}
      {alongTotal && <AlongLines y={rowTotal} x0={sx(alongTotal.from)} x1={sx(alongTotal.to)} />}
      {acrossTotal && <AcrossLines x={columnTotal} y0={sy(acrossTotal.from)} y1={sy(acrossTotal.to)} from={edge} />}
      {/* The one that is typed lies over the others. */}
      {labels.filter((l) => l.d.key !== asked).map(label)}
      {labels.filter((l) => l.d.key === asked).map(label)}
    </g>
  );
}
