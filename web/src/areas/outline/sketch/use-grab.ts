import { type PointerEvent, useState } from 'react';
import type { FlatPoint } from '#core/outline';
import { placeOfName, snapPlace, type Snapped } from '#core/sketch';
import type { SheetView } from '../sheet/use-sheet-view.ts';
import { gridOf, nearUnder } from './felt.ts';
import type { SketchEditing, SketchPart } from './use-sketch-editing.ts';

// Pixels within which a dragged corner feels something, and before which a press is no drag.
const REACH = 8;
const STILL = 3;

interface Grab {
  readonly part: SketchPart;
  readonly x: number;
  readonly y: number;
  readonly corners: readonly string[];
  /** Where the grabbed corner was; null for a piece. */
  readonly at: FlatPoint | null;
}

/** Choosing by a press, and dragging: a corner feels what it comes near to, several that are chosen go together. Alt feels nothing. */
export function useGrab(editing: SketchEditing, view: SheetView, under: Float64Array | undefined) {
  const [grab, setGrab] = useState<Grab | null>(null);
  const [snap, setSnap] = useState<Snapped | null>(null);
  const { profile, sketch } = editing.now;
  const cornersOf = ({ kind, name }: SketchPart): string[] => {
    if (kind === 'corner') return [name];
    const loop = sketch.names.find((names) => names.includes(name)) ?? [];
    return [name, loop[(loop.indexOf(name) + 1) % loop.length]];
  };
  return {
    snap,
    begin: (e: PointerEvent, part: SketchPart) => {
      if (e.button !== 0) return;
      e.stopPropagation();
      e.currentTarget.setPointerCapture(e.pointerId);
      const isChosen = editing.chosen.some((c) => c.kind === part.kind && c.name === part.name);
      // What is chosen with others is dragged with them.
      if (e.shiftKey || !isChosen) editing.choose(part, e.shiftKey);
      const together = isChosen && !e.shiftKey ? editing.chosen : [part];
      const place = placeOfName(sketch, part.name);
      setGrab({
        part,
        x: e.clientX,
        y: e.clientY,
        corners: [...new Set(together.flatMap(cornersOf))],
        at: part.kind === 'corner' && place ? profile[place.loop][place.index].from : null,
      });
    },
    move: (e: PointerEvent) => {
      if (!grab || Math.hypot(e.clientX - grab.x, e.clientY - grab.y) < STILL) return;
      const by: FlatPoint = [(e.clientX - grab.x) / view.scale, -(e.clientY - grab.y) / view.scale];
      const grid = gridOf(view);
      if (e.altKey || !grab.at) {
        setSnap(null);
        const whole = e.altKey ? by : ([Math.round(by[0] / grid) * grid, Math.round(by[1] / grid) * grid] as const);
        return editing.drag(grab.corners, whole);
      }
      const free: FlatPoint = [grab.at[0] + by[0], grab.at[1] + by[1]];
      const reach = REACH / view.scale;
      const felt = snapPlace(free, {
        profile,
        sketch,
        moving: grab.corners,
        from: grab.corners.length === 1 ? besides(editing, grab.part.name) : [],
        also: nearUnder(under, free, reach),
        reach,
        grid,
        isTurned: editing.isTurned,
      });
      setSnap(felt);
      editing.drag(grab.corners, [felt.at[0] - grab.at[0], felt.at[1] - grab.at[1]]);
    },
    end: (e: PointerEvent) => {
      const isStill = grab && Math.hypot(e.clientX - grab.x, e.clientY - grab.y) < STILL;
      // A press on one of several chooses it alone.
      if (grab && isStill && !e.shiftKey && editing.chosen.length > 1) editing.choose(grab.part);
      setGrab(null);
      setSnap(null);
      editing.drop();
    },
  };
}

export type Grabbing = ReturnType<typeof useGrab>;

// The other ends of the lines at a corner: directions are felt from there.
function besides({ now: { profile, sketch } }: SketchEditing, name: string): FlatPoint[] {
  const place = placeOfName(sketch, name);
  if (!place) return [];
  const loop = profile[place.loop];
  const [before, after] = [loop[(place.index + loop.length - 1) % loop.length], loop[place.index]];
  return [...(before.kind === 'line' ? [before.from] : []), ...(after.kind === 'line' ? [after.to] : [])];
}
