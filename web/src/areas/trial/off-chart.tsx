import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { roundTo } from '#core/math';
import type { OffAt } from '#core/trial';
import { formatLength, type LengthUnit } from '#core/units';

interface Props {
  readonly along: readonly OffAt[];
  /** mm that a cut may go into the part. */
  readonly tolerance: number;
  readonly unit: LengthUnit;
  readonly onPlace: (place: OffAt) => void;
}

// Micrometres beyond which a curve is cut: what was not turned at all would hide all else.
const SHOWN = 500;

/** How the turned surface follows the contour, in micrometres along it: over it upwards, into it downwards. A press shows the place. */
export default function OffChart({ along, tolerance, unit, onPlace }: Props) {
  const data = along.map((o) => ({ along: roundTo(o.along, 2), off: Math.max(-SHOWN, Math.min(SHOWN, roundTo(o.off * 1000, 1))), place: o }));
  const end = Math.ceil(Math.max(20, ...data.map((d) => Math.abs(d.off))) / 20) * 20;
  return (
    <figure className="off-chart" aria-label="Against the contour">
      <p className="soft">Against the contour, µm along it; above 0 something is left, below it is missing.</p>
      <ResponsiveContainer width="100%" height={150}>
        <LineChart
          data={data}
          margin={{ top: 6, right: 6, bottom: 0, left: -14 }}
          onMouseDown={({ activeLabel }) => {
            const at = data.find((d) => d.along === Number(activeLabel));
            if (at) onPlace(at.place);
          }}
        >
          <CartesianGrid stroke="var(--line)" />
          <XAxis dataKey="along" type="number" domain={[0, 'dataMax']} tick={{ fontSize: 10 }} tickFormatter={(v) => String(Math.round(Number(v)))} />
          <YAxis tick={{ fontSize: 10 }} domain={[-end, end]} ticks={[-end, -end / 2, 0, end / 2, end]} />
          <ReferenceLine y={0} stroke="var(--ink)" />
          <ReferenceLine y={-tolerance * 1000} stroke="var(--fail)" strokeDasharray="4 3" />
          <Tooltip formatter={(v) => [`${Number(v)} µm`, 'off']} labelFormatter={(d) => `${formatLength(Number(d), unit)} along`} />
          <Line dataKey="off" stroke="var(--accent)" strokeWidth={2} dot={false} isAnimationActive={false} />
        </LineChart>
      </ResponsiveContainer>
    </figure>
  );
}
