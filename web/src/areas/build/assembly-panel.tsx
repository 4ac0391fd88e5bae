import { Button, Group, Table } from '@mantine/core';
import { useState } from 'react';
import { Link } from 'react-router';
import { type PlacedTip, reachAlongMount, removePiece } from '#core/assembly';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, Check, ComponentRecord, Piece } from '#core/records';
import { sayConnection, SEATS_ON_FACE } from '#core/standards';
import { formatLength, type LengthUnit } from '#core/units';
import { changeAssembly } from '../../app/store.ts';
import { NumberField } from '../../common/number-field.tsx';
import { AddPiece } from './add-piece.tsx';

interface PanelProps {
  readonly record: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly models: Readonly<Record<string, Model | undefined>>;
  readonly tips: readonly PlacedTip[];
  readonly checks: readonly Check[];
  readonly gaugeLength: number | undefined;
  readonly unit: LengthUnit;
  readonly selected: string | null;
  readonly onSelect: (piece: string | null) => void;
}

/** The assembly from the machine outwards: pieces, free seats, numbers and checks. */
export function AssemblyPanel({ record, components, models, tips, checks, gaugeLength, unit, selected, onSelect }: PanelProps) {
  const roots = record.pieces.filter((p) => !p.parent);
  const mm = (v: number) => formatLength(v, unit);
  const worst = checks.some((c) => c.state === 'fail') ? 'fail' : checks.some((c) => c.state === 'warn') ? 'warn' : 'pass';
  return (
    <div className="ledger" role="region" aria-label="Assembly">
      <div className="gauge-box">
        <span>Gauge length</span>
        <strong className="number" data-testid="gauge-length">
          {gaugeLength === undefined ? '–' : mm(gaugeLength)}
        </strong>
      </div>
      {tips.length > 0 && (
        <Table className="tip-table" horizontalSpacing={4} verticalSpacing={3}>
          <Table.Thead>
            <Table.Tr>
              <Table.Th>tip</Table.Th>
              <Table.Th>L</Table.Th>
              <Table.Th>Q</Table.Th>
              <Table.Th title="height over the turning plane">Y</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {tips.map((t) => (
              <Table.Tr key={`${t.piece} ${t.tip}`}>
                <Table.Td className="tip-name">{components[record.pieces.find((p) => p.id === t.piece)?.componentId ?? '']?.name}</Table.Td>
                <Table.Td className="number">{mm(t.L)}</Table.Td>
                <Table.Td className="number">{mm(t.Q)}</Table.Td>
                <Table.Td className="number">{mm(t.Y)}</Table.Td>
              </Table.Tr>
            ))}
          </Table.Tbody>
        </Table>
      )}
      <h2>Pieces</h2>
      {roots.map((piece) => (
        <PieceRow key={piece.id} {...{ piece, record, components, models, unit, selected, onSelect }} depth={0} />
      ))}
      <h2>
        Checks{' '}
        <span className={`check-sum ${worst}`}>
          {worst === 'pass' ? `all ${checks.length} pass` : `${checks.filter((c) => c.state !== 'pass').length} to look at`}
        </span>
      </h2>
      <ul className="checks">
        {[...checks]
          .sort((a, b) => ORDER[a.state] - ORDER[b.state])
          .map((c, i) => (
            <li key={`${c.code} ${c.message} ${i}`} className={c.state}>
              <span className={`ledger-mark ${c.state === 'pass' ? 'set' : c.state}`} role="img" aria-label={c.state} />
              {c.message}
            </li>
          ))}
      </ul>
    </div>
  );
}

const ORDER: Record<Check['state'], number> = { fail: 0, warn: 1, pass: 2 };

type RowProps = Pick<PanelProps, 'record' | 'components' | 'models' | 'unit' | 'selected' | 'onSelect'> & { readonly piece: Piece; readonly depth: number };

function PieceRow(props: RowProps) {
  const { piece, record, components, models, unit, selected, onSelect, depth } = props;
  const component = components[piece.componentId];
  const [adding, setAdding] = useState<string | null>(null);
  const children = record.pieces.filter((p) => p.parent?.pieceId === piece.id);
  const open = selected === piece.id;
  const name = component?.name ?? 'missing component';
  return (
    <div className="piece" style={{ marginLeft: depth === 0 ? 0 : 14 }}>
      <button type="button" className="piece-line" data-open={open || undefined} aria-expanded={open} onClick={() => onSelect(open ? null : piece.id)}>
        <span className="piece-name">{name}</span>
        {component?.mount && <span className="number piece-mount">{sayConnection(component.mount.connection)}</span>}
      </button>
      {open && component && (
        <div className="piece-edit">
          {piece.parent && <SeatingEditor {...{ piece, record, component, unit }} model={models[component.id]} />}
          <Group gap={6}>
            <Button size="compact-xs" variant="default" component={Link} to={`/bench/${component.id}`}>
              To the Bench
            </Button>
            <Button
              size="compact-xs"
              variant="default"
              disabled={!piece.parent}
              onClick={() => {
                changeAssembly(record.id, `Took ${name} out`, (r) => ({ pieces: removePiece(r.pieces, piece.id) }));
                onSelect(null);
              }}
            >
              Take out
            </Button>
          </Group>
        </div>
      )}
      {component?.seats
        .filter((s) => !children.some((c) => c.parent?.seatId === s.id))
        .map((seat) => (
          <div key={seat.id} className="free-seat">
            <button type="button" className="free-seat-line" aria-expanded={adding === seat.id} onClick={() => setAdding(adding === seat.id ? null : seat.id)}>
              + {seat.name} <span className="number">{sayConnection(seat.connection)}</span> is free
            </button>
            {adding === seat.id && <AddPiece record={record} parent={piece} parentComponent={component} seat={seat} onDone={() => setAdding(null)} />}
          </div>
        ))}
      {children.map((child) => (
        <PieceRow key={child.id} {...props} piece={child} depth={depth + 1} />
      ))}
    </div>
  );
}

function SeatingEditor({
  piece,
  record,
  component,
  model,
  unit,
}: {
  piece: Piece;
  record: AssemblyRecord;
  component: ComponentRecord;
  model: Model | undefined;
  unit: LengthUnit;
}) {
  const set = (label: string, change: Partial<Piece>) =>
    changeAssembly(record.id, label, (r) => ({ pieces: r.pieces.map((p) => (p.id === piece.id ? { ...p, ...change } : p)) }));
  const onFace = component.mount !== null && SEATS_ON_FACE.includes(component.mount.connection.standard);
  const reach = model && reachAlongMount(component, model);
  return (
    <div className="triple">
      {!onFace && reach && (
        <NumberField
          kind="length"
          unit={unit}
          label="stands out by"
          title="From the seat to the front of the piece"
          value={piece.stickOut + reach[1]}
          onCommit={(v) => set(`${component.name} stands out by ${formatLength(v, unit)}`, { stickOut: v - reach[1] })}
        />
      )}
      {!onFace && (
        <NumberField
          kind="length"
          unit={unit}
          label="stick-out"
          title="From the seat to the mount of the piece"
          value={piece.stickOut}
          onCommit={(v) => set(`Stick-out of ${component.name}`, { stickOut: v })}
        />
      )}
      <NumberField kind="angle" label="roll" value={piece.rollDeg} onCommit={(v) => set(`Roll of ${component.name}`, { rollDeg: v })} />
    </div>
  );
}
