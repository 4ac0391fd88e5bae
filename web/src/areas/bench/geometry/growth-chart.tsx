import { Bar, BarChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { roundTo } from '#core/math';
import type { GeometryPartRecord } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';

/** Share of the made surface by how far it stands outside the tool, over all parts. */
export default function GrowthChart({ parts, unit }: { parts: readonly GeometryPartRecord[]; unit: LengthUnit }) {
  const bins = parts[0]?.histogram.length ?? 0;
  const greatest = Math.max(...parts.map((p) => p.histogramTo));
  const area = parts.reduce((a, p) => a + p.area, 0);
  const rows = Array.from({ length: bins }, (_, i) => ({ growth: roundTo(((i + 0.5) * greatest) / bins, 4), share: 0 }));
  for (const p of parts)
    p.histogram.forEach((share, i) => {
      // A part with less growth fills the lower bins.
      const at = greatest > 0 ? Math.min(bins - 1, Math.floor(((i + 0.5) * p.histogramTo) / greatest)) : 0;
      rows[at].share += (100 * share * p.area) / area;
    });
  return (
    <div className="bore-chart">
      <p className="ledger-hint">How far the surface stands outside, by its share</p>
      <ResponsiveContainer width="100%" height={92}>
        <BarChart data={rows} margin={{ top: 4, right: 8, bottom: 0, left: -22 }} barCategoryGap={1}>
          <XAxis dataKey="growth" tick={{ fontSize: 10 }} interval={Math.floor(bins / 3)} tickFormatter={(v) => Number(v).toFixed(3)} />
          <YAxis tick={{ fontSize: 10 }} unit="%" width={54} tickFormatter={(v) => String(Math.round(Number(v)))} />
          <Tooltip
            formatter={(v) => [`${Number(v).toFixed(1)} %`, 'of the surface']}
            labelFormatter={(g) => `about ${formatLength(Number(g), unit)} outside`}
          />
          <Bar dataKey="share" fill="var(--accent)" isAnimationActive={false} />
        </BarChart>
      </ResponsiveContainer>
    </div>
  );
}
