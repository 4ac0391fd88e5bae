import { Button, Group, Menu } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { movePiece, partOfChain, removePiece, takeOutPiece } from '#core/assembly';
import { say } from '#core/issues';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { checkFit, sayConnection } from '#core/standards';
import type { LengthUnit } from '#core/units';
import { showProblem } from '../../../app/notify.tsx';
import { changeAssembly } from '../../../app/store.ts';
import { savePart } from '../../../store/shelf-actions.ts';
import type { Tried } from '../tried.ts';
import { AddPiece } from './add-piece.tsx';
import { ExchangePiece } from './exchange-piece.tsx';
import { SeatingEditor } from './seating-editor.tsx';

export interface ChainProps {
  readonly record: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly models: Readonly<Record<string, Model | undefined>>;
  readonly unit: LengthUnit;
  readonly selected: string | null;
  readonly onSelect: (piece: string | null) => void;
  readonly onTry: (tried: Tried) => void;
  /** While something is tried, nothing but another thing to try can be chosen. */
  readonly isTrying: boolean;
}

/** A piece with what can be done with it, its free seats, and what hangs on it. */
export function PieceRow(props: ChainProps & { readonly piece: Piece; readonly depth: number }) {
  const { piece, record, components, models, unit, selected, onSelect, onTry, isTrying, depth } = props;
  const component = components[piece.componentId];
  const [adding, setAdding] = useState<string | null>(null);
  const [looking, setLooking] = useState<'instead of' | 'in front of' | null>(null);
  const children = record.pieces.filter((p) => p.parent?.pieceId === piece.id);
  const open = selected === piece.id;
  const name = component?.name ?? 'missing component';
  const look = (how: 'instead of' | 'in front of') => setLooking(looking === how ? null : how);
  return (
    <div className="piece" style={{ marginLeft: depth === 0 ? 0 : 14 }}>
      <button type="button" className="piece-line" data-open={open || undefined} aria-expanded={open} onClick={() => onSelect(open ? null : piece.id)}>
        <span className="piece-name">{name}</span>
        {component?.mount && <span className="number piece-mount">{sayConnection(component.mount.connection)}</span>}
      </button>
      {open && component && (
        <div className="piece-edit">
          {piece.parent && (
            <fieldset className="plain-fieldset" disabled={isTrying}>
              <SeatingEditor {...{ piece, record, component, unit }} model={models[component.id]} />
            </fieldset>
          )}
          <Group gap={6}>
            <Button
              size="compact-xs"
              variant={looking === 'instead of' ? 'filled' : 'light'}
              aria-expanded={looking === 'instead of'}
              onClick={() => look('instead of')}
            >
              Exchange
            </Button>
            <Button
              size="compact-xs"
              variant={looking === 'in front of' ? 'filled' : 'light'}
              aria-expanded={looking === 'in front of'}
              onClick={() => look('in front of')}
            >
              Insert before
            </Button>
            <PieceMenu {...{ piece, record, components, onTry, isTrying }} name={name} onGone={() => onSelect(null)} />
            <Button size="compact-xs" variant="subtle" color="gray" component={Link} to={`/bench/${component.id}`}>
              To the Bench
            </Button>
          </Group>
          {looking && <ExchangePiece key={looking} {...{ record, piece, onTry }} how={looking} />}
        </div>
      )}
      {component?.seats
        .filter((s) => !children.some((c) => c.parent?.seatId === s.id))
        .map((seat) => (
          <div key={seat.id} className="free-seat">
            <button
              type="button"
              className="free-seat-line"
              disabled={isTrying}
              aria-expanded={adding === seat.id}
              onClick={() => setAdding(adding === seat.id ? null : seat.id)}
            >
              + {seat.name} <span className="number">{sayConnection(seat.connection)}</span> is free
            </button>
            {adding === seat.id && (
              <AddPiece record={record} parent={piece} parentComponent={component} seat={seat} onDone={() => setAdding(null)} onTry={onTry} />
            )}
          </div>
        ))}
      {children.map((child) => (
        <PieceRow key={child.id} {...props} piece={child} depth={depth + 1} />
      ))}
    </div>
  );
}

interface MenuProps extends Pick<ChainProps, 'record' | 'components' | 'onTry' | 'isTrying'> {
  readonly piece: Piece;
  readonly name: string;
  readonly onGone: () => void;
}

function PieceMenu({ piece, record, components, name, onTry, isTrying, onGone }: MenuProps) {
  const hangs = record.pieces.some((p) => p.parent?.pieceId === piece.id);
  const component = components[piece.componentId];
  // Free seats elsewhere that take it.
  const places = record.pieces.flatMap((p) =>
    (components[p.componentId]?.seats ?? [])
      .filter((s) => component?.mount && checkFit(component.mount.connection, s.connection).ok)
      .filter((s) => movePiece(record, components, piece.id, { pieceId: p.id, seatId: s.id }).ok)
      .filter((s) => piece.parent?.pieceId !== p.id || piece.parent.seatId !== s.id)
      .map((s) => ({ pieceId: p.id, seatId: s.id, label: `${s.name} of ${components[p.componentId]?.name}` })),
  );
  const takeOut = () => {
    const change = takeOutPiece(record, components, piece.id);
    if (!change.ok) return showProblem(change.issues.map(say).join(' '));
    onTry({ of: record, label: `${name} taken out`, coming: [], change: change.value });
  };
  const move = (to: { pieceId: string; seatId: string; label: string }) => {
    const change = movePiece(record, components, piece.id, to);
    if (!change.ok) return showProblem(change.issues.map(say).join(' '));
    onTry({ of: record, label: `${name} on ${to.label}`, coming: [], change: change.value });
  };
  return (
    <Menu position="bottom-end">
      <Menu.Target>
        <Button size="compact-xs" variant="default" disabled={isTrying}>
          More
        </Button>
      </Menu.Target>
      <Menu.Dropdown>
        {hangs && <Menu.Item onClick={takeOut}>Take out, keep what hangs on it</Menu.Item>}
        {piece.parent && (
          <Menu.Item
            onClick={() => {
              changeAssembly(record.id, `Took ${name} out`, (r) => {
                const pieces = removePiece(r.pieces, piece.id);
                return { pieces, edges: r.edges.filter((e) => pieces.some((p) => p.id === e.pieceId)) };
              });
              onGone();
            }}
          >
            {hangs ? 'Take out with all that hangs on it' : 'Take out'}
          </Menu.Item>
        )}
        {places.map((p) => (
          <Menu.Item key={`${p.pieceId} ${p.seatId}`} onClick={() => move(p)}>
            Move to {p.label}
          </Menu.Item>
        ))}
        <Menu.Divider />
        <Menu.Item onClick={() => savePart(record, partOfChain(record, piece.id, 'cutting side'), `${record.name}, from ${name}`)}>
          Save from here as an assembly
        </Menu.Item>
        {piece.parent && (
          <Menu.Item onClick={() => savePart(record, partOfChain(record, piece.id, 'holder side'), `${record.name}, up to ${name}`)}>
            Save what holds it as an assembly
          </Menu.Item>
        )}
      </Menu.Dropdown>
    </Menu>
  );
}
