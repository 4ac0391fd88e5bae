import { ActionIcon } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useMemo, useState } from 'react';
import { type ComponentSpec, makeComponent, sayUnmade, type ValueName, VALUES } from '#core/components';
import type { ComponentRecord } from '#core/records';
import type { LengthUnit } from '#core/units';
import { sayValue } from '../../../common/say-value.ts';
import { NumberField } from '../../../common/number-field.tsx';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import { changeSpec } from '../../../store/data-actions.ts';

/** The numbers that a component is made of: those that were given, what was assumed, and what follows with its formula. */
export function DataEntry({ record, spec, unit }: { record: ComponentRecord; spec: ComponentSpec; unit: LengthUnit }) {
  const [fault, setFault] = useState<string | null>(null);
  const made = useMemo(() => makeComponent(spec), [spec]);
  if (!made.ok) return null;
  const { values, derived, assumed, warnings, without: left } = made.part;
  const change = (label: string, to: (now: ComponentSpec) => ComponentSpec) => {
    const m = makeComponent(to(spec));
    if (!m.ok) return setFault(sayUnmade(m).join('; '));
    setFault(null);
    void changeSpec(record.id, label, to);
  };
  const set = (name: ValueName, value: number) =>
    change(`${VALUES[name].meaning} of ${record.name}`, (now) => ({ ...now, values: { ...now.values, [name]: value } }));
  const giveBack = (name: ValueName) => change(`${VALUES[name].meaning} of ${record.name} as usual`, (now) => without(now, name));
  return (
    <LedgerEntry
      title="Data"
      state={fault === null ? 'set' : 'fail'}
      waits={fault !== null}
      value={spec.designation || spec.kind}
      note={left ? `not drawn: ${left}` : undefined}
    >
      {fault !== null && (
        <p className="ledger-hint warn" role="alert">
          Not taken: {fault}
        </p>
      )}
      {warnings.map((w) => (
        <p key={w} className="ledger-hint warn">
          {w}
        </p>
      ))}
      {(Object.entries(values) as [ValueName, number][]).map(([name, value]) => {
        const follows = derived.find((d) => d.name === name);
        const why = assumed.find((a) => a.name === name)?.why;
        const { meaning, unit: kind } = VALUES[name];
        return (
          <div key={name} className="data-row">
            <span className="data-name" title={follows ? follows.formula : why ? `assumed: ${why}` : 'given'}>
              <span className="fact-code">{name}</span> {meaning}
              {why && <span className="ledger-hint"> assumed</span>}
            </span>
            {follows ? (
              <span className="number" title={follows.formula}>
                {sayValue(name, value, unit)}
              </span>
            ) : (
              <NumberField
                {...(kind === 'deg' ? { kind: 'angle' } : kind === 'count' ? { kind: 'plain', mark: '', digits: 0 } : { kind: 'length', unit })}
                aria-label={`${meaning} of the data`}
                w={104}
                min={VALUES[name].min}
                max={VALUES[name].max}
                value={value}
                onCommit={(v) => set(name, v)}
              />
            )}
            {spec.values[name] !== undefined && !follows && isOptional(spec, name) ? (
              <ActionIcon variant="subtle" color="gray" size="sm" aria-label={`${meaning} as usual`} onClick={() => giveBack(name)}>
                <IconX size={14} />
              </ActionIcon>
            ) : (
              <span className="data-gap" />
            )}
          </div>
        );
      })}
    </LedgerEntry>
  );
}

// Whether something still can be made without the number: another one is assumed then.
const isOptional = (spec: ComponentSpec, name: ValueName): boolean => makeComponent(without(spec, name)).ok;

function without(spec: ComponentSpec, name: ValueName): ComponentSpec {
  const { [name]: _, ...values } = spec.values;
  return { ...spec, values };
}
