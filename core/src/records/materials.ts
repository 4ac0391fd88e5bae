import type { Operation } from '#core/cutting';
import type { Material } from './body-records.ts';
import type { ComponentRecord } from './component-record.ts';
import { useOf } from './tool-use.ts';

// What data makes for these is one piece of what cuts, shank and all.
const SOLID: ReadonlySet<Operation> = new Set<Operation>(['drilling', 'reaming', 'tapping', 'milling', 'small boring']);

/** What a body of a component is made of, where nobody said: what cuts is carbide or high-speed steel by its cutting data, and so is a solid tool's shank; all else is steel. */
export function usualMaterial(component: ComponentRecord, bodyId: string): Material {
  const isCutting = component.bodies.find((b) => b.id === bodyId)?.role === 'cutting';
  if (!isCutting && component.source.kind !== 'data') return 'steel';
  const use = useOf(component);
  if (!use || (!isCutting && !SOLID.has(use.usual.operation))) return 'steel';
  return use.cuttingMaterial === 'HSS' ? 'high-speed steel' : 'carbide';
}

/** What a body is made of, as it was said or as usual. */
export const materialOf = (component: ComponentRecord, bodyId: string): Material =>
  component.bodies.find((b) => b.id === bodyId)?.material ?? usualMaterial(component, bodyId);
