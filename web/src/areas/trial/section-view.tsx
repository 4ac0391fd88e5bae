import { useElementSize } from '@mantine/hooks';
import { useMemo } from 'react';
import { flattenPath, type FlatPoint, type HalfProfile } from '#core/outline';
import {
  bodiesAtWork,
  type CutAnswer,
  type EdgeReach,
  imageAt,
  lineAlong,
  type Moment,
  type OffAt,
  type TrialEvent,
  type TrialSetting,
  type RunTool,
  type TurnedBody,
} from '#core/trial';
import { SectionBodies } from './section-bodies.tsx';
import type { Running } from './trial-items.ts';
import { MmGrid, niceStep } from '../../section/drawing-parts.tsx';

interface Props {
  readonly moment: Moment | undefined;
  /** The edges at work, of each channel. */
  readonly running: readonly Running[];
  readonly setting: TrialSetting;
  readonly contour: HalfProfile | null;
  /** What the view is fitted to. */
  readonly stock: HalfProfile | undefined;
  readonly jawsAt: number;
  /** The half section of what holds the work at its front. */
  readonly support: readonly FlatPoint[] | undefined;
  readonly events: readonly TrialEvent[];
  /** What an edge can cut of the contour, drawn on it; `left` is what stays. */
  readonly reach: EdgeReach | undefined;
  /** How what came out follows the contour, drawn on it; `tolerance`: how far a cut may go into it. */
  readonly off: readonly OffAt[] | undefined;
  readonly tolerance: number;
  /** A place that is looked at. */
  readonly place: FlatPoint | undefined;
  /** Of a cut that is being written. */
  readonly ways: Extract<CutAnswer, { ways: unknown }>['ways'] | undefined;
}

const MARGIN = 26;

/** The half section of the work at a moment, with what is to come out, the edge that cuts, and places where something is wrong. */
export function SectionView({ moment, running, setting, contour, stock, jawsAt, support, events, reach, off, tolerance, place, ways }: Props) {
  const { ref, width, height } = useElementSize<HTMLDivElement>();
  const box = useMemo(() => {
    const all = [...(stock ?? []), ...(contour ?? [])].flat().flatMap((p) => [p.from, p.to]);
    if (all.length === 0) return undefined;
    const zs = all.map((p) => p[0]);
    const rs = all.map((p) => p[1]);
    return { z0: Math.max(Math.min(...zs), jawsAt - 12), z1: Math.max(...zs) + 8, r1: Math.max(...rs) + 6 };
  }, [stock, contour, jawsAt]);
  const wanted = useMemo(() => (contour ?? []).map((l) => flattenPath(l, 0.005, false)), [contour]);
  // Before anything moves: what is gripped.
  const work = useMemo(() => moment?.region.loops ?? (stock ?? []).map((l) => flattenPath(l, 0.005, false)), [moment, stock]);
  // The bodies of a tool are the same ones wherever it stands.
  const known = useMemo(() => ({ setting, bodies: new Map<RunTool, readonly TurnedBody[]>() }), [setting]);
  const bodies = useMemo(
    () =>
      running.flatMap(({ at, tool }) => {
        const own = known.bodies.get(tool) ?? bodiesAtWork(known.setting, tool.placeId, tool.name);
        known.bodies.set(tool, own);
        return own.map((body) => ({ body, at: at.reference }));
      }),
    [running, known],
  );
  if (!box) return <div className="strip" ref={ref} />;
  const scale = Math.max(0.01, Math.min((width - 2 * MARGIN) / (box.z1 - box.z0), (height - MARGIN - 12) / box.r1));
  const left = (width - (box.z1 - box.z0) * scale) / 2;
  const sx = (z: number) => left + (z - box.z0) * scale;
  const sy = (r: number) => height - MARGIN - r * scale;
  const path = (loop: readonly FlatPoint[]) => `M${loop.map(([z, r]) => `${sx(z).toFixed(2)} ${sy(r).toFixed(2)}`).join('L')}Z`;
  const line = (points: readonly FlatPoint[]) => points.map(([z, r]) => `${sx(z).toFixed(2)},${sy(r).toFixed(2)}`).join(' ');
  const edges = running.flatMap(({ at, tool: { outline, name } }) => (outline ? [{ name, points: imageAt(outline, at.reference) }] : []));
  return (
    <div className="strip" ref={ref}>
      {width > 0 && (
        <svg width={width} height={height} role="img" aria-label="Half section of the work">
          <defs>
            <MmGrid x={sx(0)} y={sy(0)} step={niceStep(scale) * scale} />
            <clipPath id="trial-half">
              <rect x={0} y={0} width={width} height={sy(0)} />
            </clipPath>
          </defs>
          <rect width={width} height={height} fill="url(#mm-grid)" />
          <g clipPath="url(#trial-half)">
            <rect x={0} y={0} width={Math.max(0, sx(jawsAt))} height={height} className="trial-jaws" />
            {support && <path d={path(support)} className="trial-jaws" />}
            <path d={(reach ? wanted : work).map(path).join('')} className="trial-work" fillRule="evenodd" />
            {wanted.map((loop, i) => (
              <path key={`${i} ${loop.length}`} d={path(loop)} className="trial-contour" />
            ))}
            {off &&
              runsOff(off, tolerance).map((run) => (
                <polyline key={`off ${run.points[0].join()}`} points={line(run.points)} className="trial-off" data-is={run.is} />
              ))}
            {reach?.residual.loops.map((loop) => (
              <path key={`stays ${loop[0].join()}`} d={path(loop)} className="trial-left" />
            ))}
            {contour && reach?.reached.map((s) => <polyline key={`to ${s.from}`} points={line(lineAlong(contour, s.from, s.to))} className="trial-reached" />)}
            {contour &&
              reach?.blocked.map((s) => (
                <polyline key={`not ${s.from}`} points={line(lineAlong(contour, s.from, s.to))} className="trial-blocked" data-why={s.why} />
              ))}
            {reach?.bore && <polyline points={line(reach.bore.along.map((b): FlatPoint => [b.z, b.asked / 2]))} className="trial-bar" />}
            {ways?.map((w, i) => (
              <polyline key={`${i} ${w.points[0].join()}`} points={line(w.points)} className="trial-way" data-rapid={w.isRapid || undefined} />
            ))}
            {!reach && !ways && edges.map((e, i) => <path key={`${i} ${e.name}`} d={path(e.points)} className="trial-edge" />)}
          </g>
          <line x1={0} x2={width} y1={sy(0)} y2={sy(0)} className="trial-axis" />
          <line x1={sx(0)} x2={sx(0)} y1={sy(box.r1)} y2={sy(0) + 6} className="trial-zero" />
          <text x={sx(0)} y={sy(0) + 18} textAnchor="middle" className="strip-label">
            Z 0
          </text>
          <text x={Math.max(4, sx(jawsAt) - 4)} y={sy(0) + 18} textAnchor="end" className="strip-label">
            jaws
          </text>
          {place && <circle cx={sx(place[0])} cy={sy(place[1])} r={7} className="trial-place" />}
          {(reach || ways ? [] : events)
            .filter((e) => e.kind !== 'near' && e.kind !== 'travel')
            .map((e) => (
              <circle key={`${e.time} ${e.kind} ${e.between.join()}`} cx={sx(e.at[0])} cy={sy(e.at[1])} r={6} className="trial-wrong" />
            ))}
          {moment && !reach && (
            <text x={width - 10} y={16} textAnchor="end" className="strip-label">
              {[...new Set(running.map((r) => r.tool.name))].join(', ')}: {(moment.region.volume / 1000).toFixed(2)} cm³ left
            </text>
          )}
        </svg>
      )}
      {width > 0 && !reach && !ways && bodies.length > 0 && <SectionBodies {...{ bodies, sx, sy, width, height }} />}
    </div>
  );
}

// mm over the contour that is worth a colour: what a nose leaves at its smallest.
const LEFT = 0.02;
// mm. Places of a run are no farther apart.
const NEXT = 1.2;

/** Stretches of a contour over which something is left, or missing. */
function runsOff(all: readonly OffAt[], tolerance: number): { is: 'left' | 'missing'; points: FlatPoint[] }[] {
  const runs: { is: 'left' | 'missing'; points: FlatPoint[] }[] = [];
  let last: OffAt | undefined;
  for (const o of all) {
    const is = o.off > LEFT ? 'left' : o.off < -tolerance ? 'missing' : undefined;
    const run = runs.at(-1);
    if (is && run && last && run.points.at(-1) === last.at && run.is === is && o.along - last.along < NEXT) run.points.push(o.at);
    else if (is) runs.push({ is, points: [o.at] });
    last = o;
  }
  return runs.filter((r) => r.points.length > 1);
}
