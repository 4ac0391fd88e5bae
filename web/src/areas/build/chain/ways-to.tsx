import { Button } from '@mantine/core';
import { useMemo, useState } from 'react';
import { findWays, type MissingPiece, reachAlongMount, usualStickOut, type Way, type WayPiece } from '#core/assembly';
import { makeComponent } from '#core/components';
import type { AssemblyRecord, ComponentRecord, Connection, Piece } from '#core/records';
import { formatLength } from '#core/units';
import { selectComponent, store, useAppSelector } from '../../../app/store.ts';
import { newId } from '../../../common/new-id.ts';
import { addOfData } from '../../../store/data-actions.ts';
import { loadModel } from '../../../store/models.ts';
import type { Tried } from '../tried.ts';

interface Props {
  readonly record: AssemblyRecord;
  readonly parent: Piece;
  readonly seat: Connection;
  readonly to: ComponentRecord;
  readonly among: readonly ComponentRecord[];
  readonly onTry: (tried: Tried) => void;
  readonly onDone: () => void;
}

// Ways that are shown of all.
const MOST_WAYS = 5;

/** The chains of pieces that would take a component to a seat; where there is none, the piece that would make one, made from data by a press. */
export function WaysTo({ record, parent, seat, to, among, onTry, onDone }: Props) {
  const unit = useAppSelector((s) => s.session.unit);
  const [isOpen, setOpen] = useState(false);
  const { ways, missing } = useMemo(
    () =>
      isOpen
        ? findWays(
            seat.connection,
            to,
            among.filter((c) => c.id !== parent.componentId),
          )
        : { ways: [], missing: [] },
    [isOpen, seat, to, among, parent.componentId],
  );
  if (!isOpen)
    return (
      <Button size="compact-xs" variant="subtle" onClick={() => setOpen(true)}>
        Find the way
      </Button>
    );
  const tryIt = async (through: readonly WayPiece[]) => {
    onTry({
      of: record,
      label: `${to.name} through ${through.map((t) => t.component.name).join(', ')}`,
      ...(await chainThrough(record, parent, seat, through, to)),
    });
    onDone();
  };
  const make = async ({ through, spec }: MissingPiece) => {
    const made = spec && makeComponent(spec);
    if (!spec || !made?.ok) return;
    const component = selectComponent(store.getState(), addOfData(spec, made.part, record.shelf.set));
    if (component) await tryIt([...through, { component, seatId: component.seats[0].id }]);
  };
  return (
    <div className="ways" role="group" aria-label={`Ways to ${to.name}`}>
      {ways.slice(0, MOST_WAYS).map((way) => (
        <Button key={keyOf(way)} size="compact-xs" variant="default" onClick={() => void tryIt(way.through)}>
          through {way.through.map((t) => t.component.name).join(', ')}: {formatLength(way.long, unit)} long
        </Button>
      ))}
      {missing.map((m) =>
        m.spec ? (
          <Button key={m.needs} size="compact-xs" variant="default" onClick={() => void make(m)}>
            Make {[...m.through.map((t) => t.component.name), m.needs].join(', ')}
          </Button>
        ) : (
          <p key={m.needs} className="ledger-hint">
            Nothing on the Shelf leads there. What would: {m.needs}.
          </p>
        ),
      )}
    </div>
  );
}

const keyOf = (way: Way): string => way.through.map((t) => `${t.component.id} ${t.seatId}`).join();

// The chain with all pieces of a way, each as far in as usual.
async function chainThrough(
  record: AssemblyRecord,
  parent: Piece,
  seat: Connection,
  through: readonly WayPiece[],
  to: ComponentRecord,
): Promise<Pick<Tried, 'coming' | 'change'>> {
  const coming = [...through.map((t) => t.component), to];
  let on = { pieceId: parent.id, seatId: seat.id };
  const added: Piece[] = [];
  for (const [i, component] of coming.entries()) {
    const model = await loadModel(component.model.blob);
    const id = newId();
    added.push({ id, componentId: component.id, parent: on, stickOut: usualStickOut(component, model && reachAlongMount(component, model)), rollDeg: 0 });
    on = { pieceId: id, seatId: through[i]?.seatId ?? '' };
  }
  return { coming, change: { pieces: [...record.pieces, ...added], edges: [...record.edges], lost: [], notes: [] } };
}
