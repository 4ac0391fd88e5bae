import { Button, Collapse, Group, Select } from '@mantine/core';
import { useState } from 'react';
import { frameFromWorld, move, type Vec3, worldFromFrame } from '#core/math';
import { type ComponentRecord, mountFrameOf, type Tip, virtualTipOf } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { NumberField } from '../../../common/number-field.tsx';
import { LedgerEntry, sayOrigin } from '../../../ledger/ledger-entry.tsx';
import { addTypedTip, editTip, removeTip, typedOrigin } from '../bench-actions.ts';
import { ArmButton, EditToggle, type LedgerProps, offerFor } from '../ledger/entry-parts.tsx';

const CORNERS = ['+X +Z', '+X -Z', '-X -Z', '-X +Z', '+X', '-X', '+Z', '-Z', 'none'] as const;
const cornerText = ({ x, z }: Tip['corner']): string =>
  [x === 0 ? '' : x > 0 ? '+X' : '-X', z === 0 ? '' : z > 0 ? '+Z' : '-Z'].filter(Boolean).join(' ') || 'none';
const cornerOfText = (text: string): Tip['corner'] => ({
  x: text.includes('+X') ? 1 : text.includes('-X') ? -1 : 0,
  z: text.includes('+Z') ? 1 : text.includes('-Z') ? -1 : 0,
});

const RUNS: NonNullable<Tip['runs']>[] = (['M3', 'M4'] as const).flatMap((sense) =>
  (['towards the chuck', 'away from it'] as const).map((feed) => ({ sense, feed })),
);
const sayRuns = ({ sense, feed }: NonNullable<Tip['runs']>): string => `${sense}, ${feed}`;

/** The cutting corners of a component. */
export function TipsEntry(props: LedgerProps) {
  const { record, unit, arm, onArm } = props;
  const [open, setOpen] = useState<string | null>(null);
  const mount = mountFrameOf(record);
  const mountFromFile = frameFromWorld(mount);
  const needsTip = record.bodies.some((b) => b.role === 'cutting');
  const mm = (v: number) => formatLength(v, unit);
  return (
    <LedgerEntry
      title="Tip"
      state={props.mistakes.some((m) => m.at === 'tip') ? 'fail' : record.tips.length === 0 && needsTip ? 'missing' : 'set'}
      waits={(record.tips.length === 0 && needsTip) || props.mistakes.some((m) => m.at === 'tip') || arm === 'tip' || props.offers.some((o) => o.key === 'tip')}
      value={record.tips[0] ? `RE ${mm(record.tips[0].noseRadius)}` : 'none'}
      origin={record.tips[0]?.origin}
      note={record.tips[0] ? sayOrigin(record.tips[0].origin) : 'pick the rounded edge of the cutting corner'}
    >
      {record.tips.map((tip) => {
        const p = move(mountFromFile, virtualTipOf(tip, mount));
        const off = props.mistakes.some((m) => m.code === 'tip-off-plane' && m.place === tip.noseCentre);
        return (
          <div key={tip.id} className="ledger-sub">
            <Group justify="space-between" wrap="nowrap" gap={4}>
              <span className="sub-name">{tip.name}</span>
              <Group gap={0} wrap="nowrap">
                <EditToggle what={tip.name} open={open === tip.id} onToggle={() => setOpen(open === tip.id ? null : tip.id)} />
                <Button size="compact-xs" variant="subtle" color="gray" aria-label={`Remove ${tip.name}`} onClick={() => removeTip(record.id, tip.id)}>
                  Remove
                </Button>
              </Group>
            </Group>
            {record.mount && (
              <dl className="facts">
                <dt>LF</dt>
                <dd>{mm(p[2])}</dd>
                <dt>WF</dt>
                <dd>{mm(p[0])}</dd>
                <dt>centre height</dt>
                <dd className={off ? 'warn' : ''}>{mm(p[1])}</dd>
              </dl>
            )}
            <Collapse expanded={open === tip.id}>
              <TipEditor record={record} tip={tip} unit={unit} />
            </Collapse>
          </div>
        );
      })}
      {offerFor(props, 'tip')}
      <Group gap={6}>
        <ArmButton what="tip" arm={arm} onArm={onArm} label={record.tips.length > 0 ? 'Pick another' : 'Pick on the model'} />
        <Button size="compact-xs" variant="subtle" color="gray" onClick={() => addTypedTip(record.id)}>
          Type it
        </Button>
      </Group>
    </LedgerEntry>
  );
}

function TipEditor({ record, tip, unit }: { record: ComponentRecord; tip: Tip; unit: LengthUnit }) {
  const mount = mountFrameOf(record);
  const c = move(frameFromWorld(mount), tip.noseCentre);
  const setCentre = (k: number, v: number) => {
    const next = c.map((old, i) => (i === k ? v : old)) as unknown as Vec3;
    editTip(record.id, tip.id, 'Nose centre', { noseCentre: move(worldFromFrame(mount), next), origin: typedOrigin });
  };
  return (
    <div className="frame-editor">
      <div className="triple">
        {[0, 1, 2].map((k) => (
          <NumberField key={k} kind="length" unit={unit} label={`centre ${'XYZ'[k]}`} value={c[k]} onCommit={(v) => setCentre(k, v)} />
        ))}
      </div>
      <Group gap={6} wrap="nowrap" align="end">
        <NumberField
          kind="length"
          unit={unit}
          label="nose radius"
          min={0}
          max={500}
          value={tip.noseRadius}
          onCommit={(noseRadius) => editTip(record.id, tip.id, 'Nose radius', { noseRadius, origin: typedOrigin })}
        />
        <Select
          size="xs"
          label="corner points to"
          data={[...CORNERS]}
          value={cornerText(tip.corner)}
          allowDeselect={false}
          onChange={(t) => t && editTip(record.id, tip.id, 'Corner', { corner: cornerOfText(t), towards: undefined })}
        />
      </Group>
      <Select
        size="xs"
        label="runs with"
        data={RUNS.map(sayRuns)}
        value={tip.runs ? sayRuns(tip.runs) : null}
        placeholder="not said"
        clearable
        onChange={(t) => editTip(record.id, tip.id, t ? `Runs with ${t}` : 'Runs with: not said', { runs: RUNS.find((r) => sayRuns(r) === t) })}
      />
      <Select
        size="xs"
        label="programmed point"
        data={['virtual tip', 'nose centre']}
        value={tip.programmedPoint}
        allowDeselect={false}
        onChange={(p) => p && editTip(record.id, tip.id, `Programmed point: ${p}`, { programmedPoint: p })}
      />
    </div>
  );
}
