import { CartesianGrid, Legend, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { roundTo } from '#core/math';
import type { ReachOverAngles } from '#core/trial';
import { formatAngleDeg } from '#core/units';

interface Props {
  readonly over: ReachOverAngles;
  /** Where the head stands. */
  readonly angle: number;
  readonly onAngle: (deg: number) => void;
}

/** What an edge leaves of the contour over the angles of its head, with its relief and its room; a press takes the angle. */
export default function AngleChart({ over, angle, onAngle }: Props) {
  const data = over.angles.map((a) => ({ angle: roundTo(a.angle, 2), area: roundTo(a.area, 3), relief: a.relief ?? null, room: roundTo(a.room, 2) }));
  const [first, last] = [data.at(0)?.angle ?? 0, data.at(-1)?.angle ?? 0];
  return (
    <ResponsiveContainer width="100%" height={190}>
      <LineChart
        data={data}
        margin={{ top: 6, right: 2, bottom: 0, left: -14 }}
        onMouseDown={({ activeLabel }) => activeLabel !== undefined && Number.isFinite(Number(activeLabel)) && onAngle(Number(activeLabel))}
      >
        <CartesianGrid stroke="var(--line)" />
        <XAxis dataKey="angle" type="number" domain={[first, last]} tick={{ fontSize: 10 }} tickFormatter={(v) => `${v}°`} />
        <YAxis yAxisId="area" tick={{ fontSize: 10 }} domain={[0, 'auto']} />
        <YAxis yAxisId="beside" orientation="right" width={30} tick={{ fontSize: 10 }} domain={['auto', 'auto']} />
        {over.best && <ReferenceLine yAxisId="area" x={over.best.angle} stroke="var(--accent)" strokeDasharray="4 3" />}
        {angle >= first && angle <= last && <ReferenceLine yAxisId="area" x={angle} stroke="var(--ink)" strokeWidth={2} />}
        <Tooltip
          formatter={(v, name) => [name === 'relief, °' ? formatAngleDeg(Number(v)) : `${Number(v)} ${name === 'room, mm' ? 'mm' : 'mm²'}`, name]}
          labelFormatter={(b) => `head at ${formatAngleDeg(Number(b))}`}
        />
        <Line yAxisId="area" dataKey="area" name="left, mm²" stroke="var(--fail)" strokeWidth={2} dot={false} isAnimationActive={false} />
        <Line
          yAxisId="beside"
          dataKey="relief"
          name="relief, °"
          stroke="var(--warn)"
          strokeWidth={2}
          strokeDasharray="7 3"
          dot={false}
          isAnimationActive={false}
        />
        <Line
          yAxisId="beside"
          dataKey="room"
          name="room, mm"
          stroke="var(--tool-body)"
          strokeWidth={2}
          strokeDasharray="2 3"
          dot={false}
          isAnimationActive={false}
        />
        <Legend iconType="plainline" wrapperStyle={{ fontSize: 11 }} />
      </LineChart>
    </ResponsiveContainer>
  );
}
