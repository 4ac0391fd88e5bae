import { type FlatPoint, type PathPiece, placeOnPiece } from '#core/outline';
import { placeOfName, type SketchConstraint, sayConstraint } from '#core/sketch';
import { formatLength, type LengthUnit } from '#core/units';
import { pathTo } from '../../../section/profile-editor.tsx';
import type { SheetView } from '../sheet/use-sheet-view.ts';
import { SnapMark } from './drawing-lines.tsx';
import { SaidNumbers } from './said-numbers.tsx';
import { type Grabbing, useGrab } from './use-grab.ts';
import type { SketchEditing } from './use-sketch-editing.ts';

// mm that an arrow key moves a corner by, and with Shift.
const [STEP, SMALL_STEP] = [0.1, 0.01];
// Between the marks of what is said of a piece, pixels.
const MARK = 15;

interface Props {
  readonly editing: SketchEditing;
  readonly view: SheetView;
  readonly unit: LengthUnit;
  readonly under: Float64Array | undefined;
  /** Something is being drawn: presses are for that. */
  readonly isDrawing: boolean;
}

/** The outline while it is changed: pieces to choose, corners to drag, and what is said of them. */
export function SketchLines({ editing, view, unit, under, isDrawing }: Props) {
  const grabbing = useGrab(editing, view, under);
  const { profile, sketch } = editing.now;
  return (
    <g className={isDrawing ? 'sketch-still' : undefined}>
      {profile.flatMap((loop, l) =>
        loop.map((p, i) => <Piece key={sketch.names[l][i]} {...{ editing, view, grabbing }} name={sketch.names[l][i]} piece={p} number={i + 1} />),
      )}
      <SaidNumbers editing={editing} view={view} unit={unit} />
      {profile.flatMap((loop, l) =>
        loop.map((p, i) => <Corner key={sketch.names[l][i]} {...{ editing, view, unit, grabbing }} name={sketch.names[l][i]} at={p.from} />),
      )}
      {grabbing.snap && <SnapMark snap={grabbing.snap} view={view} label={grabbing.snap.at.map((v) => formatLength(v, unit)).join(', ')} />}
    </g>
  );
}

function Piece({
  editing,
  view,
  grabbing,
  name,
  piece,
  number,
}: {
  editing: SketchEditing;
  view: SheetView;
  grabbing: Grabbing;
  name: string;
  piece: PathPiece;
  number: number;
}) {
  const d = `M${view.sx(piece.from[0])} ${view.sy(piece.from[1])}${pathTo(piece, view)}`;
  const isChosen = editing.chosen.some((c) => c.kind === 'piece' && c.name === name);
  return (
    <g
      className={`edge sketch-piece ${isChosen ? 'chosen' : ''}`}
      role="button"
      tabIndex={0}
      aria-pressed={isChosen}
      aria-label={`Piece ${number}, ${piece.kind === 'arc' ? 'arc' : 'line'}`}
      onPointerDown={(e) => grabbing.begin(e, { kind: 'piece', name })}
      onPointerMove={grabbing.move}
      onPointerUp={grabbing.end}
      onKeyDown={(e) => {
        if (e.key !== 'Enter' && e.key !== ' ') return;
        e.preventDefault();
        editing.choose({ kind: 'piece', name }, e.shiftKey);
      }}
    >
      <path d={d} className="edge-line" />
      <path d={d} className="strip-grip" />
      <Marks constraints={editing.now.sketch.constraints.filter((c) => MARKS[c.kind] && marksOn(c, name))} at={placeOnPiece(piece, 0.5)} view={view} />
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

function Corner({
  editing,
  view,
  unit,
  grabbing,
  name,
  at,
}: {
  editing: SketchEditing;
  view: SheetView;
  unit: LengthUnit;
  grabbing: Grabbing;
  name: string;
  at: FlatPoint;
}) {
  const isChosen = editing.chosen.some((c) => c.kind === 'corner' && c.name === name);
  const stays = editing.now.sketch.constraints.some((c) => c.kind === 'fixed' && c.corner === name);
  return (
    <g
      className={`strip-corner ${isChosen ? 'chosen' : ''}`}
      tabIndex={0}
      role="button"
      aria-pressed={isChosen}
      aria-label={`Corner at ${formatLength(at[0], unit)}, ${formatLength(at[1], unit)}${stays ? ', stays there' : ''}`}
      onPointerDown={(e) => grabbing.begin(e, { kind: 'corner', name })}
      onPointerMove={grabbing.move}
      onPointerUp={grabbing.end}
      onKeyDown={(e) => {
        const step = e.shiftKey ? SMALL_STEP : STEP;
        const by = { ArrowLeft: [-step, 0], ArrowRight: [step, 0], ArrowUp: [0, step], ArrowDown: [0, -step] }[e.key];
        if (e.key === 'Enter' || e.key === ' ') editing.choose({ kind: 'corner', name }, e.shiftKey);
        else if (by) {
          editing.drag(cornersWith(editing, name), [by[0], by[1]]);
          editing.drop();
        } else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      <circle cx={view.sx(at[0])} cy={view.sy(at[1])} r={isChosen ? 6.5 : 4.5} />
      {stays && <path d={`M${view.sx(at[0]) - 8} ${view.sy(at[1]) + 12}h16M${view.sx(at[0])} ${view.sy(at[1]) + 5}v7`} className="stays-mark" />}
    </g>
  );
}

// The corners that move with one of them: all that are chosen with it.
function cornersWith({ chosen, now: { sketch } }: SketchEditing, name: string): string[] {
  const corners = chosen.flatMap((c) => (c.kind === 'corner' && placeOfName(sketch, c.name) ? [c.name] : []));
  return corners.includes(name) ? corners : [name];
}
