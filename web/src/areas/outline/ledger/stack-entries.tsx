import { useMemo } from 'react';
import { ActionIcon, Button, Group, Menu, Select, Tooltip } from '@mantine/core';
import { IconArrowDown, IconArrowUp, IconCopy, IconLink, IconLinkOff, IconPlus, IconTrash } from '@tabler/icons-react';
import type { OutlineRecord } from '#core/records';
import { CONNECTION_STANDARDS, type ConnectionStandard, USUAL_SIZES } from '#core/standards';
import {
  copySegment,
  halfAngleDeg,
  insertSegment,
  moveSegment,
  removeSegment,
  type Segment,
  type SegmentKind,
  SEGMENT_KINDS,
  stackProfile,
  type Stack,
  withDiameter,
  withHalfAngle,
  withKind,
  withLength,
  withRadius,
  withShared,
} from '#core/stack';
import type { LengthUnit } from '#core/units';
import { newId } from '../../../common/new-id.ts';
import { LengthField } from '../../../common/length-field.tsx';
import { NumberField } from '../../../common/number-field.tsx';
import { SizeField } from '../../../common/size-field.tsx';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import { changeStack } from '../../../store/outline-actions.ts';

const KIND_WORDS: Readonly<Record<SegmentKind, string>> = {
  cylinder: 'cylinder',
  cone: 'cone',
  convex: 'convex arc',
  concave: 'concave arc',
  chamfer: 'chamfer',
  ball: 'ball end',
  groove: 'groove',
};

/** What a stack can stand under: those whose shape the standards give, and a mark for the polygon. */
const MOUNTS: readonly ConnectionStandard[] = ['HSK-A', 'SK', 'BT', 'VDI', 'PSC', 'cylindrical'];
const BORES: readonly ConnectionStandard[] = ['cylindrical', 'ER'];

/** A tool or holder by its numbers: connection, segments, bore; in the order from the machine to the work. */
export function StackEntries({ outline, stack, unit }: { outline: OutlineRecord; stack: Stack; unit: LengthUnit }) {
  const change = (label: string, next: (s: Stack) => Stack) => changeStack(outline.id, label, next);
  const segments = (label: string, next: (s: readonly Segment[]) => Segment[]) => change(label, (s) => ({ ...s, segments: next(s.segments) }));
  const { connection, bore } = stack;
  const made = useMemo(() => stackProfile(stack), [stack]);
  const without = made.ok ? made.value.without : '';
  return (
    <>
      <h3>Machine side</h3>
      <LedgerEntry
        title="Connection"
        state="set"
        waits={false}
        value={connection ? `${connection.standard} ${connection.size}` : 'none'}
        {...(connection && connection.standard !== 'cylindrical'
          ? { origin: { from: 'standard' as const, evidence: 'its shape by the standard’s tables' } }
          : {})}
      >
        <Group gap={6} wrap="nowrap" align="end">
          <Select
            size="xs"
            w={120}
            aria-label="Standard of the connection"
            data={['none', ...MOUNTS]}
            value={connection?.standard ?? 'none'}
            allowDeselect={false}
            onChange={(s) => s && change('Connection', (before) => ({ ...before, connection: connectionOf(s, before) }))}
          />
          {connection && (
            <SizeField
              label="Size of the connection"
              standard={connection.standard}
              size={connection.size}
              onCommit={(size) => change('Size of the connection', (s) => ({ ...s, connection: s.connection && { ...s.connection, size } }))}
            />
          )}
          {connection?.standard === 'cylindrical' && (
            <NumberField
              kind="length"
              unit={unit}
              aria-label="Length of the shank"
              w={96}
              min={0.01}
              value={connection.length}
              onCommit={(length) => change('Length of the shank', (s) => ({ ...s, connection: s.connection && { ...s.connection, length } }))}
            />
          )}
        </Group>
        {without && <p className="ledger-hint">Not drawn: {without}.</p>}
      </LedgerEntry>
      <h3>Segments, from the machine to the work</h3>
      {stack.segments.map((segment, i) => (
        <SegmentRow
          key={segment.id}
          segment={segment}
          index={i}
          count={stack.segments.length}
          unit={unit}
          change={(label, next) => segments(`Segment ${i + 1}: ${label}`, next)}
        />
      ))}
      <AddSegment
        label="Add a segment"
        onAdd={(kind) => segments(`Added a ${KIND_WORDS[kind]}`, (s) => insertSegment(s, s.length, kind, newId(), wide(stack)))}
      />
      {outline.purpose === 'holder' && (
        <>
          <h3>Work side</h3>
          <LedgerEntry title="Bore" state="set" value={bore ? `${bore.standard} ${bore.size}` : 'none'}>
            <Group gap={6} wrap="nowrap" align="end">
              <Select
                size="xs"
                w={120}
                aria-label="Standard of the bore"
                data={['none', ...BORES]}
                value={bore?.standard ?? 'none'}
                allowDeselect={false}
                onChange={(s) => s && change('Bore', (before) => ({ ...before, bore: boreOf(s, before) }))}
              />
              {bore && (
                <SizeField
                  label="Size of the bore"
                  standard={bore.standard}
                  size={bore.size}
                  onCommit={(size) => change('Size of the bore', (s) => ({ ...s, bore: s.bore && { ...s.bore, size } }))}
                />
              )}
              {bore?.standard === 'cylindrical' && (
                <NumberField
                  kind="length"
                  unit={unit}
                  aria-label="Depth of the bore"
                  w={96}
                  min={0.01}
                  value={bore.depth}
                  onCommit={(depth) => change('Depth of the bore', (s) => ({ ...s, bore: s.bore && { ...s.bore, depth } }))}
                />
              )}
            </Group>
          </LedgerEntry>
        </>
      )}
    </>
  );
}

const wide = (stack: Stack): number => (stack.connection?.standard === 'cylindrical' ? Number(stack.connection.size) : 40);

function connectionOf(standard: string, { connection }: Stack): Stack['connection'] {
  const known = CONNECTION_STANDARDS.find((s) => s === standard);
  if (!known) return null;
  const sizes = USUAL_SIZES[known];
  const size = connection && sizes.includes(connection.size) ? connection.size : sizes[Math.min(3, sizes.length - 1)];
  return { standard: known, size, length: connection?.length || 2.5 * Number(size) };
}

function boreOf(standard: string, { segments, bore }: Stack): Stack['bore'] {
  const known = CONNECTION_STANDARDS.find((s) => s === standard);
  if (!known) return null;
  const face = segments.at(-1)?.to ?? 40;
  const sizes = USUAL_SIZES[known].filter((s) => Number(s) < 0.75 * face);
  const size = sizes.at(-1) ?? USUAL_SIZES[known][0];
  return {
    standard: known,
    size,
    depth:
      bore?.depth ||
      Math.min(
        2.5 * Number(size),
        segments.reduce((l, s) => l + s.length, 0),
      ),
  };
}

interface RowProps {
  readonly segment: Segment;
  readonly index: number;
  readonly count: number;
  readonly unit: LengthUnit;
  readonly change: (label: string, next: (s: readonly Segment[]) => Segment[]) => void;
}

function SegmentRow({ segment, index, count, unit, change }: RowProps) {
  const { kind, length, from, to, radius, shared } = segment;
  const name = `segment ${index + 1}`;
  const isEven = kind === 'cylinder' || kind === 'groove';
  const isArc = kind === 'convex' || kind === 'concave';
  return (
    <section className="segment" aria-label={`Segment ${index + 1}`}>
      <div className="segment-line">
        <Select
          size="xs"
          w={122}
          aria-label={`Kind of ${name}`}
          data={SEGMENT_KINDS.map((value) => ({ value, label: KIND_WORDS[value] }))}
          value={kind}
          allowDeselect={false}
          onChange={(k) => k && k !== kind && change(KIND_WORDS[k], (s) => withKind(s, index, k))}
        />
        {index > 0 && (
          <Tooltip
            label={shared ? 'Begins as wide as the one before ends; press to set it free' : 'Has its own first diameter; press to tie it to the one before'}
          >
            <ActionIcon
              variant="subtle"
              color={shared ? 'verdigris' : 'gray'}
              aria-label={shared ? `Set ${name} free` : `Tie ${name} to the one before`}
              aria-pressed={shared}
              onClick={() => change(shared ? 'set free' : 'tied', (s) => withShared(s, index, !shared))}
            >
              {shared ? <IconLink size={16} /> : <IconLinkOff size={16} />}
            </ActionIcon>
          </Tooltip>
        )}
        <span className="segment-tools">
          <AddSegment
            label={`Insert before ${name}`}
            isSmall
            onAdd={(k) => change(`${KIND_WORDS[k]} before`, (s) => insertSegment(s, index, k, newId(), from || 40))}
          />
          <Small
            label={`Move ${name} up`}
            disabled={index === 0}
            icon={<IconArrowUp size={15} />}
            onClick={() => change('moved up', (s) => moveSegment(s, index, index - 1))}
          />
          <Small
            label={`Move ${name} down`}
            disabled={index === count - 1}
            icon={<IconArrowDown size={15} />}
            onClick={() => change('moved down', (s) => moveSegment(s, index, index + 1))}
          />
          <Small label={`Copy ${name}`} icon={<IconCopy size={15} />} onClick={() => change('copied', (s) => copySegment(s, index, newId()))} />
          <Small label={`Remove ${name}`} icon={<IconTrash size={15} />} onClick={() => change('removed', (s) => removeSegment(s, index))} />
        </span>
      </div>
      <div className="segment-numbers">
        <LengthField
          label="Length"
          name={`Length of ${name}`}
          w="100%"
          max={2000}
          unit={unit}
          value={length}
          min={0.001}
          onCommit={(v) => change('length', (s) => withLength(s, index, v))}
        />
        {isEven || kind === 'ball' ? (
          <LengthField
            label="⌀"
            name={`⌀ of ${name}`}
            w="100%"
            max={2000}
            unit={unit}
            value={from}
            min={0.001}
            onCommit={(v) => change('diameter', (s) => withDiameter(s, index, 'from', v))}
          />
        ) : (
          <>
            <LengthField
              label="⌀ from"
              name={`⌀ from of ${name}`}
              w="100%"
              max={2000}
              unit={unit}
              value={from}
              onCommit={(v) => change('first diameter', (s) => withDiameter(s, index, 'from', v))}
            />
            <LengthField
              label="⌀ to"
              name={`⌀ to of ${name}`}
              w="100%"
              max={2000}
              unit={unit}
              value={to}
              onCommit={(v) => change('last diameter', (s) => withDiameter(s, index, 'to', v))}
            />
          </>
        )}
        {isArc && (
          <LengthField
            label="Radius"
            name={`Radius of ${name}`}
            w="100%"
            max={2000}
            unit={unit}
            value={radius}
            min={0.001}
            onCommit={(v) => change('radius', (s) => withRadius(s, index, v))}
          />
        )}
        {(kind === 'cone' || kind === 'chamfer') && (
          <NumberField
            kind="angle"
            label="Half angle"
            aria-label={`Half angle of ${name}`}
            min={-89}
            max={89}
            value={halfAngleDeg(segment)}
            onCommit={(deg) => change('half angle', (s) => withHalfAngle(s, index, deg))}
          />
        )}
      </div>
    </section>
  );
}

const Small = ({ label, icon, onClick, disabled = false }: { label: string; icon: React.ReactNode; onClick: () => void; disabled?: boolean }) => (
  <ActionIcon variant="subtle" color="gray" size="sm" aria-label={label} title={label} disabled={disabled} onClick={onClick}>
    {icon}
  </ActionIcon>
);

function AddSegment({ label, onAdd, isSmall = false }: { label: string; onAdd: (kind: SegmentKind) => void; isSmall?: boolean }) {
  return (
    <Menu position="bottom-start">
      <Menu.Target>
        {isSmall ? (
          <ActionIcon variant="subtle" color="gray" size="sm" aria-label={label} title={label}>
            <IconPlus size={15} />
          </ActionIcon>
        ) : (
          <Button size="compact-xs" variant="default" leftSection={<IconPlus size={14} />} mt={8}>
            {label}
          </Button>
        )}
      </Menu.Target>
      <Menu.Dropdown>
        {SEGMENT_KINDS.map((kind) => (
          <Menu.Item key={kind} onClick={() => onAdd(kind)}>
            {KIND_WORDS[kind]}
          </Menu.Item>
        ))}
      </Menu.Dropdown>
    </Menu>
  );
}
