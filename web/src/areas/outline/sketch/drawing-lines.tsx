import { type FlatPoint, flatDistance, type PathPiece } from '#core/outline';
import type { Snapped, SnapKind } from '#core/sketch';
import { formatLength, type LengthUnit } from '#core/units';
import { pathTo } from '../../../section/profile-editor.tsx';
import type { SheetView } from '../sheet/use-sheet-view.ts';
import type { DrawingByHand } from './use-drawing.ts';

const SNAP_WORDS: Readonly<Record<SnapKind, string>> = {
  end: 'end',
  middle: 'middle',
  centre: 'centre',
  tangent: 'tangent',
  crossing: 'crossing',
  'on it': 'on the outline',
  angle: '',
  'in line': 'in line',
  axis: 'on the axis',
  grid: '',
  free: '',
};

/** What is being drawn, and what the pointer feels. */
export function DrawingLines({ drawing, view, unit }: { drawing: DrawingByHand; view: SheetView; unit: LengthUnit }) {
  const { chain, preview, pointer, start } = drawing;
  const { sx, sy } = view;
  const path = (p: PathPiece): string => `M${sx(p.from[0])} ${sy(p.from[1])}${pathTo(p, view)}`;
  return (
    <g className="drawing-lines">
      {chain.map((p, i) => (
        <path key={i} d={path(p)} className="drawn" />
      ))}
      <path d={preview.map(path).join('')} className="drawn next" />
      {start && <circle cx={sx(start[0])} cy={sy(start[1])} r={4} className="drawn-start" />}
      {pointer && <SnapMark snap={pointer} view={view} label={numbersOf(preview, drawing, unit)} />}
    </g>
  );
}

/** What a place is taken to: guides to what it is in line with, a cross at it, and the reason in words. */
export function SnapMark({ snap, view: { sx, sy }, label }: { snap: Snapped; view: SheetView; label?: string }) {
  const { at, guides, kind } = snap;
  const words = [SNAP_WORDS[kind], label].filter(Boolean).join(' · ');
  return (
    <g className="snap">
      {guides.map(([a, b]) => (
        <line key={`${a.join()} ${b.join()}`} x1={sx(a[0])} y1={sy(a[1])} x2={sx(b[0])} y2={sy(b[1])} className="snap-guide" />
      ))}
      <path d={`M${sx(at[0]) - 8} ${sy(at[1])}h16M${sx(at[0])} ${sy(at[1]) - 8}v16`} className="snap-cross" />
      {words && (
        <text x={sx(at[0]) + 12} y={sy(at[1]) - 12} className="snap-words">
          {words}
        </text>
      )}
    </g>
  );
}

// The numbers of what the next click would make.
function numbersOf(preview: readonly PathPiece[], { tool, start }: DrawingByHand, unit: LengthUnit): string {
  const [piece] = preview;
  if (!piece || !start) return '';
  const mm = (v: number) => formatLength(v, unit);
  if (tool === 'circle') return piece.kind === 'arc' ? `⌀ ${mm(2 * flatDistance(piece.from, piece.centre))}` : '';
  if (tool === 'rectangle') {
    const places: FlatPoint[] = preview.map((p) => p.from);
    const span = (k: 0 | 1) => Math.max(...places.map((p) => p[k])) - Math.min(...places.map((p) => p[k]));
    return `${mm(span(0))} × ${mm(span(1))}`;
  }
  if (piece.kind === 'arc') return `R ${mm(flatDistance(piece.from, piece.centre))}`;
  const deg = (Math.atan2(piece.to[1] - piece.from[1], piece.to[0] - piece.from[0]) * 180) / Math.PI;
  return `${mm(flatDistance(piece.from, piece.to))} · ${(Math.round(deg * 100) / 100).toString()}°`;
}
