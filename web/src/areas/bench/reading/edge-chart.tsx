import { CartesianGrid, Line, LineChart, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { roundTo } from '#core/math';
import type { EdgeDeviation } from '#core/reading';

/** What a tilted edge leaves (above the line) or takes (below) beside the flat one, along the edge in mm, in micrometres. */
export default function EdgeChart({ edge }: { edge: readonly EdgeDeviation[] }) {
  const data = edge.map((e) => ({ along: roundTo(e.along, 3), um: roundTo(e.difference * 1000, 2) }));
  return (
    <ResponsiveContainer width="100%" height={110}>
      <LineChart data={data} margin={{ top: 4, right: 8, bottom: 0, left: -14 }}>
        <CartesianGrid stroke="var(--line)" />
        <XAxis dataKey="along" type="number" domain={['dataMin', 'dataMax']} tick={{ fontSize: 10 }} tickFormatter={(v) => String(roundTo(Number(v), 1))} />
        <YAxis tick={{ fontSize: 10 }} />
        <ReferenceLine y={0} stroke="var(--soft-ink)" />
        <Tooltip formatter={(v) => [`${String(v)} µm`, 'across the edge']} labelFormatter={(d) => `${Number(d)} mm along the edge`} />
        <Line dataKey="um" stroke="var(--cutting)" strokeWidth={2} dot={false} isAnimationActive={false} />
      </LineChart>
    </ResponsiveContainer>
  );
}
