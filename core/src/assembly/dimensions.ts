import { roundTo } from '#core/math';
import type { AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { SEATS_ON_FACE } from '#core/standards';
import { branchOf } from './change-chain.ts';
import { type ChainOfPieces, type ComponentsById, gaugeLineAt, measuredTip, type PlacedTip, placeFrame, placePieces } from './join.ts';

/** A length of a chain on its way to an edge, along the gauge axis (L) or across it in the turning plane (Q), as a drawing gives it. */
export interface ChainDimension {
  readonly axis: 'L' | 'Q';
  /** The piece whose length it is. */
  readonly piece: string;
  readonly name: string;
  /** Its ends on that axis, mm in the gauge frame. */
  readonly from: number;
  readonly to: number;
  /** How much it grows with a mm more of that piece's stick-out; null where no stick-out changes it. */
  readonly slides: { readonly piece: string; readonly by: number } | null;
}

/** The lengths on the way to an edge, one after the other, and what they come to. */
export interface ChainDimensions {
  readonly parts: readonly ChainDimension[];
  readonly totals: readonly ChainDimension[];
}

// mm: nothing is that short on a drawing.
const NONE = 1e-6;
// Of a mm along its seat, what has to lie along an axis for it to be set there.
const ALONG = 0.05;
const AXES = [
  { axis: 'L', at: 2 },
  { axis: 'Q', at: 0 },
] as const;

/**
 * The dimensions of a chain up to an edge: of each piece from the seat it is in to the seat that holds the next one, of the last to what is programmed; the totals
 * from the gauge line. Lengths that a stick-out changes say which.
 */
export function dimensionsTo(assembly: ChainOfPieces, components: ComponentsById, tip: PlacedTip): ChainDimensions {
  const placed = placePieces(assembly, components);
  const path = pathTo(assembly.pieces, tip.piece);
  const parts: ChainDimension[] = [];
  const line = gaugeLineAt(assembly, components);
  // What lies behind a gauge line that was moved in front of it is not measured.
  const isBehind = (L: number) => line !== undefined && L < NONE;
  let from: readonly number[] = [0, 0, 0];
  const last: Record<'L' | 'Q', ChainDimension['slides']> = { L: null, Q: null };
  for (const [i, piece] of path.entries()) {
    const motion = placed.get(piece.id);
    const component = components[piece.componentId];
    const next = path[i + 1];
    const seat = component?.seats.find((s) => s.id === next?.parent?.seatId);
    if (!motion || !component || (next && !seat)) return { parts: [], totals: [] };
    const to = seat ? placeFrame(motion, seat.frame).origin : tip.point;
    const along = slidesAlong(piece, component, path[i - 1], components, placed);
    // What is told from a gauge line that goes along with the piece does not change with it.
    const isCarried = line !== undefined && branchOf(assembly, piece.id).has(line.piece);
    for (const { axis, at } of AXES) {
      const by = along?.[at] ?? 0;
      const slides = Math.abs(by) > ALONG && !(axis === 'L' && isCarried) ? { piece: piece.id, by } : null;
      if (slides) last[axis] = slides;
      if (axis === 'L' && isBehind(to[2])) continue;
      if (Math.abs(to[at] - from[at]) > NONE) parts.push({ axis, piece: piece.id, name: component.name, from: from[at], to: to[at], slides });
    }
    from = [to[0], to[1], isBehind(to[2]) ? 0 : to[2]];
  }
  const name = components[path.at(-1)?.componentId ?? '']?.name ?? '';
  const totals = AXES.map(({ axis, at }): ChainDimension => ({ axis, piece: tip.piece, name, from: 0, to: tip.point[at], slides: last[axis] }));
  return { parts, totals };
}

/** The edge whose way is dimensioned where a piece is chosen: of that piece or of one in front of it; else the one that the gauge length is told by. */
export function dimensionedTip(assembly: Pick<AssemblyRecord, 'pieces'>, tips: readonly PlacedTip[], chosen: string | null): PlacedTip | undefined {
  const measured = measuredTip(assembly, tips);
  if (chosen === null) return measured;
  const branch = branchOf(assembly, chosen);
  return tips.find((t) => t.piece === chosen) ?? (measured && branch.has(measured.piece) ? measured : (tips.find((t) => branch.has(t.piece)) ?? measured));
}

/** The stick-out that gives a dimension another length, mm; undefined where it follows from none. */
export function stickOutForDimension(assembly: ChainOfPieces, { from, to, slides }: ChainDimension, length: number): number | undefined {
  const piece = assembly.pieces.find((p) => p.id === slides?.piece);
  if (!slides || !piece) return undefined;
  const way = to < from ? -1 : 1;
  return roundTo(piece.stickOut + (way * length - (to - from)) / slides.by, 9);
}

/** The pieces from the first one to a piece. */
export function pathTo(pieces: readonly Piece[], pieceId: string): Piece[] {
  const path: Piece[] = [];
  for (let at = pieces.find((p) => p.id === pieceId); at && !path.includes(at); ) {
    path.unshift(at);
    const { parent } = at;
    at = pieces.find((p) => p.id === parent?.pieceId);
  }
  return path;
}

// The direction in the gauge frame that a piece goes with its stick-out; undefined where it has none to choose.
function slidesAlong(piece: Piece, component: ComponentRecord, parent: Piece | undefined, components: ComponentsById, placed: ReturnType<typeof placePieces>) {
  const motion = parent && placed.get(parent.id);
  const seat = components[parent?.componentId ?? '']?.seats.find((s) => s.id === piece.parent?.seatId);
  if (!motion || !seat || !component.mount || SEATS_ON_FACE.includes(component.mount.connection.standard)) return undefined;
  return placeFrame(motion, seat.frame).z;
}
