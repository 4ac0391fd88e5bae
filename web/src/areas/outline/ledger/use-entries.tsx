import { Button, Checkbox, Group, SegmentedControl, Select } from '@mantine/core';
import type { ReactNode } from 'react';
import { OUTLINE_PURPOSES, type OutlinePurpose, type OutlineRecord, TYPED_VALUES, type TypedValue } from '#core/records';
import { boxOfPath } from '#core/outline';
import { contradictionsOf, cuttingStretch, extentOf, type OutlineFact, outlineFacts } from '#core/sources';
import { CONNECTION_STANDARDS, sayConnection, USUAL_SIZES } from '#core/standards';
import { formatLength, type LengthUnit } from '#core/units';
import { roundTo } from '#core/math';
import { changeOutline } from '../../../app/store.ts';
import { LengthField } from '../../../common/length-field.tsx';
import { NumberField } from '../../../common/number-field.tsx';
import { SizeField } from '../../../common/size-field.tsx';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';

interface Props {
  readonly outline: OutlineRecord;
  readonly unit: LengthUnit;
}

const PURPOSE_WORDS: Readonly<Record<OutlinePurpose, string>> = { cutter: 'cutter', holder: 'holder or adapter', insert: 'insert' };

/** What an outline is for, where it cuts, and how it is held. */
export function PurposeEntries({ outline, unit }: Props) {
  const { id, purpose, profile } = outline;
  const change = (label: string, part: Partial<OutlineRecord>) => changeOutline(id, label, () => part);
  if (purpose === 'insert') return <PlateEntry outline={outline} unit={unit} />;
  const long = profile.length > 0 ? extentOf(profile).high - extentOf(profile).low : 0;
  return (
    <>
      <LedgerEntry title="What it is" state="set" value={PURPOSE_WORDS[purpose]}>
        <SegmentedControl
          size="xs"
          aria-label="What it is"
          data={OUTLINE_PURPOSES.filter((p) => p !== 'insert').map((value) => ({ value, label: PURPOSE_WORDS[value] }))}
          value={purpose}
          onChange={(p) =>
            change(
              `A ${p}`,
              p === 'cutter' ? { purpose: 'cutter', cutting: outline.cutting ?? { from: 0, to: roundTo(long / 3, 3) } } : { purpose: 'holder', cutting: null },
            )
          }
        />
      </LedgerEntry>
      {purpose === 'cutter' && <CuttingEntry outline={outline} unit={unit} long={long} />}
      {outline.way.kind !== 'stack' && <MountEntry outline={outline} unit={unit} />}
      {purpose === 'cutter' && (
        <LedgerEntry title="Rotation" state="set" value={outline.rotation}>
          <SegmentedControl
            size="xs"
            aria-label="Sense of rotation"
            data={[
              { value: 'right', label: 'right' },
              { value: 'left', label: 'left' },
            ]}
            value={outline.rotation}
            onChange={(r) => change(`Cuts turning ${r}`, { rotation: r })}
          />
        </LedgerEntry>
      )}
    </>
  );
}

function CuttingEntry({ outline, unit, long }: Props & { long: number }) {
  const { id, cutting } = outline;
  const stretch = cuttingStretch(outline);
  const set = (label: string, next: OutlineRecord['cutting']) => changeOutline(id, label, () => ({ cutting: next }));
  return (
    <LedgerEntry
      title="Cutting part"
      state={stretch ? 'set' : 'missing'}
      value={stretch ? formatLength(stretch.to - stretch.from, unit) : 'none'}
      note="measured from the work end; drag its border on the sheet"
    >
      <Group gap={6} align="end">
        {cutting && (
          <>
            <LengthField
              unit={unit}
              label="From"
              name="Cutting part from"
              w={96}
              min={0}
              value={cutting.from}
              onCommit={(from) => set('Cutting part', { ...cutting, from })}
            />
            <LengthField
              unit={unit}
              label="To"
              name="Cutting part to"
              w={96}
              min={0}
              value={cutting.to}
              onCommit={(to) => set('Cutting part', { ...cutting, to })}
            />
          </>
        )}
        <Button size="compact-xs" variant="default" onClick={() => set('All of it cuts', { from: 0, to: long })}>
          All of it
        </Button>
        <Button size="compact-xs" variant="default" disabled={!cutting} onClick={() => set('Nothing cuts', null)}>
          Nothing
        </Button>
      </Group>
    </LedgerEntry>
  );
}

function MountEntry({ outline, unit }: Props) {
  const { id, mount } = outline;
  const set = (label: string, next: OutlineRecord['mount']) => changeOutline(id, label, () => ({ mount: next }));
  return (
    <LedgerEntry
      title="Mount"
      state={mount ? 'set' : 'missing'}
      value={mount ? sayConnection(mount) : 'not said'}
      note={
        mount
          ? outline.mountZ === 0
            ? 'at the end that is held'
            : `its plane ${formatLength(outline.mountZ, unit)} from the end that is held`
          : 'what holds it at its other end'
      }
    >
      <Group gap={6} wrap="nowrap">
        <Select
          size="xs"
          w={130}
          aria-label="Standard of the mount"
          data={['none', ...CONNECTION_STANDARDS.filter((s) => s !== 'square' && s !== 'bolted face')]}
          value={mount?.standard ?? 'none'}
          allowDeselect={false}
          onChange={(s) => {
            const standard = CONNECTION_STANDARDS.find((c) => c === s);
            set('Mount', standard ? { standard, size: USUAL_SIZES[standard][0] ?? '' } : null);
          }}
        />
        {mount && (
          <SizeField label="Size of the mount" standard={mount.standard} size={mount.size} onCommit={(size) => set('Size of the mount', { ...mount, size })} />
        )}
        {mount && (
          <NumberField
            kind="length"
            unit={unit}
            aria-label="Plane of the mount from the held end"
            w={96}
            value={outline.mountZ}
            onCommit={(mountZ) => changeOutline(id, 'Plane of the mount', () => ({ mountZ }))}
          />
        )}
      </Group>
    </LedgerEntry>
  );
}

function PlateEntry({ outline, unit }: Props) {
  const { id, insert, profile } = outline;
  const set = (label: string, part: Partial<OutlineRecord['insert']>) => changeOutline(id, label, (o) => ({ insert: { ...o.insert, ...part } }));
  const [x0, y0, x1, y1] = profile.length > 0 ? boxOfPath(profile[0]) : [0, 0, 10, 10];
  const { hole } = insert;
  return (
    <LedgerEntry title="Plate" state="set" waits value={`${formatLength(insert.thickness, unit)} thick`}>
      <Group gap={6} align="end">
        <LengthField
          unit={unit}
          label="Thickness"
          name="Thickness"
          w={100}
          min={0.05}
          max={1000}
          value={insert.thickness}
          onCommit={(thickness) => set('Thickness', { thickness })}
        />
        <NumberField
          kind="angle"
          label="Clearance"
          aria-label="Clearance angle"
          w={90}
          min={0}
          max={45}
          value={insert.reliefDeg}
          onCommit={(reliefDeg) => set('Clearance angle', { reliefDeg })}
        />
      </Group>
      <Checkbox
        size="xs"
        label="a hole through it"
        checked={hole !== null}
        onChange={(e) =>
          set(e.currentTarget.checked ? 'A hole' : 'No hole', {
            hole: e.currentTarget.checked
              ? { at: [roundTo((x0 + x1) / 2, 3), roundTo((y0 + y1) / 2, 3)], diameter: roundTo(0.3 * Math.min(x1 - x0, y1 - y0), 2) }
              : null,
          })
        }
      />
      {hole && (
        <Group gap={6} align="end">
          <LengthField
            unit={unit}
            label="⌀"
            name="Diameter of the hole"
            w={90}
            min={0.05}
            value={hole.diameter}
            onCommit={(diameter) => set('Hole', { hole: { ...hole, diameter } })}
          />
          <LengthField
            unit={unit}
            label="x"
            name="x of the hole"
            w={90}
            value={hole.at[0]}
            onCommit={(x) => set('Hole', { hole: { ...hole, at: [x, hole.at[1]] } })}
          />
          <LengthField
            unit={unit}
            label="y"
            name="y of the hole"
            w={90}
            value={hole.at[1]}
            onCommit={(y) => set('Hole', { hole: { ...hole, at: [hole.at[0], y] } })}
          />
        </Group>
      )}
      <p className="ledger-hint">
        Flanks of edges that cut lean in by the clearance; press an edge on the sheet to have it not cut. Rounded corners become tips.
      </p>
    </LedgerEntry>
  );
}

/** The numbers that follow, beside what was typed; what contradicts is said with what would agree. */
export function NumberEntries({ outline, unit }: Props) {
  const facts = outlineFacts(outline);
  const wrong = contradictionsOf(outline);
  if (facts.length === 0) return null;
  const typable = TYPED_VALUES.filter((name) => facts.some((f) => f.name === name) || outline.typed[name] !== undefined);
  const type = (name: TypedValue, value: number | undefined) =>
    changeOutline(outline.id, `${name} as printed`, (o) => {
      const { [name]: _, ...rest } = o.typed;
      return { typed: value === undefined ? rest : { ...rest, [name]: value } };
    });
  return (
    <>
      <h3>Numbers</h3>
      <dl className="facts outline-facts">
        {facts.map((f) => (
          <Fact key={f.name + f.meaning + f.value} fact={f} unit={unit} />
        ))}
      </dl>
      {outline.purpose !== 'insert' && (
        <LedgerEntry
          title="As printed"
          state={wrong.length > 0 ? 'fail' : 'set'}
          waits={wrong.length > 0}
          value={wrong.length > 0 ? `${wrong.length} disagree` : Object.keys(outline.typed).length > 0 ? 'agrees' : 'nothing typed'}
          note="what the catalogue or the drawing says, to be compared"
        >
          {wrong.map((c) => (
            <p key={c.name + c.message} className="ledger-hint warn" role="alert">
              {c.message}
            </p>
          ))}
          <Group gap={6} align="end">
            {typable.map((name) => (
              <LengthField
                key={name}
                unit={unit}
                label={name}
                name={`${name} as printed`}
                min={0.001}
                value={outline.typed[name] ?? facts.find((f) => f.name === name)?.value ?? 0}
                onCommit={(v) => type(name, v)}
              />
            ))}
            {Object.keys(outline.typed).length > 0 && (
              <Button size="compact-xs" variant="default" onClick={() => changeOutline(outline.id, 'Nothing printed', () => ({ typed: {} }))}>
                Forget them
              </Button>
            )}
          </Group>
        </LedgerEntry>
      )}
    </>
  );
}

function Fact({ fact, unit }: { fact: OutlineFact; unit: LengthUnit }): ReactNode {
  const { name, meaning, value, from } = fact;
  const said =
    fact.unit === 'mm'
      ? formatLength(value, unit)
      : fact.unit === 'deg'
        ? `${roundTo(value, 3)}°`
        : fact.unit === 'mm2'
          ? `${roundTo(value, 2)} mm²`
          : `${roundTo(value / 1000, 3)} cm³`;
  return (
    <>
      <dt title={from}>
        {name && <span className="fact-name">{name}</span>} {meaning}
      </dt>
      <dd>{said}</dd>
    </>
  );
}
