import { Button, FileButton, Group, SegmentedControl, Select, TextInput } from '@mantine/core';
import { useState } from 'react';
import { jawFront, newCounterSpindle, SHIPPED_MACHINES } from '#core/carrier';
import { type Carrier, type Chuck, type MachineRecord, type SetUpRecord, SPINDLES, type Spindle, type SpindleSide } from '#core/records';
import { CONNECTION_STANDARDS, sayConnection, USUAL_SIZES } from '#core/standards';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../common/number-field.tsx';
import { WholeField } from '../../common/whole-field.tsx';
import { addCarrier, changeMachine, changeSetUp, copyMachine, machinesOf, openMachine, resetMachine, saveMachine } from '../../store/set-up-actions.ts';
import { useAppSelector } from '../../app/store.ts';

interface Props {
  readonly setUp: SetUpRecord;
  readonly machine: MachineRecord;
  readonly unit: LengthUnit;
}

/** The work in the spindles, and the machine itself: its spindles, carriers and how its control counts. */
export function MachinePanel({ setUp, machine, unit }: Props) {
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
      <NameField key={machine.name} name={machine.name} onName={(name) => changeMachine(machine.id, `Renamed to ${name}`, (m) => ({ ...m, name }))} />
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
}

const CARRIER_KINDS = ['turret', 'slide', 'swivel head'] as const;

function NameField({ name, onName }: { name: string; onName: (name: string) => void }) {
  const [text, setText] = useState(name);
  const commit = () => (text.trim() && text.trim() !== name ? onName(text.trim()) : setText(name));
  return (
    <TextInput
      size="xs"
      label="its name"
      value={text}
      maxLength={200}
      onChange={(e) => setText(e.currentTarget.value)}
      onBlur={commit}
      onKeyDown={(e) => e.key === 'Enter' && e.currentTarget.blur()}
    />
  );
}

const CHUCK_FIELDS: readonly [keyof Chuck, string][] = [
  ['diameter', 'chuck diameter'],
  ['length', 'chuck length'],
  ['jawHeight', 'jaws stand out by'],
  ['jawStep', 'step of the jaws'],
  ['gripped', 'usually grips'],
  ['bore', 'through bore'],
];

function SpindleBlock({ setUp, machine, side, spindle, unit }: Props & { side: SpindleSide; spindle: Spindle }) {
  const blank = setUp.blanks[side];
  const sayBlank = (label: string, more: Partial<NonNullable<typeof blank>>) =>
    changeSetUp(setUp.id, `${label} at the ${spindle.name}`, (r) => ({
      blanks: { ...r.blanks, [side]: { diameter: spindle.chuck.gripped, bore: 0, length: spindle.chuck.gripped, ...r.blanks[side], ...more } },
    }));
  const sayChuck = (key: keyof Chuck, value: number) =>
    changeMachine(machine.id, `Chuck of the ${spindle.name}`, (m) => {
      const before = m.spindles[side];
      return before ? { ...m, spindles: { ...m.spindles, [side]: { ...before, chuck: { ...before.chuck, [key]: value } } } } : m;
    });
  const { counter } = machine.spindles;
  return (
    <fieldset className="machine-block">
      <legend>{spindle.name}</legend>
      <div className="edge-numbers three">
        <NumberField
          kind="length"
          unit={unit}
          label="work diameter"
          min={0.1}
          max={2000}
          value={blank?.diameter}
          onCommit={(v) => sayBlank('Diameter of the work', { diameter: v })}
        />
        <NumberField
          kind="length"
          unit={unit}
          label="its bore"
          min={0}
          max={2000}
          value={blank?.bore}
          onCommit={(v) => sayBlank('Bore of the work', { bore: v })}
        />
        <NumberField
          kind="length"
          unit={unit}
          label="stands out by"
          min={0}
          max={5000}
          value={blank?.length}
          onCommit={(v) => sayBlank('Length of the work', { length: v })}
        />
      </div>
      {blank && (
        <button
          type="button"
          className="text-button"
          onClick={() => changeSetUp(setUp.id, `No work at the ${spindle.name}`, (r) => ({ blanks: { ...r.blanks, [side]: null } }))}
        >
          No work here
        </button>
      )}
      {side === 'counter' && (
        <button
          type="button"
          className="text-button"
          onClick={() => changeMachine(machine.id, 'No counter spindle', (m) => ({ ...m, spindles: { ...m.spindles, counter: null } }))}
        >
          The machine has none
        </button>
      )}
      {side === 'counter' && counter && (
        <NumberField
          kind="length"
          unit={unit}
          label="its nose stands at Z"
          min={counter.travel[0]}
          max={counter.travel[1]}
          value={setUp.counterAt ?? counter.travel[1]}
          onCommit={(v) => changeSetUp(setUp.id, 'Place of the counter spindle', () => ({ counterAt: v }))}
        />
      )}
      <details>
        <summary>
          Chuck, {spindle.chuck.jawHeight > 0 ? 'jaws end' : 'it ends'} {formatLength(jawFront(spindle), unit)} from the nose
        </summary>
        <div className="edge-numbers three">
          {CHUCK_FIELDS.map(([key, label]) => (
            <NumberField key={key} kind="length" unit={unit} label={label} min={0} max={2000} value={spindle.chuck[key]} onCommit={(v) => sayChuck(key, v)} />
          ))}
          <WholeField
            label="largest speed"
            min={1}
            max={1_000_000}
            value={spindle.largestSpeed}
            onCommit={(v) =>
              changeMachine(machine.id, `Speed of the ${spindle.name}`, (m) => {
                const before = m.spindles[side];
                return before ? { ...m, spindles: { ...m.spindles, [side]: { ...before, largestSpeed: v } } } : m;
              })
            }
          />
          <WholeField label="jaws" min={0} max={12} value={spindle.chuck.jaws} onCommit={(v) => sayChuck('jaws', v)} />
        </div>
        <span className="field-label">clockwise, seen from the spindle, is</span>
        <SegmentedControl
          size="xs"
          aria-label={`Clockwise of the ${spindle.name}`}
          data={['M3', 'M4']}
          value={spindle.clockwise}
          onChange={(v) =>
            changeMachine(machine.id, `Sense of the ${spindle.name}`, (m) => {
              const before = m.spindles[side];
              return before ? { ...m, spindles: { ...m.spindles, [side]: { ...before, clockwise: v === 'M4' ? 'M4' : 'M3' } } } : m;
            })
          }
        />
      </details>
    </fieldset>
  );
}

function CarrierBlock({ machine, carrier, unit }: { machine: MachineRecord; carrier: Carrier; unit: LengthUnit }) {
  const change = (label: string, more: Partial<Carrier>) =>
    changeMachine(machine.id, `${label} of the ${carrier.name}`, (m) => ({
      ...m,
      carriers: m.carriers.map((c) => (c.id === carrier.id ? ({ ...c, ...more } as Carrier) : c)),
    }));
  const travel = (axis: 'x' | 'y' | 'z', end: 0 | 1, v: number) => {
    const before = carrier.travel[axis];
    if (!before) return;
    const after: [number, number] = end === 0 ? [v, before[1]] : [before[0], v];
    change('Travel', { travel: { ...carrier.travel, [axis]: after } });
  };
  const { connection } = carrier;
  return (
    <fieldset className="machine-block">
      <legend>{carrier.name}</legend>
      {machine.carriers.length > 1 && (
        <button
          type="button"
          className="text-button"
          onClick={() => changeMachine(machine.id, `Removed the ${carrier.name}`, (m) => ({ ...m, carriers: m.carriers.filter((c) => c.id !== carrier.id) }))}
        >
          Remove it
        </button>
      )}
      <p className="soft">
        {carrier.kind}, {carrier.stations} stations{carrier.kind === 'turret' ? ` on its ${carrier.mounting}` : ''}, {carrier.side} the axis, takes{' '}
        {sayConnection(connection)}
      </p>
      <details>
        <summary>Stations and travel</summary>
        <CarrierShape carrier={carrier} change={change} />
        <div className="edge-numbers three">
          <WholeField label="stations" min={1} max={200} value={carrier.stations} onCommit={(v) => change('Stations', { stations: v })} />
          <Select
            size="xs"
            label="takes"
            allowDeselect={false}
            data={[...CONNECTION_STANDARDS]}
            value={connection.standard}
            onChange={(v) => {
              const standard = CONNECTION_STANDARDS.find((s) => s === v);
              if (standard) change('What it takes', { connection: { standard, size: USUAL_SIZES[standard][0] ?? '' } });
            }}
          />
          <Select
            size="xs"
            label="size"
            allowDeselect={false}
            data={[...new Set([...USUAL_SIZES[connection.standard], connection.size].map(String))]}
            value={String(connection.size)}
            onChange={(v) =>
              v !== null && change('What it takes', { connection: { standard: connection.standard, size: Number.isFinite(Number(v)) ? Number(v) : v } })
            }
          />
          {carrier.kind === 'turret' && (
            <>
              <NumberField
                kind="length"
                unit={unit}
                label="axis to seats"
                min={1}
                max={2000}
                value={carrier.radius}
                onCommit={(v) => change('Radius', { radius: v })}
              />
              <NumberField
                kind="length"
                unit={unit}
                label="disc across"
                min={1}
                max={3000}
                value={carrier.disc.diameter}
                onCommit={(v) => change('Disc', { disc: { ...carrier.disc, diameter: v } })}
              />
              <NumberField
                kind="length"
                unit={unit}
                label="disc width"
                min={1}
                max={2000}
                value={carrier.disc.width}
                onCommit={(v) => change('Disc', { disc: { ...carrier.disc, width: v } })}
              />
            </>
          )}
          {carrier.kind === 'slide' && (
            <NumberField kind="length" unit={unit} label="pitch" min={-2000} max={2000} value={carrier.pitch} onCommit={(v) => change('Pitch', { pitch: v })} />
          )}
          {carrier.kind === 'slide' && carrier.reference && (
            <>
              {([0, 1] as const).map((end) => (
                <NumberField
                  key={end}
                  kind="length"
                  unit={unit}
                  label={end === 0 ? 'smallest position' : 'largest position'}
                  min={end === 0 ? -10_000 : carrier.reference?.[0]}
                  max={end === 0 ? carrier.reference?.[1] : 10_000}
                  value={carrier.reference?.[end]}
                  onCommit={(v) => carrier.reference && change('Positions', { reference: end === 0 ? [v, carrier.reference[1]] : [carrier.reference[0], v] })}
                />
              ))}
            </>
          )}
          {carrier.kind === 'swivel head' && (
            <>
              <NumberField
                kind="length"
                unit={unit}
                label="centre to seat"
                min={0}
                max={2000}
                value={carrier.seat}
                onCommit={(v) => change('Seat', { seat: v })}
              />
              <NumberField
                kind="angle"
                label="swivels from"
                min={-360}
                max={carrier.range[1]}
                value={carrier.range[0]}
                onCommit={(v) => change('Range', { range: [v, carrier.range[1]] })}
              />
              <NumberField
                kind="angle"
                label="to"
                min={carrier.range[0]}
                max={360}
                value={carrier.range[1]}
                onCommit={(v) => change('Range', { range: [carrier.range[0], v] })}
              />
            </>
          )}
        </div>
        <table className="feed-table">
          <thead>
            <tr>
              <th scope="col">travel of its reference</th>
              <th scope="col">from</th>
              <th scope="col">to</th>
            </tr>
          </thead>
          <tbody>
            {(['x', 'y', 'z'] as const).map((axis) => {
              const range = carrier.travel[axis];
              return (
                range && (
                  <tr key={axis}>
                    <th scope="row">{axis === 'x' ? 'X, on radius' : axis.toUpperCase()}</th>
                    {([0, 1] as const).map((end) => (
                      <td key={end}>
                        <NumberField
                          kind="length"
                          unit={unit}
                          aria-label={`${axis.toUpperCase()} of the ${carrier.name} ${end === 0 ? 'from' : 'to'}`}
                          min={end === 0 ? -10_000 : range[0]}
                          max={end === 0 ? range[1] : 10_000}
                          value={range[end]}
                          onCommit={(v) => travel(axis, end, v)}
                        />
                      </td>
                    ))}
                  </tr>
                )
              );
            })}
          </tbody>
        </table>
      </details>
    </fieldset>
  );
}

// How a carrier is made: which way it looks and counts.
function CarrierShape({ carrier, change }: { carrier: Carrier; change: (label: string, more: Partial<Carrier>) => void }) {
  const choice = (label: string, value: string, data: readonly string[], take: (v: string) => void) => (
    <div className="shape-choice">
      <span>{label}</span>
      <SegmentedControl size="xs" aria-label={`${label} of the ${carrier.name}`} data={[...data]} value={value} onChange={take} />
    </div>
  );
  return (
    <div className="carrier-shape">
      {choice('stands', `${carrier.side} the axis`, ['above the axis', 'below the axis'], (v) =>
        change('Side', { side: v.startsWith('below') ? 'below' : 'above' }),
      )}
      {carrier.kind === 'turret' && (
        <>
          {choice('stations on its', carrier.mounting, ['rim', 'face'], (v) => change('Stations', { mounting: v === 'face' ? 'face' : 'rim' }))}
          {carrier.mounting === 'face' &&
            choice('faces the spindle', carrier.faces, SPINDLES, (v) => change('Where it faces', { faces: v === 'counter' ? 'counter' : 'main' }))}
          {choice('counts', carrier.numbered === 1 ? 'one way' : 'the other', ['one way', 'the other'], (v) =>
            change('Numbering', { numbered: v === 'one way' ? 1 : -1 }),
          )}
        </>
      )}
      {carrier.kind === 'slide' && (
        <>
          {choice('its row runs along', carrier.row.toUpperCase(), ['X', 'Y'], (v) => change('Row', { row: v === 'Y' ? 'y' : 'x' }))}
          {choice('tools point', carrier.points, ['across', ...SPINDLES], (v) =>
            change('Where its tools point', { points: v === 'across' ? v : v === 'counter' ? v : 'main' }),
          )}
          {choice('measured from a reference', carrier.reference ? 'yes' : 'no', ['yes', 'no'], (v) =>
            change('Reference', { reference: v === 'yes' ? [100, 300] : null }),
          )}
        </>
      )}
      {choice(
        'stations are driven',
        carrier.driven === 'all' ? 'all' : carrier.driven.length === 0 ? 'none' : 'some',
        carrier.driven !== 'all' && carrier.driven.length > 0 ? ['all', 'some', 'none'] : ['all', 'none'],
        (v) => v !== 'some' && change('Drive', { driven: v === 'all' ? 'all' : [] }),
      )}
      {choice('moves along Y', carrier.travel.y ? 'yes' : 'no', ['yes', 'no'], (v) =>
        change('Y axis', { travel: { ...carrier.travel, y: v === 'yes' ? [-40, 40] : null } }),
      )}
    </div>
  );
}

function ControlBlock({ machine }: { machine: MachineRecord }) {
  const { control } = machine;
  const change = (label: string, more: Partial<MachineRecord['control']>) =>
    changeMachine(machine.id, label, (m) => ({ ...m, control: { ...m.control, ...more } }));
  return (
    <fieldset className="machine-block">
      <legend>control</legend>
      <details>
        <summary>How it counts</summary>
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
