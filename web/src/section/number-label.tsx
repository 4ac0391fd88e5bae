import type { ReactNode } from 'react';

// Of a label, pixels: a digit, around them, its height; what is typed in its place.
const [DIGIT, PAD] = [7.6, 9];
const FIELD = { wide: 124, high: 62, above: 16 };
/** Pixels: how high a label is. */
export const LABEL_HIGH = 18;
/** Pixels that a text takes as a label. */
export const labelWidth = (text: string): number => text.length * DIGIT + PAD;

interface Props {
  readonly x: number;
  readonly y: number;
  readonly text: string;
  /** In full, for the pointer. */
  readonly title: string;
  /** Where it can be changed: what it is called, whether it is typed now, its field, and how that is asked for and left. */
  readonly typed?:
    | {
        readonly name: string;
        readonly isAsked: boolean;
        readonly field: ReactNode;
        readonly onAsk: () => void;
        readonly onLeave: () => void;
        readonly onDelete?: () => void;
      }
    | undefined;
}

/** A number on a drawing, about its middle; one that can be changed is pressed, and typed in its place. */
export function NumberLabel({ x, y, text, title, typed }: Props) {
  const wide = labelWidth(text);
  const drawn = (
    <>
      <title>{title}</title>
      <rect x={x - wide / 2} y={y - LABEL_HIGH / 2} width={wide} height={LABEL_HIGH} rx={4} />
      <text x={x} y={y + 4.5} textAnchor="middle" className="dimension-text">
        {text}
      </text>
    </>
  );
  if (!typed) return <g className="number-label">{drawn}</g>;
  if (typed.isAsked)
    return (
      <foreignObject x={x - FIELD.wide / 2} y={y - FIELD.above} width={FIELD.wide} height={FIELD.high} className="number-typed">
        <div onBlur={typed.onLeave} onKeyUp={(e) => (e.key === 'Enter' || e.key === 'Escape') && typed.onLeave()}>
          {typed.field}
        </div>
      </foreignObject>
    );
  return (
    <g
      role="button"
      tabIndex={0}
      aria-label={typed.name}
      className="number-label settable"
      onPointerDown={(e) => e.stopPropagation()}
      onClick={typed.onAsk}
      onKeyDown={(e) => {
        if (typed.onDelete && (e.key === 'Delete' || e.key === 'Backspace')) typed.onDelete();
        else if (e.key === 'Enter' || e.key === ' ') typed.onAsk();
        else return;
        e.preventDefault();
        e.stopPropagation();
      }}
    >
      {drawn}
    </g>
  );
}
