import { Button, Group } from '@mantine/core';
import { useState } from 'react';
import { ENCLOSURE_SLACK } from '#core/math';
import { type DrawingLayer, writeDxf, writeSvg } from '#core/outline';
import { type ComponentRecord, freshPlan, type PlanRecord, safeFileName, spinsInWork } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { runShown } from '../../../app/jobs.tsx';
import { showDone } from '../../../app/notify.tsx';
import { changeComponent } from '../../../app/store.ts';
import { NumberField } from '../../../common/number-field.tsx';
import { saveFile } from '../../../common/save-file.ts';
import { sourceBytes } from '../../../store/source-bytes.ts';
import { readLimitSeconds } from '../../../workers/geometry-client.ts';
import { LedgerEntry } from '../../../ledger/ledger-entry.tsx';

const DEFAULT_TOLERANCE = 0.05;
const WORDS = { cutting: 'cutting part', 'non-cutting': 'holder' } as const;
const COLOURS = { cutting: '#b4173f', 'non-cutting': '#1c766c' } as const;

/** The outlines of a tool that stands still, in its turning plane: made, shown in the section strip, and saved as drawings. */
export function PlanEntry({ record, unit }: { record: ComponentRecord; unit: LengthUnit }) {
  const plan = freshPlan(record);
  const [tolerance, setTolerance] = useState(record.plan?.tolerance ?? DEFAULT_TOLERANCE);
  const [busy, setBusy] = useState(false);
  // What spins is told by its profile, and without a mount there is no turning plane.
  if (!record.mount || spinsInWork(record) || record.componentKind === 'station block') return null;

  const make = async () => {
    setBusy(true);
    try {
      const bytes = await sourceBytes(record);
      if (!bytes) return;
      const made = await runShown<PlanRecord>(
        `Outlining ${record.name}`,
        { job: 'outlining', limitSeconds: 120 + readLimitSeconds(bytes.length) },
        (remote, progress) => remote.makePlan(record, bytes, tolerance, progress),
      );
      if (made) changeComponent(record.id, 'Made the plan outline', () => ({ plan: made }));
    } finally {
      setBusy(false);
    }
  };

  const saveSolid = async () => {
    setBusy(true);
    try {
      const bytes = await sourceBytes(record);
      if (!bytes || !plan) return;
      const made = await runShown<{ stl: Uint8Array<ArrayBuffer>; triangles: number; steps: number[] }>(
        `Making a solid of ${record.name}`,
        { job: 'outlining', limitSeconds: 120 + readLimitSeconds(bytes.length) },
        (remote, progress) => remote.makePlanSolid(record, bytes, plan.tolerance, progress),
      );
      if (!made) return;
      saveFile(`${name}-plan.stl`, made.stl, 'model/stl');
      const steps = made.steps.map((n) => `${n} ${n === 1 ? 'step' : 'steps'}`).join(' and ');
      showDone(`Saved ${name}-plan.stl: ${made.triangles.toLocaleString('en')} triangles in ${steps}, in the mount's frame.`);
    } finally {
      setBusy(false);
    }
  };

  const inside = plan?.parts.some((p) => p.growth.min < -ENCLOSURE_SLACK) ?? false;
  const isOver = plan?.parts.some((p) => p.growth.max > plan.tolerance) ?? false;
  const name = safeFileName(record.name);
  const layers = (parts: PlanRecord['parts']): DrawingLayer[] =>
    parts.map(({ target, loops }) => ({ name: WORDS[target], colour: COLOURS[target], loops: loops.map((l) => l.pieces) }));
  const save = (parts: PlanRecord['parts'], kind: 'dxf' | 'svg') => {
    const text = kind === 'dxf' ? writeDxf(layers(parts)) : writeSvg(layers(parts), record.name);
    saveFile(`${name}-plan.${kind}`, new TextEncoder().encode(text), kind === 'dxf' ? 'image/vnd.dxf' : 'image/svg+xml');
  };
  const pieces = plan?.parts.reduce((n, p) => n + p.loops.reduce((m, l) => m + l.pieces.length, 0), 0);
  return (
    <LedgerEntry
      title="Plan outline"
      state={inside ? 'fail' : isOver || (record.plan && !plan) ? 'warn' : plan ? 'set' : 'missing'}
      waits={inside || isOver}
      detail={plan ? undefined : record.plan ? 'out of date' : 'not made'}
      action={
        !plan && (
          <Button size="compact-xs" variant="light" loading={busy} aria-label="Make plan outline" onClick={() => void make()}>
            Make
          </Button>
        )
      }
      value={plan && `${pieces} pieces`}
      note={
        plan
          ? `${inside ? 'cuts into the tool' : 'never inside'}${isOver ? ' · over the tolerance' : ''} · drawn in the section strip`
          : record.plan
            ? 'out of date: bodies, mount or source changed since'
            : 'cutting part and holder as closed lines and arcs'
      }
    >
      <Group gap={4} align="end">
        <NumberField
          kind="length"
          unit={unit}
          label="tolerance"
          aria-label="Tolerance of plan outline"
          value={tolerance}
          min={0.001}
          max={5}
          onCommit={setTolerance}
          w={88}
        />
        <Button size="xs" variant={plan && tolerance === plan.tolerance ? 'default' : 'filled'} loading={busy} onClick={() => void make()}>
          Make
        </Button>
        {plan && (
          <>
            <Button size="xs" px={9} variant="default" onClick={() => save(plan.parts, 'dxf')}>
              DXF
            </Button>
            <Button size="xs" px={9} variant="default" onClick={() => save(plan.parts, 'svg')}>
              SVG
            </Button>
            <Button
              size="xs"
              px={9}
              variant="default"
              disabled={busy}
              title="The outlines as a solid over the tool's height, in steps where it is lower"
              onClick={() => void saveSolid()}
            >
              STL
            </Button>
          </>
        )}
      </Group>
      {plan?.parts.map((p) => {
        const all = p.loops.flatMap((l) => l.pieces);
        const arcs = all.filter((q) => q.kind === 'arc').length;
        return (
          <div className="ledger-sub" key={p.target}>
            <span className="sub-name">{WORDS[p.target]}</span>
            <p className="ledger-hint">
              {all.length} pieces{arcs > 0 ? ` with ${arcs} ${arcs === 1 ? 'arc' : 'arcs'}` : ''}
              {p.loops.length > 1 ? `, ${p.loops.length} loops` : ''}; growth {formatLength(Math.max(0, p.growth.min), unit)} to{' '}
              {formatLength(p.growth.max, unit)}; from {formatLength(p.low, unit)} to {formatLength(p.high, unit)} over the turning plane
            </p>
          </div>
        );
      })}
    </LedgerEntry>
  );
}
