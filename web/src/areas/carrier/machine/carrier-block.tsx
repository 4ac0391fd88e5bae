import { SegmentedControl, Select } from '@mantine/core';
import { type Carrier, type CarrierOf, type MachineRecord, SPINDLES } from '#core/records';
import { CONNECTION_STANDARDS, sayConnection, USUAL_SIZES } from '#core/standards';
import type { LengthUnit } from '#core/units';
import { countOf } from '../../../common/count-of.ts';
import { NumberField } from '../../../common/number-field.tsx';
import { WholeField } from '../../../common/whole-field.tsx';
import { NO_HEAD, shapeDisc, shapeHead } from '../../../store/machine-shapes.ts';
import { changeCarrier, changeMachine } from '../../../store/set-up-actions.ts';
import { BoltsBlock } from './bolts-block.tsx';
import { ShapeChoice } from './shape-choice.tsx';

/** A carrier: how it is made, what its stations take, how far it travels. */
export function CarrierBlock({ machine, carrier, unit }: { machine: MachineRecord; carrier: Carrier; unit: LengthUnit }) {
  const change = (label: string, more: Partial<Carrier>) => changeCarrier(machine.id, carrier, label, more);
  const travel = (axis: 'x' | 'y' | 'z', end: 0 | 1, v: number) => {
    const before = carrier.travel[axis];
    if (!before) return;
    const after: [number, number] = end === 0 ? [v, before[1]] : [before[0], v];
    change('Travel', { travel: { ...carrier.travel, [axis]: after } });
  };
  const { connection } = carrier;
  const hasSizes = USUAL_SIZES[connection.standard].length > 0 || connection.size !== '';
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
        {carrier.kind}, {countOf(carrier.stations, 'station')}
        {carrier.kind === 'turret' ? ` on its ${carrier.mounting}` : ''}, {carrier.side} the axis, takes {sayConnection(connection)}
      </p>
      <details>
        <summary>Stations and travel</summary>
        <CarrierShape carrier={carrier} change={change} />
        {carrier.kind === 'turret' && (
          <ShapeChoice
            of={`disc of the ${carrier.name}`}
            measured={carrier.disc.measured}
            howMounted="on the index axis in the plane of the seats, Z towards the spindle that it faces, X towards the spindle axis"
            onChoose={(c) => void shapeDisc(machine.id, carrier, c)}
          />
        )}
        {carrier.kind === 'swivel head' && (
          <ShapeChoice
            of={`head of the ${carrier.name}`}
            measured={carrier.head?.measured}
            howMounted="in the seat, Z towards the tool, X as the tool’s own"
            onChoose={(c) => void shapeHead(machine.id, carrier, c)}
          />
        )}
        <div className="edge-numbers three">
          <WholeField label="stations" min={1} max={200} value={carrier.stations} onCommit={(v) => change('Stations', { stations: v })} />
          <Select
            size="xs"
            label="takes"
            style={hasSizes ? undefined : { gridColumn: 'span 2' }}
            allowDeselect={false}
            data={[...CONNECTION_STANDARDS]}
            value={connection.standard}
            onChange={(v) => {
              const standard = CONNECTION_STANDARDS.find((s) => s === v);
              if (standard) change('What it takes', { connection: { standard, size: USUAL_SIZES[standard][0] ?? '' } });
            }}
          />
          {hasSizes && (
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
          )}
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
              {!carrier.disc.measured && (
                <>
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
              {!carrier.head?.measured && <HeadSizes carrier={carrier} unit={unit} onChange={(head) => change('Head', { head })} />}
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
        {connection.standard === 'bolted face' && <BoltsBlock machineId={machine.id} carrier={carrier} unit={unit} />}
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

const HEAD_SIZES = [
  ['nose across', 'noseDiameter'],
  ['nose length', 'noseLength'],
  ['head across', 'diameter'],
  ['head length', 'length'],
] as const;
type Head = NonNullable<CarrierOf<'swivel head'>['head']>;

// A head by its sizes, behind the seat; 0 is none.
function HeadSizes({ carrier, unit, onChange }: { carrier: CarrierOf<'swivel head'>; unit: LengthUnit; onChange: (head: Head) => void }) {
  const head: Head = carrier.head ?? NO_HEAD;
  return HEAD_SIZES.map(([label, key]) => (
    <NumberField key={key} kind="length" unit={unit} label={label} min={0} max={3000} value={head[key]} onCommit={(v) => onChange({ ...head, [key]: v })} />
  ));
}
