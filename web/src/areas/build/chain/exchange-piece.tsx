import { TextInput } from '@mantine/core';
import { useMemo, useState } from 'react';
import { checkJoin, exchangePiece, insertBefore, reachAlongMount, type ReachOf, usualStickOut } from '#core/assembly';
import { type Result, say } from '#core/issues';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { selectComponents, selectComponentsById, useAppSelector } from '../../../app/store.ts';
import { newId } from '../../../common/new-id.ts';
import { loadModel } from '../../../store/models.ts';
import type { Tried } from '../tried.ts';
import { ComponentList } from './component-list.tsx';
import { useSearched } from './use-searched.ts';
import { withinReach } from './within-reach.ts';

type How = 'instead of' | 'in front of';

interface Props {
  readonly record: AssemblyRecord;
  readonly piece: Piece;
  readonly how: How;
  readonly onTry: (tried: Tried) => void;
}

/** Components that could stand in the place of a piece, or between it and what it sits on; choosing one shows what it would change. */
export function ExchangePiece({ record, piece, how, onTry }: Props) {
  const all = useAppSelector(selectComponents);
  const components = useAppSelector(selectComponentsById);
  const [text, setText] = useState('');
  const [fault, setFault] = useState<string | null>(null);
  const now = components[piece.componentId];
  const fitting = useMemo(
    () => withinReach(all, record.shelf.set).filter((c) => c.id !== piece.componentId && fits(how, record, components, piece, c)),
    [all, record, components, piece, how],
  );
  const { found: searched, faults } = useSearched(fitting, text);
  const found = useMemo(() => {
    // What is most like it stands first: of its kind, with its connection.
    const like = (c: ComponentRecord) =>
      (c.componentKind === now?.componentKind ? 2 : 0) + (JSON.stringify(c.mount?.connection) === JSON.stringify(now?.mount?.connection) ? 1 : 0);
    return [...searched].sort((a, b) => like(b) - like(a));
  }, [searched, now]);
  const tryIt = async (component: ComponentRecord) => {
    // Both models say how far each reaches.
    const models = new Map<string, Model | undefined>();
    for (const c of [component, now]) if (c) models.set(c.id, await loadModel(c.model.blob));
    const reachOf: ReachOf = (c) => {
      const model = models.get(c.id);
      return model && reachAlongMount(c, model);
    };
    const change = changeBy(how, record, components, piece.id, component, reachOf);
    if (!change.ok) return setFault(change.issues.map(say).join(' '));
    setFault(null);
    onTry({ of: record, label: `${component.name} ${how} ${now?.name ?? 'a piece'}`, coming: [component], change: change.value });
  };
  return (
    <div className="add-piece" role="group" aria-label={how === 'instead of' ? `Instead of ${now?.name}` : `In front of ${now?.name}`}>
      <TextInput
        size="xs"
        placeholder="Search: drill, DC=8..9, hand=left"
        aria-label="Search what fits"
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
      />
      {[...faults, ...(fault === null ? [] : [fault])].map((t) => (
        <p key={t} className="ledger-hint warn">
          {t}
        </p>
      ))}
      <ComponentList components={found} onChoose={(c) => void tryIt(c)} none={sayNone(how, fitting.length)} />
    </div>
  );
}

// Whether it would go there; what hangs on the piece is looked at when it is tried.
function fits(how: How, record: AssemblyRecord, components: Readonly<Record<string, ComponentRecord>>, piece: Piece, component: ComponentRecord): boolean {
  const parent = components[record.pieces.find((p) => p.id === piece.parent?.pieceId)?.componentId ?? ''];
  if (piece.parent ? !parent || !checkJoin(component, parent, piece.parent.seatId).ok : !component.mount) return false;
  const held = components[piece.componentId];
  return how === 'instead of' || (held !== undefined && component.seats.some((s) => checkJoin(held, component, s.id).ok));
}

function sayNone(how: How, fitting: number): string {
  if (fitting > 0) return `None of the ${fitting} that fit is found by that.`;
  return how === 'instead of'
    ? 'Nothing else on the Shelf fits there.'
    : 'Nothing on the Shelf fits between: it needs the mount of this piece, and a seat for it.';
}

function changeBy(
  how: How,
  record: AssemblyRecord,
  components: Readonly<Record<string, ComponentRecord>>,
  pieceId: string,
  component: ComponentRecord,
  reachOf: ReachOf,
): Result<Tried['change']> {
  return how === 'instead of'
    ? exchangePiece(record, components, pieceId, component, reachOf)
    : insertBefore(record, components, pieceId, component, { id: newId(), stickOut: usualStickOut(component, reachOf(component)) });
}
