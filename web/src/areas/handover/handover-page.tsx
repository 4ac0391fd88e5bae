import { Select } from '@mantine/core';
import { useMemo } from 'react';
import { useNavigate, useParams } from 'react-router';
import type { AssemblyRecord, SetUpRecord } from '#core/records';
import { AreaHeader } from '../../app/area-header.tsx';
import { selectAssembly, useAppSelector } from '../../app/store.ts';
import { machineOf, selectSetUp } from '../../store/set-up-actions.ts';
import { EmptyArea, OpenButton } from '../empty-area.tsx';
import { AssemblySheet } from './assembly-sheet.tsx';
import { SetUpSheet } from './set-up-sheet.tsx';

export default function HandoverPage() {
  const { id } = useParams();
  const navigate = useNavigate();
  const last = useAppSelector((s) => s.session.lastAssembly);
  const records = useAppSelector((s) => s.library.records);
  const assemblies = useMemo(() => Object.values(records).filter((r): r is AssemblyRecord => r.kind === 'assembly'), [records]);
  const setUps = useMemo(() => Object.values(records).filter((r): r is SetUpRecord => r.kind === 'set-up'), [records]);
  const setUp = useAppSelector((s) => selectSetUp(s, id));
  const machine = setUp && machineOf(records, setUp.machineId);
  const assembly = useAppSelector((s) => selectAssembly(s, id ?? last ?? undefined)) ?? (id ? undefined : assemblies[0]);
  const record = setUp ?? assembly;
  if (!record) return <EmptyArea title="Handover" text="There is no assembly to hand over yet. Build one, or open a package." />;
  const choices = [
    { group: 'Assemblies', items: assemblies.map((a) => ({ value: a.id, label: a.name })) },
    { group: 'Set-ups, with all that stands in them', items: setUps.map((s) => ({ value: s.id, label: s.name })) },
  ].filter((g) => g.items.length > 0);
  return (
    <div className="area">
      <AreaHeader
        title="Handover"
        note={
          <Select
            size="xs"
            w={280}
            aria-label="What is handed over"
            allowDeselect={false}
            searchable={assemblies.length + setUps.length > 12}
            value={record.id}
            data={choices}
            onChange={(v) => v && navigate(`/handover/${v}`)}
          />
        }
      >
        <OpenButton size="xs" />
      </AreaHeader>
      {setUp && !machine && <p className="empty-area">The machine of this set-up is not there any more: choose another one in Carrier.</p>}
      {setUp && machine && <SetUpSheet key={setUp.id} setUp={setUp} machine={machine} />}
      {!setUp && assembly && <AssemblySheet key={assembly.id} record={assembly} />}
    </div>
  );
}
