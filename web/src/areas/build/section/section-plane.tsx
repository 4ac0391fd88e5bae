import { Select } from '@mantine/core';
import { useEffect, useMemo, useState } from 'react';
import type { PlacedTip } from '#core/assembly';
import { type Frame, invert, moveFrame } from '#core/math';
import type { AssemblyRecord, ComponentRecord } from '#core/records';
import { NumberField } from '../../../common/number-field.tsx';
import type { StageItem } from '../../../scene/picks.ts';
import { outlineBehind } from './outline-behind.ts';
import { planeOfTip } from './planes.ts';

interface Props {
  readonly record: AssemblyRecord;
  readonly components: Readonly<Record<string, ComponentRecord>>;
  readonly tips: readonly PlacedTip[];
  readonly deg: number;
  readonly onTurn: (deg: number) => void;
}

/** Turns the plane of the section about the gauge axis: to a tip, square to the turning plane, or by a typed angle. */
export function SectionPlane({ record, components, tips, deg, onTurn }: Props) {
  const choices = useMemo(() => {
    const inTurningPlane = tips.filter((t) => planeOfTip(t) === 0).length;
    const names = new Map<number, string[]>([
      [0, [inTurningPlane > 0 ? `turning plane, ${inTurningPlane === 1 ? 'a tip' : `${inTurningPlane} tips`} in it` : 'turning plane']],
    ]);
    for (const tip of tips) {
      const angle = planeOfTip(tip);
      if (angle === 0) continue;
      const name = components[record.pieces.find((p) => p.id === tip.piece)?.componentId ?? '']?.name ?? tip.name;
      names.set(angle, [...(names.get(angle) ?? []), `tip of ${name}`]);
    }
    if (!names.has(90)) names.set(90, ['square to the turning plane']);
    return [...names].map(([angle, words]) => ({ value: String(angle), label: words.join(', ') }));
  }, [tips, components, record.pieces]);
  return (
    <>
      <Select
        size="xs"
        w={250}
        aria-label="Plane of the section"
        data={choices}
        value={choices.some((c) => c.value === String(deg)) ? String(deg) : null}
        placeholder="turned by hand"
        onChange={(v) => v !== null && onTurn(Number(v))}
      />
      <NumberField kind="angle" aria-label="Plane turned by" value={deg} min={-360} max={360} onCommit={onTurn} w={78} />
    </>
  );
}

/** Outlines of what lies behind a plane of the stage, piece by piece, as they come. */
export function useBehind(
  items: readonly StageItem[],
  components: Readonly<Record<string, ComponentRecord>>,
  record: AssemblyRecord,
  plane: Frame,
): readonly Float64Array[] {
  const [found, setFound] = useState<{ readonly key: string; readonly loops: readonly Float64Array[] }>({ key: '', loops: [] });
  const key = useMemo(() => JSON.stringify([plane, items.map((i) => [i.key, i.stageFromModel, i.roles])]), [items, plane]);
  useEffect(() => {
    let live = true;
    const ask = async () => {
      const loops: Float64Array[] = [];
      for (const item of items) {
        const component = components[record.pieces.find((p) => p.id === item.key)?.componentId ?? ''];
        if (!component) continue;
        const bodies = item.model.bodies.filter((b) => item.roles[b.id] !== 'left out' && !item.hidden.has(b.id)).map((b) => b.id);
        const answer = await outlineBehind(component.model.blob, item.model, bodies, moveFrame(invert(item.stageFromModel), plane));
        if (!live) return;
        if (answer) loops.push(...answer);
      }
      setFound({ key, loops });
    };
    const later = setTimeout(() => void ask(), STILL_MS);
    return () => {
      live = false;
      clearTimeout(later);
    };
    // biome-ignore lint: the key stands for all of them
  }, [key]); // oxlint-disable-line react/exhaustive-deps
  return found.key === key ? found.loops : NONE;
}

// ms without a change before it is asked: what is slid moves all the time.
const STILL_MS = 120;
const NONE: readonly Float64Array[] = [];
