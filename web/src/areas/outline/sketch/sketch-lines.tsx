import { type PointerEvent, useState } from 'react';
import { type FlatPoint, placeOnPiece } from '#core/outline';
import { type SketchConstraint, sayConstraint } from '#core/sketch';
import { formatLength, type LengthUnit } from '#core/units';
import { pathTo } from '../../../section/profile-editor.tsx';
import type { SheetView } from '../sheet/use-sheet-view.ts';
import type { SketchEditing } from './use-sketch-editing.ts';

// mm that an arrow key moves a corner by, and with Shift.
const [STEP, SMALL_STEP] = [0.1, 0.01];
// Pixels within which a dragged corner takes the place of another one, along or across.
const SNAP = 6;
// Between the marks of what is said of a piece, pixels.
const MARK = 15;

/** The outline while it is changed: pieces to choose, corners to drag, and marks of what is said of them. */
export function SketchLines({ editing, view, unit }: { editing: SketchEditing; view: SheetView; unit: LengthUnit }) {
  const { profile, sketch } = editing.now;
  const { sx, sy } = view;
  return (
    <g>
      {profile.flatMap((loop, l) =>
        loop.map((p, i) => {
          const name = sketch.names[l][i];
          const d = `M${sx(p.from[0])} ${sy(p.from[1])}${pathTo(p, view)}`;
          const isChosen = editing.chosen.some((c) => c.kind === 'piece' && c.name === name);
          return (
            <g
              key={name}
              className={`edge sketch-piece ${isChosen ? 'chosen' : ''}`}
              role="button"
              tabIndex={0}
              aria-pressed={isChosen}
              aria-label={`Piece ${i + 1}, ${p.kind === 'arc' ? 'arc' : 'line'}`}
              onPointerDown={(e) => {
                e.stopPropagation();
                editing.choose({ kind: 'piece', name }, e.shiftKey);
              }}
              onKeyDown={(e) => {
                if (e.key !== 'Enter' && e.key !== ' ') return;
                e.preventDefault();
                editing.choose({ kind: 'piece', name }, e.shiftKey);
              }}
            >
              <path d={d} className="edge-line" />
              <path d={d} className="strip-grip" />
              <Marks constraints={sketch.constraints.filter((c) => MARKS[c.kind] && marksOn(c, name))} at={placeOnPiece(p, 0.5)} view={view} />
            </g>
          );
        }),
      )}
      {profile.flatMap((loop, l) => loop.map((p, i) => <Corner key={sketch.names[l][i]} {...{ editing, view, unit }} name={sketch.names[l][i]} at={p.from} />))}
    </g>
  );
}

const marksOn = (c: SketchConstraint, piece: string): boolean => ('piece' in c ? c.piece === piece : 'first' in c && (c.first === piece || c.second === piece));

const MARKS: Readonly<Partial<Record<SketchConstraint['kind'], string>>> = {
  horizontal: '–',
  vertical: '|',
  parallel: '∥',
  perpendicular: '⊥',
  equal: '=',
  tangent: '⌒',
};

function Marks({ constraints, at, view }: { constraints: readonly SketchConstraint[]; at: FlatPoint; view: SheetView }) {
  return (
    <>
      {constraints.map((c, k) => (
        <text key={c.id} x={view.sx(at[0]) + 9 + k * MARK} y={view.sy(at[1]) - 8} className="sketch-mark">
          <title>{sayConstraint(c)}</title>
          {MARKS[c.kind]}
        </text>
      ))}
    </>
  );
}

function Corner({ editing, view, unit, name, at }: { editing: SketchEditing; view: SheetView; unit: LengthUnit; name: string; at: FlatPoint }) {
  const isChosen = editing.chosen.some((c) => c.kind === 'corner' && c.name === name);
  const [grab, setGrab] = useState<{ x: number; y: number; at: FlatPoint } | null>(null);
  const wished = (e: PointerEvent): FlatPoint | undefined => {
    if (!grab || Math.hypot(e.clientX - grab.x, e.clientY - grab.y) < 2) return undefined;
    const free: FlatPoint = [grab.at[0] + (e.clientX - grab.x) / view.scale, grab.at[1] - (e.clientY - grab.y) / view.scale];
    return e.altKey ? free : snapped(free, editing, name, view);
  };
  return (
    <circle
      cx={view.sx(at[0])}
      cy={view.sy(at[1])}
      r={isChosen ? 6.5 : 4.5}
      className={`strip-corner ${isChosen ? 'chosen' : ''}`}
      tabIndex={0}
      role="button"
      aria-pressed={isChosen}
      aria-label={`Corner at ${formatLength(at[0], unit)}, ${formatLength(at[1], unit)}`}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        editing.choose({ kind: 'corner', name }, e.shiftKey);
        setGrab({ x: e.clientX, y: e.clientY, at });
      }}
      onPointerMove={(e) => {
        const to = wished(e);
        if (to) editing.drag(name, to);
      }}
      onPointerUp={() => {
        setGrab(null);
        editing.drop();
      }}
      onKeyDown={(e) => {
        const step = e.shiftKey ? SMALL_STEP : STEP;
        const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[e.key];
        if (e.key === 'Enter' || e.key === ' ') editing.choose({ kind: 'corner', name }, e.shiftKey);
        else if (by) {
          editing.drag(name, [at[0] + by[0], at[1] + by[1]]);
          editing.drop();
        } else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    />
  );
}

// In line with another corner where it is near to that, else on whole hundredths of what a pixel is.
function snapped([x, y]: FlatPoint, { now: { profile, sketch } }: SketchEditing, name: string, { scale }: SheetView): FlatPoint {
  const grid = 10 ** Math.ceil(Math.log10(0.5 / scale));
  const near = (k: 0 | 1, value: number): number => {
    let best = Math.round(value / grid) * grid;
    let away = SNAP / scale;
    for (const [l, loop] of profile.entries())
      for (const [i, p] of loop.entries()) {
        const off = Math.abs(p.from[k] - value);
        if (sketch.names[l][i] !== name && off < away) [best, away] = [p.from[k], off];
      }
    return best;
  };
  return [near(0, x), near(1, y)];
}
