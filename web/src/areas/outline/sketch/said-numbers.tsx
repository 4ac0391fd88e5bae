import { boxOfPath, type FlatPoint, flatDistance, type PathPiece, placeOnPiece } from '#core/outline';
import { placeOfName, sayConstraint, type SketchConstraint } from '#core/sketch';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { NumberLabel } from '../../../section/number-label.tsx';
import type { SheetView } from '../sheet/use-sheet-view.ts';
import { type SketchEditing, wordsFor } from './use-sketch-editing.ts';

// Pixels between what is dimensioned and its dimension, and between two of them.
const [OFF, NEXT] = [30, 22];
// From a corner to its diameter.
const ASIDE = 44;

type Numbered = Extract<SketchConstraint, { value: number }>;

/** What a number stands at: the ends of its arrows, and where it is written, in pixels. */
interface Place {
  readonly from?: FlatPoint;
  readonly to?: FlatPoint;
  /** Lines to what is meant. */
  readonly help: readonly (readonly [FlatPoint, FlatPoint])[];
  readonly at: FlatPoint;
}

/** Numbers that are said of an outline, as dimensions on the sheet: pressed, they are typed there. */
export function SaidNumbers({ editing, view, unit }: { editing: SketchEditing; view: SheetView; unit: LengthUnit }) {
  const numbered = editing.now.sketch.constraints.filter((c): c is Numbered => 'value' in c);
  // Short ones inside, long ones outside.
  const rowsOf = (kind: 'along' | 'across') => numbered.filter((c) => c.kind === kind).sort((a, b) => a.value - b.value);
  const rows = [...rowsOf('along').entries(), ...rowsOf('across').entries()];
  return (
    <g>
      {numbered.map((c) => {
        const [row] = rows.find(([, of]) => of.id === c.id) ?? [0];
        const place = placeOfNumber(c, editing, view, row);
        return place && <SaidNumber key={c.id} constraint={c} place={place} editing={editing} unit={unit} />;
      })}
    </g>
  );
}

function SaidNumber({ constraint: c, place, editing, unit }: { constraint: Numbered; place: Place; editing: SketchEditing; unit: LengthUnit }) {
  const { from, to, help, at } = place;
  const isAngle = c.kind === 'angle';
  const label = isAngle ? `${Math.round(c.value * 1000) / 1000}°` : `${SIGNS[c.kind] ?? ''}${formatLength(c.value, unit)}`;
  const isWrong = editing.redundant.includes(c.id);
  return (
    <g className={`said-number ${isWrong ? 'says-nothing' : ''}`}>
      {help.map(([a, b]) => (
        <line key={`${a.join()} ${b.join()}`} x1={a[0]} y1={a[1]} x2={b[0]} y2={b[1]} className="dimension-help" />
      ))}
      {from && to && <line x1={from[0]} y1={from[1]} x2={to[0]} y2={to[1]} className="dimension" markerStart="url(#arrow)" markerEnd="url(#arrow)" />}
      <NumberLabel
        x={at[0]}
        y={at[1]}
        text={label}
        title={`${sayConstraint(c)}${isWrong ? '; it says nothing new' : ''}. Press to change it, Delete takes it back.`}
        typed={{
          name: `${sayConstraint(c)}: change it`,
          isAsked: editing.asked === c.id,
          onAsk: () => editing.ask(c.id),
          onLeave: () => editing.ask(null),
          onDelete: () => editing.removeConstraint(c.id),
          field: (
            <NumberField
              {...(isAngle ? { kind: 'angle' } : { kind: 'length', unit, min: 0 })}
              aria-label={`${wordsFor(c.kind, editing.isTurned)} on the sheet`}
              autoFocus
              value={c.value}
              onCommit={(v) => {
                editing.changeValue(c.id, v);
                editing.ask(null);
              }}
            />
          ),
        }}
      />
    </g>
  );
}

const SIGNS: Readonly<Partial<Record<Numbered['kind'], string>>> = { diameter: '⌀ ', radius: 'R ' };

function placeOfNumber(c: Numbered, { now: { profile, sketch } }: SketchEditing, { sx, sy }: SheetView, row: number): Place | undefined {
  const pieceOf = (name: string): PathPiece | undefined => {
    const at = placeOfName(sketch, name);
    return at && profile[at.loop][at.index];
  };
  const seen = ([x, y]: FlatPoint): FlatPoint => [sx(x), sy(y)];
  switch (c.kind) {
    case 'length': {
      const piece = pieceOf(c.piece);
      if (!piece) return undefined;
      const [a, b] = [seen(piece.from), seen(piece.to)];
      // Material is on the left of a piece on paper: the dimension stands on its right, where y runs down.
      const long = flatDistance(a, b) || 1;
      const [nx, ny] = [-(b[1] - a[1]) / long, (b[0] - a[0]) / long];
      const [from, to]: FlatPoint[] = [
        [a[0] + OFF * nx, a[1] + OFF * ny],
        [b[0] + OFF * nx, b[1] + OFF * ny],
      ];
      return {
        from,
        to,
        help: [
          [a, from],
          [b, to],
        ],
        at: [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2],
      };
    }
    case 'along': {
      const [a, b] = [pieceOf(c.from), pieceOf(c.to)].map((p) => p && seen(p.from));
      if (!a || !b) return undefined;
      const y = sy(boxOfPath(profile.flat())[3]) - OFF - row * NEXT;
      return {
        from: [a[0], y],
        to: [b[0], y],
        help: [
          [a, [a[0], y]],
          [b, [b[0], y]],
        ],
        at: [(a[0] + b[0]) / 2, y],
      };
    }
    case 'across': {
      const [a, b] = [pieceOf(c.from), pieceOf(c.to)].map((p) => p && seen(p.from));
      if (!a || !b) return undefined;
      const x = sx(boxOfPath(profile.flat())[2]) + OFF + row * 2 * NEXT;
      return {
        from: [x, a[1]],
        to: [x, b[1]],
        help: [
          [a, [x, a[1]]],
          [b, [x, b[1]]],
        ],
        at: [x, (a[1] + b[1]) / 2],
      };
    }
    case 'diameter': {
      const corner = pieceOf(c.corner);
      if (!corner) return undefined;
      const [x, y] = seen(corner.from);
      // From the axis up to it, on the side of what is drawn.
      const [x0, , x1] = boxOfPath(profile.flat());
      const stands = x + (corner.from[0] > (x0 + x1) / 2 ? -1 : 1) * ASIDE;
      return {
        from: [stands, sy(0)],
        to: [stands, y],
        help: [
          [
            [x, y],
            [stands, y],
          ],
        ],
        at: [stands, (y + sy(0)) / 2],
      };
    }
    case 'radius': {
      const arc = pieceOf(c.piece);
      if (arc?.kind !== 'arc') return undefined;
      const [middle, centre] = [seen(placeOnPiece(arc, 0.5)), seen(arc.centre)];
      const far = flatDistance(middle, centre) || 1;
      const at: FlatPoint = [middle[0] + ((middle[0] - centre[0]) / far) * OFF, middle[1] + ((middle[1] - centre[1]) / far) * OFF];
      return { from: at, to: middle, help: [], at };
    }
    case 'angle': {
      const line = pieceOf(c.piece);
      if (!line) return undefined;
      const at = seen(placeOnPiece(line, 0.5));
      return { help: [[at, [at[0] + 34, at[1] + 22]]], at: [at[0] + 34, at[1] + 22] };
    }
  }
}
