import { useState } from 'react';
import { arcAbout, arcThrough, circleAbout, endDirection, type FlatPoint, flatDistance, type PathPiece, rectangleOf, tangentArc } from '#core/outline';
import { combineShape, drawOver, nearestPlace, snapPlace, type Snapped } from '#core/sketch';
import type { SheetView } from '../sheet/use-sheet-view.ts';
import { gridOf, nearUnder } from './felt.ts';
import type { SketchEditing } from './use-sketch-editing.ts';

export const DRAW_TOOLS = ['line', 'tangent', 'through', 'centre', 'rectangle', 'circle'] as const;
export type DrawTool = (typeof DRAW_TOOLS)[number];

/** Numbers that were typed for the next place; what is not typed the pointer says. */
export interface NextNumbers {
  /** mm: of a line its length, of a rectangle how long it is along the axis, of a circle its diameter. */
  readonly first?: number;
  /** Degrees of a line; mm across the axis of a rectangle. */
  readonly second?: number;
}

export interface DrawingByHand {
  readonly tool: DrawTool | null;
  readonly setTool: (tool: DrawTool | null) => void;
  readonly takesAway: boolean;
  readonly setTakesAway: (away: boolean) => void;
  /** Pieces drawn so far, and where the next one begins. */
  readonly chain: readonly PathPiece[];
  readonly start: FlatPoint | null;
  /** What the next click would make; a shape's whole border. */
  readonly preview: readonly PathPiece[];
  readonly pointer: Snapped | null;
  readonly typed: NextNumbers;
  readonly type: (typed: NextNumbers) => void;
  /** What is to be done next, in words. */
  readonly next: string;
  readonly point: (at: FlatPoint, free: boolean) => void;
  readonly leavePointer: () => void;
  readonly click: (at: FlatPoint, free: boolean) => void;
  readonly back: () => void;
  /** Leaves what is being drawn, and then the tool. */
  readonly escape: () => void;
}

// Pixels within which something is felt.
const REACH = 9;
// mm. On the outline.
const ON = 1e-6;

/** Drawing over an outline, piece after piece, or a shape that is taken away from it or added to it. */
export function useDrawing(editing: SketchEditing, view: SheetView, under: Float64Array | undefined): DrawingByHand {
  const [tool, setTool] = useState<DrawTool | null>(null);
  const [takesAway, setTakesAway] = useState(true);
  const [chain, setChain] = useState<readonly PathPiece[]>([]);
  const [places, setPlaces] = useState<readonly FlatPoint[]>([]);
  const [pointer, setPointer] = useState<Snapped | null>(null);
  const [typed, type] = useState<NextNumbers>({});
  const { profile, sketch } = editing.now;
  const { isTurned } = editing;
  const isShape = tool === 'rectangle' || tool === 'circle';
  const last = chain[chain.length - 1];
  // Where the next piece begins: after the last one, or where the first click was.
  const start: FlatPoint | null = last && !isShape ? last.to : (places[0] ?? null);
  const pending = last ? places : places.slice(1);
  const reset = () => {
    setChain([]);
    setPlaces([]);
    type({});
  };
  const snapped = (free: FlatPoint, isFree: boolean): Snapped => {
    const reach = REACH / view.scale;
    const drawn = chain.length > 0 ? [chain[0].from, ...chain.map((p) => p.to)] : places;
    const also = [...drawn, ...nearUnder(under, free, reach)];
    const from = start && !isShape && pending.length === 0 ? [start] : [];
    const snap: Snapped = isFree
      ? { at: isTurned && free[1] < 0 ? [free[0], 0] : free, kind: 'free', guides: [] }
      : snapPlace(free, { profile, sketch, also, from, reach, grid: gridOf(view), isTurned });
    return start ? withNumbers(snap, start, typed, tool) : snap;
  };
  const pieceTo = (at: FlatPoint): PathPiece | undefined => {
    if (!start || flatDistance(start, at) < ON) return undefined;
    if (tool === 'tangent') return tangentArc(start, last ? endDirection(last) : startDirection(start), at);
    if (tool === 'through') return pending.length === 0 ? { kind: 'line', from: start, to: at } : arcThrough(start, at, pending[0]);
    if (tool === 'centre') return pending.length === 0 ? { kind: 'line', from: start, to: at } : arcAbout(start, pending[0], at);
    return { kind: 'line', from: start, to: at };
  };
  // Without a piece before it, an arc goes on from the outline as that ends there.
  const startDirection = (from: FlatPoint): FlatPoint => {
    const place = nearestPlace({ profile }, from);
    const piece = place && profile[place.loop][(place.index + (place.share < 1e-9 ? profile[place.loop].length - 1 : 0)) % profile[place.loop].length];
    return piece ? endDirection(piece) : [1, 0];
  };
  const shapeTo = (at: FlatPoint): PathPiece[] => {
    if (!start || flatDistance(start, at) < ON) return [];
    if (tool === 'circle') return circleAbout(start, at);
    return Math.abs(start[0] - at[0]) < ON || Math.abs(start[1] - at[1]) < ON ? [] : rectangleOf(start, at);
  };
  const isOn = (at: FlatPoint): boolean => (nearestPlace({ profile }, at)?.away ?? Infinity) < ON;
  const previewed = (): readonly PathPiece[] => {
    if (!pointer || !start) return [];
    const piece = isShape ? undefined : pieceTo(pointer.at);
    return isShape ? shapeTo(pointer.at) : piece ? [piece] : [];
  };
  const finish = (pieces: readonly PathPiece[]) => {
    if (editing.take('Drew over the outline', drawOver(editing.now, pieces, isTurned))) reset();
    // What was not taken stays to be corrected.
    else setChain(pieces);
    setPlaces([]);
  };
  const click = (free: FlatPoint, isFree: boolean) => {
    const { at } = snapped(free, isFree);
    editing.refuse(null);
    if (!start) {
      if (!isShape && profile.length > 0 && !isOn(at))
        return editing.refuse('Begin on the outline: what is drawn takes the place of what lies between its two ends.');
      return setPlaces([at]);
    }
    if (isShape) {
      const shape = shapeTo(at);
      if (shape.length === 0) return;
      if (editing.take(tool === 'circle' ? 'A circle' : 'A rectangle', combineShape(editing.now, shape, takesAway, isTurned))) reset();
      return;
    }
    if ((tool === 'through' || tool === 'centre') && pending.length === 0) {
      type({});
      return setPlaces([...places, at]);
    }
    const piece = pieceTo(at);
    if (!piece) return;
    const pieces = [...chain, piece];
    type({});
    const isClosed = profile.length === 0 ? flatDistance(piece.to, pieces[0].from) < ON && pieces.length > 1 : isOn(piece.to);
    if (isClosed) return finish(pieces);
    setChain(pieces);
    setPlaces([]);
  };
  return {
    tool,
    setTool: (next) => {
      editing.choose(null);
      if (next === null || (next === 'rectangle' || next === 'circle') !== isShape) reset();
      else setPlaces(last ? [] : places.slice(0, 1));
      setTool(next);
    },
    takesAway,
    setTakesAway,
    chain,
    start,
    preview: previewed(),
    pointer,
    typed,
    type,
    next: nextOf(tool, start !== null, pending.length, profile.length === 0, chain.length),
    point: (at, isFree) => setPointer(snapped(at, isFree)),
    leavePointer: () => setPointer(null),
    click,
    back: () => {
      if (pending.length > 0) setPlaces(last ? [] : places.slice(0, 1));
      else if (chain.length > 0) {
        if (chain.length === 1) setPlaces([chain[0].from]);
        setChain(chain.slice(0, -1));
      } else setPlaces([]);
    },
    escape: () => {
      editing.refuse(null);
      if (chain.length === 0 && places.length === 0) setTool(null);
      reset();
    },
  };
}

// The place that is pointed at, with numbers that were typed instead.
function withNumbers(snap: Snapped, start: FlatPoint, { first, second }: NextNumbers, tool: DrawTool | null): Snapped {
  if (first === undefined && second === undefined) return snap;
  const [dx, dy] = [snap.at[0] - start[0], snap.at[1] - start[1]];
  if (tool === 'rectangle') {
    const at: FlatPoint = [
      first === undefined ? snap.at[0] : start[0] + (dx < 0 ? -first : first),
      second === undefined ? snap.at[1] : start[1] + (dy < 0 ? -second : second),
    ];
    return { at, kind: 'free', guides: [] };
  }
  const angle = second === undefined ? Math.atan2(dy, dx) : (second * Math.PI) / 180;
  const long =
    first === undefined ? (second === undefined ? Math.hypot(dx, dy) : dx * Math.cos(angle) + dy * Math.sin(angle)) : tool === 'circle' ? first / 2 : first;
  return { at: [start[0] + long * Math.cos(angle), start[1] + long * Math.sin(angle)], kind: 'free', guides: [] };
}

function nextOf(tool: DrawTool | null, isBegun: boolean, pending: number, isEmpty: boolean, drawn: number): string {
  if (tool === null) return '';
  if (tool === 'rectangle') return isBegun ? 'Its other corner.' : 'One corner of the rectangle.';
  if (tool === 'circle') return isBegun ? 'A place on the circle.' : 'The middle of the circle.';
  if (!isBegun) return isEmpty ? 'Where the outline begins.' : 'Begin on the outline.';
  if (tool === 'through') return pending === 0 ? 'Where the arc ends.' : 'A place that it goes through.';
  if (tool === 'centre') return pending === 0 ? 'The middle of the arc.' : 'Where the arc ends.';
  if (drawn === 0) return 'Where it ends.';
  return isEmpty ? 'Where it ends; where it began closes it.' : 'Where it ends; a place of the outline ends all of it.';
}
