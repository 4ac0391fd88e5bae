import { useState } from 'react';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../common/number-field.tsx';
import { spread } from './spread.ts';

/** A dimension on the section; one that can be set is pressed and typed there. */
export interface StripDimension {
  readonly key: string;
  /** What it is the length of. */
  readonly label: string;
  /** Its ends along its axis, mm in the frame. */
  readonly from: number;
  readonly to: number;
  readonly onCommit?: ((length: number) => void) | undefined;
}

/** Dimensions in a chain along the drawing and across it, each with what they come to. */
export interface StripDimensions {
  readonly along: readonly StripDimension[];
  readonly across: readonly StripDimension[];
  readonly alongTotal: StripDimension | undefined;
  readonly acrossTotal: StripDimension | undefined;
}

// Of a label, pixels: a digit, around them, its height; half of a tick; below the drawing the chain and the total, beside it the same two.
const [DIGIT, PAD, HIGH, TICK] = [7.6, 8, 17, 4];
/** Room that the dimensions take below and at the right of a drawing, pixels. */
export const ROOM = { below: 60, right: 190 };
const ROWS = { chain: 33, total: 52 };
const COLUMNS = { chain: 40, total: 124 };

interface Props {
  readonly dimensions: StripDimensions;
  readonly at: { readonly sx: (z: number) => number; readonly sy: (x: number) => number };
  /** Pixels: the lowest and the rightmost of what is drawn, and what there is room for. */
  readonly bottom: number;
  readonly right: number;
  readonly size: readonly [width: number, height: number];
  readonly names: { readonly along: string; readonly across: string };
  readonly unit: LengthUnit;
}

interface Label {
  readonly d: StripDimension;
  readonly text: string;
  readonly x: number;
  readonly y: number;
}

/** The lengths of a chain as on a drawing: one after the other, the total outside; labels are moved along so that none lies on another. */
export function ChainDimensions({ dimensions, at: { sx, sy }, bottom, right, size: [width, height], names, unit }: Props) {
  const [asked, ask] = useState<string | null>(null);
  const textOf = (d: StripDimension) => formatLength(Math.abs(d.to - d.from), unit);
  const wide = (text: string) => text.length * DIGIT + PAD;
  // One that is the whole is drawn as the total only.
  const along = dimensions.along.length > 1 ? dimensions.along : [];
  const across = dimensions.across.length > 1 ? dimensions.across : [];
  const rowTotal = Math.min(height - 12, bottom + (along.length > 0 ? ROWS.total : 24));
  const rowChain = Math.min(rowTotal - 19, bottom + ROWS.chain);
  const middle = (d: StripDimension, of: (v: number) => number) => (of(d.from) + of(d.to)) / 2;
  const inOrder = (list: readonly StripDimension[], of: (v: number) => number) => [...list].sort((a, b) => middle(a, of) - middle(b, of));
  const alongOrder = inOrder(along, sx);
  const alongAt = spread(
    alongOrder.map((d) => ({ at: middle(d, sx), size: wide(textOf(d)) })),
    [8, width - 8],
  );
  const acrossOrder = inOrder(across, sy);
  const acrossAt = spread(
    acrossOrder.map((d) => ({ at: middle(d, sy), size: HIGH })),
    [44, height - 30],
    2,
  );
  const columnChain = Math.min(width - 170, right + COLUMNS.chain);
  const columnTotal = across.length > 0 ? Math.min(width - 90, columnChain + COLUMNS.total - COLUMNS.chain) : Math.min(width - 96, right + 46);
  const { alongTotal, acrossTotal } = dimensions;
  const totalOf = (d: StripDimension, name: string) => `${name} ${formatLength(d.to, unit)}`;
  // Between its arrows, or in front of them where there is no room.
  const besideWhereShort = (d: StripDimension, text: string) =>
    Math.abs(sx(d.to) - sx(d.from)) > wide(text) + 24 ? middle(d, sx) : Math.max(sx(d.to), sx(d.from)) + wide(text) / 2 + 6;
  const labels: readonly Label[] = [
    ...alongOrder.map((d, i) => ({ d, text: textOf(d), x: alongAt[i], y: rowChain - 10 })),
    ...acrossOrder.map((d, i) => ({ d, text: textOf(d), x: columnChain + 7 + wide(textOf(d)) / 2, y: acrossAt[i] })),
    ...(alongTotal
      ? [{ d: alongTotal, text: totalOf(alongTotal, names.along), x: besideWhereShort(alongTotal, totalOf(alongTotal, names.along)), y: rowTotal }]
      : []),
    ...(acrossTotal
      ? [
          {
            d: acrossTotal,
            text: totalOf(acrossTotal, names.across),
            x: columnTotal + 7 + wide(totalOf(acrossTotal, names.across)) / 2,
            y: middle(acrossTotal, sy),
          },
        ]
      : []),
  ];
  const label = ({ d, ...place }: Label) => (
    <DimensionLabel key={d.key} {...place} unit={unit} dimension={d} isAsked={asked === d.key} onAsk={ask} wide={wide(place.text)} />
  );
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
      {alongTotal && (
        <>
          <line
            x1={sx(alongTotal.from)}
            x2={sx(alongTotal.to)}
            y1={rowTotal}
            y2={rowTotal}
            className="dimension"
            markerStart="url(#arrow)"
            markerEnd="url(#arrow)"
          />
          <line x1={sx(alongTotal.to)} x2={sx(alongTotal.to)} y1={rowTotal - (along.length > 0 ? 30 : 10)} y2={rowTotal + 4} className="dimension-help" />
        </>
      )}
      {acrossTotal && (
        <>
          <line x1={sx(0) > right ? right : right - 20} x2={columnTotal + 8} y1={sy(acrossTotal.to)} y2={sy(acrossTotal.to)} className="dimension-help" />
          <line
            x1={columnTotal}
            x2={columnTotal}
            y1={sy(acrossTotal.from)}
            y2={sy(acrossTotal.to)}
            className="dimension"
            markerStart="url(#arrow)"
            markerEnd="url(#arrow)"
          />
        </>
      )}
      {/* The one that is typed lies over the others. */}
      {labels.filter((l) => l.d.key !== asked).map(label)}
      {labels.filter((l) => l.d.key === asked).map(label)}
    </g>
  );
}

interface LabelProps {
  readonly dimension: StripDimension;
  readonly text: string;
  readonly x: number;
  readonly y: number;
  readonly wide: number;
  readonly unit: LengthUnit;
  readonly isAsked: boolean;
  readonly onAsk: (key: string | null) => void;
}

function DimensionLabel({ dimension: d, text, x, y, wide, unit, isAsked, onAsk }: LabelProps) {
  const length = Math.abs(d.to - d.from);
  const back = <rect x={x - wide / 2} y={y - HIGH / 2} width={wide} height={HIGH} rx={4} />;
  const words = (
    <text x={x} y={y + 4.5} textAnchor="middle" className="dimension-text">
      {text}
    </text>
  );
  if (!d.onCommit)
    return (
      <g className="fixed-label">
        <title>{d.label}</title>
        {back}
        {words}
      </g>
    );
  if (isAsked)
    return (
      <foreignObject x={x - 62} y={y - 16} width={124} height={62} className="said-typed">
        <div onBlur={() => onAsk(null)}>
          <NumberField
            kind="length"
            unit={unit}
            aria-label={d.label}
            autoFocus
            min={0}
            value={length}
            onCommit={(v) => {
              d.onCommit?.(v);
              onAsk(null);
            }}
            onKeyUp={(e) => (e.key === 'Enter' || e.key === 'Escape') && onAsk(null)}
          />
        </div>
      </foreignObject>
    );
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={`${text}: ${d.label}, change it`}
      className="set-label"
      onClick={() => onAsk(d.key)}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return;
        e.preventDefault();
        onAsk(d.key);
      }}
    >
      <title>{`${d.label}. Press to change it.`}</title>
      {back}
      {words}
    </g>
  );
}
