import { Checkbox, Group, Table } from '@mantine/core';
import Papa from 'papaparse';
import { useMemo, useState } from 'react';
import { Link } from 'react-router';
import { checkAssembly } from '#core/assembly';
import type { PackedSetUp } from '#core/handover';
import { type EdgeRow, offsetTable, type StationRow } from '#core/carrier';
import { type Check, type MachineRecord, safeFileName, type SetUpRecord, type TrialRecord } from '#core/records';
import { formatLength } from '#core/units';
import { runShown } from '../../app/jobs.tsx';
import { useAppSelector } from '../../app/store.ts';
import { countOf } from '../../common/count-of.ts';
import { saveFile } from '../../common/save-file.ts';
import { partsToPack } from '../../store/parts-to-pack.ts';
import { WritePackage, type Written } from './write-package.tsx';
import { useSetUp } from '../carrier/use-set-up.ts';

/** A set-up as it is handed over: what its control is told of every edge, which trials go along, and the package with all assemblies. */
export function SetUpSheet({ setUp, machine }: { setUp: SetUpRecord; machine: MachineRecord }) {
  const records = useAppSelector((s) => s.library.records);
  const { parts, table, isLoading } = useSetUp(setUp, machine);
  const trials = useMemo(() => Object.values(records).filter((r): r is TrialRecord => r.kind === 'trial' && r.setUpId === setUp.id), [records, setUp.id]);
  const [left, setLeft] = useState<readonly string[]>([]);
  const [written, setWritten] = useState<Written | null>(null);
  const assemblies = useMemo(() => Object.values(parts.assemblies).filter((a) => a !== undefined), [parts.assemblies]);
  const fails = useMemo((): Check[] => {
    const own = assemblies.flatMap((a) => checkAssembly(a, parts.components).map((c) => ({ ...c, message: `${a.name}: ${c.message}` })));
    const at = table.stations.flatMap((s) =>
      [...s.checks, ...s.edges.flatMap((e) => e.checks)].map((c) => ({ ...c, message: `Station ${s.place.station}: ${c.message}` })),
    );
    return [...own, ...at, ...table.checks].filter((c) => c.state === 'fail');
  }, [assemblies, parts.components, table]);
  const isReady = !isLoading && table.stations.length > 0;
  const taken = trials.filter((t) => !left.includes(t.id));

  const write = async () => {
    setWritten(null);
    const made = await partsToPack(assemblies);
    if (!made) return;
    const packed = await runShown<PackedSetUp & { bytes: Uint8Array<ArrayBuffer> }>(
      `Writing the package of ${setUp.name}`,
      { job: 'writing the package', limitSeconds: 1200 },
      (remote, progress) => remote.packSetUp({ setUp, machine, assemblies: parts.assemblies, trials: taken, ...made, now: new Date().toISOString() }, progress),
    );
    if (!packed) return;
    const name = `${safeFileName(setUp.name)}.zip`;
    saveFile(name, packed.bytes, 'application/zip');
    const holds = `${countOf(packed.manifest.assemblies.length, 'assembly', 'assemblies')}, ${countOf(packed.manifest.trials.length, 'trial')}`;
    setWritten({ name, bytes: packed.bytes.length, holds, checks: packed.checks });
  };
  const writeOffsets = () =>
    saveFile(
      `${safeFileName(setUp.name)}-offsets.csv`,
      new TextEncoder().encode(Papa.unparse(offsetTable(table.stations), { escapeFormulae: true })),
      'text/csv',
    );
  return (
    <div className="handover">
      <section className="sheet">
        <h2>{setUp.name}</h2>
        <dl className="facts wide">
          <dt>machine</dt>
          <dd>{machine.name}</dd>
          <dt>assemblies</dt>
          <dd>{assemblies.length}</dd>
          <dt>trials</dt>
          <dd>{taken.length}</dd>
        </dl>
        {table.stations.length === 0 ? (
          <p>
            Nothing stands in it yet. <Link to={`/carrier/${setUp.id}`}>Load a station in Carrier.</Link>
          </p>
        ) : (
          <OffsetRows {...{ setUp, machine }} stations={table.stations} />
        )}
        {trials.length > 0 && (
          <Checkbox.Group
            label="Trials that go along, with their programs as text"
            value={taken.map((t) => t.id)}
            onChange={(ids) => setLeft(trials.filter((t) => !ids.includes(t.id)).map((t) => t.id))}
          >
            <Group mt={6}>
              {trials.map((t) => (
                <Checkbox key={t.id} size="xs" value={t.id} label={t.name} />
              ))}
            </Group>
          </Checkbox.Group>
        )}
        <WritePackage
          {...{ fails, written }}
          isReady={isReady}
          onWrite={() => void write()}
          table={{ label: 'Offset table (CSV)', isReady, onWrite: writeOffsets }}
        />
      </section>
      <aside className="sheet side">
        <h2>What is in the package</h2>
        <p>One zip file. Dropped here, or on another Ruota, it is brought in with all that stands in it, beside what is there.</p>
        <ul>
          <li>every assembly as in a package of its own: its parts in GLB, STL and STEP, standing in its gauge frame</li>
          <li>manifest.json: the machine, what stands where, and of each edge what the control is told</li>
          <li>the programs as text, the trials with contour and stock</li>
          <li>the vendor files as they came</li>
        </ul>
        <p>
          The command <code>ruota verify</code> checks it again from its own files, <code>ruota trial</code> runs its programs.
        </p>
      </aside>
    </div>
  );
}

function OffsetRows({ setUp, machine, stations }: { setUp: SetUpRecord; machine: MachineRecord; stations: readonly StationRow[] }) {
  const unit = machine.unit;
  const isMany = new Set(setUp.places.map((p) => p.carrierId)).size > 1;
  const cells = (row: StationRow, e: EdgeRow) => [
    `${isMany ? `${row.carrier?.name ?? ''} ` : ''}${row.place.station}`,
    e.own.name,
    String(e.tool),
    e.offset === undefined ? '–' : String(e.offset),
    e.spindle,
    String(e.tipOrientation),
    formatLength(e.controlX, unit),
    formatLength(e.atWork.Z, unit),
    formatLength(e.own.noseRadius, unit),
  ];
  const heads = ['station', 'edge', 'T', 'D', 'spindle', 'tip', `X${machine.control.diameters ? ', on diameter' : ''}`, 'Z', 'nose radius'];
  const isNumber = (i: number) => [2, 3, 5, 6, 7, 8].includes(i);
  return (
    <Table className="parts-table" verticalSpacing={5}>
      <Table.Thead>
        <Table.Tr>
          {heads.map((h, i) => (
            <Table.Th key={h} ta={isNumber(i) ? 'right' : undefined}>
              {h}
            </Table.Th>
          ))}
        </Table.Tr>
      </Table.Thead>
      <Table.Tbody>
        {stations.flatMap((row) =>
          row.edges.map((e) => (
            <Table.Tr key={`${row.place.id} ${e.own.piece} ${e.own.tip}`}>
              {cells(row, e).map((text, i) => (
                <Table.Td key={heads[i]} className={isNumber(i) ? 'number' : undefined} ta={isNumber(i) ? 'right' : undefined}>
                  {text}
                </Table.Td>
              ))}
            </Table.Tr>
          )),
        )}
      </Table.Tbody>
    </Table>
  );
}
