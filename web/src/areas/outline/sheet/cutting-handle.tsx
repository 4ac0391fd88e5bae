import { type PointerEvent, useState } from 'react';
import type { HalfProfile } from '#core/outline';
import { roundTo } from '#core/math';
import type { OutlineRecord } from '#core/records';
import { extentOf } from '#core/sources';
import { formatLength, type LengthUnit } from '#core/units';
import type { SheetView } from './use-sheet-view.ts';

// Pixels from a corner of the profile within which the border snaps to it.
const SNAP = 8;
// mm that an arrow key moves it by, and with Shift.
const [STEP, SMALL_STEP] = [0.5, 0.05];

/** The border between what cuts and the rest: dragged along the axis, snapping to the outline's corners. */
export function CuttingHandle({
  outline,
  profile,
  view,
  unit,
  onCommit,
}: {
  outline: OutlineRecord;
  profile: HalfProfile;
  view: SheetView;
  unit: LengthUnit;
  onCommit: (cutting: NonNullable<OutlineRecord['cutting']>) => void;
}) {
  const { low, high, radius } = extentOf(profile);
  const [dragged, setDragged] = useState<number | null>(null);
  const [grab, setGrab] = useState<{ x: number; to: number } | null>(null);
  const { from, to } = outline.cutting ?? { from: 0, to: 0 };
  const long = Math.min(dragged ?? to, high - low);
  const x = view.sx(high - long);
  const snapped = (mm: number): number => {
    const corners = profile.flat().map((p) => high - p.from[0]);
    const near = corners.reduce((a, b) => (Math.abs(b - mm) < Math.abs(a - mm) ? b : a), Infinity);
    const value = Math.abs(near - mm) * view.scale < SNAP ? near : Math.round(mm * 20) / 20;
    return Math.min(high - low, Math.max(from + 0.01, value));
  };
  const at = (e: PointerEvent): number | undefined => (grab ? snapped(grab.to - (e.clientX - grab.x) / view.scale) : undefined);
  const commit = (value: number) => value !== to && onCommit({ from, to: roundTo(value, 6) });
  return (
    <g
      className="cutting-handle"
      role="slider"
      tabIndex={0}
      aria-label="Length of the cutting part"
      aria-valuenow={roundTo(long, 3)}
      aria-valuemin={0}
      aria-valuemax={roundTo(high - low, 3)}
      aria-valuetext={`${formatLength(long, unit)} ${unit}`}
      onPointerDown={(e) => {
        e.stopPropagation();
        e.currentTarget.setPointerCapture(e.pointerId);
        setGrab({ x: e.clientX, to: Math.min(to, high - low) });
      }}
      onPointerMove={(e) => {
        const value = at(e);
        if (value !== undefined) setDragged(value);
      }}
      onPointerUp={(e) => {
        const value = at(e);
        setGrab(null);
        setDragged(null);
        if (value !== undefined) commit(value);
      }}
      onKeyDown={(e) => {
        const step = { ArrowLeft: 1, ArrowRight: -1 }[e.key];
        if (!step) return;
        e.preventDefault();
        e.stopPropagation();
        commit(Math.min(high - low, Math.max(from + 0.01, Math.min(to, high - low) + step * (e.shiftKey ? SMALL_STEP : STEP))));
      }}
    >
      <line x1={x} x2={x} y1={view.sy(radius) - 22} y2={view.sy(-radius) + 12} className="cutting-border" />
      <rect x={x - 7} y={view.sy(-radius)} width={14} height={14} rx={4} className="cutting-grip" />
      <rect x={x - 8} y={view.sy(radius) - 22} width={16} height={view.sy(-radius) - view.sy(radius) + 38} fill="transparent" />
    </g>
  );
}
