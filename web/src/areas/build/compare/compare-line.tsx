import { Select } from '@mantine/core';
import { useMemo } from 'react';
import type { AssemblyRecord } from '#core/records';
import { useAppSelector } from '../../../app/store.ts';

/** Chooses another assembly that this one is laid beside in numbers, and over on the stage. Nothing where there is no other. */
export function CompareLine({
  record,
  compared,
  onCompare,
}: {
  record: AssemblyRecord;
  compared: AssemblyRecord | undefined;
  onCompare: (id: string | null) => void;
}) {
  const all = useAppSelector((s) => s.library.records);
  const others = useMemo(() => Object.values(all).filter((r) => r.kind === 'assembly' && r.id !== record.id), [all, record.id]);
  if (others.length === 0) return null;
  return (
    <div className="compare-line">
      <Select
        size="xs"
        aria-label="Compare with"
        placeholder="compare with another assembly"
        searchable={others.length > 8}
        clearable
        data={others.map((a) => ({ value: a.id, label: a.name }))}
        value={compared?.id ?? null}
        onChange={onCompare}
      />
      {compared && (
        <p className="ledger-hint">
          <span className="compare-swatch" aria-hidden /> What differs in {compared.name} is laid over, on the stage and in the section.
        </p>
      )}
    </div>
  );
}
