import { useState } from 'react';
import { type AssemblyNumbers, numbersOf, USUAL_FORCE } from '#core/assembly';
import { roundTo } from '#core/math';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { useMemo } from 'react';
import { NumberField } from '../../../common/number-field.tsx';
import { GaugeBox } from './gauge-box.tsx';

interface Props {
  readonly record: AssemblyRecord;
  /** What it is compared with, as it is where something is tried: both stand side by side. */
  readonly before: AssemblyRecord | undefined;
  /** What the two are called. */
  readonly names: readonly [before: string, now: string];
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly models: Readonly<Record<string, Model | undefined>>;
  readonly unit: LengthUnit;
  /** While something is tried, the gauge line stays. */
  readonly isFixed: boolean;
  readonly onPickGaugeLine: () => void;
}

/** Gauge length, mass, overhang and what gives way; before and after side by side while something is tried. */
export function NumbersBlock({ record, before, names, components, models, unit, isFixed, onPickGaugeLine }: Props) {
  const [force, setForce] = useState(USUAL_FORCE);
  const now = useMemo(() => numbersOf(record, components, models, force), [record, components, models, force]);
  const was = useMemo(() => before && numbersOf(before, components, models, force), [before, components, models, force]);
  const mm = (v: number | undefined) => (v === undefined ? '–' : formatLength(v, unit));
  const rows: readonly (readonly [name: string, of: (n: AssemblyNumbers) => string, title?: string])[] = [
    ...(was
      ? ([
          ['Q', (n) => mm(n.measured?.Q), 'of the measured edge'],
          ['Y', (n) => mm(n.measured?.Y), 'of the measured edge'],
        ] as const satisfies readonly (readonly [string, (n: AssemblyNumbers) => string, string])[])
      : []),
    ['largest diameter', (n) => mm(n.mass?.largestDiameter), 'about the gauge line’s Z'],
    ['mass', (n) => (n.mass ? `${n.mass.mass.toFixed(3)} kg` : '–'), 'by what its bodies are made of; volumes of the models'],
    [
      'centre of mass',
      (n) =>
        n.mass
          ? n.mass.centreOfMass.map((v) => (roundTo(Number(formatLength(v, unit)), unit === 'mm' ? 1 : 2) + 0).toFixed(unit === 'mm' ? 1 : 2)).join(' ')
          : '–',
      'Q, Y, L',
    ],
    ...(now.spins ? [['unbalance', (n: AssemblyNumbers) => (n.mass ? `${n.mass.unbalance.toFixed(1)} g mm` : '–'), 'about the gauge line’s Z'] as const] : []),
    [
      'overhang',
      (n) => (n.overhang ? `${n.overhang.ratio.toFixed(2)} × ${mm(n.overhang.diameter)}` : '–'),
      now.overhang
        ? `${mm(now.overhang.length)} out of its seat; of ${now.overhang.material} up to ${now.overhang.limit} is usual (a rule of the trade)`
        : undefined,
    ],
    ...(now.deflection || was?.deflection
      ? [
          [
            'gives way',
            (n: AssemblyNumbers) => (n.deflection ? `${n.deflection.value.toFixed(4)} mm` : '–'),
            (now.deflection ?? was?.deflection)?.formula,
          ] as const,
        ]
      : []),
  ];
  const isLong = now.overhang !== undefined && now.overhang.ratio > now.overhang.limit;
  return (
    <>
      <GaugeBox {...{ record, components, unit, isFixed }} gaugeLength={now.gaugeLength} before={was && mm(was.gaugeLength)} onPick={onPickGaugeLine} />
      <table className="numbers-table">
        {was && (
          <thead>
            <tr>
              <td />
              <th scope="col" title={names[0]}>
                {names[0]}
              </th>
              <th scope="col">{names[1]}</th>
            </tr>
          </thead>
        )}
        <tbody>
          {rows.map(([name, of, title]) => (
            <tr key={name} title={title} className={name === 'overhang' && isLong ? 'warn' : ''}>
              <th scope="row">{name}</th>
              {was && <td className="number quiet">{of(was)}</td>}
              <td className="number">{of(now)}</td>
            </tr>
          ))}
        </tbody>
      </table>
      {now.deflection && (
        <div className="force-line">
          <span>under a force at the tip of</span>
          <NumberField kind="plain" mark="N" digits={0} aria-label="Force at the tip" w={92} min={1} max={100_000} value={force} onCommit={setForce} />
        </div>
      )}
    </>
  );
}
