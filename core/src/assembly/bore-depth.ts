import { dot, invert, move, moveFrame, scale, turn } from '#core/math';
import { furthestAlong, type Model } from '#core/mesh';
import { type BoreAtDepth, computeMinimumBore } from '#core/reading';
import { type ChainOfPieces, type ComponentsById, placeFrame, placePieces, placeTips } from './join.ts';
import { placeBodies } from './mass.ts';

/** The least bore that lets a boring bar in with all that holds it, against how deep its edge is. */
export interface ChainBore {
  readonly piece: string;
  readonly tip: string;
  /** mm; Infinity from where on something stands out as far as the edge. */
  readonly steps: readonly BoreAtDepth[];
}

// mm: no bore is deeper.
const DEEPEST = 1000;

/** Of each edge of the boring bars of an assembly, over the whole chain but what cuts; see `computeMinimumBore`. Empty as long as a model is not known. */
export function boreAgainstDepth(assembly: ChainOfPieces, components: ComponentsById, models: Readonly<Record<string, Model | undefined>>): ChainBore[] {
  if (!assembly.pieces.every((p) => models[p.componentId])) return [];
  const placed = placePieces(assembly, components);
  const bodies = placeBodies(assembly, components, models, placed).filter((b) => b.component.bodies.find((e) => e.id === b.body.id)?.role !== 'cutting');
  return placeTips(assembly, components, placed).flatMap(({ piece, tip, virtualTip }): ChainBore[] => {
    const bar = components[assembly.pieces.find((p) => p.id === piece)?.componentId ?? ''];
    const gaugeFromBar = placed.get(piece);
    if (bar?.componentKind !== 'boring bar' || !bar.mount || !gaugeFromBar) return [];
    const mount = placeFrame(gaugeFromBar, bar.mount.frame);
    // How far the chain goes on behind the edge.
    const backwards = scale(mount.z, -1);
    const behind = bodies.map(({ body, gaugeFromFile }) => furthestAlong(body.mesh, turn(invert(gaugeFromFile), backwards)) + dot(gaugeFromFile.t, backwards));
    const upTo = Math.min(DEEPEST, Math.max(1, Math.max(...behind) + dot(virtualTip, mount.z)));
    const each = bodies.map(({ body, gaugeFromFile }) => {
      const back = invert(gaugeFromFile);
      return computeMinimumBore([body], moveFrame(back, mount), move(back, virtualTip), { upTo, depths: 120 });
    });
    const steps = (each[0] ?? []).map(({ depth }, i) => ({ depth, diameter: Math.max(...each.map((e) => e[i].diameter)) }));
    return [{ piece, tip, steps }];
  });
}
