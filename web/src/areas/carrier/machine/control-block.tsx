import { SegmentedControl, Select } from '@mantine/core';
import type { MachineRecord } from '#core/records';
import { NumberField } from '../../../common/number-field.tsx';
import { WholeField } from '../../../common/whole-field.tsx';
import { changeMachine } from '../../../store/set-up-actions.ts';

/** How the control counts. */
export function ControlBlock({ machine }: { machine: MachineRecord }) {
  const { control } = machine;
  const change = (label: string, more: Partial<MachineRecord['control']>) =>
    changeMachine(machine.id, label, (m) => ({ ...m, control: { ...m.control, ...more } }));
  return (
    <fieldset className="machine-block">
      <legend>control</legend>
      <details>
        <summary>How it counts</summary>
        <span className="field-label">lengths are told in</span>
        <SegmentedControl
          size="xs"
          aria-label="Lengths are told in"
          data={['mm', 'inch']}
          value={machine.unit}
          onChange={(v) => changeMachine(machine.id, 'Unit of the control', (m) => ({ ...m, unit: v === 'inch' ? 'inch' : 'mm' }))}
        />
        <span className="field-label">X is told</span>
        <SegmentedControl
          size="xs"
          aria-label="X is told"
          data={['on diameter', 'on radius']}
          value={control.diameters ? 'on diameter' : 'on radius'}
          onChange={(v) => change('How X is told', { diameters: v === 'on diameter' })}
        />
        <div className="edge-numbers three">
          <WholeField label="tool digits" min={1} max={8} value={control.toolDigits} onCommit={(v) => change('Tool digits', { toolDigits: v })} />
          <WholeField label="offset digits" min={1} max={8} value={control.offsetDigits} onCommit={(v) => change('Offset digits', { offsetDigits: v })} />
          <WholeField
            label="offsets of a tool"
            min={1}
            max={99}
            value={control.offsetsPerTool}
            onCommit={(v) => change('Offsets of a tool', { offsetsPerTool: v })}
          />
        </div>
        <div className="edge-numbers two">
          <WholeField
            label="channels wait at M"
            min={31}
            max={control.waits[1]}
            value={control.waits[0]}
            onCommit={(v) => change('Wait marks', { waits: [v, control.waits[1]] })}
          />
          <WholeField
            label="to M"
            min={control.waits[0]}
            max={9999}
            value={control.waits[1]}
            onCommit={(v) => change('Wait marks', { waits: [control.waits[0], v] })}
          />
        </div>
        <div className="edge-numbers three">
          <NumberField
            kind="angle"
            label="swivel zero, of the head"
            min={-360}
            max={360}
            value={control.swivel.zero}
            onCommit={(v) => change('Swivel zero', { swivel: { ...control.swivel, zero: v } })}
          />
          <Select
            size="xs"
            label="swivel sense"
            allowDeselect={false}
            data={[
              { value: '1', label: 'as the head' },
              { value: '-1', label: 'reversed' },
            ]}
            value={String(control.swivel.sense)}
            onChange={(v) => change('Swivel sense', { swivel: { ...control.swivel, sense: v === '-1' ? -1 : 1 } })}
          />
        </div>
        <span className="field-label">tip orientations 1 to 9 are called</span>
        <div className="tip-numbers">
          {control.tipNumbers.map((n, i) => (
            <WholeField
              // Nine places, each its own.
              key={i}
              aria-label={`Tip orientation ${i + 1}`}
              min={0}
              max={99}
              value={n}
              onCommit={(v) => change('Tip orientations', { tipNumbers: control.tipNumbers.map((old, k) => (k === i ? v : old)) })}
            />
          ))}
        </div>
      </details>
    </fieldset>
  );
}
