import { useElementSize, useMergedRef } from '@mantine/hooks';
import { type PointerEvent, useEffect, useRef, useState } from 'react';

/** mm: low x, low y, high x, high y. */
export type SheetBox = readonly [number, number, number, number];

/** Pixels at the upper right that something covers. */
export interface Inset {
  readonly width: number;
  readonly height: number;
}
export const NO_INSET: Inset = { width: 0, height: 0 };

interface Standing {
  /** mm at the middle of the sheet. */
  readonly x: number;
  readonly y: number;
  /** Pixels a mm. */
  readonly scale: number;
}

// Pixels around the drawing, and at its right for a diameter's dimension.
const [MARGIN, MARGIN_RIGHT] = [64, 124];
const [LEAST_SCALE, MOST_SCALE] = [0.01, 20_000];

/** How a sheet is looked at (`bottom`: pixels that something covers there): fits what is on it until somebody moves it; wheel and pinch zoom at the pointer, dragging with the middle button or with Space moves. */
export function useSheetView(box: SheetBox, fitKey: string, inset: Inset = NO_INSET, bottom = 0) {
  const { ref: measured, width, height } = useElementSize<HTMLDivElement>();
  const stage = useRef<HTMLDivElement>(null);
  const ref = useMergedRef(measured, stage);
  // What a person chose, as long as it is the same sheet.
  const [chosen, setChosen] = useState<{ key: string; at: Standing } | null>(null);
  const drag = useRef<{ x: number; y: number; from: Standing } | null>(null);
  // Beside what covers the corner at the upper right, or below it: wherever it is larger.
  const free = height - bottom;
  const beside = fit(box, width - inset.width, free);
  const below = fit(box, width, free - inset.height);
  const over =
    below.scale > beside.scale ? { ...below, y: below.y + inset.height / 2 / below.scale } : { ...beside, x: beside.x + inset.width / 2 / beside.scale };
  // Above what covers the lower edge.
  const fitted = { ...over, y: over.y - bottom / 2 / over.scale };
  const at = chosen?.key === fitKey ? chosen.at : fitted;
  const sx = (x: number) => width / 2 + (x - at.x) * at.scale;
  const sy = (y: number) => height / 2 - (y - at.y) * at.scale;
  const toSheet = (px: number, py: number): [number, number] => [at.x + (px - width / 2) / at.scale, at.y - (py - height / 2) / at.scale];
  const look = (next: Standing) => setChosen({ key: fitKey, at: { ...next, scale: Math.min(MOST_SCALE, Math.max(LEAST_SCALE, next.scale)) } });
  const zoomAt = (px: number, py: number, factor: number) => {
    const [x, y] = toSheet(px, py);
    const scale = Math.min(MOST_SCALE, Math.max(LEAST_SCALE, at.scale * factor));
    look({ x: x - (px - width / 2) / scale, y: y + (py - height / 2) / scale, scale });
  };
  // React's wheel listeners cannot keep the page from scrolling.
  const zoom = useRef(zoomAt);
  useEffect(() => {
    zoom.current = zoomAt;
  });
  useEffect(() => {
    const element = stage.current;
    if (!element) return undefined;
    const turn = (e: WheelEvent) => {
      e.preventDefault();
      const { left, top } = element.getBoundingClientRect();
      zoom.current(e.clientX - left, e.clientY - top, Math.exp(-e.deltaY * 0.0015));
    };
    element.addEventListener('wheel', turn, { passive: false });
    return () => element.removeEventListener('wheel', turn);
  }, []);
  return {
    ref,
    width,
    height,
    sx,
    sy,
    scale: at.scale,
    toSheet,
    fit: () => setChosen(null),
    zoomBy: (factor: number) => zoomAt(width / 2, height / 2, factor),
    panBy: (px: number, py: number) => look({ ...at, x: at.x + px / at.scale, y: at.y - py / at.scale }),
    /** Dragging the sheet itself. */
    pan: {
      onPointerDown: (e: PointerEvent) => {
        if (e.button > 1) return;
        drag.current = { x: e.clientX, y: e.clientY, from: at };
        e.currentTarget.setPointerCapture(e.pointerId);
      },
      onPointerMove: (e: PointerEvent) => {
        const d = drag.current;
        if (d) look({ ...d.from, x: d.from.x - (e.clientX - d.x) / d.from.scale, y: d.from.y + (e.clientY - d.y) / d.from.scale });
      },
      onPointerUp: () => {
        drag.current = null;
      },
    },
  };
}

export type SheetView = ReturnType<typeof useSheetView>;

function fit([x0, y0, x1, y1]: SheetBox, width: number, height: number): Standing {
  const scale = Math.min((width - MARGIN - MARGIN_RIGHT) / Math.max(1e-6, x1 - x0), (height - 2 * MARGIN) / Math.max(1e-6, y1 - y0));
  const aside = (MARGIN_RIGHT - MARGIN) / 2 / Math.max(LEAST_SCALE, scale);
  return { x: (x0 + x1) / 2 + aside, y: (y0 + y1) / 2, scale: Math.max(LEAST_SCALE, Number.isFinite(scale) ? scale : 1) };
}
