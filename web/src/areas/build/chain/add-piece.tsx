import { Group, Text, TextInput, UnstyledButton } from '@mantine/core';
import { useMemo, useState } from 'react';
import { checkJoin, reachAlongMount, usualStickOut } from '#core/assembly';
import { makeComponent, readWords, VALUES } from '#core/components';
import { say } from '#core/issues';
import type { AssemblyRecord, ComponentRecord, Connection, Piece } from '#core/records';
import { componentOfSpec } from '#core/sources';
import { sayConnection, sayWhatFits } from '#core/standards';
import { selectComponent, selectComponents, store, useAppSelector } from '../../../app/store.ts';
import { newId } from '../../../common/new-id.ts';
import { sayValue } from '../../../common/say-value.ts';
import { addOfData } from '../../../store/data-actions.ts';
import { loadModel } from '../../../store/models.ts';
import { putPiece } from '../../../store/shelf-actions.ts';
import type { Tried } from '../tried.ts';
import { AddAssembly } from './add-assembly.tsx';
import { ComponentList } from './component-list.tsx';
import { useSearched } from './use-searched.ts';
import { WaysTo } from './ways-to.tsx';
import { withinReach } from './within-reach.ts';

interface AddPieceProps {
  readonly record: AssemblyRecord;
  readonly parent: Piece;
  readonly parentComponent: ComponentRecord;
  readonly seat: Connection;
  readonly onDone: () => void;
  readonly onTry: (tried: Tried) => void;
}

// What does not fit, with its reason: a few.
const MOST_ROWS = 60;

/** The components that fit a seat; below them those that do not, each with the reason. */
export function AddPiece({ record, parent, parentComponent, seat, onDone, onTry }: AddPieceProps) {
  const all = useAppSelector(selectComponents);
  const components = useMemo(() => withinReach(all, record.shelf.set), [all, record.shelf.set]);
  const unit = useAppSelector((s) => s.session.unit);
  const [text, setText] = useState('');
  const { found, faults } = useSearched(components, text);
  const rows = useMemo(
    () => found.filter((c) => c.id !== parentComponent.id).map((component) => ({ component, fit: checkJoin(component, parentComponent, seat.id) })),
    [found, parentComponent, seat.id],
  );
  const typed = useTyped(text);
  const typedFit = typed && checkJoin(typed.record, parentComponent, seat.id);
  const [isMaking, setMaking] = useState(false);
  const makeTyped = async () => {
    if (!typed || isMaking) return;
    setMaking(true);
    const id = addOfData(typed.spec, typed.part, record.shelf.set, typed.use);
    const made = selectComponent(store.getState(), id);
    if (made) await add(made);
    setMaking(false);
  };
  const fitting = rows.filter((r) => r.fit.ok);
  const others = rows.filter((r) => !r.fit.ok);

  const add = async (component: ComponentRecord) => {
    const stickOut = await defaultStickOut(component);
    putPiece(
      record.id,
      component,
      { id: newId(), parent: { pieceId: parent.id, seatId: seat.id }, stickOut, rollDeg: 0 },
      `Put ${component.name} on ${seat.name}`,
    );
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
      {faults.map((t) => (
        <p key={t} className="ledger-hint warn">
          {t}
        </p>
      ))}
      <ComponentList
        components={fitting.map((r) => r.component)}
        onChoose={(c) => void add(c)}
        none={typed ? '' : `Nothing on the Shelf fits. What would: ${sayWhatFits(seat.connection)}.`}
      />
      <AddAssembly {...{ record, parent, parentComponent, seat, text, onTry, onDone }} />
      {others.length > 0 && (
        <details className="add-others">
          <summary>{others.length} that do not fit there by themselves</summary>
          {others.slice(0, MOST_ROWS).map(({ component, fit }) => (
            <div key={component.id} className="add-refused">
              <b>{component.name}</b> {fit.ok ? '' : fit.issues.map(say).join(' ')}
              {component.mount && <WaysTo {...{ record, parent, seat, onTry }} to={component} among={components} onDone={onDone} />}
            </div>
          ))}
          {others.length > MOST_ROWS && <p className="ledger-hint">and {others.length - MOST_ROWS} more</p>}
        </details>
      )}
    </div>
  );
}

// What the words in the search say, where they are a tool that can be made.
function useTyped(text: string) {
  const unit = useAppSelector((s) => s.session.unit);
  return useMemo(() => {
    const { spec, use, unknown } = readWords(text, unit);
    const made = spec && unknown.length === 0 ? makeComponent(spec) : undefined;
    if (!spec || !made?.ok) return undefined;
    // As it would be: enough to know where it fits.
    return { spec, use, part: made.part, record: componentOfSpec(spec, made.part, { id: 'typed', name: made.part.name, now: '' }) };
  }, [text, unit]);
}

async function defaultStickOut(component: ComponentRecord): Promise<number> {
  const model = await loadModel(component.model.blob);
  return usualStickOut(component, model && reachAlongMount(component, model));
}
