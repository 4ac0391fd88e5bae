import { type KeyboardEvent, type PointerEvent, useRef } from 'react';
import type { Vec3 } from '#core/math';

/** Something that is slid along a line, by hand or by keys. Stage coordinates, mm. */
export interface Slide {
  readonly label: string;
  readonly at: Vec3;
  /** Of length 1: the way in which the value grows. */
  readonly along: Vec3;
  readonly value: number;
  readonly least: number;
  readonly most: number;
  /** The value as people read it, with what is felt there. */
  readonly text: string;
  readonly isHeld: boolean;
  /** The value that the hand asks for, and how near to a stop it is felt, mm. */
  readonly onMove: (value: number, feel: number) => void;
  /** The hand lets go: what is there is taken, or all is as before. */
  readonly onEnd: (isTaken: boolean) => void;
  readonly onStep: (by: number) => void;
}

// Pixels within which a stop is felt.
const FEEL = 6;
// mm by a key, alone and with Shift.
const STEP = 0.1;
const STRIDE = 1;
const KEYS: Readonly<Record<string, number>> = { ArrowRight: 1, ArrowUp: 1, ArrowLeft: -1, ArrowDown: -1, PageUp: 10, PageDown: -10 };

/** What makes an element the handle of a slide; `pixels` are those that a mm along it takes on the screen, asked when it is taken hold of. */
export function useSlide(slide: Slide | undefined, pixels: () => readonly [number, number]) {
  const start = useRef<{ readonly x: number; readonly y: number; readonly value: number; readonly per: readonly [number, number] } | null>(null);
  if (!slide) return undefined;
  const end = (isTaken: boolean) => {
    if (!start.current) return;
    start.current = null;
    slide.onEnd(isTaken);
  };
  return {
    role: 'slider',
    tabIndex: 0,
    'aria-label': slide.label,
    'aria-valuenow': slide.value,
    'aria-valuemin': Number.isFinite(slide.least) ? slide.least : undefined,
    'aria-valuemax': slide.most,
    'aria-valuetext': slide.text,
    onPointerDown: (e: PointerEvent<Element>) => {
      if (e.button !== 0) return;
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      start.current = { x: e.clientX, y: e.clientY, value: slide.value, per: pixels() };
    },
    onPointerMove: (e: PointerEvent<Element>) => {
      const from = start.current;
      if (!from) return;
      e.stopPropagation();
      const [px, py] = from.per;
      const long = px * px + py * py;
      if (long > 1e-9) slide.onMove(from.value + ((e.clientX - from.x) * px + (e.clientY - from.y) * py) / long, FEEL / Math.sqrt(long));
    },
    onPointerUp: (e: PointerEvent<Element>) => {
      e.stopPropagation();
      end(true);
    },
    onPointerCancel: () => end(false),
    onKeyDown: (e: KeyboardEvent<Element>) => {
      if (e.key === 'Escape') {
        if (start.current) e.stopPropagation();
        return end(false);
      }
      const by = KEYS[e.key];
      if (by === undefined || start.current) return;
      e.preventDefault();
      e.stopPropagation();
      slide.onStep(by * (e.shiftKey ? STRIDE : STEP));
    },
  };
}
