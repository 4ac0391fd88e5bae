import { ActionIcon, Select } from '@mantine/core';
import { IconX } from '@tabler/icons-react';
import { useState } from 'react';
import {
  COOLANTS,
  CUTTING_MATERIAL_WORDS,
  CUTTING_MATERIALS,
  feedRate,
  GROUP_WORDS,
  MATERIAL_GROUPS,
  type MaterialGroup,
  SENSES,
  spindleSpeed,
  surfaceSpeedOf,
  type ToolUse,
  type Usual,
} from '#core/cutting';
import { type ComponentRecord, useOf } from '#core/records';
import type { LengthUnit } from '#core/units';
import { changeComponent } from '../../../app/store.ts';
import { NumberField } from '../../../common/number-field.tsx';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';

// mm. On what turned work's speed is shown until somebody says another diameter.
const USUAL_WORK = 40;

/** How a tool is used: what it is made of, its sense and coolant, and speed and feed in each group of materials; usual ones until somebody says others. */
export function CuttingEntry({ record, unit }: { record: ComponentRecord; unit: LengthUnit }) {
  const known = useOf(record);
  const { use } = record;
  const cutting = known?.usual.diameter ?? (record.source.kind === 'data' ? record.source.values.DMIN : undefined);
  const [asked, setAsked] = useState<number | null>(null);
  if (!known) return null;
  const { usual, groups } = known;
  const hasDepth = MATERIAL_GROUPS.some((g) => groups[g]?.depth !== undefined);
  const diameter = asked ?? cutting ?? USUAL_WORK;
  const saidGroups = Object.keys(use.groups).length;
  const isSaid = use.cuttingMaterial !== undefined || use.sense !== undefined || use.coolant !== undefined || saidGroups > 0;
  const say = (what: string, change: (now: ToolUse) => ToolUse) => changeComponent(record.id, `${what} of ${record.name}`, (r) => ({ use: change(r.use) }));
  const sayGroup = (group: MaterialGroup, what: string, value: Partial<Usual>) =>
    say(`${what} in ${group}`, (now) => ({ ...now, groups: { ...now.groups, [group]: { ...now.groups[group], ...value } } }));
  return (
    <LedgerEntry
      title="Cutting data"
      state="set"
      value={[known.cuttingMaterial, known.sense].filter(Boolean).join(' · ')}
      detail={isSaid ? undefined : 'as usual'}
      note={
        isSaid
          ? 'what was said stands in ink; the rest is usual for its kind'
          : `nothing is said: careful values that are usual for ${usual.operation}, not the tool maker’s`
      }
    >
      <div className="cutting-choices">
        <Choice
          label="made of"
          data={CUTTING_MATERIALS.map((m) => ({ value: m, label: `${m} ${CUTTING_MATERIAL_WORDS[m].replace(/^carbide, |^high-speed /, '')}` }))}
          value={use.cuttingMaterial}
          usual={known.cuttingMaterial}
          onSay={(cuttingMaterial) =>
            say('Cutting material', ({ cuttingMaterial: _, ...now }) => ({ ...now, ...(cuttingMaterial ? { cuttingMaterial } : {}) }))
          }
        />
        <Choice
          label="coolant"
          data={COOLANTS.map((c) => ({ value: c, label: c }))}
          value={use.coolant}
          usual={known.coolant}
          onSay={(coolant) => say('Coolant', ({ coolant: _, ...now }) => ({ ...now, ...(coolant ? { coolant } : {}) }))}
        />
        <Choice
          label="sense of the spindle"
          title={`M3 is clockwise, seen from the spindle towards the work; usual: ${usual.senseWhy}`}
          data={SENSES.map((s) => ({ value: s, label: s }))}
          value={use.sense}
          usual={known.sense}
          onSay={(sense) => say('Sense', ({ sense: _, ...now }) => ({ ...now, ...(sense ? { sense } : {}) }))}
        />
        <NumberField kind="length" unit={unit} label="speed at diameter" min={0.05} max={2000} value={diameter} onCommit={setAsked} />
      </div>
      <table className="cutting-table">
        <thead>
          <tr>
            <th scope="col" title="ISO 513">
              group
            </th>
            <th scope="col">m/min</th>
            <th scope="col">1/min</th>
            <th scope="col">{usual.feedPerTooth ? 'mm/tooth' : 'mm/rev'}</th>
            {hasDepth && (
              <th scope="col" title="depth of cut">
                mm deep
              </th>
            )}
            <td />
          </tr>
        </thead>
        <tbody>
          {MATERIAL_GROUPS.map((group) => (
            <GroupRow
              key={group}
              group={group}
              values={groups[group]}
              said={use.groups[group]}
              diameter={diameter}
              teeth={usual.feedPerTooth ? usual.teeth : 1}
              hasDepth={hasDepth}
              onSay={(what, value) => sayGroup(group, what, value)}
              onUsual={() => say(`Values in ${group} as usual`, ({ groups: { [group]: _, ...others }, ...now }) => ({ ...now, groups: others }))}
            />
          ))}
        </tbody>
      </table>
    </LedgerEntry>
  );
}

// What can be chosen of a few; what is usual stands there until another is chosen, and comes back by the cross.
function Choice<T extends string>(props: {
  readonly label: string;
  readonly title?: string;
  readonly data: { readonly value: T; readonly label: string }[];
  readonly value: T | undefined;
  /** Null where nothing tells it. */
  readonly usual: T | null;
  readonly onSay: (value: T | undefined) => void;
}) {
  const { label, title, data, value, usual, onSay } = props;
  return (
    <Select
      size="xs"
      label={label}
      title={title}
      data={data.map((d) => (d.value === usual && value === undefined ? { ...d, label: `${d.label}, usual` } : d))}
      value={value ?? usual}
      clearable={value !== undefined}
      onChange={(v) => onSay(v === null ? undefined : v)}
    />
  );
}

interface RowProps {
  readonly group: MaterialGroup;
  readonly values: Usual | null;
  readonly said: ToolUse['groups'][MaterialGroup];
  readonly diameter: number;
  readonly teeth: number | undefined;
  readonly hasDepth: boolean;
  readonly onSay: (what: string, value: Partial<Usual>) => void;
  readonly onUsual: () => void;
}

function GroupRow({ group, values, said, diameter, teeth, hasDepth, onSay, onUsual }: RowProps) {
  const spindle = values ? spindleSpeed(values.surfaceSpeed, diameter) : undefined;
  const rate = values?.feed !== undefined && spindle !== undefined && teeth !== undefined ? feedRate(values.feed, spindle, teeth) : undefined;
  return (
    <tr className={said ? 'said' : ''} title={[GROUP_WORDS[group], rate === undefined ? '' : `${Math.round(rate)} mm/min`].filter(Boolean).join(': ')}>
      <th scope="row">{group}</th>
      <td>
        <NumberField
          {...plain}
          digits={1}
          aria-label={`Surface speed in ${group}`}
          max={5000}
          value={values?.surfaceSpeed}
          onCommit={(surfaceSpeed) => onSay('Surface speed', { surfaceSpeed })}
        />
      </td>
      <td>
        <NumberField
          {...plain}
          digits={0}
          aria-label={`Spindle speed in ${group}`}
          min={1}
          max={1e6}
          value={spindle}
          onCommit={(n) => onSay('Surface speed', { surfaceSpeed: Math.min(5000, surfaceSpeedOf(n, diameter)) })}
        />
      </td>
      <td>
        <NumberField {...plain} digits={4} aria-label={`Feed in ${group}`} max={50} value={values?.feed} onCommit={(feed) => onSay('Feed', { feed })} />
      </td>
      {hasDepth && (
        <td>
          <NumberField
            {...plain}
            digits={2}
            aria-label={`Depth of cut in ${group}`}
            max={200}
            value={values?.depth}
            onCommit={(depth) => onSay('Depth of cut', { depth })}
          />
        </td>
      )}
      <td>
        {said && (
          <ActionIcon variant="subtle" color="gray" size="sm" aria-label={`Values in ${group} as usual`} onClick={onUsual}>
            <IconX size={14} />
          </ActionIcon>
        )}
      </td>
    </tr>
  );
}

const plain = { kind: 'plain', mark: '', min: 0.0001 } as const;
