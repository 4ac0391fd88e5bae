// How a chain of pieces is changed with what hangs on it: each change gives the pieces as they would be, and what would no longer fit.
import { done, failed, type Result, say } from '#core/issues';
import { roundTo } from '#core/math';
import type { AssemblyEdge, AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { checkFit, sayWhatFits, SEATS_ON_FACE } from '#core/standards';
import { checkJoin, type ComponentsById, removePiece } from './join.ts';

/** Pieces after a change. */
export interface ChainChange {
  readonly pieces: Piece[];
  readonly edges: AssemblyEdge[];
  /** Pieces that found no seat any more, with all that hung on them: why, and what would fit there. */
  readonly lost: readonly { readonly pieceId: string; readonly name: string; readonly why: string }[];
  /** What was set otherwise than it was, in words. */
  readonly notes: readonly string[];
}

/** How far a component reaches along its mount's Z, mm: [behind, in front of] the mount; undefined where its model is not known. */
export type ReachOf = (component: ComponentRecord) => readonly [number, number] | undefined;

type Chain = Pick<AssemblyRecord, 'pieces' | 'edges'>;

const onFace = (component: ComponentRecord): boolean => component.mount !== null && SEATS_ON_FACE.includes(component.mount.connection.standard);

/** Two thirds of a shank, held: where a stick-out begins when nobody said one; 0 of what seats on its face or has its mount at a flange. */
export function usualStickOut(component: ComponentRecord, reach: readonly [number, number] | undefined): number {
  if (!reach || onFace(component)) return 0;
  const [behind, front] = reach;
  return behind < -1 ? 0 : Math.round(-(front - behind) * 0.66);
}

/**
 * Another component in the place of a piece. What hung on it goes to the seat of the same name, or to the first one that it fits; roll stays, and so does how
 * far it stands out of its seat, as long as it is held.
 */
export function exchangePiece(chain: Chain, components: ComponentsById, pieceId: string, next: ComponentRecord, reachOf: ReachOf): Result<ChainChange> {
  const piece = chain.pieces.find((p) => p.id === pieceId);
  if (!piece) return failed('join.no-piece', { piece: pieceId });
  const before = components[piece.componentId];
  const notes: string[] = [];
  if (piece.parent) {
    const parent = parentOf(chain, components, piece);
    const fit = parent ? checkJoin(next, parent, piece.parent.seatId) : failed('join.no-piece', { piece: piece.parent.pieceId });
    if (!fit.ok) return fit;
  } else if (!next.mount) return failed('join.no-mount', { piece: next.name });
  const stickOut = piece.parent ? keptStickOut(piece, before, next, reachOf, notes) : 0;
  const changed: Piece = { ...piece, componentId: next.id, stickOut };
  const pieces = chain.pieces.map((p) => (p.id === pieceId ? changed : p));
  const edges = keptEdges(chain.edges, pieceId, before, next, notes);
  return done(reseat({ pieces, edges }, components, pieceId, next, before, notes));
}

// Stands out as far as before; where nothing would be held, or nothing is known, as usual.
function keptStickOut(piece: Piece, before: ComponentRecord | undefined, next: ComponentRecord, reachOf: ReachOf, notes: string[]): number {
  if (onFace(next)) return 0;
  const [was, is] = [before && reachOf(before), reachOf(next)];
  if (!before || onFace(before) || !was || !is) return is ? usualStickOut(next, is) : piece.stickOut;
  const kept = piece.stickOut + was[1] - is[1];
  if (kept + is[0] < 0) return roundTo(kept, 9);
  const usual = usualStickOut(next, is);
  notes.push(`${next.name} would not be held as far out as ${before.name} stood; it stands out by ${roundTo(usual + is[1], 3)} mm.`);
  return usual;
}

// What hung on a piece before it became another component, on that one's seats.
function reseat(
  chain: Chain,
  components: ComponentsById,
  pieceId: string,
  next: ComponentRecord,
  before: ComponentRecord | undefined,
  notes: string[],
): ChainChange {
  const taken = new Set<string>();
  const lost: { pieceId: string; name: string; why: string }[] = [];
  let pieces = [...chain.pieces];
  for (const child of chain.pieces.filter((p) => p.parent?.pieceId === pieceId)) {
    const component = components[child.componentId];
    const was = before?.seats.find((s) => s.id === child.parent?.seatId);
    const free = next.seats.filter((s) => !taken.has(s.id));
    // The same seat; the one that is called or looks like it; any that fits.
    const order = [...free].sort((a, b) => likeness(b, was) - likeness(a, was));
    const seat = order.find((s) => component?.mount && checkFit(component.mount.connection, s.connection).ok);
    if (!seat || !component) {
      const fits = free.length > 0 ? `what would fit: ${free.map((s) => sayWhatFits(s.connection)).join('; ')}` : `${next.name} has no free seat`;
      lost.push({ pieceId: child.id, name: component?.name ?? 'a missing component', why: fits });
      pieces = removePiece(pieces, child.id);
      continue;
    }
    taken.add(seat.id);
    if (was && seat.id !== was.id && seat.name !== was.name) notes.push(`${component.name} sits on ${seat.name} now.`);
    pieces = pieces.map((p) => (p.id === child.id ? { ...p, parent: { pieceId, seatId: seat.id } } : p));
  }
  return { pieces, edges: edgesOf(chain.edges, pieces), lost, notes };
}

// Edges of pieces that are still there.
const edgesOf = (edges: readonly AssemblyEdge[], pieces: readonly Piece[]): AssemblyEdge[] => edges.filter((e) => pieces.some((p) => p.id === e.pieceId));

// What was said of a piece's tips, of the tips of the component in its place: of the same name, or at the same place among them.
function keptEdges(
  edges: readonly AssemblyEdge[],
  pieceId: string,
  before: ComponentRecord | undefined,
  next: ComponentRecord,
  notes: string[],
): AssemblyEdge[] {
  const taken = new Set<string>();
  return edges.flatMap((edge) => {
    if (edge.pieceId !== pieceId) return [edge];
    const at = before?.tips.findIndex((t) => t.id === edge.tipId) ?? -1;
    const was = before?.tips[at];
    const tip = next.tips.find((t) => t.name === was?.name && !taken.has(t.id)) ?? next.tips[at];
    if (!tip || taken.has(tip.id)) {
      notes.push(`${next.name} has no tip for ${edge.name || was?.name || 'an edge'}${edge.number === undefined ? '' : `, offset ${edge.number}`}.`);
      return [];
    }
    taken.add(tip.id);
    if (typeof edge.point !== 'object') return [{ ...edge, tipId: tip.id }];
    // It was picked in the coordinates of another file.
    notes.push(`The picked point of ${edge.name || was?.name || 'an edge'} is ${before?.name ?? 'the other'}’s: what ${next.name} says is programmed again.`);
    return [{ ...edge, tipId: tip.id, point: undefined }];
  });
}

type Seat = ComponentRecord['seats'][number];
const likeness = (seat: Seat, was: Seat | undefined): number =>
  was === undefined
    ? 0
    : (seat.id === was.id ? 1 : 0) + (seat.name === was.name ? 2 : 0) + (JSON.stringify(seat.connection) === JSON.stringify(was.connection) ? 4 : 0);

// A piece on another seat: that it is pressed in was said of the one before.
const elsewhere = ({ pressed: _, ...piece }: Piece, parent: Piece['parent']): Piece => ({ ...piece, parent });

/** A component between a piece and what it sits on; before the first piece, which then sits on it. */
export function insertBefore(
  chain: Chain,
  components: ComponentsById,
  pieceId: string,
  between: ComponentRecord,
  given: { readonly id: string; readonly stickOut: number },
): Result<ChainChange> {
  const piece = chain.pieces.find((p) => p.id === pieceId);
  const component = piece && components[piece.componentId];
  if (!piece || !component) return failed('join.no-piece', { piece: pieceId });
  if (!between.mount) return failed('join.no-mount', { piece: between.name });
  if (!component.mount) return failed('join.no-mount', { piece: component.name });
  if (piece.parent) {
    const parent = parentOf(chain, components, piece);
    const fit = parent ? checkJoin(between, parent, piece.parent.seatId) : failed('join.no-piece', { piece: piece.parent.pieceId });
    if (!fit.ok) return fit;
  }
  const { connection } = component.mount;
  const seat = between.seats.find((s) => checkFit(connection, s.connection).ok);
  if (!seat) {
    const refusals = between.seats.map((s) => checkFit(connection, s.connection)).filter((r) => !r.ok);
    return refusals[0] ?? failed('join.no-seat', { piece: between.name, seat: '' });
  }
  const added: Piece = { id: given.id, componentId: between.id, parent: piece.parent, stickOut: piece.parent ? given.stickOut : 0, rollDeg: 0 };
  const moved = elsewhere(piece, { pieceId: given.id, seatId: seat.id });
  // Before its child, as all parents stand.
  const pieces = chain.pieces.flatMap((p) => (p.id === pieceId ? [added, moved] : [p]));
  return done({ pieces, edges: [...chain.edges], lost: [], notes: [] });
}

/** Takes a piece out and puts what hung on it where it sat; what does not fit there is lost. Of the first piece one that hung on it becomes the first. */
export function takeOutPiece(chain: Chain, components: ComponentsById, pieceId: string): Result<ChainChange> {
  const piece = chain.pieces.find((p) => p.id === pieceId);
  if (!piece) return failed('join.no-piece', { piece: pieceId });
  const children = chain.pieces.filter((p) => p.parent?.pieceId === pieceId);
  const parent = parentOf(chain, components, piece);
  const lost: { pieceId: string; name: string; why: string }[] = [];
  let pieces: Piece[] = [...chain.pieces];
  let free = true;
  for (const child of children) {
    const component = components[child.componentId];
    const fit = !piece.parent
      ? done(true as const)
      : component && parent
        ? checkJoin(component, parent, piece.parent.seatId)
        : failed('join.no-piece', { piece: child.id });
    if (free && fit.ok) {
      // One seat takes one piece.
      free = false;
      pieces = pieces.map((p) => (p.id === child.id ? { ...elsewhere(p, piece.parent), stickOut: piece.parent ? p.stickOut : 0 } : p));
      continue;
    }
    lost.push({
      pieceId: child.id,
      name: component?.name ?? 'a missing component',
      why: fit.ok ? 'another piece sits there now' : fit.issues.map(say).join(' '),
    });
    pieces = removePiece(pieces, child.id);
  }
  const left = inOrder(pieces.filter((p) => p.id !== pieceId));
  return done({ pieces: left, edges: edgesOf(chain.edges, left), lost, notes: [] });
}

/** A piece with all that hangs on it on another seat. */
export function movePiece(
  chain: Chain,
  components: ComponentsById,
  pieceId: string,
  to: { readonly pieceId: string; readonly seatId: string },
): Result<ChainChange> {
  const piece = chain.pieces.find((p) => p.id === pieceId);
  const component = piece && components[piece.componentId];
  const target = chain.pieces.find((p) => p.id === to.pieceId);
  const onto = target && components[target.componentId];
  if (!piece || !component) return failed('join.no-piece', { piece: pieceId });
  if (!target || !onto) return failed('join.no-piece', { piece: to.pieceId });
  if (branchOf(chain, pieceId).has(to.pieceId)) return failed('join.own-branch', { piece: component.name, on: onto.name });
  const holder = chain.pieces.find((p) => p.id !== pieceId && p.parent?.pieceId === to.pieceId && p.parent.seatId === to.seatId);
  if (holder) return failed('join.taken', { piece: onto.name, other: components[holder.componentId]?.name ?? '' });
  const fit = checkJoin(component, onto, to.seatId);
  if (!fit.ok) return fit;
  return done({ pieces: inOrder(chain.pieces.map((p) => (p.id === pieceId ? elsewhere(p, { ...to }) : p))), edges: [...chain.edges], lost: [], notes: [] });
}

/**
 * All of another assembly on a free seat: its first piece sits there as usual, the rest as it sat. `newId` gives each piece its id here. What was said of its
 * edges comes with them, but for offset numbers that are taken here already.
 */
export function graftChain(
  chain: Chain,
  components: ComponentsById,
  on: { readonly pieceId: string; readonly seatId: string },
  other: Chain,
  newId: () => string,
  reachOf: ReachOf,
): Result<ChainChange> {
  const roots = other.pieces.filter((p) => !p.parent);
  const first = components[roots[0]?.componentId ?? ''];
  const target = chain.pieces.find((p) => p.id === on.pieceId);
  const onto = target && components[target.componentId];
  if (!onto || !first || roots.length !== 1) return failed('join.no-piece', { piece: on.pieceId });
  const taken = chain.pieces.find((p) => p.parent?.pieceId === on.pieceId && p.parent.seatId === on.seatId);
  if (taken) return failed('join.taken', { piece: onto.name, other: components[taken.componentId]?.name ?? '' });
  const fit = checkJoin(first, onto, on.seatId);
  if (!fit.ok) return fit;
  const here = new Map(other.pieces.map((p) => [p.id, newId()]));
  const idOf = (id: string) => here.get(id) ?? id;
  const came = other.pieces.map(
    (p): Piece => ({
      ...p,
      id: idOf(p.id),
      parent: p.parent ? { ...p.parent, pieceId: idOf(p.parent.pieceId) } : { ...on },
      stickOut: p.parent ? p.stickOut : usualStickOut(first, reachOf(first)),
    }),
  );
  const notes: string[] = [];
  const numbers = new Set(chain.edges.map((e) => e.number));
  const edges = other.edges.map((e): AssemblyEdge => {
    const moved = { ...e, pieceId: idOf(e.pieceId) };
    if (e.number === undefined || !numbers.has(e.number)) return moved;
    notes.push(`Offset ${e.number} is taken here: ${e.name || 'an edge that comes'} has none yet.`);
    return { ...moved, number: undefined };
  });
  return done({ pieces: inOrder([...chain.pieces, ...came]), edges: [...chain.edges, ...edges], lost: [], notes });
}

/** Ids of a piece and of all that hangs on it. */
export function branchOf(chain: Pick<AssemblyRecord, 'pieces'>, pieceId: string): Set<string> {
  const branch = new Set([pieceId]);
  for (let grown = 0; grown !== branch.size; ) {
    grown = branch.size;
    for (const p of chain.pieces) if (p.parent && branch.has(p.parent.pieceId)) branch.add(p.id);
  }
  return branch;
}

/** The piece and all that hangs on it as a chain of its own (the cutting side), or all but that (the holder side). */
export function partOfChain(
  chain: Chain & Partial<Pick<AssemblyRecord, 'gaugeLine'>>,
  pieceId: string,
  side: 'cutting side' | 'holder side',
): Pick<AssemblyRecord, 'pieces' | 'edges' | 'gaugeLine'> {
  const branch = branchOf(chain, pieceId);
  const pieces = side === 'holder side' ? chain.pieces.filter((p) => !branch.has(p.id)) : cuttingSide(chain, branch, pieceId);
  // A line at a piece that is not in it has nothing to stand at.
  const gaugeLine = pieces.some((p) => p.id === chain.gaugeLine?.pieceId) ? chain.gaugeLine : undefined;
  return { pieces, edges: edgesOf(chain.edges, pieces), gaugeLine };
}

const cuttingSide = (chain: Chain, branch: ReadonlySet<string>, pieceId: string): Piece[] =>
  inOrder(chain.pieces.filter((p) => branch.has(p.id)).map((p) => (p.id === pieceId ? { ...p, parent: null, stickOut: 0, rollDeg: 0 } : p)));

const parentOf = (chain: Chain, components: ComponentsById, piece: Piece): ComponentRecord | undefined => {
  const parent = chain.pieces.find((p) => p.id === piece.parent?.pieceId);
  return parent && components[parent.componentId];
};

// Parents before their children, else as they were.
function inOrder(pieces: readonly Piece[]): Piece[] {
  const out: Piece[] = [];
  const there = new Set<string>();
  let left = [...pieces];
  while (left.length > 0) {
    const next = left.filter((p) => !p.parent || there.has(p.parent.pieceId));
    // A circle, or a parent that is gone: as they are.
    if (next.length === 0) return [...out, ...left];
    for (const p of next) {
      out.push(p);
      there.add(p.id);
    }
    left = left.filter((p) => !there.has(p.id));
  }
  return out;
}
