import { Button, Group, Select, Table } from '@mantine/core';
import { IconDownload } from '@tabler/icons-react';
import Papa from 'papaparse';
import { useMemo, useState } from 'react';
import { useNavigate, useParams } from 'react-router';
import { checkAssembly, gaugeLengthOf, placeTips } from '#core/assembly';
import {
  type AssemblyRecord,
  bodiesFor,
  type Check,
  chosenGeometry,
  type ComponentRecord,
  freshGeometry,
  type Manifest,
  type OutlineRecord,
  safeFileName,
} from '#core/records';
import { formatLength } from '#core/units';
import { roundTo } from '#core/math';
import { AreaHeader } from '../../app/area-header.tsx';
import { runShown } from '../../app/jobs.tsx';
import { selectAssembly, selectComponentsById, selectOutline, store, useAppSelector } from '../../app/store.ts';
import { getBlob } from '../../store/blobs.ts';
import { sourceBytes } from '../../store/source-bytes.ts';
import { EmptyArea, OpenButton } from '../empty-area.tsx';
import { saveFile } from '../../common/save-file.ts';

export default function HandoverPage() {
  const { id } = useParams();
  const navigate = useNavigate();
  const last = useAppSelector((s) => s.session.lastAssembly);
  const records = useAppSelector((s) => s.library.records);
  const assemblies = useMemo(() => Object.values(records).filter((r): r is AssemblyRecord => r.kind === 'assembly'), [records]);
  const record = useAppSelector((s) => selectAssembly(s, id ?? last ?? undefined)) ?? (id ? undefined : assemblies[0]);
  if (!record) return <EmptyArea title="Handover" text="There is no assembly to hand over yet. Build one, or open a package." />;
  return (
    <div className="area">
      <AreaHeader
        title="Handover"
        note={
          <Select
            size="xs"
            w={240}
            aria-label="Assembly"
            allowDeselect={false}
            value={record.id}
            data={assemblies.map((a) => ({ value: a.id, label: a.name }))}
            onChange={(v) => v && navigate(`/handover/${v}`)}
          />
        }
      >
        <OpenButton size="xs" />
      </AreaHeader>
      <HandoverWork key={record.id} record={record} />
    </div>
  );
}

function HandoverWork({ record }: { record: AssemblyRecord }) {
  const components = useAppSelector(selectComponentsById);
  const unit = useAppSelector((s) => s.session.unit);
  const [written, setWritten] = useState<{ manifest: Omit<Manifest, 'files'>; bytes: number; name: string } | null>(null);
  const tips = useMemo(() => placeTips(record, components), [record, components]);
  const checks = useMemo(() => checkAssembly(record, components), [record, components]);
  const fails = checks.filter((c) => c.state === 'fail');
  const gauge = gaugeLengthOf(record, tips);
  const mm = (v: number) => formatLength(v, unit);

  const write = async () => {
    setWritten(null);
    const used: Record<string, ComponentRecord> = {};
    const sources: Record<string, Uint8Array> = {};
    const blobs: Record<string, Uint8Array> = {};
    const outlines: OutlineRecord[] = [];
    const drawings: Record<string, Uint8Array> = {};
    for (const { componentId } of record.pieces) {
      const component = components[componentId];
      const bytes = component && (await sourceBytes(component));
      if (!component || !bytes) return;
      used[componentId] = component;
      const outline = component.source.kind === 'outline' ? selectOutline(store.getState(), component.source.outline) : undefined;
      if (outline && !outlines.includes(outline)) outlines.push(outline);
      const drawing = outline?.way.kind === 'drawing' ? await getBlob(outline.way.blob) : undefined;
      if (drawing && outline?.way.kind === 'drawing') drawings[outline.way.blob] = drawing;
      sources[componentId] = bytes;
      for (const target of ['non-cutting', 'cutting'] as const) {
        const made = freshGeometry(component, target);
        const mesh = made && (await getBlob(made.blob));
        if (mesh) blobs[made.blob] = mesh;
      }
    }
    const packed = await runShown<{ bytes: Uint8Array<ArrayBuffer>; manifest: Omit<Manifest, 'files'> }>(
      `Writing the package of ${record.name}`,
      { job: 'writing the package', limitSeconds: 600 },
      (remote, progress) => remote.pack({ assembly: record, components: used, sources, outlines, drawings, blobs, now: new Date().toISOString() }, progress),
    );
    if (!packed) return;
    const name = `${safeFileName(record.name)}.zip`;
    saveFile(name, packed.bytes, 'application/zip');
    setWritten({ manifest: packed.manifest, bytes: packed.bytes.length, name });
  };

  const writeTips = () => {
    const rows = tips.map((t) => ({
      piece: components[record.pieces.find((p) => p.id === t.piece)?.componentId ?? '']?.name ?? t.piece,
      tip: t.name,
      L: roundTo(t.L, 4),
      Q: roundTo(t.Q, 4),
      Y: roundTo(t.Y, 4),
      noseRadius: t.noseRadius,
      programmedPoint: t.programmedPoint,
    }));
    saveFile(`${safeFileName(record.name)}-tips.csv`, new TextEncoder().encode(Papa.unparse(rows, { escapeFormulae: true })), 'text/csv');
  };

  return (
    <div className="handover">
      <section className="sheet">
        <h2>{record.name}</h2>
        <dl className="facts wide">
          <dt>gauge length</dt>
          <dd>{gauge === undefined ? '–' : mm(gauge)}</dd>
          <dt>pieces</dt>
          <dd>{record.pieces.length}</dd>
          <dt>tips</dt>
          <dd>{tips.length}</dd>
        </dl>
        <Table className="parts-table" verticalSpacing={5}>
          <Table.Thead>
            <Table.Tr>
              <Table.Th>piece</Table.Th>
              <Table.Th>part</Table.Th>
              <Table.Th>bodies</Table.Th>
              <Table.Th>geometry</Table.Th>
              <Table.Th>growth, mm</Table.Th>
              <Table.Th>triangles</Table.Th>
            </Table.Tr>
          </Table.Thead>
          <Table.Tbody>
            {record.pieces.flatMap((piece) => {
              const component = components[piece.componentId];
              if (!component) return [];
              return (['non-cutting', 'cutting'] as const)
                .filter((t) => bodiesFor(component, t).length > 0)
                .map((target) => {
                  const plan = chosenGeometry(component, target);
                  const done =
                    written?.manifest.pieces.find((p) => p.piece === piece.id)?.parts.find((p) => p.target === target) ?? freshGeometry(component, target);
                  return (
                    <Table.Tr key={`${piece.id} ${target}`}>
                      <Table.Td>{component.name}</Table.Td>
                      <Table.Td>{target}</Table.Td>
                      <Table.Td className="number">{bodiesFor(component, target).length}</Table.Td>
                      <Table.Td>
                        {plan.mode}, <span className="number">{plan.tolerance}</span>
                      </Table.Td>
                      <Table.Td className="number">
                        {done ? `${roundTo(done.growth.min, 3).toFixed(3)} … ${done.growth.max.toFixed(3)}` : 'when written'}
                      </Table.Td>
                      <Table.Td className="number">
                        {done ? ('triangles' in done ? done.triangles : done.trianglesOut).toLocaleString('en') : 'when written'}
                      </Table.Td>
                    </Table.Tr>
                  );
                });
            })}
          </Table.Tbody>
        </Table>
        <Group>
          <Button leftSection={<IconDownload size={17} />} disabled={fails.length > 0} onClick={() => void write()}>
            Write the package
          </Button>
          <Button variant="default" leftSection={<IconDownload size={17} />} disabled={tips.length === 0} onClick={writeTips}>
            Tip table (CSV)
          </Button>
        </Group>
        {fails.length > 0 && <CheckList title="Mend this before handing over" checks={fails} />}
        {written && (
          <p className="written" role="status">
            {written.name} is written: {(written.bytes / 1e6).toFixed(2)} MB, {written.manifest.pieces.reduce((n, p) => n + p.parts.length, 0)} parts in GLB,
            STL and STEP, {written.manifest.checks.filter((c) => c.state === 'pass').length} checks passed
            {written.manifest.checks.some((c) => c.state !== 'pass') ? `, ${written.manifest.checks.filter((c) => c.state !== 'pass').length} to look at` : ''}.
          </p>
        )}
        {written && written.manifest.checks.some((c) => c.state !== 'pass') && (
          <CheckList title="To look at" checks={written.manifest.checks.filter((c) => c.state !== 'pass')} />
        )}
      </section>
      <aside className="sheet side">
        <h2>What is in the package</h2>
        <p>One zip file. It opens again here as the same assembly, and everything in it is an open format.</p>
        <ul>
          <li>per piece, cutting and non-cutting apart: GLB, STL and STEP, standing in the gauge frame</li>
          <li>manifest.json: frames, tips, numbers, where each value came from, and the checks</li>
          <li>the vendor files as they came</li>
        </ul>
        <p>
          L, Q and Y are measured from the gauge line: L along Z towards the work, Q radially, Y above the turning plane. The command <code>ruota verify</code>{' '}
          checks a package again from its own files.
        </p>
      </aside>
    </div>
  );
}

function CheckList({ title, checks }: { title: string; checks: readonly Check[] }) {
  return (
    <>
      <h3>{title}</h3>
      <ul className="checks">
        {checks.map((c) => (
          <li key={`${c.code} ${c.message}`} className={c.state}>
            <span className={`ledger-mark ${c.state}`} role="img" aria-label={c.state} />
            {c.message}
          </li>
        ))}
      </ul>
    </>
  );
}
