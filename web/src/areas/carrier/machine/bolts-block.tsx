import { Button, Menu } from '@mantine/core';
import { useState } from 'react';
import type { Carrier } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { selectComponentsById, useAppSelector } from '../../../app/store.ts';
import { NumberField } from '../../../common/number-field.tsx';
import { boltsLike, changeBolts } from '../../../store/machine-shapes.ts';

type Bolts = NonNullable<Carrier['bolts']>;
interface Rectangle {
  readonly across: number;
  readonly along: number;
  readonly diameter: number;
}

// Four in a rectangle about the middle of the seat, as its sizes; undefined where they are others.
function rectangleOf(bolts: Bolts): Rectangle | undefined {
  const [{ x, y, diameter }] = bolts;
  const isOne = bolts.every((b) => Math.abs(Math.abs(b.x) - Math.abs(x)) < 1e-6 && Math.abs(Math.abs(b.y) - Math.abs(y)) < 1e-6 && b.diameter === diameter);
  return bolts.length === 4 && isOne ? { across: 2 * Math.abs(x), along: 2 * Math.abs(y), diameter } : undefined;
}

const rectangle = ({ across, along, diameter }: Rectangle): Bolts =>
  [1, -1].flatMap((sx) => [1, -1].map((sy) => ({ x: (sx * across) / 2, y: (sy * along) / 2, diameter })));

/** The bolts that the stations of a carrier have for what is bolted to their face: typed as a rectangle, or as the holes of a block are. */
export function BoltsBlock({ machineId, carrier, unit }: { machineId: string; carrier: Carrier; unit: LengthUnit }) {
  const components = useAppSelector(selectComponentsById);
  const blocks = Object.values(components).filter((c) => c.mount && c.componentKind === 'station block');
  const { bolts = [] } = carrier;
  const four = bolts.length > 0 ? rectangleOf(bolts) : undefined;
  // What is typed until all three are there: nothing is made up.
  const [typed, setTyped] = useState<Partial<Rectangle>>({});
  const shown: Partial<Rectangle> = four ?? typed;
  const say = (more: Partial<Rectangle>) => {
    const { across, along, diameter } = { ...shown, ...more };
    if (across === undefined || along === undefined || diameter === undefined) setTyped({ ...shown, ...more });
    else {
      setTyped({});
      changeBolts(machineId, carrier, rectangle({ across, along, diameter }));
    }
  };
  const field = (label: string, key: keyof Rectangle, max: number) => (
    <NumberField kind="length" unit={unit} label={label} min={key === 'diameter' ? 1 : 0} max={max} value={shown[key]} onCommit={(v) => say({ [key]: v })} />
  );
  return (
    <div className="bolts-block" role="group" aria-label={`Bolts of the ${carrier.name}`}>
      <span className="field-label">bolts at its seats</span>
      <div className="edge-numbers three">
        {field('apart in X', 'across', 1000)}
        {field('apart in Y', 'along', 1000)}
        {field('thread', 'diameter', 100)}
      </div>
      {bolts.length > 0 && !four && (
        <p className="soft">{bolts.map((b) => `${formatLength(b.diameter, unit)} at ${formatLength(b.x, unit)}, ${formatLength(b.y, unit)}`).join('; ')}</p>
      )}
      {bolts.length === 0 && <p className="soft">None are said, so blocks are not held against them; four in a rectangle take all three.</p>}
      <Menu position="bottom-start">
        <Menu.Target>
          <Button size="compact-xs" variant="default" disabled={blocks.length === 0}>
            As the holes of a block
          </Button>
        </Menu.Target>
        <Menu.Dropdown>
          {blocks.map((c) => (
            <Menu.Item key={c.id} onClick={() => void boltsLike(machineId, carrier, c)}>
              {c.name}
            </Menu.Item>
          ))}
        </Menu.Dropdown>
      </Menu>{' '}
      {bolts.length > 0 && (
        <Button size="compact-xs" variant="default" onClick={() => changeBolts(machineId, carrier, undefined)}>
          None
        </Button>
      )}
    </div>
  );
}
