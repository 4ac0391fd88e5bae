import { useEffect, useState } from 'react';
import { gaugeLengthOf, type PlacedTip, placeTips, sayOfEdge } from '#core/assembly';
import { invert, type Motion, move } from '#core/math';
import type { AssemblyRecord, ComponentRecord, GaugeLine } from '#core/records';
import { formatLength, type LengthUnit } from '#core/units';
import { showDone } from '../../../app/notify.tsx';
import { changeAssembly } from '../../../app/store.ts';
import { type Candidate, placeOf, type StageItem } from '../../../scene/picks.ts';

/** The programmed point of an edge, or where the gauge line stands, by a pick on the stage: armed, the next pick is taken; Escape, wherever the focus is, leaves it. */
export function usePickPoint(
  record: AssemblyRecord,
  components: Readonly<Record<string, ComponentRecord>>,
  placed: ReadonlyMap<string, Motion>,
  items: readonly StageItem[],
  unit: LengthUnit,
) {
  const [armed, arm] = useState<PlacedTip | 'gauge line' | null>(null);
  useEffect(() => {
    if (!armed) return undefined;
    const leave = (e: KeyboardEvent) => e.key === 'Escape' && arm(null);
    window.addEventListener('keydown', leave);
    return () => window.removeEventListener('keydown', leave);
  }, [armed]);
  const mm = (v: number | undefined) => (v === undefined ? '–' : formatLength(v, unit));
  const takePoint = (pick: Candidate) => {
    arm(null);
    const there = placeOf(items, pick);
    if (armed === 'gauge line') {
      const piece = record.pieces.find((p) => p.id === pick.item);
      const gaugeFromFile = piece && placed.get(piece.id);
      if (!gaugeFromFile) return;
      const name = `a point of ${components[piece.componentId]?.name ?? 'a piece'}`;
      const gaugeLine: GaugeLine = { pieceId: piece.id, componentId: piece.componentId, name, at: move(invert(gaugeFromFile), there) };
      const lengthOf = (a: AssemblyRecord) => gaugeLengthOf(a, placeTips(a, components));
      changeAssembly(record.id, `Gauge line at ${name}`, () => ({ gaugeLine }));
      showDone(`The gauge length ${mm(lengthOf(record))} is now ${mm(lengthOf({ ...record, gaugeLine }))}.`);
      return;
    }
    const gaugeFromFile = armed && placed.get(armed.piece);
    if (!armed || !gaugeFromFile) return;
    const at = move(invert(gaugeFromFile), there);
    changeAssembly(record.id, 'Picked the programmed point', (r) => ({ edges: sayOfEdge(r.edges, armed, { point: { name: 'picked point', at } }) }));
    showDone(`L ${mm(armed.L)} is now ${mm(there[2])}, Q ${mm(armed.Q)} is now ${mm(there[0])}.`);
  };
  return { armed, arm, takePoint };
}
