// What drawings to scale are made of.

/** Millimetre paper as a pattern named `mm-grid`, with a line through x, y. */
export const MmGrid = ({ x, y, step }: { x: number; y: number; step: number }) => (
  <pattern id="mm-grid" x={x} y={y} width={step} height={step} patternUnits="userSpaceOnUse">
    <path d={`M0 0H${step}M0 0V${step}`} stroke="var(--grid)" strokeWidth="1" fill="none" />
  </pattern>
);

/** The arrows of dimensions, as a marker named `arrow`. */
export const ArrowMarker = () => (
  <marker id="arrow" viewBox="0 0 10 10" refX="9" refY="5" markerWidth="7" markerHeight="7" orient="auto-start-reverse">
    <path d="M0 1.5 10 5 0 8.5z" fill="var(--ink)" />
  </marker>
);

/** The lines of a dimension along the drawing. */
export const AlongLines = ({ y, x0, x1 }: { y: number; x0: number; x1: number }) => (
  <>
    <line x1={x0} x2={x1} y1={y} y2={y} className="dimension" markerStart="url(#arrow)" markerEnd="url(#arrow)" />
    <line x1={x1} x2={x1} y1={y - 10} y2={y + 4} className="dimension-help" />
  </>
);

/** A dimension along the drawing, its value in the middle. */
export function Along({ y, x0, x1, label }: { y: number; x0: number; x1: number; label: string }) {
  const middle = (x0 + x1) / 2;
  return (
    <g>
      <AlongLines {...{ y, x0, x1 }} />
      <rect x={middle - label.length * 4.1} y={y - 9} width={label.length * 8.2} height={18} className="dimension-back" />
      <text x={middle} y={y + 4.5} textAnchor="middle" className="dimension-text">
        {label}
      </text>
    </g>
  );
}

/** The lines of a dimension across it, from a place at its second end. */
export const AcrossLines = ({ x, y0, y1, from }: { x: number; y0: number; y1: number; from: number }) => (
  <>
    <line x1={from + 4} x2={x + 8} y1={y1} y2={y1} className="dimension-help" />
    <line x1={x} x2={x} y1={y0} y2={y1} className="dimension" markerStart="url(#arrow)" markerEnd="url(#arrow)" />
  </>
);

/** A dimension across it, its value beside. */
export function Across({ x, y0, y1, from, label }: { x: number; y0: number; y1: number; from: number; label: string }) {
  return (
    <g>
      <AcrossLines {...{ x, y0, y1, from }} />
      <text x={x + 8} y={(y0 + y1) / 2 + 4.5} className="dimension-text">
        {label}
      </text>
    </g>
  );
}

/** mm between the lines of a grid: 1, 5 or 10, whichever leaves lines far enough apart to be seen as a grid. */
export const niceStep = (scale: number): number => [1, 5, 10, 50, 100].find((s) => s * scale >= 7) ?? 500;

/** A scale in pixels a mm as people write it; CSS pixels are 1/96 inch. */
export const scaleText = (scale: number): string => {
  const ratio = scale / (96 / 25.4);
  return ratio >= 1 ? `${ratio.toFixed(1)} : 1` : `1 : ${(1 / ratio).toFixed(1)}`;
};

/** Points one after the other (pairs z, x) as the path of a drawing. */
export function pathOfPoints(p: ArrayLike<number>, sx: (z: number) => number, sy: (x: number) => number, closed = true): string {
  let d = '';
  for (let i = 0; i < p.length; i += 2) d += `${i === 0 ? 'M' : 'L'}${sx(p[i]).toFixed(2)} ${sy(p[i + 1]).toFixed(2)}`;
  return closed ? `${d}Z` : d;
}
