import { useElementSize } from '@mantine/hooks';
import { memo, useMemo } from 'react';
import { Area, AreaChart, CartesianGrid, Tooltip, XAxis, YAxis } from 'recharts';
import { binned, type CutAt, cutAt, type CutBin, type CutQuantity, type RunTool } from '#core/trial';
import { formatLength, type LengthUnit, MM_PER_INCH } from '#core/units';

interface Props {
  /** What cuts, once it is known. */
  readonly cuts: readonly CutAt[] | undefined;
  readonly tools: readonly RunTool[];
  /** s: the moment that is looked at, and the whole run. */
  readonly time: number;
  readonly total: number;
  readonly unit: LengthUnit;
  readonly onTime: (time: number) => void;
}

const FEET = 304.8;
interface Row {
  readonly key: CutQuantity;
  readonly label: string;
  readonly say: (value: number, unit: LengthUnit, cut?: CutAt) => string;
}
const ROWS: readonly Row[] = [
  { key: 'depth', label: 'depth of cut', say: formatLength },
  {
    key: 'section',
    label: 'chip section',
    say: (v, unit) => (unit === 'inch' ? `${(v / MM_PER_INCH ** 2).toFixed(5)} in²` : `${v.toFixed(3)} mm²`),
  },
  { key: 'feed', label: 'feed a turn', say: formatLength },
  {
    key: 'surface',
    label: 'cutting speed',
    say: (v, unit, cut) =>
      `${unit === 'inch' ? `${Math.round((v * 1000) / FEET)} ft/min` : `${Math.round(v)} m/min`}${cut ? ` at ${Math.round(cut.speed)} 1/min` : ''}`,
  },
];
// Wide of what stands beside the charts, and of their own scales.
const LABELS = 190;
const SCALE = 44;
const MARGIN = { top: 4, right: 16, bottom: 0, left: 0 };

/** How hard the edges work over the time of the run: one chart below the other over one time, with the values at the moment that is looked at. */
export default function OverTime({ cuts, tools, time, total, unit, onTime }: Props) {
  const { ref, width, height } = useElementSize<HTMLDivElement>();
  const wide = Math.max(0, width - LABELS);
  const bins = useMemo(() => (cuts && wide > 0 ? binned(cuts, total, Math.max(40, Math.round(wide / 2))) : []), [cuts, total, wide]);
  const now = useMemo(() => cuts && cutAt(cuts, time), [cuts, time]);
  const high = Math.max(0, Math.floor((height - AXIS) / ROWS.length));
  const at = LABELS + SCALE + (total > 0 ? time / total : 0) * Math.max(0, wide - SCALE - MARGIN.right);
  return (
    <div className="strip over-time" role="region" aria-label="Cutting over time">
      {cuts?.length === 0 && <p className="strip-empty">Nothing is cut.</p>}
      {cuts && cuts.length > 0 && (
        <p className="over-time-now" role="status">
          {now ? `${tools[now.tool].name}, line ${now.line}` : 'nothing is cut at this moment'}
        </p>
      )}
      <div className="over-time-rows" ref={ref}>
        {bins.length > 0 &&
          cuts &&
          cuts.length > 0 &&
          ROWS.map((row, i) => (
            <figure key={row.key} aria-label={row.label}>
              <figcaption style={{ width: LABELS }}>
                <span>{row.label}</span>
                <span className="number">{now ? row.say(now[row.key], unit, now) : '–'}</span>
              </figcaption>
              <Chart {...{ row, bins, total, unit, onTime }} width={wide} height={high + (i === ROWS.length - 1 ? AXIS : 0)} isLast={i === ROWS.length - 1} />
            </figure>
          ))}
        {bins.length > 0 && cuts && cuts.length > 0 && <span className="over-time-moment" style={{ left: at, height: high * ROWS.length }} />}
      </div>
    </div>
  );
}
// Of the time below the last one.
const AXIS = 18;

interface ChartProps {
  readonly row: Row;
  readonly bins: readonly CutBin[];
  readonly total: number;
  readonly unit: LengthUnit;
  readonly width: number;
  readonly height: number;
  readonly isLast: boolean;
  readonly onTime: (time: number) => void;
}

// Drawn once: the moment goes on over it while a run is played.
const Chart = memo(function Chart({ row, bins, total, unit, width, height, isLast, onTime }: ChartProps) {
  return (
    <AreaChart
      width={width}
      height={height}
      data={bins}
      accessibilityLayer={false}
      syncId="over-time"
      margin={MARGIN}
      onMouseDown={({ activeLabel }) => activeLabel !== undefined && Number.isFinite(Number(activeLabel)) && onTime(Number(activeLabel))}
    >
      <CartesianGrid stroke="var(--line)" vertical={false} />
      <XAxis
        dataKey="time"
        type="number"
        domain={[0, total]}
        height={isLast ? AXIS : 1}
        tick={isLast ? { fontSize: 10 } : false}
        tickFormatter={(v) => `${Math.round(Number(v))} s`}
      />
      <YAxis width={SCALE} tick={{ fontSize: 10 }} domain={[0, 'auto']} tickCount={3} />
      <Tooltip formatter={(v) => [row.say(Number(v), unit), 'at most']} labelFormatter={(t) => `${Number(t).toFixed(1)} s`} />
      <Area dataKey={row.key} type="step" stroke="var(--accent)" fill="var(--accent-soft)" strokeWidth={1.5} isAnimationActive={false} />
    </AreaChart>
  );
});
