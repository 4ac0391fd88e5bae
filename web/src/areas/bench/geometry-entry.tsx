import { Button, Group, SegmentedControl, Table } from '@mantine/core';
import { useState } from 'react';
import { bodiesFor, type ComponentRecord, DEFAULT_TOLERANCE, freshGeometry, type GeometryTarget, type MadeGeometry } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { runShown } from '../../app/jobs.tsx';
import { showProblem } from '../../app/notify.tsx';
import { changeComponent } from '../../app/store.ts';
import { NumberField } from '../../common/number-field.tsx';
import { getBlob, putBlob } from '../../store/blobs.ts';
import { readLimitSeconds } from '../../workers/geometry-client.ts';
import { LedgerEntry } from './ledger-entry.tsx';

const TITLES: Record<GeometryTarget, string> = { cutting: 'Cutting geometry', 'non-cutting': 'Holder geometry' };

/** Makes the light geometry of one target, and shows what it cost: triangles, size and growth, before and after. */
export function GeometryEntry({ record, target, unit }: { record: ComponentRecord; target: GeometryTarget; unit: LengthUnit }) {
  const made = freshGeometry(record, target);
  const stale = !made && record.geometry.some((g) => g.target === target);
  const last = record.geometry.find((g) => g.target === target);
  const [mode, setMode] = useState<MadeGeometry['mode']>(last?.mode ?? 'exact');
  const [tolerance, setTolerance] = useState(last?.tolerance ?? DEFAULT_TOLERANCE[target]);
  const [busy, setBusy] = useState(false);
  if (bodiesFor(record, target).length === 0) return null;

  const make = async () => {
    setBusy(true);
    try {
      const bytes = await getBlob(record.source.blob);
      if (!bytes) return showProblem(`The vendor file of ${record.name} is not in this browser's storage any more. Open ${record.source.fileName} again.`);
      const result = await runShown<{ geometry: MadeGeometry; blob: Uint8Array<ArrayBuffer> }>(
        `Making ${mode} geometry of ${record.name}`,
        { job: `making ${mode} geometry`, limitSeconds: 120 + 2 * readLimitSeconds(bytes.length) },
        (remote, progress) => remote.makeGeometry(record, bytes, target, mode, tolerance, progress),
      );
      if (!result) return;
      await putBlob(result.blob, result.geometry.blob);
      changeComponent(record.id, `Made ${mode} geometry, ${target}`, (r) => ({
        geometry: [...r.geometry.filter((g) => g.target !== target), result.geometry],
      }));
    } finally {
      setBusy(false);
    }
  };

  const inside = made !== undefined && made.growth.min < -1e-6;
  const state = inside || (made && !made.closed) ? 'fail' : made ? 'set' : stale ? 'warn' : 'missing';
  const mm = (v: number) => formatLength(v, unit);
  return (
    <LedgerEntry
      title={TITLES[target]}
      state={state}
      value={made ? `${made.trianglesOut.toLocaleString('en')} tri` : undefined}
      note={
        made
          ? `growth ${mm(made.growth.min)} to ${mm(made.growth.max)} · ${made.closed ? 'closed' : 'NOT closed'} · ${inside ? 'cuts into the tool' : 'never inside'}`
          : stale
            ? 'out of date: bodies, mount or source changed since'
            : 'not made yet'
      }
    >
      <Group gap={6} wrap="nowrap" align="center">
        <SegmentedControl
          size="xs"
          aria-label={`Kind of ${TITLES[target].toLowerCase()}`}
          data={target === 'cutting' ? ['exact'] : ['exact', 'revolved']}
          value={mode}
          onChange={(m) => setMode(m)}
        />
        <NumberField
          kind="length"
          unit={unit}
          aria-label={`Tolerance of ${TITLES[target].toLowerCase()}`}
          value={tolerance}
          min={0.001}
          max={5}
          onCommit={setTolerance}
          w={94}
        />
        <Button size="xs" variant={made ? 'default' : 'filled'} loading={busy} onClick={() => void make()}>
          Make
        </Button>
      </Group>
      {mode === 'revolved' && !record.mount && <p className="ledger-hint">It turns about Z of the mount; without a mount about Z of the file.</p>}
      {made && (
        <Table className="before-after" withRowBorders={false} verticalSpacing={1} horizontalSpacing={4}>
          <Table.Thead>
            <Table.Tr>
              <Table.Th />
              <Table.Th>before</Table.Th>
              <Table.Th>after</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            <Row title="triangles" before={made.trianglesIn.toLocaleString('en')} after={made.trianglesOut.toLocaleString('en')} />
            <Row title="file" before={bytesText(made.bytesIn)} after={bytesText(made.bytesOut)} />
            <Row title="volume, mm³" before={Math.round(made.volumeIn).toLocaleString('en')} after={Math.round(made.volumeOut).toLocaleString('en')} />
          </Table.Tbody>
        </Table>
      )}
    </LedgerEntry>
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

const bytesText = (bytes: number): string => (bytes >= 1e6 ? `${(bytes / 1e6).toFixed(2)} MB` : `${Math.max(1, Math.round(bytes / 1e3))} kB`);
