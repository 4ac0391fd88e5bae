import { checkJoin, exchangePiece, insertBefore, reachAlongMount, type ReachOf, usualStickOut } from '#core/assembly';
import type { Result } from '#core/issues';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { newId } from '../../../common/new-id.ts';
import { loadModel } from '../../../store/models.ts';
import type { Tried } from '../tried.ts';
import { withinReach } from './within-reach.ts';

export type How = 'instead of' | 'in front of';
type ById = Readonly<Record<string, ComponentRecord>>;

/** Components that could stand in the place of a piece, or between it and what it sits on. */
export const fittingFor = (how: How, record: AssemblyRecord, components: ById, all: readonly ComponentRecord[], piece: Piece): ComponentRecord[] =>
  withinReach(all, record.shelf.set).filter((c) => c.id !== piece.componentId && fits(how, record, components, piece, c));

// Whether it would go there; what hangs on the piece is looked at when it is tried.
function fits(how: How, record: AssemblyRecord, components: ById, piece: Piece, component: ComponentRecord): boolean {
  const parent = components[record.pieces.find((p) => p.id === piece.parent?.pieceId)?.componentId ?? ''];
  if (piece.parent ? !parent || !checkJoin(component, parent, piece.parent.seatId).ok : !component.mount) return false;
  const held = components[piece.componentId];
  return how === 'instead of' || (held !== undefined && component.seats.some((s) => checkJoin(held, component, s.id).ok));
}

/** What is most like a component stands first: of its kind, with its connection. */
export function byLikeness(found: readonly ComponentRecord[], now: ComponentRecord | undefined): ComponentRecord[] {
  const like = (c: ComponentRecord) =>
    (c.componentKind === now?.componentKind ? 2 : 0) + (JSON.stringify(c.mount?.connection) === JSON.stringify(now?.mount?.connection) ? 1 : 0);
  return [...found].sort((a, b) => like(b) - like(a));
}

/** What it would change, to be tried. Both models say how far each reaches. */
export async function workOut(how: How, record: AssemblyRecord, components: ById, piece: Piece, component: ComponentRecord): Promise<Result<Tried>> {
  const now = components[piece.componentId];
  const models = new Map<string, Model | undefined>();
  for (const c of [component, now]) if (c) models.set(c.id, await loadModel(c.model.blob));
  const reachOf: ReachOf = (c) => {
    const model = models.get(c.id);
    return model && reachAlongMount(c, model);
  };
  const change =
    how === 'instead of'
      ? exchangePiece(record, components, piece.id, component, reachOf)
      : insertBefore(record, components, piece.id, component, { id: newId(), stickOut: usualStickOut(component, reachOf(component)) });
  if (!change.ok) return change;
  return { ok: true, value: { of: record, label: `${component.name} ${how} ${now?.name ?? 'a piece'}`, coming: [component], change: change.value } };
}
