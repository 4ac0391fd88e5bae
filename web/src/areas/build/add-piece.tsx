import { Group, Text, TextInput, UnstyledButton } from '@mantine/core';
import { useState } from 'react';
import { checkJoin, reachAlongMount } from '#core/assembly';
import { say } from '#core/issues';
import type { AssemblyRecord, ComponentRecord, Connection, Piece } from '#core/records';
import { sayConnection, sayWhatFits, SEATS_ON_FACE } from '#core/standards';
import { changeAssembly, selectComponents, useAppSelector } from '../../app/store.ts';
import { newId } from '../../common/new-id.ts';
import { loadModel } from '../../store/models.ts';

interface AddPieceProps {
  readonly record: AssemblyRecord;
  readonly parent: Piece;
  readonly parentComponent: ComponentRecord;
  readonly seat: Connection;
  readonly onDone: () => void;
}

/** The components that fit a seat; below them those that do not, each with the reason. */
export function AddPiece({ record, parent, parentComponent, seat, onDone }: AddPieceProps) {
  const components = useAppSelector(selectComponents);
  const [text, setText] = useState('');
  const needle = text.trim().toLowerCase();
  const rows = components
    .filter((c) => c.id !== parentComponent.id && (!needle || `${c.name} ${c.componentKind}`.toLowerCase().includes(needle)))
    .map((component) => ({ component, fit: checkJoin(component, parentComponent, seat.id) }));
  const fitting = rows.filter((r) => r.fit.ok);
  const others = rows.filter((r) => !r.fit.ok);

  const add = async (component: ComponentRecord) => {
    const stickOut = await defaultStickOut(component);
    const piece: Piece = { id: newId(), componentId: component.id, parent: { pieceId: parent.id, seatId: seat.id }, stickOut, rollDeg: 0 };
    changeAssembly(record.id, `Put ${component.name} on ${seat.name}`, (r) => ({ pieces: [...r.pieces, piece] }));
    onDone();
  };

  return (
    <div className="add-piece">
      <TextInput size="xs" placeholder="Search the Shelf" aria-label="Search the Shelf" value={text} onChange={(e) => setText(e.currentTarget.value)} />
      {fitting.map(({ component }) => (
        <UnstyledButton key={component.id} className="add-row" onClick={() => void add(component)}>
          <Group justify="space-between" wrap="nowrap">
            <Text size="sm" truncate>
              {component.name}
            </Text>
            <span className="number">{component.mount ? sayConnection(component.mount.connection) : ''}</span>
          </Group>
        </UnstyledButton>
      ))}
      {fitting.length === 0 && <p className="ledger-hint">Nothing on the Shelf fits. What would: {sayWhatFits(seat.connection)}.</p>}
      {others.length > 0 && (
        <details className="add-others">
          <summary>{others.length} that do not fit</summary>
          {others.map(({ component, fit }) => (
            <div key={component.id} className="add-refused">
              <b>{component.name}</b> {fit.ok ? '' : fit.issues.map(say).join(' ')}
            </div>
          ))}
        </details>
      )}
    </div>
  );
}

/** A shank starts held over two thirds of its length; what seats on a face stands at the seat. */
async function defaultStickOut(component: ComponentRecord): Promise<number> {
  if (!component.mount || SEATS_ON_FACE.includes(component.mount.connection.standard)) return 0;
  const model = await loadModel(component.model.blob);
  if (!model) return 0;
  const [behind, front] = reachAlongMount(component, model);
  return behind < -1 ? 0 : Math.round(-(front - behind) * 0.66);
}
