import { useEffect, useMemo, useState } from 'react';
import { gaugeLengthOf, placeTips } from '#core/assembly';
import { say } from '#core/issues';
import type { AssemblyRecord, ComponentRecord, Piece } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { showProblem } from '../../../app/notify.tsx';
import { selectComponents, useAppSelector } from '../../../app/store.ts';
import { ComponentRow } from '../chain/component-row.tsx';
import { byLikeness, fittingFor, workOut } from '../chain/exchange.ts';
import type { Tried } from '../tried.ts';

interface Props {
  readonly record: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly piece: Piece;
  readonly unit: LengthUnit;
  readonly onTry: (tried: Tried) => void;
}

// As many as stand below a row; the Ledger searches among all.
const MOST = 8;

/** What could stand in the place of a piece, each with the gauge length that it would give; pressed, it is tried. */
export function Instead({ record, components, piece, unit, onTry }: Props) {
  const all = useAppSelector(selectComponents);
  const now = components[piece.componentId];
  const fitting = useMemo(() => byLikeness(fittingFor('instead of', record, components, all, piece), now), [all, record, components, piece, now]);
  const [tries, setTries] = useState<{ readonly of: AssemblyRecord; readonly by: Readonly<Record<string, Tried>> }>({ of: record, by: {} });
  useEffect(() => {
    let live = true;
    const work = async () => {
      for (const component of fitting.slice(0, MOST)) {
        const tried = await workOut('instead of', record, components, piece, component);
        if (!live) return;
        if (tried.ok) setTries((t) => ({ of: record, by: { ...(t.of === record ? t.by : {}), [component.id]: tried.value } }));
      }
    };
    void work();
    return () => {
      live = false;
    };
  }, [fitting, record, components, piece]);
  const lengthOf = (a: AssemblyRecord, with_: Readonly<Record<string, ComponentRecord>>) => gaugeLengthOf(a, placeTips(a, with_));
  const mm = (v: number | undefined) => (v === undefined ? '–' : formatLength(v, unit));
  const is = lengthOf(record, components);
  const workedOut = (c: ComponentRecord) => (tries.of === record ? tries.by[c.id] : undefined);
  const would = (c: ComponentRecord): string => {
    const tried = workedOut(c);
    if (!tried) return '';
    if (tried.change.lost.length > 0) return `${tried.change.lost.length} would fall out`;
    const length = lengthOf({ ...record, ...tried.change }, { ...components, [c.id]: c });
    return length === undefined || is === undefined || Math.abs(length - is) < 5e-4 ? 'the same length' : `${mm(is)} → ${mm(length)}`;
  };
  // One may be pressed before it was worked out.
  const tryIt = async (c: ComponentRecord) => {
    const known = workedOut(c);
    if (known) return onTry(known);
    const tried = await workOut('instead of', record, components, piece, c);
    if (tried.ok) onTry(tried.value);
    else showProblem(tried.issues.map(say).join(' '));
  };
  return (
    <div className="row-instead" role="group" aria-label={`In the place of ${now?.name}`}>
      <span className="row-instead-what">instead of {now?.name}</span>
      {fitting.slice(0, MOST).map((c) => (
        <ComponentRow key={c.id} component={c} onChoose={() => void tryIt(c)} note={<span className="number row-would">{would(c)}</span>} />
      ))}
      {fitting.length === 0 && <span className="ledger-hint">Nothing else on the Shelf fits there.</span>}
      {fitting.length > MOST && <span className="ledger-hint">and {fitting.length - MOST} more: Exchange in the Ledger searches them</span>}
    </div>
  );
}
