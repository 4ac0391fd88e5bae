import { UnstyledButton } from '@mantine/core';
import { useMemo } from 'react';
import { checkJoin, graftChain, reachAlongMount } from '#core/assembly';
import { say } from '#core/issues';
import type { AssemblyRecord, ComponentRecord, Connection, Piece } from '#core/records';
import { showProblem } from '../../../app/notify.tsx';
import { selectComponentsById, useAppSelector } from '../../../app/store.ts';
import { newId } from '../../../common/new-id.ts';
import { loadModel } from '../../../store/models.ts';
import { sayPieces } from '../../../common/count-of.ts';
import type { Tried } from '../tried.ts';

interface Props {
  readonly record: AssemblyRecord;
  readonly parent: Piece;
  readonly parentComponent: ComponentRecord;
  readonly seat: Connection;
  /** What is searched for. */
  readonly text: string;
  readonly onTry: (tried: Tried) => void;
  readonly onDone: () => void;
}

// Of many, a few: the search finds the others.
const MOST = 20;

/** Whole assemblies whose first piece fits the seat; one that is chosen is tried first. */
export function AddAssembly({ record, parent, parentComponent, seat, text, onTry, onDone }: Props) {
  const all = useAppSelector((s) => s.library.records);
  const components = useAppSelector(selectComponentsById);
  const fitting = useMemo(() => {
    const wanted = text.trim().toLowerCase();
    return Object.values(all).filter((r): r is AssemblyRecord => {
      // Of the master shelf, or of the same set.
      if (r.kind !== 'assembly' || r.id === record.id || (r.shelf.set !== null && r.shelf.set !== record.shelf.set)) return false;
      const first = components[r.pieces.find((p) => !p.parent)?.componentId ?? ''];
      return first !== undefined && r.name.toLowerCase().includes(wanted) && checkJoin(first, parentComponent, seat.id).ok;
    });
  }, [all, components, record, parentComponent, seat.id, text]);
  if (fitting.length === 0) return null;
  const tryIt = async (other: AssemblyRecord) => {
    const first = components[other.pieces.find((p) => !p.parent)?.componentId ?? ''];
    const model = first && (await loadModel(first.model.blob));
    const change = graftChain(record, components, { pieceId: parent.id, seatId: seat.id }, other, newId, (c) =>
      model ? reachAlongMount(c, model) : undefined,
    );
    if (!change.ok) return showProblem(change.issues.map(say).join(' '));
    const coming = [...new Set(other.pieces.map((p) => p.componentId))].flatMap((id) => components[id] ?? []);
    onTry({ of: record, label: `${other.name} on ${seat.name}`, coming, change: change.value });
    onDone();
  };
  return (
    <div className="add-assemblies" role="group" aria-label="Assemblies that fit">
      <p className="ledger-hint">Whole assemblies</p>
      {fitting.slice(0, MOST).map((a) => (
        <UnstyledButton key={a.id} className="add-row" onClick={() => void tryIt(a)}>
          {a.name} <span className="number">{sayPieces(a)}</span>
        </UnstyledButton>
      ))}
      {fitting.length > MOST && <p className="ledger-hint">and {fitting.length - MOST} more</p>}
    </div>
  );
}
