import { useEffect, useState } from 'react';
import { type PlacedTip, sayOfEdge } from '#core/assembly';
import { invert, type Motion, move } from '#core/math';
import type { AssemblyRecord } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { showDone } from '../../../app/notify.tsx';
import { changeAssembly } from '../../../app/store.ts';
import { type Candidate, placeOf, type StageItem } from '../../../scene/picks.ts';

/** The programmed point of an edge by a pick on the stage: armed for an edge, the next pick is taken; Escape, wherever the focus is, leaves it. */
export function usePickPoint(record: AssemblyRecord, placed: ReadonlyMap<string, Motion>, items: readonly StageItem[], unit: LengthUnit) {
  const [armed, arm] = useState<PlacedTip | null>(null);
  useEffect(() => {
    if (!armed) return undefined;
    const leave = (e: KeyboardEvent) => e.key === 'Escape' && arm(null);
    window.addEventListener('keydown', leave);
    return () => window.removeEventListener('keydown', leave);
  }, [armed]);
  const takePoint = (pick: Candidate) => {
    const gaugeFromFile = armed && placed.get(armed.piece);
    arm(null);
    if (!armed || !gaugeFromFile) return;
    const there = placeOf(items, pick);
    const at = move(invert(gaugeFromFile), there);
    changeAssembly(record.id, 'Picked the programmed point', (r) => ({ edges: sayOfEdge(r.edges, armed, { point: { name: 'picked point', at } }) }));
    const mm = (v: number) => formatLength(v, unit);
    showDone(`L ${mm(armed.L)} is now ${mm(there[2])}, Q ${mm(armed.Q)} is now ${mm(there[0])}.`);
  };
  return { armed, arm, takePoint };
}
