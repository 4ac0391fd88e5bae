import { distance } from '#core/math';
import type { Model } from '#core/mesh';
import { spinsInWork } from '#core/records';
import { type Deflection, deflectionOf } from './deflection.ts';
import { type ChainOfPieces, type ComponentsById, firstPiece, gaugeLineAt, measuredTip, type PlacedTip, placeFrame, placePieces, placeTips } from './join.ts';
import { type MassOf, massOf, type Overhang, overhangsOf, placeBodies } from './mass.ts';

/** What an assembly is in numbers; what has no model or no tip yet is left out. */
export interface AssemblyNumbers {
  readonly gaugeLength: number | undefined;
  readonly tips: readonly PlacedTip[];
  /** The one that the gauge length is told by. */
  readonly measured: PlacedTip | undefined;
  readonly mass: MassOf | undefined;
  /** Whether it spins when it works, so that unbalance matters: what holds cutters does, what holds turning tools stands still. */
  readonly spins: boolean;
  /** The worst of its pieces, against the rule for their materials. */
  readonly overhang: Overhang | undefined;
  /** At the measured tip. Undefined where the chain turns away from the gauge line: it is no straight beam then. */
  readonly deflection: Deflection | undefined;
}

/** N. Where nobody said a force. */
export const USUAL_FORCE = 100;

/** Numbers of an assembly in its gauge frame: mm, kg, g mm, N. */
export function numbersOf(
  assembly: ChainOfPieces,
  components: ComponentsById,
  models: Readonly<Record<string, Model | undefined>>,
  force = USUAL_FORCE,
): AssemblyNumbers {
  const placed = placePieces(assembly, components);
  const tips = placeTips(assembly, components, placed);
  const measured = measuredTip(assembly, tips);
  const isWhole = assembly.pieces.every((p) => models[p.componentId]);
  const bodies = isWhole ? placeBodies(assembly, components, models, placed) : [];
  const first = firstPiece(assembly, components);
  const [overhang] = overhangsOf(assembly, components, models).sort((a, b) => b.ratio / b.limit - a.ratio / a.limit);
  return {
    gaugeLength: measured?.L,
    tips,
    measured,
    mass: massOf(bodies),
    spins:
      first !== undefined && spinsInWork(first) && (tips.length === 0 || assembly.pieces.some((p) => components[p.componentId]?.componentKind === 'cutter')),
    overhang,
    // The force is at the edge, whatever is programmed of it.
    deflection:
      bodies.length > 0 && measured && isStraight(assembly, components, placed)
        ? deflectionOf(bodies, measured.virtualTip[2], force, -(gaugeLineAt(assembly, components)?.at ?? 0))
        : undefined,
  };
}

// Every seat on the way points along the gauge line.
function isStraight(assembly: ChainOfPieces, components: ComponentsById, placed: ReturnType<typeof placePieces>): boolean {
  return assembly.pieces.every((p) => {
    const parent = assembly.pieces.find((o) => o.id === p.parent?.pieceId);
    const motion = parent && placed.get(parent.id);
    const seat = parent && components[parent.componentId]?.seats.find((s) => s.id === p.parent?.seatId);
    return !p.parent || (motion !== undefined && seat !== undefined && distance(placeFrame(motion, seat.frame).z, [0, 0, 1]) < 1e-6);
  });
}
