import { Button, Group, SegmentedControl, Select, Table } from '@mantine/core';
import { lazy, useEffect, useState } from 'react';
import { ENCLOSURE_SLACK } from '#core/math';
import type { BoreChoice } from '#core/outline';
import {
  bodiesFor,
  type ComponentRecord,
  choiceOf,
  DEFAULT_CHOICE,
  DEFAULT_TOLERANCE,
  freshGeometry,
  type GeometryChoice,
  type GeometryPartRecord,
  type GeometryTarget,
  spinsInWork,
} from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { sayBytes } from '../../../common/say-bytes.ts';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import { WhenOpen } from '../../../ledger/when-open.tsx';
import { makeComponentGeometry, makeComponentGeometryWithin } from './make-component-geometry.ts';
import { forgetTried, stopTrying, tryAhead, tryGeometry, useTried } from './tried-geometry.ts';
import { WeightControls } from './weight-controls.tsx';

// The chart library comes when there is something to draw.
const GrowthChart = lazy(() => import('./growth-chart.tsx'));

const TITLES: Record<GeometryTarget, string> = { cutting: 'Cutting geometry', 'non-cutting': 'Holder geometry' };

const isSame = (a: GeometryChoice, b: GeometryChoice) => JSON.stringify(choiceOf(a)) === JSON.stringify(choiceOf(b));

// ms. Who opens the entry looks at it first.
const LOOK_MS = 600;

// What can be changed stands open: a tolerance may be dragged next.
function TryAhead({ record, target, choice }: { record: ComponentRecord; target: GeometryTarget; choice: GeometryChoice }) {
  useEffect(() => {
    const later = setTimeout(() => void tryAhead(record, target, choice), LOOK_MS);
    return () => clearTimeout(later);
    // biome-ignore lint: once for what was made
  }, []); // oxlint-disable-line react/exhaustive-deps
  return null;
}

/** Makes the light geometry of one target, and shows what it cost: triangles, size and growth, before and after. */
export function GeometryEntry({ record, target, unit }: { record: ComponentRecord; target: GeometryTarget; unit: LengthUnit }) {
  const kept = freshGeometry(record, target);
  // What is looked at while the tolerance is dragged stands in its place.
  const tried = useTried(record.id);
  const trying = tried?.target === target ? tried : undefined;
  const made = trying?.geometry ?? kept;
  const stale = !made && record.geometry.some((g) => g.target === target);
  const last = record.geometry.find((g) => g.target === target);
  const chosen = last ? choiceOf(last) : firstChoice(target);
  // What was changed here since it was made.
  const [edits, setEdits] = useState<Partial<GeometryChoice>>({});
  const choice: GeometryChoice = { ...chosen, ...edits };
  const { mode, tolerance, closeBelow, overrides, bores, bridge } = choice;
  const [busy, setBusy] = useState(false);
  // Nothing that was only tried is left behind.
  useEffect(() => forgetTried, []);
  if (bodiesFor(record, target).length === 0) return null;
  const edit = (change: Partial<GeometryChoice>) => setEdits({ ...edits, ...change });

  // A profile that was changed by hand belongs to the revolved envelope of these bodies alone.
  const asked = mode === 'revolved' ? choice : { ...choice, drawn: null };
  const make = async (making: Promise<boolean>) => {
    setBusy(true);
    try {
      if (await making) setEdits({});
    } finally {
      setBusy(false);
      forgetTried();
    }
  };

  // What is chosen now and not made yet.
  const changed = kept !== undefined && !isSame(choice, kept);
  const turns = mode === 'revolved' || (mode === 'auto' && spinsInWork(record)) || Object.values(overrides).includes('revolved');
  const inside = made !== undefined && made.growth.min < -ENCLOSURE_SLACK;
  const isOver = made !== undefined && made.growth.max > made.tolerance;
  const state = inside || (made && !made.closed) ? 'fail' : isOver || stale ? 'warn' : made ? 'set' : 'missing';
  const mm = (v: number) => formatLength(v, unit);
  return (
    <LedgerEntry
      title={TITLES[target]}
      state={state}
      waits={state === 'fail' || isOver || trying !== undefined}
      detail={made ? `within ${mm(made.growth.max)}` : stale ? 'out of date' : 'not made'}
      action={
        !made && (
          <Button
            size="compact-xs"
            variant="light"
            loading={busy}
            aria-label={`Make ${TITLES[target].toLowerCase()}`}
            onClick={() => void make(makeComponentGeometry(record, target, asked))}
          >
            Make
          </Button>
        )
      }
      value={made ? `${made.trianglesOut.toLocaleString('en')} tri` : undefined}
      note={
        trying?.making !== undefined
          ? `trying ${mm(trying.making)}${trying.geometry ? `; within ${mm(trying.geometry.tolerance)}${trying.isComing ? ' so far' : ''} growth is up to ${mm(trying.geometry.growth.max)}` : ' …'}`
          : made
            ? `${trying?.isComing ? 'so far: ' : ''}growth ${mm(made.growth.min)} to ${mm(made.growth.max)} · ${made.closed ? 'closed' : 'NOT closed'} · ${inside ? 'cuts into the tool' : 'never inside'}${isOver ? ' · over the tolerance' : ''}`
            : stale
              ? 'out of date: bodies, mount or source changed since'
              : 'not made yet'
      }
    >
      <SegmentedControl
        size="xs"
        fullWidth
        aria-label={`Kind of ${TITLES[target].toLowerCase()}`}
        data={target === 'cutting' ? ['exact', 'wrap'] : ['auto', 'exact', 'revolved', 'wrap']}
        value={mode}
        onChange={(m) => edit({ mode: m })}
      />
      <Group gap={6} wrap="nowrap" align="end">
        <NumberField
          kind="length"
          unit={unit}
          label="tolerance"
          aria-label={`Tolerance of ${TITLES[target].toLowerCase()}`}
          value={tolerance}
          min={0.001}
          max={5}
          onCommit={(v) => edit({ tolerance: v })}
          w={94}
        />
        {(mode === 'wrap' || mode === 'auto' || (turns && bores !== 'closed')) && (
          <NumberField
            kind="length"
            unit={unit}
            label="close holes up to"
            aria-label={`Openings closed in ${TITLES[target].toLowerCase()}`}
            value={closeBelow}
            min={0}
            max={200}
            onCommit={(v) => edit({ closeBelow: v })}
            w={116}
          />
        )}
        <Button
          size="xs"
          variant={kept && !changed ? 'default' : 'filled'}
          loading={busy}
          onClick={() => void make(makeComponentGeometry(record, target, asked))}
        >
          Make
        </Button>
      </Group>
      {kept && !changed && !kept.drawn && !busy && (
        <WhenOpen>
          <TryAhead key={kept.blob} record={record} target={target} choice={choiceOf(kept)} />
        </WhenOpen>
      )}
      <WeightControls
        name={TITLES[target].toLowerCase()}
        unit={unit}
        tolerance={tolerance}
        triangles={made?.trianglesOut}
        busy={busy}
        onDrag={(v) => {
          edit({ tolerance: v });
          const next = { ...asked, tolerance: v };
          // What is there need not be tried. A profile that was drawn does not follow a tolerance.
          if (kept && isSame(next, kept)) forgetTried();
          else if (!asked.drawn) tryGeometry(record, target, next);
        }}
        onLetGo={(v) => {
          const settled = stopTrying();
          // Back where it was, nothing is to be made.
          if (kept && !changed && v === kept.tolerance) forgetTried();
          else void make(settled.then(() => makeComponentGeometry(record, target, { ...asked, tolerance: v })));
        }}
        onBudget={(triangles) => void make(makeComponentGeometryWithin(record, target, asked, triangles))}
      />
      {turns && (
        <Group gap={6} wrap="nowrap" align="end">
          <Select
            size="xs"
            flex={1}
            label="bores"
            aria-label={`Bores of ${TITLES[target].toLowerCase()}`}
            data={BORE_WORDS}
            value={bores}
            allowDeselect={false}
            onChange={(b) => b && edit({ bores: b, drawn: null })}
          />
          <NumberField
            kind="length"
            unit={unit}
            label="bridge gaps up to"
            aria-label={`Gaps bridged in ${TITLES[target].toLowerCase()}`}
            value={bridge}
            min={0}
            max={200}
            onCommit={(v) => edit({ bridge: v, drawn: null })}
            w={116}
          />
        </Group>
      )}
      {chosen.drawn && mode === 'revolved' && (
        <Group justify="space-between" wrap="nowrap" gap={6}>
          <p className="ledger-hint">{choice.drawn ? 'Its profile was changed by hand.' : 'The computed profile comes back when it is made.'}</p>
          {choice.drawn && (
            <Button size="compact-xs" variant="default" style={{ flexShrink: 0 }} onClick={() => edit({ drawn: null })}>
              Take the computed one
            </Button>
          )}
        </Group>
      )}
      {mode === 'revolved' && !record.mount && <p className="ledger-hint">It turns about Z of the mount; without a mount about Z of the file.</p>}
      {made?.parts.map((p) => (
        <PartLine
          key={p.bodies.join()}
          record={record}
          part={p}
          overrides={overrides}
          onOverride={(body, m) => edit({ overrides: withOverride(overrides, body, m) })}
        />
      ))}
      {made && made.parts.length > 0 && (
        <WhenOpen>
          <GrowthChart parts={made.parts} unit={unit} />
        </WhenOpen>
      )}
      {made && (
        <Table className="before-after" withRowBorders={false} verticalSpacing={1} horizontalSpacing={4}>
          <Table.Thead>
            <Table.Tr>
              <Table.Td />
              <Table.Th>before</Table.Th>
              <Table.Th>after</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            <Row title="triangles" before={made.trianglesIn.toLocaleString('en')} after={made.trianglesOut.toLocaleString('en')} />
            {made.checkCost.before > 0 && (
              <Row
                title="collision check, steps"
                before={Math.round(made.checkCost.before).toLocaleString('en')}
                after={Math.round(made.checkCost.after).toLocaleString('en')}
              />
            )}
            <Row title="file" before={sayBytes(made.bytesIn)} after={sayBytes(made.bytesOut)} />
            <Row title="volume, mm³" before={Math.round(made.volumeIn).toLocaleString('en')} after={Math.round(made.volumeOut).toLocaleString('en')} />
          </Table.Tbody>
        </Table>
      )}
    </LedgerEntry>
  );
}

const firstChoice = (target: GeometryTarget): GeometryChoice => ({
  ...DEFAULT_CHOICE,
  mode: target === 'cutting' ? 'exact' : 'auto',
  tolerance: DEFAULT_TOLERANCE[target],
});

const BORE_WORDS: { value: BoreChoice; label: string }[] = [
  { value: 'closed', label: 'closed' },
  { value: 'open', label: 'open' },
  { value: 'work', label: 'open to the work' },
  { value: 'machine', label: 'open to the machine' },
];

type PartMode = GeometryPartRecord['mode'];

function withOverride(overrides: GeometryChoice['overrides'], body: string, mode: PartMode | null): GeometryChoice['overrides'] {
  const { [body]: _, ...rest } = overrides;
  return mode ? { ...rest, [body]: mode } : rest;
}

// What one part became and why, and what lies in it; one body may be made another way than the rest.
function PartLine({
  record,
  part,
  overrides,
  onOverride,
}: {
  record: ComponentRecord;
  part: GeometryPartRecord;
  overrides: GeometryChoice['overrides'];
  onOverride: (body: string, mode: PartMode | null) => void;
}) {
  const nameOf = (id: string) => record.bodies.find((b) => b.id === id)?.name ?? id;
  // Of several in one envelope those that a person put there can be taken out again.
  const others = [...(part.bodies.length > 1 ? part.bodies.filter((id) => overrides[id]) : []), ...part.inside];
  const choice = (id: string) => (
    <Select
      size="xs"
      w={104}
      style={{ flexShrink: 0 }}
      aria-label={`How ${nameOf(id)} is made`}
      data={['exact', 'wrap', 'revolved']}
      value={overrides[id] ?? null}
      placeholder="as the rest"
      clearable
      onChange={(m) => onOverride(id, m)}
    />
  );
  return (
    <div className="ledger-sub">
      <Group justify="space-between" wrap="nowrap" gap={6}>
        <span className="sub-name">{part.bodies.map(nameOf).join(', ')}</span>
        {part.bodies.length === 1 && choice(part.bodies[0])}
      </Group>
      <p className={`ledger-hint ${part.crossings > 0 ? 'warn' : ''}`}>
        {part.why}
        {part.crossings > 0 && `; it crosses itself in ${part.crossings} places`} · proven at {part.samples.toLocaleString('en')} points
      </p>
      {others.map((id) => (
        <Group key={id} justify="space-between" wrap="nowrap" gap={6} mt={4}>
          <span className="sub-name">
            {nameOf(id)}
            {part.inside.includes(id) && ': lies in it'}
          </span>
          {choice(id)}
        </Group>
      ))}
    </div>
  );
}

function Row({ title, before, after }: { title: string; before: string; after: string }) {
  return (
    <Table.Tr>
      <Table.Td>{title}</Table.Td>
      <Table.Td className="number">{before}</Table.Td>
      <Table.Td className="number">{after}</Table.Td>
    </Table.Tr>
  );
}
