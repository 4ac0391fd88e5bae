import { SegmentedControl } from '@mantine/core';
import { jawFront, workIn } from '#core/carrier';
import type { Chuck, MachineRecord, SetUpRecord, Spindle, SpindleSide } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { WholeField } from '../../../common/whole-field.tsx';
import { changeMachine, changeSetUp, changeSpindle } from '../../../store/set-up-actions.ts';
import { shapeChuck } from '../../../store/machine-shapes.ts';
import { ShapeChoice } from './shape-choice.tsx';

const CHUCK_FIELDS: readonly [Exclude<keyof Chuck, 'measured'>, string][] = [
  ['diameter', 'chuck diameter'],
  ['length', 'chuck length'],
  ['jawHeight', 'jaws stand out by'],
  ['jawStep', 'step of the jaws'],
  ['gripped', 'usually grips'],
  ['bore', 'through bore'],
];

// What a measured shape tells itself.
const TOLD_BY_SHAPE: readonly (keyof Chuck)[] = ['diameter', 'length'];

interface Props {
  readonly setUp: SetUpRecord;
  readonly machine: MachineRecord;
  readonly side: SpindleSide;
  readonly spindle: Spindle;
  readonly unit: LengthUnit;
}

/** A spindle with its work and its chuck. */
export function SpindleBlock({ setUp, machine, side, spindle, unit }: Props) {
  const blank = setUp.blanks[side];
  const sayBlank = (label: string, more: Partial<NonNullable<typeof blank>>) =>
    changeSetUp(setUp.id, `${label} at the ${spindle.name}`, (r) => ({
      blanks: { ...r.blanks, [side]: { ...workIn(spindle, r.blanks[side]), ...more } },
    }));
  const change = (label: string, more: Partial<Spindle>) => changeSpindle(machine.id, side, `${label} of the ${spindle.name}`, more);
  const sayChuck = (key: keyof Chuck, value: number) => {
    const { chuck } = spindle;
    // Where a measured one ends stays where it is.
    const jaws = key === 'jawHeight' && chuck.measured ? Math.min(value, jawFront(spindle)) : undefined;
    const after = jaws === undefined ? { [key]: value } : { jawHeight: jaws, length: jawFront(spindle) - jaws };
    change('Chuck', { chuck: { ...chuck, ...after } });
  };
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
      {side === 'counter' && counter && (
        <div className="edge-numbers two">
          {([0, 1] as const).map((end) => (
            <NumberField
              key={end}
              kind="length"
              unit={unit}
              label={end === 0 ? 'its nose travels from' : 'to'}
              min={end === 0 ? 0 : counter.travel[0]}
              max={end === 0 ? counter.travel[1] : 10_000}
              value={counter.travel[end]}
              onCommit={(v) =>
                changeSpindle(machine.id, 'counter', 'Travel of the counter spindle', { travel: end === 0 ? [v, counter.travel[1]] : [counter.travel[0], v] })
              }
            />
          ))}
        </div>
      )}
      <details>
        <summary>
          Chuck, {spindle.chuck.jawHeight > 0 ? 'jaws end' : 'it ends'} {formatLength(jawFront(spindle), unit)} from the nose
        </summary>
        <ShapeChoice
          of={`chuck of the ${spindle.name}`}
          measured={spindle.chuck.measured}
          howMounted="on the nose face, Z towards the work"
          onChoose={(c) => void shapeChuck(machine.id, side, c)}
        />
        <div className="edge-numbers three">
          {CHUCK_FIELDS.filter(([key]) => !spindle.chuck.measured || !TOLD_BY_SHAPE.includes(key)).map(([key, label]) => (
            <NumberField key={key} kind="length" unit={unit} label={label} min={0} max={2000} value={spindle.chuck[key]} onCommit={(v) => sayChuck(key, v)} />
          ))}
          <WholeField label="largest speed" min={1} max={1_000_000} value={spindle.largestSpeed} onCommit={(v) => change('Speed', { largestSpeed: v })} />
          <WholeField label="jaws" min={0} max={12} value={spindle.chuck.jaws} onCommit={(v) => sayChuck('jaws', v)} />
        </div>
        <span className="field-label">clockwise, seen from the spindle, is</span>
        <SegmentedControl
          size="xs"
          aria-label={`Clockwise of the ${spindle.name}`}
          data={['M3', 'M4']}
          value={spindle.clockwise}
          onChange={(v) => change('Sense', { clockwise: v === 'M4' ? 'M4' : 'M3' })}
        />
      </details>
    </fieldset>
  );
}
