import { roundTo } from '#core/math';
import { type Coolant, type CuttingMaterial, MATERIAL_GROUPS, type MaterialGroup, type Sense } from './use-schema.ts';

/** By what a tool's usual use is told. Lengths in mm. */
export interface CuttingTool {
  readonly componentKind: string;
  /** The kind of its specification, where data says so. */
  readonly type: string | null;
  /** By their ISO 13399 names, mm and degrees. */
  readonly values: Readonly<Partial<Record<string, number>>>;
  /** Of its first tip. */
  readonly noseRadius: number;
  /** Null where nothing tells it. */
  readonly hand: 'right' | 'left' | 'neutral' | null;
}

export type Operation = 'turning' | 'boring' | 'small boring' | 'grooving' | 'threading' | 'drilling' | 'reaming' | 'tapping' | 'milling' | 'face milling';

export interface Usual {
  readonly surfaceSpeed: number;
  /** Absent where a number is not known that it follows from: the pitch of a thread. */
  readonly feed?: number;
  readonly depth?: number;
}

/** How a tool is used where nobody said otherwise: starting values of the trade, careful rather than fast. */
export interface UsualUse {
  readonly operation: Operation;
  readonly cuttingMaterial: CuttingMaterial;
  /** Null of a tool that stands still and whose hand nobody knows. */
  readonly sense: Sense | null;
  readonly senseWhy: string;
  readonly coolant: Coolant;
  /** Whether the feed is that of a tooth, not of a revolution. */
  readonly feedPerTooth: boolean;
  readonly teeth: number | undefined;
  /** That cuts, mm; of what stands still while the work turns there is none. */
  readonly diameter: number | undefined;
  /** Null where it should not be used so. */
  readonly groups: Readonly<Record<MaterialGroup, Usual | null>>;
}

const OPERATIONS: Readonly<Partial<Record<string, Operation>>> = {
  insert: 'turning',
  'turning holder': 'turning',
  'boring bar': 'boring',
  'solid bar': 'small boring',
  'boring head': 'boring',
  'grooving insert': 'grooving',
  'grooving holder': 'grooving',
  'grooving bar': 'grooving',
  'parting blade': 'grooving',
  'threading insert': 'threading',
  'threading holder': 'threading',
  drill: 'drilling',
  'step drill': 'drilling',
  'spot drill': 'drilling',
  'centre drill': 'drilling',
  countersink: 'drilling',
  reamer: 'reaming',
  tap: 'tapping',
  'face mill': 'face milling',
};
// Of components that are no data.
const BY_COMPONENT: Readonly<Record<string, Operation>> = { 'turning tool': 'turning', 'boring bar': 'boring', insert: 'turning', cutter: 'milling' };
const HOLDING: ReadonlySet<string> = new Set(['collet', 'sleeve', 'arbor']);
// Usually of high-speed steel; all else is coated carbide.
const OF_STEEL: ReadonlySet<string> = new Set(['tap', 'reamer', 'centre drill', 'countersink', 'slot cutter', 'woodruff cutter', 'T-slot cutter']);
const SPINNING: ReadonlySet<Operation> = new Set<Operation>(['drilling', 'reaming', 'tapping', 'milling', 'face milling']);

// Surface speeds in m/min for P, M, K, N, S, H; 0 where it should not be done. Round values from the careful end of what workshop handbooks print.
type Row = readonly [number, number, number, number, number, number];
const CARBIDE: Readonly<Record<Operation, Row>> = {
  turning: [200, 140, 180, 500, 45, 100],
  boring: [160, 110, 150, 400, 40, 80],
  'small boring': [80, 60, 80, 150, 30, 40],
  grooving: [120, 85, 110, 300, 30, 60],
  threading: [120, 80, 100, 300, 30, 50],
  drilling: [80, 50, 90, 180, 30, 30],
  reaming: [40, 20, 40, 80, 15, 0],
  tapping: [30, 15, 30, 50, 8, 0],
  milling: [130, 80, 140, 350, 35, 70],
  'face milling': [220, 150, 200, 600, 45, 110],
};
const STEEL: Readonly<Record<Operation, Row>> = {
  turning: [30, 18, 25, 100, 8, 0],
  boring: [25, 15, 20, 80, 7, 0],
  'small boring': [20, 12, 18, 60, 6, 0],
  grooving: [18, 12, 15, 60, 5, 0],
  threading: [12, 8, 10, 40, 4, 0],
  drilling: [28, 14, 28, 60, 7, 0],
  reaming: [10, 6, 10, 20, 4, 0],
  tapping: [12, 6, 12, 20, 3, 0],
  milling: [30, 16, 28, 80, 8, 0],
  'face milling': [30, 16, 28, 90, 8, 0],
};
// Of the carbide's speeds; what a material should not cut has none.
const OTHERS: Readonly<Record<Exclude<CuttingMaterial, 'HC' | 'HSS'>, Row>> = {
  HW: [0.6, 0.6, 0.7, 1, 0.9, 0],
  HT: [1.2, 1.2, 1.1, 0, 0, 0],
  CA: [0, 0, 2.5, 0, 4, 1.3],
  BN: [0, 0, 3, 0, 0, 1.5],
  DP: [0, 0, 0, 2, 0, 0],
};
const FEED_SHARES: Row = [1, 0.85, 1.15, 1.25, 0.6, 0.45];

/** How a tool is usually used, made of `material` where that was said; null of what does not cut. */
export function usualUse(tool: CuttingTool, material?: CuttingMaterial): UsualUse | null {
  const { type, values, componentKind } = tool;
  const operation = type ? (HOLDING.has(type) ? undefined : (OPERATIONS[type] ?? 'milling')) : BY_COMPONENT[componentKind];
  if (!operation) return null;
  const usualMaterial: CuttingMaterial = type && OF_STEEL.has(type) ? 'HSS' : 'HC';
  const cuttingMaterial = material ?? usualMaterial;
  const feedPerTooth = operation === 'milling' || operation === 'face milling';
  const feed = usualFeed(operation, tool, cuttingMaterial);
  const depth = usualDepth(operation, tool);
  const groups = Object.fromEntries(
    MATERIAL_GROUPS.map((group, i): [MaterialGroup, Usual | null] => {
      const surfaceSpeed = speedOf(operation, cuttingMaterial, i);
      if (surfaceSpeed === 0) return [group, null];
      // The feed of a thread is its pitch.
      const isPitch = operation === 'tapping' || operation === 'threading';
      const fed = feed === undefined ? {} : { feed: isPitch ? feed : tidy(feed * FEED_SHARES[i]) };
      return [group, { surfaceSpeed, ...fed, ...(depth === undefined ? {} : { depth }) }];
    }),
  ) as Record<MaterialGroup, Usual | null>;
  const spins = SPINNING.has(operation) || type === 'boring head';
  const isLeft = tool.hand === 'left';
  return {
    operation,
    cuttingMaterial,
    sense: isLeft ? 'M4' : spins || tool.hand !== null ? 'M3' : null,
    senseWhy: spins
      ? isLeft
        ? 'it cuts to the left'
        : 'it cuts to the right'
      : tool.hand === null
        ? 'its hand is not known'
        : `${tool.hand} hand, fed towards the chuck`,
    coolant: cuttingMaterial === 'CA' || cuttingMaterial === 'BN' ? 'dry' : 'outside',
    feedPerTooth,
    teeth: feedPerTooth ? values.NOF : undefined,
    diameter: spins ? (operation === 'tapping' || type === 'thread mill' ? (values.TD ?? values.DC) : (values.DCX ?? values.DC)) : undefined,
    groups,
  };
}

function speedOf(operation: Operation, material: CuttingMaterial, group: number): number {
  if (material === 'HC') return CARBIDE[operation][group];
  if (material === 'HSS') return STEEL[operation][group];
  return Math.round((CARBIDE[operation][group] * OTHERS[material][group]) / 5) * 5;
}

const within = (v: number, min: number, max: number): number => Math.min(max, Math.max(min, v));
const tidy = (v: number): number => roundTo(v, v < 0.02 ? 4 : v < 0.2 ? 3 : 2);

// For steel, mm: for each revolution, or for each tooth where it mills. Undefined where a number is missing that it depends on.
function usualFeed(operation: Operation, { type, values, noseRadius }: CuttingTool, material: CuttingMaterial): number | undefined {
  const d = values.DCX ?? values.DC ?? 0;
  const softer = material === 'HSS' ? 0.75 : 1;
  switch (operation) {
    case 'turning':
    case 'boring':
      // A third of the nose radius: half of it and more leaves a thread on the work.
      return within(0.3 * noseRadius, 0.05, 0.4);
    case 'small boring':
      return within(0.15 * noseRadius, 0.01, 0.05);
    case 'grooving':
      return within(0.035 * (values.CW ?? 3), 0.02, 0.25);
    case 'threading':
    case 'tapping':
      return values.TP;
    case 'drilling':
      return d === 0 ? 0.05 : within((type === 'drill' || type === 'step drill' ? 0.02 : 0.01) * d * softer, 0.005, 0.4);
    case 'reaming':
      return within(0.05 + 0.015 * d, 0.05, 0.6);
    case 'face milling':
      return 0.12 * softer;
    case 'milling':
      if (type === 'slot cutter') return within(0.01 * (values.CW ?? 2) * softer, 0.004, 0.08);
      if (type === 'thread mill') return within(0.004 * (d || (values.TD ?? 0)) * softer, 0.003, 0.1);
      return d === 0 ? 0.03 : within(0.006 * d * softer, 0.002, 0.15);
  }
}

// mm, of what turns or bores with a nose radius: not less than it, so that the edge cuts, and a fifth of the insert at most.
function usualDepth(operation: Operation, { values, noseRadius }: CuttingTool): number | undefined {
  if (operation === 'small boring') return within(noseRadius, 0.05, 0.2);
  if (operation !== 'turning' && operation !== 'boring') return undefined;
  return tidy(within(2.5 * noseRadius, 0.2, Math.max(0.2, (values.IC ?? 12.7) / 5)));
}
