import { Button, Checkbox, Group } from '@mantine/core';
import { useState } from 'react';
import { gaugeLengthOf, placeTips, reachAlongMount, stickOutOf, type StickOutWay } from '#core/assembly';
import { say } from '#core/issues';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { SEATS_ON_FACE } from '#core/standards';
import { formatLength, type LengthUnit } from '#core/units';
import { changeAssembly, selectComponentsById, useAppSelector } from '../../../app/store.ts';
import { NumberField } from '../../../common/number-field.tsx';

interface Props {
  readonly piece: Piece;
  readonly record: AssemblyRecord;
  readonly component: ComponentRecord;
  readonly model: Model | undefined;
  readonly unit: LengthUnit;
}

/** How a piece sits: its stick-out by any of the ways that it is said, the others following, and its roll. */
export function SeatingEditor({ piece, record, component, model, unit }: Props) {
  const components = useAppSelector(selectComponentsById);
  const [fault, setFault] = useState<string | null>(null);
  const set = (label: string, change: Partial<Piece>) =>
    changeAssembly(record.id, label, (r) => ({ pieces: r.pieces.map((p) => (p.id === piece.id ? { ...p, ...change } : p)) }));
  const onFace = component.mount !== null && SEATS_ON_FACE.includes(component.mount.connection.standard);
  const roll = <NumberField kind="angle" label="roll" value={piece.rollDeg} onCommit={(v) => set(`Roll of ${component.name}`, { rollDeg: v })} />;
  const pressed = (
    <Checkbox
      size="xs"
      label="pressed or threaded in"
      title="The two may go through each other at this seat"
      checked={piece.pressed === true}
      onChange={(e) => set(`How ${component.name} is held`, { pressed: e.currentTarget.checked || undefined })}
    />
  );
  if (onFace || !model)
    return (
      <>
        <div className="triple">{roll}</div>
        {pressed}
      </>
    );
  const [behind, front] = reachAlongMount(component, model);
  const gaugeLength = gaugeLengthOf(record, placeTips(record, components));
  const stickOutBy = (way: StickOutWay, words: string) => {
    const found = stickOutOf(way, record, components, piece.id, model);
    if (!found.ok) return setFault(found.issues.map(say).join(' '));
    setFault(null);
    set(`${component.name} ${words}`, { stickOut: found.value });
  };
  const mm = (v: number) => formatLength(v, unit);
  return (
    <>
      <div className="triple">
        <NumberField
          kind="length"
          unit={unit}
          label="stands out by"
          title="From the seat to the front of the piece"
          value={piece.stickOut + front}
          onCommit={(value) => stickOutBy({ by: 'length', value }, `stands out by ${mm(value)}`)}
        />
        <NumberField
          kind="length"
          unit={unit}
          label="pushed in by"
          title="From the rear end of the piece to the seat"
          value={-(behind + piece.stickOut)}
          onCommit={(value) => stickOutBy({ by: 'clamping', value }, `pushed in by ${mm(value)}`)}
        />
        <NumberField
          kind="length"
          unit={unit}
          label="stick-out"
          title="From the seat to the mount of the piece"
          value={piece.stickOut}
          onCommit={(v) => set(`Stick-out of ${component.name}`, { stickOut: v })}
        />
        <NumberField
          kind="length"
          unit={unit}
          label="gauge length"
          title="The gauge length that the stick-out of this piece is to give"
          value={gaugeLength}
          onCommit={(value) => stickOutBy({ by: 'gauge length', value }, `for a gauge length of ${mm(value)}`)}
        />
        {roll}
      </div>
      <Group gap={6}>
        <Button size="compact-xs" variant="subtle" onClick={() => stickOutBy({ by: 'shoulder' }, 'in to its shoulder')}>
          In to its shoulder
        </Button>
        {component.componentKind === 'cutter' && (
          <Button size="compact-xs" variant="subtle" onClick={() => stickOutBy({ by: 'flutes' }, 'out as far as it cuts')}>
            Out as far as it cuts
          </Button>
        )}
      </Group>
      {pressed}
      {fault !== null && (
        <p className="ledger-hint warn" role="alert">
          {fault}
        </p>
      )}
    </>
  );
}
