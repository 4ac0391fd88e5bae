import type { SpecKind } from '#core/components';
import { type Coolant, type CuttingMaterial, MATERIAL_GROUPS, type MaterialGroup, type Sense, type Usual, usualUse, type UsualUse } from '#core/cutting';
import { dot, yOf } from '#core/math';
import { boxOfPath, type SolidShape } from '#core/outline';
import { readDesignation } from '#core/standards';
import type { ComponentRecord } from './component-record.ts';

const HANDED: ReadonlySet<SpecKind> = new Set<SpecKind>(['turning holder', 'boring bar', 'grooving holder', 'grooving bar', 'threading holder', 'solid bar']);

/** Which hand a component is by its data or its designation; null where nothing says it. */
export function handOf({ source, designation }: Pick<ComponentRecord, 'source' | 'designation'>): 'right' | 'left' | 'neutral' | null {
  if (source.kind === 'data') return HANDED.has(source.spec.kind) ? source.spec.hand : null;
  if (designation === '') return null;
  const read = readDesignation(designation);
  return (read.ok ? read.value.hand : undefined) ?? null;
}

// A rake face that looks along the mount's Y is a right-hand one; a picked one may have been told either way round.
function handByRake({ mount, tips }: Pick<ComponentRecord, 'mount' | 'tips'>): 'right' | 'left' | null {
  const rake = tips[0]?.rake;
  if (!mount || !rake || !['read', 'data'].includes(tips[0].origin.from)) return null;
  const up = dot(rake, yOf(mount.frame));
  return Math.abs(up) < 0.5 ? null : up > 0 ? 'right' : 'left';
}

/** How a tool is used: what was said, and what is usual for the rest. */
export interface KnownUse {
  readonly usual: UsualUse;
  readonly cuttingMaterial: CuttingMaterial;
  /** Null where neither its hand nor anybody says it. */
  readonly sense: Sense | null;
  readonly coolant: Coolant;
  /** Null where the tool should not be used in it and nobody said otherwise. */
  readonly groups: Readonly<Record<MaterialGroup, Usual | null>>;
}

/** How a component is used; null of what does not cut. */
export function useOf(record: Pick<ComponentRecord, 'componentKind' | 'source' | 'designation' | 'mount' | 'tips' | 'use'>): KnownUse | null {
  const { source, tips, use, componentKind } = record;
  const data = source.kind === 'data' ? source : undefined;
  const tool = {
    componentKind,
    type: data?.spec.kind ?? null,
    values: data?.values ?? (source.kind === 'outline' ? widthOf(source.shape) : {}),
    noseRadius: tips[0]?.noseRadius ?? data?.values.RE ?? 0,
    hand: handOf(record) ?? handByRake(record),
  };
  const usual = usualUse(tool, use.cuttingMaterial);
  if (!usual) return null;
  const groups = Object.fromEntries(MATERIAL_GROUPS.map((group) => [group, merged(usual.groups[group], use.groups[group])])) as KnownUse['groups'];
  return {
    usual,
    cuttingMaterial: usual.cuttingMaterial,
    // What a tip was said to run with is said of the tool.
    sense: use.sense ?? tips.find((t) => t.runs)?.runs?.sense ?? usual.sense,
    coolant: use.coolant ?? usual.coolant,
    groups,
  };
}

// How wide what was drawn cuts, where it is turned.
function widthOf(shape: SolidShape): { DC?: number } {
  if (shape.form !== 'revolved') return {};
  const cutting = shape.bodies.filter((b) => b.role === 'cutting');
  const widest = Math.max(0, ...cutting.map((b) => boxOfPath(b.profile.flat())[3]));
  return widest > 0 ? { DC: 2 * widest } : {};
}

function merged(usual: Usual | null, said: { readonly surfaceSpeed?: number; readonly feed?: number; readonly depth?: number } | undefined): Usual | null {
  const { surfaceSpeed = usual?.surfaceSpeed, feed = usual?.feed, depth = usual?.depth } = said ?? {};
  if (surfaceSpeed === undefined) return null;
  return { surfaceSpeed, ...(feed === undefined ? {} : { feed }), ...(depth === undefined ? {} : { depth }) };
}
