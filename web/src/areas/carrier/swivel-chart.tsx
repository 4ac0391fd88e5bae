import { useMemo } from 'react';
import { CartesianGrid, Legend, Line, LineChart, ReferenceArea, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import { anglesBetween, type EdgeRow, LEAST_RELIEF, reliefsOfHead } from '#core/carrier';
import { roundTo } from '#core/math';
import type { CarrierOf, Place } from '#core/records';
import { formatAngleDeg } from '#core/units';

interface Props {
  readonly edge: EdgeRow;
  readonly place: Place;
  readonly carrier: CarrierOf<'swivel head'>;
  readonly angle: number;
  readonly onAngle: (deg: number) => void;
}

// Degrees beyond which nothing is cut any more.
const SHOWN = 90;

/** What an edge leaves on face and side over all angles of its head; where both are enough is filled. A press takes the angle. */
export default function SwivelChart({ edge, place, carrier, angle, onAngle }: Props) {
  const { window } = edge.swivel ?? {};
  const data = useMemo(() => {
    const reliefAt = reliefsOfHead(edge.own, place, carrier, edge.spindle, edge.atWork.corner);
    const [from, to] = carrier.range;
    return anglesBetween(from, to, 1).map((b) => {
      const r = reliefAt(b);
      const shown = (v: number | undefined) => (v !== undefined && Math.abs(v) <= SHOWN ? roundTo(v, 2) : null);
      return { angle: roundTo(b, 2), face: shown(r?.face), side: shown(r?.side) };
    });
  }, [edge.own, edge.spindle, edge.atWork.corner, place, carrier]);
  return (
    <figure className="swivel-chart" aria-label="Relief over the angle of the head">
      <ResponsiveContainer width="100%" height={170}>
        <LineChart
          data={data}
          margin={{ top: 6, right: 6, bottom: 0, left: -18 }}
          onClick={(at) => {
            const taken = Number(at.activeLabel);
            if (Number.isFinite(taken)) onAngle(taken);
          }}
        >
          <CartesianGrid stroke="var(--line)" />
          <XAxis dataKey="angle" type="number" domain={[...carrier.range]} tick={{ fontSize: 10 }} tickFormatter={(v) => `${v}°`} />
          <YAxis tick={{ fontSize: 10 }} domain={[-30, 60]} allowDataOverflow tickFormatter={(v) => `${v}°`} />
          {window && <ReferenceArea x1={window.from} x2={window.to} fill="var(--accent)" fillOpacity={0.16} />}
          <ReferenceLine y={LEAST_RELIEF} stroke="var(--soft-ink)" strokeDasharray="3 3" />
          {window && <ReferenceLine x={window.best} stroke="var(--accent)" strokeDasharray="4 3" />}
          <ReferenceLine x={angle} stroke="var(--ink)" strokeWidth={2} />
          <Tooltip formatter={(v, name) => [formatAngleDeg(Number(v)), name]} labelFormatter={(b) => `head at ${formatAngleDeg(Number(b))}`} />
          <Line type="linear" dataKey="face" name="to the face" stroke="var(--warn)" strokeWidth={2} dot={false} isAnimationActive={false} />
          <Line
            type="linear"
            dataKey="side"
            name="to the side"
            stroke="var(--accent)"
            strokeWidth={2}
            strokeDasharray="7 3"
            dot={false}
            isAnimationActive={false}
          />
          <Legend iconType="plainline" wrapperStyle={{ fontSize: 11 }} />
        </LineChart>
      </ResponsiveContainer>
      <figcaption className="soft">
        {window ? (
          <>
            {edge.own.name} clears by {LEAST_RELIEF}° from <span className="number">{formatAngleDeg(window.from)}</span> to{' '}
            <span className="number">{formatAngleDeg(window.to)}</span>, best at{' '}
            <button type="button" className="text-button number" onClick={() => onAngle(window.best)}>
              {formatAngleDeg(window.best)}
            </button>
            .
          </>
        ) : (
          `${edge.own.name} clears a face and a side together at no angle of this head.`
        )}
      </figcaption>
    </figure>
  );
}
