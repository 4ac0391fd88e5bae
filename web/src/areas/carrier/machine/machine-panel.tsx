import { memo } from 'react';
import { Button, FileButton, Group, Select } from '@mantine/core';
import { newCounterSpindle, SHIPPED_MACHINES } from '#core/carrier';
import { type MachineRecord, type SetUpRecord, SPINDLES } from '#core/records';
import type { LengthUnit } from '#core/units';
import { useAppSelector } from '../../../app/store.ts';
import { NameField } from '../../../common/name-field.tsx';
import { addCarrier, changeMachine, changeSetUp, copyMachine, machinesOf, openMachine, resetMachine, saveMachine } from '../../../store/set-up-actions.ts';
import { CarrierBlock } from './carrier-block.tsx';
import { ControlBlock } from './control-block.tsx';
import { SpindleBlock } from './spindle-block.tsx';

const CARRIER_KINDS = ['turret', 'slide', 'swivel head'] as const;

interface Props {
  readonly setUp: SetUpRecord;
  readonly machine: MachineRecord;
  readonly unit: LengthUnit;
}

/** The work in the spindles, and the machine itself: its spindles, carriers and how its control counts. */
export const MachinePanel = memo(function MachinePanel({ setUp, machine, unit }: Props) {
  const records = useAppSelector((s) => s.library.records);
  const machines = machinesOf(records);
  const isShipped = SHIPPED_MACHINES.some((m) => m.id === machine.id);
  const isChanged = isShipped && records[machine.id] !== undefined;
  return (
    <section className="station-panel" aria-label="Machine">
      <Select
        size="xs"
        label="machine"
        allowDeselect={false}
        data={machines.map((m) => ({ value: m.id, label: m.name }))}
        value={machine.id}
        onChange={(v) => v && changeSetUp(setUp.id, 'Another machine', () => ({ machineId: v }))}
      />
      <Group gap={6}>
        <FileButton
          accept=".json,application/json"
          onChange={(file) => file && void openMachine(file).then((id) => id && changeSetUp(setUp.id, 'Machine from a file', () => ({ machineId: id })))}
        >
          {(props) => (
            <Button size="compact-xs" variant="default" {...props}>
              From a file
            </Button>
          )}
        </FileButton>
        <Button size="compact-xs" variant="default" onClick={() => saveMachine(machine)}>
          Write as a file
        </Button>
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => {
            const id = copyMachine(machine);
            changeSetUp(setUp.id, 'Another machine', () => ({ machineId: id }));
          }}
        >
          Copy it
        </Button>
        {isChanged && (
          <Button size="compact-xs" variant="default" onClick={() => resetMachine(machine)}>
            As it ships
          </Button>
        )}
      </Group>
      <NameField label="its name" value={machine.name} onCommit={(name) => changeMachine(machine.id, `Renamed to ${name}`, (m) => ({ ...m, name }))} />
      {SPINDLES.map((side) => {
        const spindle = machine.spindles[side];
        return spindle && <SpindleBlock key={side} {...{ setUp, machine, side, spindle, unit }} />;
      })}
      {!machine.spindles.counter && (
        <Button
          size="compact-xs"
          variant="default"
          onClick={() => changeMachine(machine.id, 'Counter spindle', (m) => ({ ...m, spindles: { ...m.spindles, counter: newCounterSpindle(m.spindles) } }))}
        >
          It has a counter spindle
        </Button>
      )}
      {machine.carriers.map((carrier) => (
        <CarrierBlock key={carrier.id} machine={machine} carrier={carrier} unit={unit} />
      ))}
      <Group gap={6}>
        {CARRIER_KINDS.map((kind) => (
          <Button key={kind} size="compact-xs" variant="default" disabled={machine.carriers.length >= 12} onClick={() => addCarrier(machine, kind)}>
            Add a {kind}
          </Button>
        ))}
      </Group>
      <ControlBlock machine={machine} />
    </section>
  );
});
