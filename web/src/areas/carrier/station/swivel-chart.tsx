import { useMemo, useRef } from 'react';
import { CartesianGrid, Legend, Line, LineChart, ReferenceArea, ReferenceLine, ResponsiveContainer, Tooltip, XAxis, YAxis } from 'recharts';
import {
  allowedAngles,
  anglesBetween,
  type EdgeRow,
  type HeadRoom,
  LEAST_RELIEF,
  reliefsOfHead,
  roomBetween,
  type StationRow,
  type SwivelWindow,
} from '#core/carrier';
import { roundTo } from '#core/math';
import type { CarrierOf } from '#core/records';
import { formatAngleDeg } from '#core/units';

interface Props {
  readonly edge: EdgeRow;
  readonly row: Pick<StationRow, 'place' | 'first'>;
  readonly carrier: CarrierOf<'swivel head'>;
  readonly angle: number;
  /** Undefined until it is worked out. */
  readonly room: HeadRoom | undefined;
  /** `isHeld`: while it is dragged; the last one comes without. */
  readonly onAngle: (deg: number, isHeld?: boolean) => void;
}

// Degrees beyond which nothing is cut any more.
const SHOWN = 90;

/** What an edge leaves on face and side over all angles of its head, and the room of what holds it; where all are enough is filled. A press, or dragging, takes the angle. */
export default function SwivelChart({ edge, row: { place, first }, carrier, angle, room, onAngle }: Props) {
  const { window } = edge.swivel ?? {};
  const allowed = useMemo(() => (room ? allowedAngles(window, room) : undefined), [window, room]);
  const held = useRef<number | null>(null);
  const data = useMemo(() => {
    const reliefAt = reliefsOfHead(edge, place, carrier, first);
    const [from, to] = carrier.range;
    return anglesBetween(from, to, 1).map((b) => {
      const r = reliefAt(b);
      const shown = (v: number | undefined) => (v !== undefined && Math.abs(v) <= SHOWN ? roundTo(v, 2) : null);
      return { angle: roundTo(b, 2), face: shown(r?.face), side: shown(r?.side), room: (room && roomBetween(room, b)) ?? null };
    });
  }, [edge, place, first, carrier, room]);
  const hold = (label: unknown) => {
    const taken = Number(label);
    if (label === undefined || label === null || !Number.isFinite(taken)) return;
    held.current = taken;
    onAngle(taken, true);
  };
  const release = () => {
    if (held.current !== null) onAngle(held.current);
    held.current = null;
  };
  const best = allowed ? allowed.best : window?.best;
  return (
    <figure className="swivel-chart" aria-label="Relief over the angle of the head">
      <ResponsiveContainer width="100%" height={170}>
        <LineChart
          data={data}
          margin={{ top: 6, right: 6, bottom: 0, left: -18 }}
          onMouseDown={(at) => hold(at.activeLabel)}
          onMouseMove={(at) => held.current !== null && hold(at.activeLabel)}
          onMouseUp={release}
          onMouseLeave={release}
        >
          <CartesianGrid stroke="var(--line)" />
          <XAxis dataKey="angle" type="number" domain={[...carrier.range]} tick={{ fontSize: 10 }} tickFormatter={(v) => `${v}°`} />
          <YAxis yAxisId="deg" tick={{ fontSize: 10 }} domain={[-30, 60]} ticks={[-30, 0, 30, 60]} allowDataOverflow tickFormatter={(v) => `${v}°`} />
          <YAxis
            yAxisId="mm"
            orientation="right"
            tick={{ fontSize: 10 }}
            width={34}
            domain={[-30, 60]}
            ticks={[0, 30, 60]}
            allowDataOverflow
            tickFormatter={(v) => (v < 0 ? '' : `${v}`)}
          />
          {(allowed?.ranges ?? (window ? [window] : [])).map((r) => (
            <ReferenceArea key={r.from} yAxisId="deg" x1={r.from} x2={r.to} fill="var(--accent)" fillOpacity={0.18} />
          ))}
          <ReferenceLine yAxisId="deg" y={LEAST_RELIEF} stroke="var(--soft-ink)" strokeDasharray="3 3" />
          {best !== undefined && <ReferenceLine yAxisId="deg" x={best} stroke="var(--accent)" strokeDasharray="4 3" />}
          <ReferenceLine yAxisId="deg" x={angle} stroke="var(--ink)" strokeWidth={2} />
          <Tooltip
            formatter={(v, name) => [name === 'room, mm' ? `${roundTo(Number(v), 2)} mm` : formatAngleDeg(Number(v)), name]}
            labelFormatter={(b) => `head at ${formatAngleDeg(Number(b))}`}
          />
          <Line yAxisId="deg" type="linear" dataKey="face" name="to the face" stroke="var(--warn)" strokeWidth={2} dot={false} isAnimationActive={false} />
          <Line
            yAxisId="deg"
            type="linear"
            dataKey="side"
            name="to the side"
            stroke="var(--accent)"
            strokeWidth={2}
            strokeDasharray="7 3"
            dot={false}
            isAnimationActive={false}
          />
          <Line
            yAxisId="mm"
            type="linear"
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
      <figcaption className="soft">{sayWindow(edge, window, allowed, room === undefined, onAngle)}</figcaption>
    </figure>
  );
}

function sayWindow(
  edge: EdgeRow,
  window: SwivelWindow | undefined,
  allowed: ReturnType<typeof allowedAngles> | undefined,
  isOpen: boolean,
  onAngle: Props['onAngle'],
) {
  const { name } = edge.own;
  if (!window) return `${name} clears a face and a side together at no angle of this head.`;
  const ranges = allowed?.ranges ?? [window];
  if (ranges.length === 0)
    return `${name} clears face and side from ${formatAngleDeg(window.from)} to ${formatAngleDeg(window.to)}, but what holds it touches chuck, jaws or work there.`;
  const best = allowed ? allowed.best : window.best;
  return (
    <>
      {name} clears face and side by {LEAST_RELIEF}°{allowed ? ', and chuck, jaws and work,' : ''} from{' '}
      <span className="number">{ranges.map((r) => `${formatAngleDeg(r.from)} to ${formatAngleDeg(r.to)}`).join(', ')}</span>
      {best !== undefined && (
        <>
          , best at{' '}
          <button type="button" className="text-button number" onClick={() => onAngle(best)}>
            {formatAngleDeg(best)}
          </button>
        </>
      )}
      .{isOpen ? ' Looking at the room…' : ''}
    </>
  );
}
