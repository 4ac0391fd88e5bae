import { ActionIcon, Tooltip } from '@mantine/core';
import { IconFocusCentered, IconMinus, IconPlus } from '@tabler/icons-react';
import { type KeyboardEvent, type PointerEvent, type ReactNode, useMemo, useState } from 'react';
import { boxOfPath, type FlatPoint, type HalfProfile, type PathPiece, stretchOfProfile } from '#core/outline';
import type { OutlineRecord } from '#core/records';
import { cuttingStretch, extentOf, type FlatMap } from '#core/sources';
import { formatLength, type LengthUnit } from '#core/units';
import { Across, Along, ArrowMarker, MmGrid, niceStep, scaleText } from '../../../section/drawing-parts.tsx';
import { pathTo } from '../../../section/profile-editor.tsx';
import type { ReadSheet } from '../../../workers/geometry.worker.ts';
import { DrawingLines } from '../sketch/drawing-lines.tsx';
import { SketchLines } from '../sketch/sketch-lines.tsx';
import { SketchTools } from '../sketch/sketch-tools.tsx';
import type { SketchEditing } from '../sketch/use-sketch-editing.ts';
import { type ChoiceBox, useSketchStage } from '../sketch/use-sketch-stage.ts';
import { CuttingHandle } from './cutting-handle.tsx';
import { type Inset, useSheetView, type SheetBox, type SheetView } from './use-sheet-view.ts';

/** What the next click on the sheet is for. */
export interface SheetPick {
  /** What is to be pointed at, in words. */
  readonly ask: string;
  readonly take: (at: FlatPoint) => void;
}

interface SheetProps {
  readonly outline: OutlineRecord;
  readonly under: ReadSheet | undefined;
  /** The step of the reading that is lit up. */
  readonly lit: string | null;
  readonly pictureUrl: string | undefined;
  readonly isFaded: boolean;
  readonly editing: SketchEditing;
  /** False where the numbers of a stack say what it is. */
  readonly mayChange: boolean;
  readonly pick: SheetPick | null;
  /** Places that were pointed at. */
  readonly given: readonly FlatPoint[];
  /** Edges of an insert that cut, by the numbers of its pieces; null for all. */
  readonly onEdges: (cutting: readonly number[] | null) => void;
  readonly onCutting: (cutting: NonNullable<OutlineRecord['cutting']>) => void;
  readonly unit: LengthUnit;
  /** What the solid covers. */
  readonly inset: Inset;
  readonly children?: ReactNode;
}

// Pixels that the tools of drawing cover at the lower edge.
const TOOLS_HIGH = 90;

/** The sheet: millimetre paper with what was drawn, the outline over it, its axis, and where it cuts. */
export function Sheet({ outline, under, lit, pictureUrl, isFaded, editing, mayChange, pick, given, onEdges, onCutting, unit, inset, children }: SheetProps) {
  const isTurned = outline.purpose !== 'insert';
  const profile = editing.now.profile;
  const isChanging = mayChange && editing.isOn && !pick;
  const box = useMemo(() => boxOf(outline.profile, under, isTurned), [outline.profile, under, isTurned]);
  const view = useSheetView(box, `${outline.id} ${box.map((v) => v.toPrecision(4)).join()}`, inset, isChanging ? TOOLS_HIGH : 0);
  const [pointer, setPointer] = useState<FlatPoint | null>(null);
  const { ref, width, height, sx, sy, scale } = view;
  const grid = niceStep(scale);
  const sketch = useSketchStage(editing, view, under?.ghost.lines);
  const keys = (e: KeyboardEvent) => {
    if (isChanging && sketch.onKey(e)) return e.preventDefault();
    if (e.target !== e.currentTarget) return;
    const step = e.shiftKey ? 10 : 60;
    const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, -step], ArrowDown: [0, step] }[e.key];
    if (by) view.panBy(by[0], by[1]);
    else if (e.key === '+' || e.key === '=') view.zoomBy(1.25);
    else if (e.key === '-') view.zoomBy(0.8);
    else if (e.key.toLowerCase() === 'f') view.fit();
    else return;
    e.preventDefault();
  };
  const place = (e: PointerEvent): FlatPoint => {
    const { left, top } = e.currentTarget.getBoundingClientRect();
    return view.toSheet(e.clientX - left, e.clientY - top);
  };
  return (
    // A drawing that is looked at: it takes keys, as a map does.
    <div
      className="sheet-stage"
      ref={ref}
      role="application"
      tabIndex={0}
      aria-label="Sheet. Drag to move, wheel or plus and minus to zoom, arrows to move, F to fit."
      onKeyDown={keys}
      onKeyUp={sketch.onKeyUp}
    >
      {width > 0 && (
        <svg
          width={width}
          height={height}
          aria-label="The outline on its sheet"
          role="group"
          className={pick || (isChanging && sketch.drawing.tool) ? 'picking' : isChanging ? 'choosing' : ''}
          {...(pick
            ? {
                onPointerMove: (e: PointerEvent) => setPointer(place(e)),
                onPointerLeave: () => setPointer(null),
                onPointerUp: (e: PointerEvent) => e.button === 0 && pick.take(place(e)),
              }
            : isChanging
              ? {
                  onPointerDown: sketch.onPointerDown,
                  onPointerMove: sketch.onPointerMove,
                  onPointerUp: sketch.onPointerUp,
                  onPointerLeave: sketch.onPointerLeave,
                }
              : view.pan)}
        >
          <defs>
            <MmGrid x={sx(0)} y={sy(0)} step={grid * scale} />
            <ArrowMarker />
          </defs>
          <rect width={width} height={height} fill="url(#mm-grid)" />
          {pictureUrl && under?.size && (
            <image
              href={pictureUrl}
              width={under.size.width}
              height={under.size.height}
              transform={screenFromFile(view, under.ghost.sheetFromFile)}
              opacity={isFaded ? 0.35 : 1}
              preserveAspectRatio="none"
            />
          )}
          {under && <Ghost lines={under.ghost.lines} view={view} />}
          {isTurned && profile.length > 0 && <line x1={0} x2={width} y1={sy(0)} y2={sy(0)} className="centre-line" />}
          <OutlineFill outline={outline} profile={profile} view={view} />
          {isChanging ? (
            <>
              <SketchLines editing={editing} view={view} unit={unit} under={under?.ghost.lines} isDrawing={sketch.drawing.tool !== null} />
              {sketch.drawing.tool && <DrawingLines drawing={sketch.drawing} view={view} unit={unit} />}
              {sketch.box && <Box box={sketch.box} />}
            </>
          ) : (
            profile.map((loop, i) => <path key={i} d={closedPath(loop, view)} className="sheet-line" />)
          )}
          {!isTurned && !isChanging && !pick && <Edges outline={outline} view={view} onEdges={onEdges} />}
          {isTurned && outline.mount && profile.length > 0 && <GaugeLine at={outline.mountZ} profile={profile} view={view} />}
          {isTurned && profile.length > 0 && !isChanging && <Dimensions outline={outline} profile={profile} view={view} unit={unit} />}
          {isTurned && outline.cutting && profile.length > 0 && !isChanging && (
            <CuttingHandle outline={outline} profile={profile} view={view} unit={unit} onCommit={onCutting} />
          )}
          {lit !== null && under?.ghost.lit[lit] && <Ghost lines={under.ghost.lit[lit]} view={view} isLit />}
          {given.map((p) => (
            <path key={p.join()} d={`M${sx(p[0]) - 7} ${sy(p[1])}h14M${sx(p[0])} ${sy(p[1]) - 7}v14`} className="sheet-given" />
          ))}
          {pick && pointer && given.length > 0 && (
            <line x1={sx(given[0][0])} y1={sy(given[0][1])} x2={sx(pointer[0])} y2={sy(pointer[1])} className="sheet-given" />
          )}
          {under?.places.map(([x, y]) => (
            <circle key={`${x} ${y}`} cx={sx(x)} cy={sy(y)} r={8} className="sheet-wrong" />
          ))}
          {under?.places.length === 2 && (
            <line x1={sx(under.places[0][0])} y1={sy(under.places[0][1])} x2={sx(under.places[1][0])} y2={sy(under.places[1][1])} className="sheet-wrong gap" />
          )}
          {!isUnscaled(outline) && (
            <text x={12} y={height - 10} className="strip-label">
              {scaleText(scale)}
            </text>
          )}
        </svg>
      )}
      {pick && (
        <p className="sheet-ask" role="status">
          {pick.ask} <span className="ledger-hint">Escape leaves it.</span>
        </p>
      )}
      {mayChange && !pick && !isUnscaled(outline) && <SketchTools editing={editing} stage={sketch} unit={unit} />}
      <div className="sheet-zoom">
        <SheetButton label="Closer (+)" onClick={() => view.zoomBy(1.25)} icon={<IconPlus size={16} />} />
        <SheetButton label="Further away (-)" onClick={() => view.zoomBy(0.8)} icon={<IconMinus size={16} />} />
        <SheetButton label="Fit the sheet (F)" onClick={view.fit} icon={<IconFocusCentered size={16} />} />
      </div>
      {children}
    </div>
  );
}

/** A picture whose size nobody has said yet. */
export const isUnscaled = ({ way }: OutlineRecord): boolean =>
  way.kind === 'drawing' && (way.format === 'png' || way.format === 'jpg') && way.choice.scale === null;

const SheetButton = ({ label, onClick, icon }: { label: string; onClick: () => void; icon: ReactNode }) => (
  <Tooltip label={label} position="right">
    <ActionIcon variant="default" size="md" aria-label={label} onClick={onClick}>
      {icon}
    </ActionIcon>
  </Tooltip>
);

// From a picture's pixels to the screen's, as SVG writes it.
const screenFromFile = ({ sx, sy, scale }: SheetView, [a, b, c, d, e, f]: FlatMap): string =>
  `matrix(${scale * a} ${-scale * b} ${scale * c} ${-scale * d} ${sx(e)} ${sy(f)})`;

// Lines are in mm: the sheet's own map moves them, and leaves them as thin as they are.
function Ghost({ lines, view: { sx, sy, scale }, isLit = false }: { lines: Float64Array; view: SheetView; isLit?: boolean }) {
  const d = useMemo(() => {
    let path = '';
    for (let i = 0; i < lines.length; i += 4) {
      const follows = i > 0 && lines[i] === lines[i - 2] && lines[i + 1] === lines[i - 1];
      path += follows
        ? `L${lines[i + 2].toFixed(4)} ${lines[i + 3].toFixed(4)}`
        : `M${lines[i].toFixed(4)} ${lines[i + 1].toFixed(4)}L${lines[i + 2].toFixed(4)} ${lines[i + 3].toFixed(4)}`;
    }
    return path;
  }, [lines]);
  return (
    <path
      d={d}
      className={isLit ? 'sheet-lit' : 'sheet-ghost'}
      transform={`matrix(${scale} 0 0 ${-scale} ${sx(0)} ${sy(0)})`}
      vectorEffect="non-scaling-stroke"
    />
  );
}

const closedPath = (loop: readonly PathPiece[], view: SheetView): string =>
  `M${view.sx(loop[0].from[0])} ${view.sy(loop[0].from[1])}${loop.map((p) => pathTo(p, view)).join('')}Z`;

// The edges of an insert, to say of each whether it cuts: its flank leans in then.
function Edges({ outline, view, onEdges }: { outline: OutlineRecord; view: SheetView; onEdges: SheetProps['onEdges'] }) {
  const [loop] = outline.profile;
  if (!loop) return null;
  const { cutting } = outline.insert;
  const cuts = (i: number) => cutting === null || cutting.includes(i);
  const toggle = (i: number) => {
    const next = loop.flatMap((_, k) => (cuts(k) !== (k === i) ? [k] : []));
    onEdges(next.length === loop.length ? null : next);
  };
  return (
    <g>
      {loop.map((p, i) => {
        const d = `M${view.sx(p.from[0])} ${view.sy(p.from[1])}${pathTo(p, view)}`;
        return (
          <g
            key={d}
            className={`edge ${cuts(i) ? 'cuts' : ''}`}
            role="checkbox"
            aria-checked={cuts(i)}
            aria-label={`Edge ${i + 1} cuts`}
            tabIndex={0}
            onPointerDown={(e) => e.stopPropagation()}
            onClick={() => toggle(i)}
            onKeyDown={(e) => {
              if (e.key !== ' ' && e.key !== 'Enter') return;
              e.preventDefault();
              toggle(i);
            }}
          >
            <title>{cuts(i) ? 'This edge cuts; press to have it not' : 'This edge does not cut; press to have it cut'}</title>
            <path d={d} className="edge-line" />
            <path d={d} className="strip-grip" />
          </g>
        );
      })}
    </g>
  );
}

// The material: what cuts and the rest, and of what is turned the other half, quieter.
function OutlineFill({ outline, profile, view }: { outline: OutlineRecord; profile: HalfProfile; view: SheetView }) {
  const cuts = outline.purpose === 'insert' ? null : cuttingStretch({ ...outline, profile });
  const cutting = cuts ? stretchOfProfile(profile, cuts.from, cuts.to) : outline.purpose === 'insert' ? profile : [];
  const paths = (of: HalfProfile) => of.map((loop) => closedPath(loop, view)).join('');
  const mirrored = `matrix(1 0 0 -1 0 ${2 * view.sy(0)})`;
  const hole = outline.purpose === 'insert' ? outline.insert.hole : null;
  return (
    <>
      {outline.purpose !== 'insert' && <path d={paths(profile)} className="sheet-other-half" transform={mirrored} />}
      <path d={paths(profile)} className="cut cut-tool-body sheet-fill" fillRule="evenodd" />
      <path d={paths(cutting)} className="cut cut-cutting sheet-fill" fillRule="evenodd" />
      {hole && <circle cx={view.sx(hole.at[0])} cy={view.sy(hole.at[1])} r={(hole.diameter / 2) * view.scale} className="sheet-hole" />}
    </>
  );
}

// Drawn to the right it encloses, to the left it touches: told apart by its line.
const Box = ({ box: { from, to } }: { box: ChoiceBox }) => (
  <rect
    x={Math.min(from[0], to[0])}
    y={Math.min(from[1], to[1])}
    width={Math.abs(to[0] - from[0])}
    height={Math.abs(to[1] - from[1])}
    className={`choice-box ${to[0] < from[0] ? 'touching' : ''}`}
  />
);

function GaugeLine({ at, profile, view: { sx, sy } }: { at: number; profile: HalfProfile; view: SheetView }) {
  const { radius } = extentOf(profile);
  return (
    <g>
      <line x1={sx(at)} x2={sx(at)} y1={sy(radius) - 34} y2={sy(-radius) + 10} className="gauge-line" />
      <text x={sx(at)} y={sy(radius) - 40} textAnchor="middle" className="strip-label accent">
        gauge line
      </text>
    </g>
  );
}

function Dimensions({ outline, profile, view, unit }: { outline: OutlineRecord; profile: HalfProfile; view: SheetView; unit: LengthUnit }) {
  const { low, high, radius } = extentOf(profile);
  const mm = (v: number) => formatLength(v, unit);
  const cuts = cuttingStretch({ ...outline, profile });
  const below = view.sy(-radius) + 26;
  return (
    <g>
      <Along y={below} x0={view.sx(low)} x1={view.sx(high)} label={mm(high - low)} />
      {outline.mount && low < outline.mountZ - 1e-6 && (
        <Along y={below + 26} x0={view.sx(outline.mountZ)} x1={view.sx(high)} label={mm(high - outline.mountZ)} />
      )}
      {cuts && cuts.to - cuts.from < high - low - 1e-6 && (
        <Along y={view.sy(radius) - 18} x0={view.sx(cuts.from)} x1={view.sx(cuts.to)} label={mm(cuts.to - cuts.from)} />
      )}
      <Across x={view.sx(high) + 30} y0={view.sy(0)} y1={view.sy(radius)} from={view.sx(high)} label={`⌀ ${mm(2 * radius)}`} />
    </g>
  );
}

// Around the outline, or around all that was drawn where there is none.
function boxOf(profile: HalfProfile, under: ReadSheet | undefined, isTurned: boolean): SheetBox {
  if (profile.length > 0) {
    const [x0, y0, x1, y1] = boxOfPath(profile.flat());
    return isTurned ? [x0, -y1, x1, y1] : [x0, y0, x1, y1];
  }
  if (under?.size) {
    const [a, b, c, d, e, f] = under.ghost.sheetFromFile;
    const corners = [0, 1].flatMap((i) => [0, 1].map((k) => [i * (under.size?.width ?? 0), k * (under.size?.height ?? 0)]));
    const places = corners.map(([x, y]) => [a * x + c * y + e, b * x + d * y + f]);
    const of = (k: number) => places.map((p) => p[k]);
    return [Math.min(...of(0)), Math.min(...of(1)), Math.max(...of(0)), Math.max(...of(1))];
  }
  const { lines } = under?.ghost ?? { lines: new Float64Array(0) };
  const box: [number, number, number, number] = [Infinity, Infinity, -Infinity, -Infinity];
  for (let i = 0; i < lines.length; i += 2) {
    box[0] = Math.min(box[0], lines[i]);
    box[1] = Math.min(box[1], lines[i + 1]);
    box[2] = Math.max(box[2], lines[i]);
    box[3] = Math.max(box[3], lines[i + 1]);
  }
  return lines.length > 0 ? box : [-50, -30, 50, 30];
}
