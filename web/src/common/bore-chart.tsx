import { CartesianGrid, Line, LineChart, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { roundTo } from '#core/math';
import type { BoreAtDepth } from '#core/reading';
import { formatLength, type LengthUnit } from '#core/units';

interface Props {
  /** What holds what cuts, and what cuts by itself where that is known. */
  readonly bore: { readonly holder: readonly BoreAtDepth[]; readonly cutting?: number };
  /** What asks for it. */
  readonly of: string;
  readonly unit: LengthUnit;
}

/** The smallest bore that a bar goes into, against depth. */
export default function BoreChart({ bore, of, unit }: Props) {
  const shown = bore.holder.filter((b) => Number.isFinite(b.diameter)).map((b) => ({ depth: roundTo(b.depth, 2), diameter: roundTo(b.diameter, 2) }));
  const blocked = bore.holder.find((b) => !Number.isFinite(b.diameter));
  const mm = (v: number) => formatLength(v, unit);
  const last = shown.at(-1);
  return (
    <div className="bore-chart">
      <p className="ledger-hint">
        Minimum bore against depth, {of}
        {last && (
          <>
            : <span className="number">{mm(last.diameter)}</span> at <span className="number">{mm(last.depth)}</span>
          </>
        )}
      </p>
      {shown.length > 1 && (
        <ResponsiveContainer width="100%" height={120}>
          <LineChart data={shown} margin={{ top: 4, right: 8, bottom: 0, left: -14 }}>
            <CartesianGrid stroke="var(--line)" />
            <XAxis dataKey="depth" type="number" domain={[0, 'dataMax']} tick={{ fontSize: 10 }} unit="" />
            <YAxis tick={{ fontSize: 10 }} domain={['auto', 'auto']} />
            <Tooltip formatter={(v) => [mm(Number(v)), 'bore at least']} labelFormatter={(d) => `depth ${mm(Number(d))}`} />
            <Line type="stepAfter" dataKey="diameter" stroke="var(--accent)" strokeWidth={2} dot={false} isAnimationActive={false} />
          </LineChart>
        </ResponsiveContainer>
      )}
      {blocked && <p className="ledger-hint warn">From a depth of {mm(blocked.depth)} on it goes into no bore: something stands out as far as the tip.</p>}
      {bore.cutting !== undefined && !Number.isFinite(bore.cutting) && (
        <p className="ledger-hint">The insert has no relief below its tip: in the model its flank would rub.</p>
      )}
      {bore.cutting !== undefined && Number.isFinite(bore.cutting) && <p className="ledger-hint">The insert by itself asks for {mm(bore.cutting)}.</p>}
    </div>
  );
}
