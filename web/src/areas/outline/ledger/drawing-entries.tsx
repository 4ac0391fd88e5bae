import { Button, Checkbox, Group, SegmentedControl, Select } from '@mantine/core';
import type { DrawingChoice, OutlineRecord } from '#core/records';
import { roundTo } from '#core/math';
import { formatLength, type LengthUnit } from '#core/units';
import { LengthField } from '../../../common/length-field.tsx';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';
import type { ReadSheet } from '../../../workers/geometry.worker.ts';
import { chooseReading } from '../../../store/outline-actions.ts';

/** What is wanted of the sheet: a pick for one of these. */
export type Wanted = 'axis' | 'outline' | 'scale' | 'check' | null;

interface Props {
  readonly outline: OutlineRecord;
  readonly way: Extract<OutlineRecord['way'], { kind: 'drawing' }>;
  readonly under: ReadSheet | undefined;
  readonly unit: LengthUnit;
  readonly wanted: Wanted;
  readonly onWant: (wanted: Wanted) => void;
  /** The step that is lit up on the sheet. */
  readonly lit: string | null;
  readonly onLight: (code: string | null) => void;
}

const UNITS = [
  { value: 'file', label: 'as found' },
  { value: 'mm', label: 'mm' },
  { value: 'inch', label: 'inch' },
];

/** How a drawing was read, step by step, and what can be said otherwise. */
export function DrawingEntries({ outline, way, under, unit, wanted, onWant, lit, onLight }: Props) {
  const { choice, read } = way;
  const choose = (label: string, change: Partial<DrawingChoice>) => void chooseReading(outline.id, label, change);
  const layers = read?.layers ?? [];
  const used = layers.filter((l) => l.used);
  const isPicture = way.format === 'png' || way.format === 'jpg';
  const form = outline.purpose === 'insert' ? 'flat' : 'revolved';
  const warnings = read?.warnings ?? [];
  const open = under?.issues.find((i) => i.code === 'outline.open');
  const gap = open && outline.profile.length === 0 && Number(open.values.gap) <= 100 ? Number(open.values.gap) : undefined;
  return (
    <>
      <h3>Drawing</h3>
      {!isPicture && (
        <LedgerEntry
          title="Unit"
          state={choice.unit === null && warnings.some((w) => w.includes('unit')) ? 'warn' : 'set'}
          value={read?.unit ?? '–'}
          origin={{ from: choice.unit === null ? 'read' : 'typed', evidence: '' }}
          note={read ? `1 in the file is ${roundTo(read.unitScale, 6)} mm` : undefined}
        >
          <SegmentedControl
            size="xs"
            aria-label="Unit of the drawing"
            data={UNITS}
            value={choice.unit ?? 'file'}
            onChange={(u) => choose(`Unit: ${u}`, { unit: u === 'file' ? null : (u as 'mm' | 'inch') })}
          />
        </LedgerEntry>
      )}
      {layers.length > 1 && (
        <LedgerEntry
          title="Layers"
          state="set"
          value={`${used.length} of ${layers.length}`}
          origin={{ from: choice.layers ? 'picked' : 'read', evidence: '' }}
          note={choice.layers ? undefined : 'notes, frames and what is switched off are left out by name and content'}
        >
          {layers
            .filter((l) => l.entities > 0)
            .map((l) => (
              <Checkbox
                key={l.name}
                size="xs"
                label={`${l.name} · ${l.entities}${l.isHidden ? ' · switched off' : ''}`}
                checked={l.used}
                onChange={(e) => {
                  const names = layers.filter((o) => (o.name === l.name ? e.currentTarget.checked : o.used)).map((o) => o.name);
                  if (names.length > 0) choose(`Layers: ${names.join(', ')}`.slice(0, 120), { layers: names });
                }}
              />
            ))}
          {choice.layers && (
            <Button size="compact-xs" variant="default" onClick={() => choose('Layers as found', { layers: null })}>
              As found
            </Button>
          )}
        </LedgerEntry>
      )}
      {isPicture && <ScaleEntry {...{ outline, way, unit, wanted, onWant }} />}
      <LedgerEntry
        title="How it was read"
        state={outline.fault !== null && (!isPicture || choice.scale) ? 'fail' : warnings.length > 0 ? 'warn' : 'set'}
        waits={(outline.fault !== null && (!isPicture || choice.scale !== null)) || warnings.length > 0}
        value={read ? `${read.steps.length} steps` : 'no outline'}
      >
        {outline.fault !== null && <p className="ledger-hint warn">{outline.fault}</p>}
        {gap !== undefined && (
          <Button
            size="compact-xs"
            style={{ alignSelf: 'flex-start' }}
            onClick={() => choose(`Bridged a gap of ${formatLength(gap, unit)}`, { bridge: roundTo(gap + 0.001, 3) })}
          >
            Bridge it
          </Button>
        )}
        {warnings.map((w) => (
          <p key={w} className="ledger-hint warn">
            {w}
          </p>
        ))}
        <ol className="read-steps">
          {(read?.steps ?? []).map((s) => (
            <li key={s.code + s.message}>
              {under?.ghost.lit[s.code] ? (
                <button
                  type="button"
                  className={`step-shown ${lit === s.code ? 'lit' : ''}`}
                  aria-pressed={lit === s.code}
                  title="Show it on the sheet"
                  onClick={() => onLight(lit === s.code ? null : s.code)}
                >
                  {s.message}
                </button>
              ) : (
                s.message
              )}
              {s.code === 'bridged' && <TextButton onClick={() => choose('Gaps left open', { bridge: 0 })}>leave them open</TextButton>}
              {s.code === 'axis' && <TextButton onClick={() => onWant('axis')}>another axis</TextButton>}
              {s.code === 'tip' && <TextButton onClick={() => choose('Turned end for end', { flip: !choice.flip })}>the other end</TextButton>}
              {s.code === 'other views' && <TextButton onClick={() => onWant('outline')}>another one</TextButton>}
            </li>
          ))}
        </ol>
        <Group gap={6} align="end">
          <LengthField
            unit={unit}
            label="Bridge gaps to"
            w={104}
            min={0}
            max={100}
            value={choice.bridge ?? 0.2}
            onCommit={(bridge) => choose('Gaps to bridge', { bridge })}
          />
          <LengthField
            unit={unit}
            label="Fit curves within"
            w={116}
            min={0.0001}
            max={10}
            value={choice.tolerance ?? (isPicture ? 0.4 * (read?.unitScale ?? 0.1) : 0.005)}
            onCommit={(tolerance) => choose('Fit of curves', { tolerance })}
          />
        </Group>
        <Group gap={6}>
          <Button size="compact-xs" variant={wanted === 'axis' ? 'filled' : 'default'} onClick={() => onWant(wanted === 'axis' ? null : 'axis')}>
            Pick the axis
          </Button>
          <Button size="compact-xs" variant={wanted === 'outline' ? 'filled' : 'default'} onClick={() => onWant(wanted === 'outline' ? null : 'outline')}>
            Pick the outline
          </Button>
          {(choice.axis || choice.at) && (
            <Button size="compact-xs" variant="default" onClick={() => choose('Axis and outline as found', { axis: null, at: null })}>
              As found
            </Button>
          )}
        </Group>
      </LedgerEntry>
      <LedgerEntry title="Read as" state="set" value={form === 'flat' ? 'flat' : 'turned'} origin={{ from: choice.form ? 'picked' : 'read', evidence: '' }}>
        <Select
          size="xs"
          w={170}
          aria-label="What it is read as"
          allowDeselect={false}
          data={[
            { value: 'found', label: 'as found' },
            { value: 'revolved', label: 'turned about an axis' },
            { value: 'flat', label: 'flat, seen from above' },
          ]}
          value={choice.form ?? 'found'}
          onChange={(f) => f && choose('Read as', { form: f === 'found' ? null : f })}
        />
      </LedgerEntry>
    </>
  );
}

const TextButton = ({ onClick, children }: { onClick: () => void; children: string }) => (
  <>
    {' '}
    <button type="button" className="text-button" onClick={onClick}>
      {children}
    </button>
  </>
);

// How large a picture is: two points in it and what lies between them.
function ScaleEntry({ outline, way, unit, wanted, onWant }: Pick<Props, 'outline' | 'way' | 'unit' | 'wanted' | 'onWant'>) {
  const { scale } = way.choice;
  const pixels = scale && Math.hypot(scale.to[0] - scale.from[0], scale.to[1] - scale.from[1]);
  return (
    <LedgerEntry
      title="Scale"
      state={scale ? 'set' : 'missing'}
      value={scale && pixels ? `${roundTo(scale.mm / pixels, 5)} mm a pixel` : 'not known yet'}
      {...(scale ? { origin: { from: 'picked' as const, evidence: 'two points and the distance between them' } } : {})}
    >
      <p className="ledger-hint">Mark two points of the picture whose distance you know, as far apart as there are.</p>
      <Group gap={6} align="end">
        <Button size="compact-xs" variant={wanted === 'scale' || scale ? 'default' : 'filled'} onClick={() => onWant(wanted === 'scale' ? null : 'scale')}>
          {wanted === 'scale' ? 'Leave it' : 'Mark two points'}
        </Button>
        {scale && (
          <LengthField
            unit={unit}
            label="Between them"
            w={110}
            min={0.001}
            value={scale.mm}
            onCommit={(mm) => void chooseReading(outline.id, 'Distance of the two points', { scale: { ...scale, mm } })}
          />
        )}
        {scale && (
          <Button size="compact-xs" variant={wanted === 'check' ? 'filled' : 'default'} onClick={() => onWant(wanted === 'check' ? null : 'check')}>
            Check with another pair
          </Button>
        )}
      </Group>
    </LedgerEntry>
  );
}
