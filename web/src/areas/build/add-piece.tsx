import { Group, Text, TextInput, UnstyledButton } from '@mantine/core';
import { useMemo, useState } from 'react';
import { checkJoin, reachAlongMount } from '#core/assembly';
import { makeComponent, readWords, VALUES } from '#core/components';
import { say } from '#core/issues';
import { shapeBodies } from '#core/outline';
import type { AssemblyRecord, ComponentRecord, Connection, Piece } from '#core/records';
import { componentOfSpec } from '#core/sources';
import { sayConnection, sayWhatFits, SEATS_ON_FACE } from '#core/standards';
import { changeAssembly, selectComponent, selectComponents, store, useAppSelector } from '../../app/store.ts';
import { newId } from '../../common/new-id.ts';
import { sayValue } from '../../common/say-value.ts';
import { addOfData } from '../../store/data-actions.ts';
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
  const unit = useAppSelector((s) => s.session.unit);
  const [text, setText] = useState('');
  const needle = text.trim().toLowerCase();
  const rows = components
    .filter((c) => c.id !== parentComponent.id && (!needle || `${c.name} ${c.componentKind}`.toLowerCase().includes(needle)))
    .map((component) => ({ component, fit: checkJoin(component, parentComponent, seat.id) }));
  const typed = useTyped(text);
  const typedFit = typed && checkJoin(typed.record, parentComponent, seat.id);
  const [isMaking, setMaking] = useState(false);
  const makeTyped = async () => {
    if (!typed || isMaking) return;
    setMaking(true);
    const id = await addOfData(typed.spec, typed.part);
    setMaking(false);
    const made = id && selectComponent(store.getState(), id);
    if (made) await add(made);
  };
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
      <TextInput
        size="xs"
        placeholder="Search the Shelf, or type a tool"
        aria-label="Search the Shelf"
        value={text}
        onChange={(e) => setText(e.currentTarget.value)}
      />
      {typed && (
        <UnstyledButton className="add-row typed-row" disabled={!typedFit?.ok || isMaking} onClick={() => void makeTyped()}>
          <Group justify="space-between" wrap="nowrap">
            <Text size="sm" truncate>
              Make {typed.part.name}
            </Text>
            <span className="number">{typed.record.mount ? sayConnection(typed.record.mount.connection) : ''}</span>
          </Group>
          {typedFit && !typedFit.ok && <p className="ledger-hint warn">{typedFit.issues.map(say).join(' ')}</p>}
          {typed.part.assumed.length > 0 && (
            <p className="ledger-hint">assumed: {typed.part.assumed.map((a) => `${VALUES[a.name].meaning} ${sayValue(a.name, a.value, unit)}`).join(', ')}</p>
          )}
        </UnstyledButton>
      )}
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
      {fitting.length === 0 && !typed && <p className="ledger-hint">Nothing on the Shelf fits. What would: {sayWhatFits(seat.connection)}.</p>}
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

// What the words in the search say, where they are a tool that can be made.
function useTyped(text: string) {
  const unit = useAppSelector((s) => s.session.unit);
  return useMemo(() => {
    const { spec, unknown } = readWords(text, unit);
    const made = spec && unknown.length === 0 ? makeComponent(spec) : undefined;
    if (!spec || !made?.ok) return undefined;
    const bodies = shapeBodies(made.part.shape).map((b, i) => ({ id: `b${i + 1}`, name: b.name }));
    // As it would be: enough to know where it fits.
    const given = { id: 'typed', name: made.part.name, now: '', modelBlob: '0'.repeat(64) };
    return { spec, part: made.part, record: componentOfSpec(spec, made.part, given, { faces: 0, triangles: 0, bodies }) };
  }, [text, unit]);
}

/** A shank starts held over two thirds of its length; what seats on a face stands at the seat. */
async function defaultStickOut(component: ComponentRecord): Promise<number> {
  if (!component.mount || SEATS_ON_FACE.includes(component.mount.connection.standard)) return 0;
  const model = await loadModel(component.model.blob);
  if (!model) return 0;
  const [behind, front] = reachAlongMount(component, model);
  return behind < -1 ? 0 : Math.round(-(front - behind) * 0.66);
}
