import { Button, FileButton, Group, SegmentedControl, Select } from '@mantine/core';
import { Link } from 'react-router';
import { facingOut, frontOf, type PathPiece, turnedRound, withFrontAt } from '#core/outline';
import { type MachineRecord, OTHER_ZEROS, type OutlineRecord, SPINDLES, type Support, type TrialRecord } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { useAppSelector } from '../../app/store.ts';
import { NumberField } from '../../common/number-field.tsx';
import { changeTrial, openSection, takeSection } from '../../store/trial-actions.ts';

interface Props {
  readonly trial: TrialRecord;
  readonly machine: MachineRecord;
  readonly unit: LengthUnit;
}

/** What is tried: the set-up, where the part's zero is, what it is turned from and what is to come out. */
export function JobPanel({ trial, machine, unit }: Props) {
  const records = useAppSelector((s) => s.library.records);
  const setUps = Object.values(records).filter((r) => r.kind === 'set-up');
  return (
    <section className="tried-panel" aria-label="What is tried">
      <Select
        size="xs"
        label="set-up"
        allowDeselect={false}
        data={setUps.map((r) => ({ value: r.id, label: r.name }))}
        value={trial.setUpId}
        onChange={(v) => v && changeTrial(trial.id, 'Set-up', { setUpId: v })}
      />
      <Link to={`/carrier/${trial.setUpId}`} className="soft-link">
        Open it in Carrier
      </Link>
      <SegmentedControl
        size="xs"
        aria-label="Spindle that turns it"
        data={SPINDLES.map((s) => ({ value: s, label: `${s} spindle`, disabled: !machine.spindles[s] }))}
        value={trial.spindle}
        onChange={(v) => changeTrial(trial.id, 'Spindle', { spindle: v === 'counter' ? 'counter' : 'main' })}
      />
      <div className="edge-numbers two">
        <NumberField
          kind="length"
          unit={unit}
          label="zero, from the jaws"
          value={trial.zero}
          min={-1000}
          max={5000}
          onCommit={(v) => changeTrial(trial.id, 'Zero of the part', { zero: v })}
        />
        <NumberField
          kind="length"
          unit={unit}
          label="told when nearer than"
          value={trial.clearance}
          min={0}
          max={100}
          onCommit={(v) => changeTrial(trial.id, 'Clearance', { clearance: v })}
        />
        <NumberField
          kind="length"
          unit={unit}
          label="may cut into the part by"
          value={trial.tolerance}
          min={0.0005}
          max={5}
          onCommit={(v) => changeTrial(trial.id, 'Tolerance', { tolerance: v })}
        />
      </div>
      <ZeroChoice {...{ trial, unit }} />
      <SectionChoice {...{ trial, unit }} what="contour" title="What is to come out" none="Nothing is compared." />
      <SectionChoice {...{ trial, unit }} what="stock" title="What it is turned from" none="The blank of the set-up." />
      <SupportChoice {...{ trial, unit }} />
    </section>
  );
}

// Zeros that a program may use beside the part's own.
function ZeroChoice({ trial, unit }: { trial: TrialRecord; unit: LengthUnit }) {
  const { zeros } = trial;
  const said = OTHER_ZEROS.filter((z) => zeros[z] !== undefined);
  const set = (label: string, next: TrialRecord['zeros']) => changeTrial(trial.id, label, { zeros: next });
  return (
    <fieldset className="machine-block" aria-label="Other zeros of the program">
      <legend>Other zeros of the program</legend>
      {said.map((z) => (
        <Group key={z} gap={6} align="end" wrap="nowrap">
          <NumberField
            kind="length"
            unit={unit}
            label={`${z} at Z of the part`}
            value={zeros[z] ?? 0}
            min={-5000}
            max={5000}
            onCommit={(v) => set(`Zero ${z}`, { ...zeros, [z]: v })}
          />
          <Button
            size="compact-xs"
            variant="subtle"
            color="gray"
            aria-label={`Without ${z}`}
            onClick={() => set(`No zero ${z}`, Object.fromEntries(Object.entries(zeros).filter(([k]) => k !== z)))}
          >
            Remove
          </Button>
        </Group>
      ))}
      {said.length < OTHER_ZEROS.length && (
        <Select
          size="xs"
          aria-label="Say another zero"
          placeholder={said.length === 0 ? 'G54 is the part’s own; say another' : 'say another'}
          value={null}
          data={OTHER_ZEROS.filter((z) => zeros[z] === undefined)}
          onChange={(v) => v && set(`Zero ${v}`, { ...zeros, [v]: 0 })}
        />
      )}
    </fieldset>
  );
}

const SUPPORTS: Readonly<Record<Support['kind'], Support>> = {
  tailstock: { kind: 'tailstock', hole: 6, body: 30, at: 0 },
  'steady rest': { kind: 'steady rest', body: 120, width: 20, at: -20 },
};
const SUPPORT_NAMES = ['tailstock', 'steady rest'] as const;
const NOTHING = 'nothing';

function SupportChoice({ trial, unit }: { trial: TrialRecord; unit: LengthUnit }) {
  const { support } = trial;
  const field = (label: string, value: number, min: number, max: number, changed: (v: number) => Support) => (
    <NumberField
      kind="length"
      unit={unit}
      label={label}
      value={value}
      min={min}
      max={max}
      onCommit={(v) => changeTrial(trial.id, 'What holds its front', { support: changed(v) })}
    />
  );
  return (
    <fieldset className="machine-block" aria-label="What holds its front">
      <legend>What holds its front</legend>
      <SegmentedControl
        size="xs"
        aria-label="At its front"
        data={[NOTHING, ...SUPPORT_NAMES]}
        value={support?.kind ?? NOTHING}
        onChange={(v) => {
          const kind = SUPPORT_NAMES.find((k) => k === v);
          changeTrial(trial.id, kind ? `A ${kind}` : 'Nothing at its front', { support: kind ? SUPPORTS[kind] : null });
        }}
      />
      {support?.kind === 'tailstock' && (
        <div className="edge-numbers two">
          {field('centre hole, diameter', support.hole, 0.1, 500, (hole) => ({ ...support, hole }))}
          {field('its rim at Z', support.at, -1000, 1000, (at) => ({ ...support, at }))}
          {field('quill, diameter', support.body, 0.1, 1000, (body) => ({ ...support, body }))}
        </div>
      )}
      {support?.kind === 'steady rest' && (
        <div className="edge-numbers three">
          {field('its front at Z', support.at, -1000, 1000, (at) => ({ ...support, at }))}
          {field('width', support.width, 0.1, 1000, (width) => ({ ...support, width }))}
          {field('outside, diameter', support.body, 0.1, 2000, (body) => ({ ...support, body }))}
        </div>
      )}
    </fieldset>
  );
}

interface ChoiceProps {
  readonly trial: TrialRecord;
  readonly what: 'contour' | 'stock';
  readonly title: string;
  readonly none: string;
  readonly unit: LengthUnit;
}

function SectionChoice({ trial, what, title, none, unit }: ChoiceProps) {
  const records = useAppSelector((s) => s.library.records);
  const outlines = Object.values(records).filter((r): r is OutlineRecord => r.kind === 'outline' && r.purpose !== 'insert' && r.profile.length > 0);
  const profile = trial[what];
  const ends = profile?.flat().map((p: PathPiece) => p.from);
  return (
    <fieldset className="machine-block" aria-label={title}>
      <legend>{title}</legend>
      {ends && ends.length > 0 ? (
        <p>
          {ends.length} corners, Z {formatLength(Math.min(...ends.map((p) => p[0])), unit)} to {formatLength(Math.max(...ends.map((p) => p[0])), unit)}, up to ⌀{' '}
          {formatLength(2 * Math.max(...ends.map((p) => p[1])), unit)}
        </p>
      ) : (
        <p className="soft">{none}</p>
      )}
      <Group gap={6}>
        <FileButton
          accept=".json,.dxf,.svg,.step,.stp,.stl,.obj,.3mf,.glb"
          onChange={(file) => file && void openSection(trial.id, what, file)}
          inputProps={{ 'aria-label': `${title}: file` }}
        >
          {(props) => (
            <Button size="compact-xs" variant="default" {...props}>
              From a file
            </Button>
          )}
        </FileButton>
        {profile && (
          <Button
            size="compact-xs"
            variant="default"
            onClick={() => changeTrial(trial.id, `Turned the ${what} round`, { [what]: turnedRound(profile) })}
            title="Its other end in front, at Z 0"
          >
            Turn round
          </Button>
        )}
        {profile && (
          <Button size="compact-xs" variant="default" onClick={() => changeTrial(trial.id, `No ${what}`, { [what]: null })}>
            None
          </Button>
        )}
      </Group>
      {profile && (
        <NumberField
          kind="length"
          unit={unit}
          label="front at Z"
          value={frontOf(profile)}
          min={-1000}
          max={1000}
          onCommit={(v) => changeTrial(trial.id, `Front of the ${what}`, { [what]: withFrontAt(profile, v) })}
        />
      )}
      {outlines.length > 0 && (
        <Select
          size="xs"
          aria-label={`${title}: from an outline`}
          placeholder="from an outline of the Shelf"
          value={null}
          data={outlines.map((r) => ({ value: r.id, label: r.name }))}
          onChange={(v) => {
            const outline = outlines.find((o) => o.id === v);
            if (outline) takeSection(trial.id, what, facingOut(outline.profile), outline.name);
          }}
        />
      )}
    </fieldset>
  );
}
