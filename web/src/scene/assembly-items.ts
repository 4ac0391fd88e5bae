import type { Motion } from '#core/math';
import type { Model } from '#core/mesh';
import type { AssemblyRecord, ComponentRecord } from '#core/records';
import type { StageItem } from './picks.ts';

const NOTHING_HIDDEN: ReadonlySet<string> = new Set();

/** The pieces of an assembly whose models are there, where `placed` says that each stands on the stage. */
export function assemblyItems(
  { pieces }: Pick<AssemblyRecord, 'pieces'>,
  components: Readonly<Record<string, ComponentRecord | undefined>>,
  models: Readonly<Record<string, Model | undefined>>,
  placed: ReadonlyMap<string, Motion>,
): StageItem[] {
  return pieces.flatMap((piece): StageItem[] => {
    const component = components[piece.componentId];
    const model = models[piece.componentId];
    const stageFromModel = placed.get(piece.id);
    if (!component || !model || !stageFromModel) return [];
    return [{ key: piece.id, model, stageFromModel, roles: Object.fromEntries(component.bodies.map((b) => [b.id, b.role])), hidden: NOTHING_HIDDEN }];
  });
}
