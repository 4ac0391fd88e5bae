import { type KeyboardEvent, type PointerEvent, useRef, useState } from 'react';
import type { FlatPoint } from '#core/outline';
import { namesInBox } from '#core/sketch';
import type { SheetView } from '../sheet/use-sheet-view.ts';
import { type Asking, type SketchTool, toolsFor } from './tools.ts';
import { DRAW_TOOLS, useDrawing } from './use-drawing.ts';
import type { SketchEditing } from './use-sketch-editing.ts';

// Pixels: a shorter way is a press.
const STILL = 4;

/** Two corners of a box, in pixels: drawn to the right it encloses, to the left it touches. */
export interface ChoiceBox {
  readonly from: FlatPoint;
  readonly to: FlatPoint;
}

/** Hand and keys on the sheet while an outline is changed. */
export function useSketchStage(editing: SketchEditing, view: SheetView, under: Float64Array | undefined) {
  const drawing = useDrawing(editing, view, under);
  const [asking, setAsking] = useState<Asking | null>(null);
  const [box, setBox] = useState<ChoiceBox | null>(null);
  // What a press of the sheet itself is for.
  const held = useRef<'pan' | 'draw' | 'box' | null>(null);
  const space = useRef(false);
  const tools: readonly SketchTool[] = editing.isOn && !drawing.tool ? toolsFor(editing) : [];
  const seen = (e: PointerEvent): FlatPoint => {
    const { left, top } = e.currentTarget.getBoundingClientRect();
    return [e.clientX - left, e.clientY - top];
  };
  const run = (tool: SketchTool) => setAsking(tool.run() ?? null);
  return {
    drawing,
    tools,
    asking,
    setAsking,
    box,
    onPointerDown: (e: PointerEvent) => {
      held.current = e.button === 1 || space.current ? 'pan' : e.button === 0 ? (drawing.tool ? 'draw' : 'box') : null;
      if (held.current === 'pan') return view.pan.onPointerDown(e);
      if (held.current !== 'box') return;
      e.currentTarget.setPointerCapture(e.pointerId);
      setBox({ from: seen(e), to: seen(e) });
    },
    onPointerMove: (e: PointerEvent) => {
      if (held.current === 'pan') return view.pan.onPointerMove(e);
      if (drawing.tool) return drawing.point(view.toSheet(...seen(e)), e.altKey);
      if (held.current === 'box' && box) setBox({ ...box, to: seen(e) });
    },
    onPointerUp: (e: PointerEvent) => {
      const was = held.current;
      held.current = null;
      if (was === 'pan') return view.pan.onPointerUp();
      if (was === 'draw') return drawing.click(view.toSheet(...seen(e)), e.altKey);
      if (was !== 'box' || !box) return;
      const to = seen(e);
      setBox(null);
      setAsking(null);
      if (Math.hypot(to[0] - box.from[0], to[1] - box.from[1]) < STILL) return editing.choose(null);
      const [a, b] = [view.toSheet(...box.from), view.toSheet(...to)];
      const found = namesInBox(editing.now, [Math.min(a[0], b[0]), Math.min(a[1], b[1]), Math.max(a[0], b[0]), Math.max(a[1], b[1])], to[0] < box.from[0]);
      // Pieces where there are any; corners alone where only those lie in it.
      const parts =
        found.pieces.length > 0
          ? found.pieces.map((name) => ({ kind: 'piece' as const, name }))
          : found.corners.map((name) => ({ kind: 'corner' as const, name }));
      editing.chooseAll(parts);
    },
    onPointerLeave: () => drawing.leavePointer(),
    /** Whether the key was for the outline. */
    onKey: (e: KeyboardEvent): boolean => {
      const target = e.target as HTMLElement;
      if (target.closest('input, textarea, [contenteditable]') || e.ctrlKey || e.metaKey) {
        if (!(e.ctrlKey || e.metaKey) || e.key.toLowerCase() !== 'a' || target.closest('input')) return false;
        editing.chooseAll(editing.now.sketch.names.flat().map((name) => ({ kind: 'piece', name })));
        return true;
      }
      if (e.key === ' ') {
        // On a corner or a piece it chooses that.
        if (target.closest('[aria-pressed]') || target.closest('button')) return false;
        space.current = true;
        return true;
      }
      if (e.key === 'Escape') {
        if (asking) setAsking(null);
        else if (drawing.tool) drawing.escape();
        else if (editing.chosen.length > 0) editing.choose(null);
        else return false;
        return true;
      }
      if (drawing.tool) {
        if (e.key === 'Backspace') drawing.back();
        else if (/^[\d.,-]$/.test(e.key)) {
          // The key goes on into the field.
          document.querySelector<HTMLInputElement>('[data-next-number]')?.focus();
          return false;
        } else return false;
        return true;
      }
      const draw = DRAW_TOOLS[Number(e.key) - 1];
      if (draw) {
        drawing.setTool(draw);
        return true;
      }
      const key = e.key === 'Backspace' ? 'Delete' : e.key.length === 1 ? e.key.toLowerCase() : e.key;
      const tool = tools.find((t) => t.key === key);
      if (tool) run(tool);
      return tool !== undefined;
    },
    onKeyUp: (e: KeyboardEvent) => {
      if (e.key === ' ') space.current = false;
    },
  };
}

export type SketchStage = ReturnType<typeof useSketchStage>;
