import type { SlideGeometry } from '#core/carrier';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberLabel } from '../../../section/number-label.tsx';

interface Props {
  readonly slide: SlideGeometry;
  /** Of the slide between reference and axis, on diameter. */
  readonly positions: readonly [number, number];
  readonly unit: LengthUnit;
}

const [WIDE, HIGH, AXIS, TOP] = [300, 150, 126, 18];

/** A slide's tool as its control measures it: from the reference face to the tip at the smallest position, with what it passes the centre by. Not to scale. */
export function SlideSketch({ slide, positions, unit }: Props) {
  const passes = slide.overlap >= 0;
  const tip = passes ? AXIS + 12 : AXIS - 14;
  return (
    <figure className="slide-sketch">
      <svg
        viewBox={`0 0 ${WIDE} ${HIGH}`}
        role="img"
        aria-label={`Geometry value ${formatLength(slide.wanted, unit)}, of the model ${formatLength(slide.model, unit)}`}
      >
        <line x1={10} y1={AXIS} x2={WIDE - 10} y2={AXIS} className="axis-line" />
        <text x={WIDE - 12} y={AXIS - 5} textAnchor="end">
          spindle axis
        </text>
        <path d={`M40 ${TOP} H92 V${tip - 22} L78 ${tip} L70 ${tip - 14} H40 Z`} className="tool-shape" />
        <path d={`M92 ${tip - 22} L78 ${tip} L70 ${tip - 14} Z`} className="tip-shape" />
        <line x1={20} y1={TOP} x2={WIDE - 60} y2={TOP} className="reference-line" />
        <text x={WIDE - 58} y={TOP + 4}>
          reference
        </text>
        <Span x={136} from={TOP} to={tip} text={formatLength(slide.model, unit)} title="from the reference to the tip" />
        <Span x={206} from={TOP} to={AXIS} text={formatLength(positions[0], unit)} title="the smallest position of the slide" />
      </svg>
      <dl className="number-list">
        <dt>geometry value, to pass the centre</dt>
        <dd>{formatLength(slide.wanted, unit)}</dd>
        <dt>of the model</dt>
        <dd>{formatLength(slide.model, unit)}</dd>
        <dt>difference</dt>
        <dd>{formatLength(slide.difference, unit)}</dd>
        <dt>{passes ? 'passes the centre by' : 'ends before the centre by'}</dt>
        <dd className={passes ? undefined : 'fail'}>{formatLength(Math.abs(slide.overlap), unit)}</dd>
        <dt>largest diameter it stands on</dt>
        <dd>{formatLength(slide.largestDiameter, unit)}</dd>
      </dl>
      <figcaption className="soft">On diameter; not to scale.</figcaption>
    </figure>
  );
}

function Span({ x, from, to, text, title }: { x: number; from: number; to: number; text: string; title: string }) {
  return (
    <g>
      <line x1={x} y1={from} x2={x} y2={to} className="dimension-line" />
      {[from, to].map((y, i) => (
        <path key={y} d={`M${x} ${y} l-3 ${i === 0 ? 8 : -8} h6 z`} className="dimension-arrow" />
      ))}
      <NumberLabel x={x} y={(from + to) / 2} text={text} title={title} />
    </g>
  );
}
