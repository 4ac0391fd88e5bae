import { type ReactNode, useMemo, useRef } from 'react';
import { compose, DISPLAY_CHORD, type Frame, frameFromWorld, invert, type Motion, move, moveFrame, SECTION_NUDGE, turn, type Vec3 } from '#core/math';
import { movePoints, type TriMesh } from '#core/mesh';
import { loopArea, type SectionLoop, sectionMesh } from '#core/outline';
import type { BodyRole, PlanRecord } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import type { StageItem } from '../scene/picks.ts';
import { useElementSize } from '@mantine/hooks';
import { type Slide, useSlide } from '../scene/slide.ts';
import { ArrowMarker, MmGrid, niceStep, pathOfPoints, scaleText } from './drawing-parts.tsx';
import { ChainDimensions, ROOM, type StripDimensions } from './chain-dimensions.tsx';
import { pathTo, type ProfileEditing, ProfileLines, ProfileTools } from './profile-editor.tsx';

export interface StripTip {
  readonly key: string;
  readonly noseCentre: Vec3;
  readonly noseRadius: number;
  readonly point: Vec3;
}

export interface SectionStripProps {
  readonly items: readonly StageItem[];
  /** The frame that is cut in (its X-Z plane) and measured from; stage coordinates. */
  readonly frame: Frame;
  readonly hasMount: boolean;
  /** Only the side of positive X: for what turns about the frame's Z. */
  readonly half: boolean;
  readonly tips: readonly StripTip[];
  /** The profile of a revolved envelope to draw over the section, and to change. */
  readonly profile?: ProfileEditing;
  /** What was made of the bodies, drawn as lines over their section. */
  readonly made?: readonly StageItem[];
  /** Outlines in the plane of the section, as they are seen along its normal. */
  readonly plan?: PlanRecord['parts'];
  /** Places where what was made cuts into the tool; stage coordinates. */
  readonly wrong?: readonly Vec3[];
  /** Outlines of what lies behind the plane, loops of z, x in the frame. */
  readonly behind?: readonly Float64Array[];
  /** What the two main dimensions are called. */
  readonly names?: { readonly along: string; readonly across: string };
  /** The chain's own dimensions, in the place of the two main ones. */
  readonly dimensions?: StripDimensions | undefined;
  /** Something that can be slid along a line of the plane. */
  readonly slide?: Slide | undefined;
  /** Tools over the drawing, at its right. */
  readonly tools?: ReactNode;
  readonly unit: LengthUnit;
}

interface Cut {
  readonly role: BodyRole;
  readonly loops: readonly SectionLoop[];
}

const MARGIN = { left: 70, right: 120, top: 30, bottom: 40 };

/** The section of what is on the stage in the mount frame, to scale, with gauge line, tip and main dimensions. */
export function SectionStrip({
  items,
  frame,
  hasMount,
  half,
  tips,
  profile,
  made = NOTHING,
  plan = NO_PLAN,
  wrong = [],
  behind = NO_LOOPS,
  names = TOOL_NAMES,
  dimensions,
  slide,
  tools,
  unit,
}: SectionStripProps) {
  const { ref, width, height } = useElementSize<HTMLDivElement>();
  const { ref: toolsRef, width: toolsWidth } = useElementSize<HTMLDivElement>();
  const cuts = useMemo(() => cutItems(items, frame), [items, frame]);
  const overlay = useMemo(() => cutItems(made, frame), [made, frame]);
  const frameFromStage = useMemo(() => frameFromWorld(frame), [frame]);
  const measured = useMemo(() => extentOf(cuts, half, items, frame), [cuts, half, items, frame]);
  // While something is slid the scale stays: the hand would not know where it is.
  const before = useRef(measured);
  if (!slide?.isHeld) before.current = measured;
  const extent = before.current ?? measured;
  const placed = tips.map((t) => ({ ...t, c: move(frameFromStage, t.noseCentre), p: move(frameFromStage, t.point) }));
  if (!extent) {
    return (
      <div className="strip" ref={ref}>
        <p className="strip-empty">The plane of the mount does not cut any body. Mark the mount on the axis or on the shank.</p>
        {tools && <div className="strip-tools">{tools}</div>}
      </div>
    );
  }
  const tipReach = placed.map((t) => [t.p[2], t.p[0]] as const);
  const planned = half ? [] : plan.flatMap((p) => p.loops.flatMap((l) => l.pieces.map((piece) => piece.from)));
  const back = boundsOfLoops(behind);
  const z0 = Math.min(extent.z0, back.z0, 0, ...tipReach.map(([z]) => z), ...planned.map(([z]) => z));
  const z1 = Math.max(extent.z1, back.z1, ...tipReach.map(([z]) => z), ...planned.map(([z]) => z));
  const x0 = half ? Math.min(0, ...tipReach.map(([, x]) => x)) : Math.min(extent.x0, back.x0, 0, ...planned.map(([, x]) => x));
  const x1 = Math.max(extent.x1, back.x1, ...tipReach.map(([, x]) => x), ...planned.map(([, x]) => x));
  const margin = {
    ...MARGIN,
    bottom: (dimensions?.along.length ?? 0) > 1 ? ROOM.below : MARGIN.bottom,
    right: (dimensions?.across.length ?? 0) > 1 ? ROOM.right : MARGIN.right,
  };
  // Room for the tools over the drawing.
  const above = profile ? 48 : tools ? 40 : MARGIN.top;
  const scale = Math.max(
    0.01,
    Math.min((width - margin.left - margin.right) / Math.max(1e-6, z1 - z0), (height - above - margin.bottom) / Math.max(1e-6, x1 - x0)),
  );
  const left = margin.left + Math.max(0, (width - margin.left - margin.right - (z1 - z0) * scale) / 2);
  const top = above + Math.max(0, (height - above - margin.bottom - (x1 - x0) * scale) / 2);
  const sx = (z: number) => left + (z - z0) * scale;
  const sy = (x: number) => top + (x1 - x) * scale;
  // Without a mount there is nothing to measure a tip from.
  const tip = hasMount ? placed[0] : undefined;
  const mm = (v: number) => formatLength(v, unit);
  const bottom = sy(x0);
  const across = tip ? `${names.across} ${mm(tip.p[0])}` : half ? `⌀ ${mm(2 * x1)}` : mm(x1);
  const from = hasMount ? 0 : z0;
  const along = tip ? `${names.along} ${mm(tip.p[2])}` : mm(z1 - from);
  const main: StripDimensions = {
    along: [],
    across: [],
    alongTotal: { key: 'along', label: along, text: along, from, to: tip ? tip.p[2] : z1 },
    acrossTotal: { key: 'across', label: across, text: across, from: 0, to: tip ? tip.p[0] : x1 },
  };
  const grid = niceStep(scale);
  // Its name stands beside the gauge line where tools would lie on it.
  const toolsFrom = width - toolsWidth - 18;
  const isUnderTools = tools !== undefined && sx(0) + 40 > toolsFrom;
  return (
    <div className="strip" ref={ref}>
      {width > 0 && (
        <svg width={width} height={height} role={dimensions || slide ? 'group' : 'img'} aria-label="Section in the mount frame">
          <defs>
            <MmGrid x={sx(0)} y={sy(0)} step={grid * scale} />
            <clipPath id="half">
              <rect x={0} y={0} width={width} height={half ? sy(0) : height} />
            </clipPath>
            <ArrowMarker />
          </defs>
          <rect width={width} height={height} fill="url(#mm-grid)" />
          <g clipPath="url(#half)">
            {behind.map((loop, i) => (
              <path key={`behind ${i}`} d={pathOfPoints(loop, sx, sy)} className="strip-behind" />
            ))}
            {behind.length > 0 &&
              cuts.map((cut, i) => (
                <path
                  key={`ground ${i}`}
                  d={cut.loops.map((l) => pathOfPoints(l.points, sx, sy, l.closed)).join('')}
                  className="strip-ground"
                  fillRule="evenodd"
                />
              ))}
            {cuts.map((cut, i) => (
              <path
                key={`${cut.role} ${i}`}
                d={cut.loops.map((l) => pathOfPoints(l.points, sx, sy, l.closed)).join('')}
                className={`cut cut-${cut.role.replace(' ', '-')}`}
                fillRule="evenodd"
              />
            ))}
            {!half &&
              plan.map(({ target, loops }) =>
                loops.map(({ pieces }) => (
                  <path
                    key={`${target} ${pieces[0].from.join()}`}
                    d={`M${sx(pieces[0].from[0])} ${sy(pieces[0].from[1])}${pieces.map((p) => pathTo(p, { sx, sy, scale })).join('')}Z`}
                    className={`strip-plan ${target}`}
                  />
                )),
              )}
            {overlay.map((cut, i) => (
              <path key={`made ${i}`} d={cut.loops.map((l) => pathOfPoints(l.points, sx, sy, l.closed)).join('')} className="strip-made" />
            ))}
          </g>
          {profile && <ProfileLines editing={profile} at={{ sx, sy, scale }} unit={unit} />}
          {wrong.map((at) => {
            const [x, y, z] = move(frameFromStage, at);
            const r = half ? Math.hypot(x, y) : x;
            return <path key={at.join()} d={`M${sx(z) - 5} ${sy(r) - 5}l10 10m0 -10l-10 10`} className="strip-wrong" />;
          })}
          <line x1={sx(z0) - 26} x2={sx(z1) + 40} y1={sy(0)} y2={sy(0)} className="centre-line" />
          {hasMount && (
            <>
              <line x1={sx(0)} x2={sx(0)} y1={Math.max(18, sy(x1) - 12)} y2={Math.min(height - 6, bottom + margin.bottom - 10)} className="gauge-line" />
              <text
                {...(isUnderTools ? { x: Math.min(sx(0) - 8, toolsFrom), textAnchor: 'end' } : { x: sx(0), textAnchor: 'middle' })}
                y={14}
                className="strip-label accent"
              >
                gauge line
              </text>
            </>
          )}
          {slide && <StripSlide slide={slide} at={{ sx, sy, scale }} frameFromStage={frameFromStage} />}
          {placed.map((t) => (
            <g key={t.key}>
              <circle cx={sx(t.c[2])} cy={sy(t.c[0])} r={Math.max(2, t.noseRadius * scale)} className="strip-nose" />
              <path d={`M${sx(t.p[2]) - 6} ${sy(t.p[0])}h12M${sx(t.p[2])} ${sy(t.p[0]) - 6}v12`} className="strip-nose" />
            </g>
          ))}
          <ChainDimensions
            dimensions={dimensions ?? main}
            at={{ sx, sy }}
            right={sx(Math.max(z1, tip ? tip.p[2] : z1))}
            edge={sx(tip ? tip.p[2] : z1)}
            size={[width, height]}
            {...{ bottom, unit }}
          />
          <text x={12} y={height - 10} className="strip-label">
            {half ? 'half-section' : 'section'}, {scaleText(scale)}
          </text>
        </svg>
      )}
      {profile && <ProfileTools editing={profile} unit={unit} />}
      {tools && (
        <div className="strip-tools" ref={toolsRef}>
          {tools}
        </div>
      )}
    </div>
  );
}

interface StripScale {
  readonly sx: (z: number) => number;
  readonly sy: (x: number) => number;
  readonly scale: number;
}

// Pixels between the place of a handle and itself.
const AWAY = 16;
// Of a mm along it, what has to lie in the plane for it to be slid there.
const IN_PLANE = 0.2;

// The handle of what can be slid, as two arrows along its line.
function StripSlide({ slide, at: { sx, sy, scale }, frameFromStage }: { slide: Slide; at: StripScale; frameFromStage: Motion }) {
  const [x, , z] = move(frameFromStage, slide.at);
  const [dx, , dz] = turn(frameFromStage, slide.along);
  const events = useSlide(slide, () => [dz * scale, -dx * scale]);
  const long = Math.hypot(dx, dz);
  if (long < IN_PLANE) return null;
  const [cx, cy] = [sx(z) + (dz / long) * AWAY, sy(x) - (dx / long) * AWAY];
  return (
    <g
      className="strip-slide"
      data-held={slide.isHeld || undefined}
      transform={`translate(${cx} ${cy}) rotate(${(Math.atan2(-dx, dz) * 180) / Math.PI})`}
      {...events}
    >
      <rect x={-14} y={-11} width={28} height={22} rx={6} />
      <path d="M-3 -5-8 0-3 5M3 -5 8 0 3 5M0 -6V6" />
    </g>
  );
}

const NOTHING: readonly StageItem[] = [];
const NO_LOOPS: readonly Float64Array[] = [];
const TOOL_NAMES = { along: 'LF', across: 'WF' };
const NO_PLAN: PlanRecord['parts'] = [];

// Turning tools have their top faces in the plane itself: it is taken a little to the side that most of the tool is on.
function cutItems(items: readonly StageItem[], frame: Frame): Cut[] {
  const frameFromStage = frameFromWorld(frame);
  const weightedY = items.flatMap((item) => item.model.bodies.map((b) => b.volume * move(frameFromStage, move(item.stageFromModel, b.centroid))[1]));
  const y = weightedY.reduce((a, b) => a + b, 0) > 0 ? SECTION_NUDGE : -SECTION_NUDGE;
  return items.flatMap((item) => {
    const inModel = moveFrame(invert(item.stageFromModel), frame);
    return item.model.bodies
      .filter((b) => !item.hidden.has(b.id) && item.roles[b.id] !== 'left out')
      .map((b): Cut => ({ role: item.roles[b.id] ?? 'tool body', loops: cutBody(b.mesh, inModel, y) }))
      .filter((c) => c.loops.length > 0);
  });
}

// The last sections of each mesh: where one piece is slid, the others are not cut anew.
const CUT = new WeakMap<TriMesh, Map<string, readonly SectionLoop[]>>();
const MOST_CUTS = 4;

function cutBody(mesh: TriMesh, plane: Frame, y: number): readonly SectionLoop[] {
  const known = CUT.get(mesh) ?? new Map<string, readonly SectionLoop[]>();
  CUT.set(mesh, known);
  const key = `${plane.origin.join()} ${plane.x.join()} ${plane.z.join()} ${y}`;
  const found = known.get(key) ?? sectionMesh(mesh, plane, y).filter((l) => !l.closed || loopArea(l) > 1e-4);
  known.delete(key);
  known.set(key, found);
  if (known.size > MOST_CUTS) known.delete([...known.keys()][0]);
  return found;
}

/**
 * The extent of what is drawn. A section runs along chords a little below its plane, so each limit that a corner of the model
 * agrees with, within a chord's height, is that corner's: corners lie on the true faces.
 */
function extentOf(cuts: readonly Cut[], half: boolean, items: readonly StageItem[], frame: Frame) {
  let [z0, z1, x0, x1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const { loops } of cuts)
    for (const { points: p } of loops)
      for (let i = 0; i < p.length; i += 2) {
        if (half && p[i + 1] < 0) continue;
        z0 = Math.min(z0, p[i]);
        z1 = Math.max(z1, p[i]);
        x0 = Math.min(x0, p[i + 1]);
        x1 = Math.max(x1, p[i + 1]);
      }
  if (z1 < z0) return undefined;
  const limits = { z0, z1, x0, x1 };
  const nearest = { z0: CHORD, z1: CHORD, x0: CHORD, x1: CHORD };
  const look = (name: keyof typeof limits, value: number, drawn: number) => {
    const away = Math.abs(value - drawn);
    if (away >= nearest[name]) return;
    nearest[name] = away;
    limits[name] = value;
  };
  const frameFromStage = frameFromWorld(frame);
  for (const item of items)
    for (const body of item.model.bodies) {
      const p = movePoints(compose(frameFromStage, item.stageFromModel), body.corners);
      for (let i = 0; i < p.length; i += 3) {
        look('z0', p[i + 2], z0);
        look('z1', p[i + 2], z1);
        const x = half ? Math.hypot(p[i], p[i + 1]) : p[i];
        look('x0', x, x0);
        look('x1', x, x1);
      }
    }
  return limits;
}

function boundsOfLoops(loops: readonly Float64Array[]) {
  const bounds = { z0: Infinity, z1: -Infinity, x0: Infinity, x1: -Infinity };
  for (const p of loops)
    for (let i = 0; i < p.length; i += 2) {
      bounds.z0 = Math.min(bounds.z0, p[i]);
      bounds.z1 = Math.max(bounds.z1, p[i]);
      bounds.x0 = Math.min(bounds.x0, p[i + 1]);
      bounds.x1 = Math.max(bounds.x1, p[i + 1]);
    }
  return bounds;
}

// mm: what a chord of the drawn model and the nudge of the section may take away.
const CHORD = 2 * DISPLAY_CHORD;
