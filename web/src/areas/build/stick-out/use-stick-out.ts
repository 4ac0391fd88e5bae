import { useCallback, useMemo, useRef, useState } from 'react';
import { feelStops, placePieces, reachAlongMount, stickOutLimits } from '#core/assembly';
import { addScaled, move, turn } from '#core/math';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord } from '#core/records';
import { formatLength, type LengthUnit, MM_PER_INCH } from '#core/units';
import { changeAssembly } from '../../../app/store.ts';
import type { Slide } from '../../../scene/slide.ts';

interface Held {
  /** The assembly that it is of; of another one it is gone. */
  readonly of: AssemblyRecord;
  readonly piece: string;
  readonly stickOut: number;
  readonly felt: string | null;
}

/** The stick-out of the chosen piece, to be slid on the stage and in the section: the assembly as it is while it is held, and what slides it. */
export function useStickOut(
  kept: AssemblyRecord,
  chosen: string | null,
  components: Readonly<Record<string, ComponentRecord>>,
  models: Readonly<Record<string, Model | undefined>>,
  unit: LengthUnit,
): { readonly record: AssemblyRecord; readonly slide: Slide | undefined } {
  const [found, setHeld] = useState<Held | null>(null);
  // The last move, which may not be drawn yet when the hand lets go.
  const last = useRef<Held | null>(null);
  const held = found?.of === kept ? found : null;
  const limits = useMemo(() => (chosen === null ? undefined : stickOutLimits(kept, components, chosen, models)), [kept, components, chosen, models]);
  const record = useMemo(
    () => (held ? { ...kept, pieces: kept.pieces.map((p) => (p.id === held.piece ? { ...p, stickOut: held.stickOut } : p)) } : kept),
    [kept, held],
  );
  const take = useCallback(
    (pieceId: string, name: string, stickOut: number) =>
      changeAssembly(kept.id, `Slid ${name}`, (r) => ({ pieces: r.pieces.map((p) => (p.id === pieceId ? { ...p, stickOut } : p)) })),
    [kept.id],
  );
  const slide = useMemo((): Slide | undefined => {
    const piece = record.pieces.find((p) => p.id === chosen);
    const component = piece && components[piece.componentId];
    const model = component && models[component.id];
    const parent = record.pieces.find((p) => p.id === piece?.parent?.pieceId);
    const gaugeFromParent = parent && placePieces(record, components).get(parent.id);
    const seat = components[parent?.componentId ?? '']?.seats.find((s) => s.id === piece?.parent?.seatId);
    if (!limits || !piece || !component || !model || !gaugeFromParent || !seat) return undefined;
    const [, front] = reachAlongMount(component, model);
    const along = turn(gaugeFromParent, seat.frame.z);
    const felt = held?.felt ?? limits.stops.find((s) => Math.abs(s.at - piece.stickOut) < 1e-6)?.what;
    return {
      label: `Stick-out of ${component.name}`,
      at: addScaled(move(gaugeFromParent, seat.frame.origin), along, piece.stickOut + front),
      along,
      // As people say it: from the seat to the front.
      value: piece.stickOut + front,
      least: limits.least + front,
      most: limits.most + front,
      text: `stands out ${formatLength(piece.stickOut + front, unit)}${felt ? `, ${felt}` : ''}`,
      isHeld: held !== null,
      onMove: (value, feel) => {
        const { at, felt: now } = feelStops(limits, value - front, feel, unit === 'mm' ? 0.1 : 0.005 * MM_PER_INCH, front);
        last.current = { of: kept, piece: piece.id, stickOut: at, felt: now };
        setHeld(last.current);
      },
      onEnd: (isTaken) => {
        const moved = last.current;
        last.current = null;
        setHeld(null);
        if (isTaken && moved?.of === kept) take(piece.id, component.name, moved.stickOut);
      },
      onStep: (by) =>
        take(piece.id, component.name, Math.min(limits.most, Math.max(limits.least, piece.stickOut + (unit === 'mm' ? by : (by / 20) * MM_PER_INCH)))),
    };
  }, [record, kept, chosen, components, models, limits, held, unit, take]);
  return { record, slide };
}
