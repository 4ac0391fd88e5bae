import { Table } from '@mantine/core';
import Papa from 'papaparse';
import { useMemo, useState } from 'react';
import { checkAssembly, gaugeLengthOf, placeTips } from '#core/assembly';
import { roundTo } from '#core/math';
import { type AssemblyRecord, bodiesFor, chosenGeometry, freshGeometry, type Manifest, safeFileName } from '#core/records';
import { formatLength } from '#core/units';
import { runShown } from '../../app/jobs.tsx';
import { selectComponentsById, useAppSelector } from '../../app/store.ts';
import { countOf } from '../../common/count-of.ts';
import { saveFile } from '../../common/save-file.ts';
import { partsToPack } from '../../store/parts-to-pack.ts';
import { WritePackage, type Written } from './write-package.tsx';

/** An assembly as it is handed over: its parts, numbers and checks, and the package. */
export function AssemblySheet({ record }: { record: AssemblyRecord }) {
  const components = useAppSelector(selectComponentsById);
  const unit = useAppSelector((s) => s.session.unit);
  const [written, setWritten] = useState<(Written & { readonly manifest: Omit<Manifest, 'files'> }) | null>(null);
  const tips = useMemo(() => placeTips(record, components), [record, components]);
  const checks = useMemo(() => checkAssembly(record, components), [record, components]);
  const fails = checks.filter((c) => c.state === 'fail');
  const gauge = gaugeLengthOf(record, tips);
  const mm = (v: number) => formatLength(v, unit);

  const write = async () => {
    setWritten(null);
    const made = await partsToPack([record]);
    if (!made) return;
    const packed = await runShown<{ bytes: Uint8Array<ArrayBuffer>; manifest: Omit<Manifest, 'files'> }>(
      `Writing the package of ${record.name}`,
      { job: 'writing the package', limitSeconds: 600 },
      (remote, progress) => remote.pack({ assembly: record, ...made, now: new Date().toISOString() }, progress),
    );
    if (!packed) return;
    const name = `${safeFileName(record.name)}.zip`;
    saveFile(name, packed.bytes, 'application/zip');
    const { manifest, bytes } = packed;
    const parts = manifest.pieces.reduce((n, p) => n + p.parts.length, 0);
    setWritten({ manifest, bytes: bytes.length, name, holds: `${countOf(parts, 'part')} in GLB, STL and STEP`, checks: manifest.checks });
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
        <WritePackage
          {...{ fails, written }}
          isReady
          onWrite={() => void write()}
          table={{ label: 'Tip table (CSV)', isReady: tips.length > 0, onWrite: writeTips }}
        />
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
