import { lazy, Suspense, useMemo, useState } from 'react';
import { boreAgainstDepth } from '#core/assembly';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord } from '#core/records';
import type { LengthUnit } from '#core/units';

// With its library: only who opens it pays for it.
const BoreChart = lazy(() => import('../../../common/bore-chart.tsx'));

interface Props {
  readonly record: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly models: Readonly<Record<string, Model | undefined>>;
  readonly unit: LengthUnit;
}

/** The least bore against depth of the boring bars in a chain, with all that holds them; closed until it is wanted. */
export function BoreBlock({ record, components, models, unit }: Props) {
  const [isOpen, setOpen] = useState(false);
  const bars = record.pieces.some((p) => components[p.componentId]?.componentKind === 'boring bar');
  const bores = useMemo(() => (isOpen ? boreAgainstDepth(record, components, models) : []), [isOpen, record, components, models]);
  if (!bars) return null;
  const nameOf = (piece: string) => components[record.pieces.find((p) => p.id === piece)?.componentId ?? '']?.name ?? '';
  return (
    <details className="bore-block" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>Minimum bore against depth</summary>
      {bores.map((b) => (
        <Suspense key={`${b.piece} ${b.tip}`} fallback={<p className="ledger-hint">Drawing…</p>}>
          <BoreChart bore={{ holder: b.steps }} of={`${nameOf(b.piece)} and all that holds it`} unit={unit} />
        </Suspense>
      ))}
      {isOpen && bores.length === 0 && <p className="ledger-hint">Known as soon as all models are loaded.</p>}
    </details>
  );
}
