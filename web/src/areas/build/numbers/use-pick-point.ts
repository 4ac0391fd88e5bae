import { useState } from 'react';
import type { PlacedTip } from '#core/assembly';
import { invert, type Motion, move } from '#core/math';
import type { AssemblyEdge, AssemblyRecord } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { showDone } from '../../../app/notify.tsx';
import { changeAssembly } from '../../../app/store.ts';
import { type Candidate, placeOf, type StageItem } from '../../../scene/picks.ts';

/** The programmed point of an edge by a pick on the stage: armed for an edge, the next pick is taken. */
export function usePickPoint(record: AssemblyRecord, placed: ReadonlyMap<string, Motion>, items: readonly StageItem[], unit: LengthUnit) {
  const [armed, arm] = useState<PlacedTip | null>(null);
  const takePoint = (pick: Candidate) => {
    const gaugeFromFile = armed && placed.get(armed.piece);
    arm(null);
    if (!armed || !gaugeFromFile) return;
    const there = placeOf(items, pick);
    const at = move(invert(gaugeFromFile), there);
    changeAssembly(record.id, 'Picked the programmed point', (r) => {
      const isIt = (e: AssemblyEdge) => e.pieceId === armed.piece && e.tipId === armed.tip;
      const before = r.edges.find(isIt) ?? { pieceId: armed.piece, tipId: armed.tip, name: '' };
      return { edges: [...r.edges.filter((e) => !isIt(e)), { ...before, point: { name: 'picked point', at } }] };
    });
    const mm = (v: number) => formatLength(v, unit);
    showDone(`L ${mm(armed.L)} is now ${mm(there[2])}, Q ${mm(armed.Q)} is now ${mm(there[0])}.`);
  };
  return { armed, arm, takePoint };
}
