// How a STEP file is put together: which unit each representation is in, and where an assembly uses each of its parts.
import { bringFrame, compose, type Frame, IDENTITY, invert, length, type Motion, normalize, scale, subtract, dot, type Vec3 } from '#core/math';
import { MM_PER_INCH } from '#core/units';
import { argumentOf, argumentsOf, bodyTextOf, numbersIn, type Part21File, referencesIn } from './part21.ts';

export interface LengthUnit {
  readonly unit: string;
  /** mm. */
  readonly unitScale: number;
}

export type EntitiesByType = ReadonlyMap<string, readonly number[]>;

/** Which unit each representation is in, and which representation an item belongs to. */
interface Representations {
  readonly unitOf: ReadonlyMap<number, LengthUnit>;
  readonly representationOfItem: ReadonlyMap<number, number>;
}

export interface StepParts extends Representations {
  /** Where the file uses each representation that an assembly places: from its own coordinates into the file's, both in mm. */
  readonly uses: ReadonlyMap<number, readonly Motion[]>;
}

/** mm per unit of the representation that an item belongs to; undefined for an item of none. */
export const scaleOfItem = ({ unitOf, representationOfItem }: Representations, item: number): number | undefined =>
  unitOf.get(representationOfItem.get(item) ?? -1)?.unitScale;

// A file may say that parts hold each other without an end.
const DEEPEST = 60;
const MOST_USES = 20_000;

/** The representations of a file with their units and uses. */
export function readParts(file: Part21File, byType: EntitiesByType): StepParts {
  const unitOf = new Map<number, LengthUnit>();
  const representationOfItem = new Map<number, number>();
  const units = new Map<number, LengthUnit | undefined>();
  // Those of curves on faces are by the thousand, and have no unit.
  const isOfSpace = (type: string) => type.endsWith('REPRESENTATION') && type !== 'DEFINITIONAL_REPRESENTATION';
  const representations = [...byType].flatMap(([type, ids]) => (isOfSpace(type) ? ids.map((id) => ({ id, type })) : []));
  for (const { id, type } of representations) {
    const context = argumentOf(file, id, 2, referencesIn)?.[0];
    if (context === undefined) continue;
    if (!units.has(context)) units.set(context, unitOfContext(file, context));
    const unit = units.get(context);
    if (!unit) continue;
    unitOf.set(id, unit);
    for (const item of argumentOf(file, id, 1, referencesIn) ?? []) {
      // The same item may stand in a representation of how it looks as well.
      if (representationOfItem.has(item) && !type.endsWith('SHAPE_REPRESENTATION')) continue;
      representationOfItem.set(item, id);
    }
  }
  const all = { unitOf, representationOfItem };
  return { ...all, uses: readUses(file, byType, all) };
}

/** The unit that a file is said to be in: that of what holds all else, or of the first context in use. */
export function fileUnit(file: Part21File, { unitOf, uses }: Pick<StepParts, 'unitOf' | 'uses'>): LengthUnit {
  for (const [id, unit] of unitOf) if (!uses.has(id) && file.entities.get(id)?.type.endsWith('SHAPE_REPRESENTATION')) return unit;
  for (const [id, { type }] of file.entities) {
    // Units and contexts are complex instances.
    const unit = type === '' ? unitOfContext(file, id) : undefined;
    if (unit) return unit;
  }
  return { unit: 'mm', unitScale: 1 };
}

const PREFIXES: Record<string, number> = { MILLI: 1, CENTI: 10, DECI: 100, MICRO: 0.001, KILO: 1e6 };

const unitsOfContext = (file: Part21File, context: number): number[] =>
  referencesIn(/GLOBAL_UNIT_ASSIGNED_CONTEXT\s*\(\s*\(([^)]*)\)/.exec(bodyTextOf(file, context))?.[1] ?? '');

function unitOfContext(file: Part21File, context: number): LengthUnit | undefined {
  for (const id of unitsOfContext(file, context)) {
    const text = bodyTextOf(file, id);
    if (!/\bLENGTH_UNIT\b/.test(text)) continue;
    const conversion = /CONVERSION_BASED_UNIT\s*\(\s*'([^']*)'\s*,\s*#(\d+)/.exec(text);
    if (conversion) {
      const measure = bodyTextOf(file, Number(conversion[2]));
      const factor = Number(/LENGTH_MEASURE\s*\(\s*([-+.\dEe]+)/.exec(measure)?.[1] ?? MM_PER_INCH);
      const base = siScale(bodyTextOf(file, referencesIn(measure)[0])) ?? 1;
      const unitScale = factor * base;
      return { unit: Math.abs(unitScale - MM_PER_INCH) < 1e-6 ? 'inch' : conversion[1].toLowerCase(), unitScale };
    }
    const own = siScale(text);
    if (own !== undefined) return { unit: { 1: 'mm', 10: 'cm', 1000: 'm', 0.001: 'µm' }[own] ?? `${own} mm`, unitScale: own };
  }
  return undefined;
}

function siScale(text: string): number | undefined {
  const match = /SI_UNIT\s*\(\s*(?:\.(\w+)\.|\$)\s*,\s*\.METRE\./.exec(text);
  if (!match) return undefined;
  return match[1] ? (PREFIXES[match[1]] ?? 1) : 1000;
}

/** rad per unit of the file's plane angles; undefined where its contexts do not agree. */
export function angleUnit(file: Part21File, byType: EntitiesByType): number | undefined {
  const found = new Set<number>();
  for (const unit of new Set((byType.get('') ?? []).flatMap((context) => unitsOfContext(file, context)))) {
    const body = bodyTextOf(file, unit);
    if (!/\bPLANE_ANGLE_UNIT\b/.test(body)) continue;
    const conversion = /CONVERSION_BASED_UNIT\s*\(\s*'[^']*'\s*,\s*#(\d+)/.exec(body);
    found.add(conversion ? Number(/PLANE_ANGLE_MEASURE\s*\(\s*([-+.\dEe]+)/.exec(bodyTextOf(file, Number(conversion[1])))?.[1]) : 1);
  }
  const [first = 1, ...others] = found;
  return others.length === 0 && first > 0 ? first : undefined;
}

/** A placement of the text as a frame, with `scaleToMm` mm per unit; undefined where its numbers make none. */
export function placementFrame(file: Part21File, id: number, scaleToMm: number): Frame | undefined {
  const [at, axis, ref] = [1, 2, 3].map((k) => argumentOf(file, id, k, referencesIn)?.[0]);
  const origin = vectorOf(file, at);
  const z = unitVector(vectorOf(file, axis) ?? [0, 0, 1]);
  const along = vectorOf(file, ref) ?? (z && Math.abs(z[0]) > 0.999 ? ([0, 1, 0] as Vec3) : ([1, 0, 0] as Vec3));
  const x = z && unitVector(subtract(along, scale(z, dot(along, z))));
  return origin && z && x ? { origin: scale(origin, scaleToMm), z, x } : undefined;
}
const unitVector = (v: Vec3): Vec3 | undefined => (length(v) > 1e-9 ? normalize(v) : undefined);

/** The numbers of a point or a direction; undefined where they are not three. */
export function vectorOf(file: Part21File, id: number | undefined): Vec3 | undefined {
  const values = id === undefined ? undefined : argumentOf(file, id, 1, numbersIn);
  return values?.length === 3 && values.every(Number.isFinite) ? (values as unknown as Vec3) : undefined;
}

interface Usage {
  readonly parent: number;
  readonly child: number;
  readonly parentFromChild: Motion;
}

// All by representation: a product's own and those that are related to it without a motion are one.
function readUses(file: Part21File, byType: EntitiesByType, all: Representations): Map<number, Motion[]> {
  const ofType = (type: string) => byType.get(type) ?? [];
  const usages = ofType('NEXT_ASSEMBLY_USAGE_OCCURRENCE');
  const out = new Map<number, Motion[]>();
  if (usages.length === 0) return out;
  const same = joinedRepresentations(file, byType);
  const definitionOf = new Map(ofType('PRODUCT_DEFINITION_SHAPE').map((id) => [id, argumentOf(file, id, 2, referencesIn)?.[0] ?? -1]));
  const representationsOf = new Map<number, number[]>();
  for (const id of ofType('SHAPE_DEFINITION_REPRESENTATION')) {
    const [shape, representation] = [0, 1].map((k) => argumentOf(file, id, k, referencesIn)?.[0] ?? -1);
    const definition = definitionOf.get(shape) ?? -1;
    representationsOf.set(definition, [...(representationsOf.get(definition) ?? []), ...same(representation)]);
  }
  const placed = new Map<number, Motion>();
  for (const id of ofType('CONTEXT_DEPENDENT_SHAPE_REPRESENTATION')) {
    const [relation, shape] = [0, 1].map((k) => argumentOf(file, id, k, referencesIn)?.[0] ?? -1);
    const usage = definitionOf.get(shape) ?? -1;
    const child = argumentOf(file, usage, 4, referencesIn)?.[0];
    const motion = child === undefined ? undefined : usageMotion(file, relation, representationsOf.get(child) ?? [], all);
    if (motion) placed.set(usage, motion);
  }
  const below = new Map<number, Usage[]>();
  const children = new Set<number>();
  for (const id of usages) {
    const [parent, child] = [3, 4].map((k) => argumentOf(file, id, k, referencesIn)?.[0] ?? -1);
    const parentFromChild = placed.get(id);
    children.add(child);
    if (parentFromChild) below.set(parent, [...(below.get(parent) ?? []), { parent, child, parentFromChild }]);
  }
  let count = 0;
  const walk = (definition: number, fileFromHere: Motion, depth: number) => {
    for (const { child, parentFromChild } of below.get(definition) ?? []) {
      if (depth > DEEPEST || ++count > MOST_USES) return;
      const fileFromChild = compose(fileFromHere, parentFromChild);
      for (const r of representationsOf.get(child) ?? []) out.set(r, [...(out.get(r) ?? []), fileFromChild]);
      walk(child, fileFromChild, depth + 1);
    }
  };
  for (const parent of below.keys()) if (!children.has(parent)) walk(parent, IDENTITY, 0);
  // A part that is never placed is still a part's: its coordinates are not the file's.
  for (const child of children) for (const r of representationsOf.get(child) ?? []) if (!out.has(r)) out.set(r, []);
  return out;
}

/** Each representation with all that are related to it without a motion, itself first: a product's shape may hang on a second one. */
export function joinedRepresentations(file: Part21File, byType: EntitiesByType): (id: number) => readonly number[] {
  const beside = new Map<number, number[]>();
  for (const id of [...byType].flatMap(([type, ids]) => (/^(?:SHAPE_|CONSTRUCTIVE_GEOMETRY_)?REPRESENTATION_RELATIONSHIP$/.test(type) ? ids : []))) {
    const [a, b] = [2, 3].map((k) => argumentOf(file, id, k, referencesIn)?.[0] ?? -1);
    beside.set(a, [...(beside.get(a) ?? []), b]);
    beside.set(b, [...(beside.get(b) ?? []), a]);
  }
  return (id) => {
    const out = [id];
    for (let i = 0; i < out.length; i++) for (const next of beside.get(out[i]) ?? []) if (!out.includes(next)) out.push(next);
    return out;
  };
}

// ISO 10303-43: item 1 is of the first representation, item 2 of the second; what they say is where the one lies on the other.
function usageMotion(file: Part21File, relation: number, child: readonly number[], all: Representations): Motion | undefined {
  const text = bodyTextOf(file, relation);
  const by = /REPRESENTATION_RELATIONSHIP_WITH_TRANSFORMATION\s*\(\s*#(\d+)/.exec(text);
  const sides = /\bREPRESENTATION_RELATIONSHIP\s*\(\s*(?:'(?:[^']|'')*'|\$)\s*,\s*(?:'(?:[^']|'')*'|\$)\s*,\s*#(\d+)\s*,\s*#(\d+)/.exec(text);
  const transformation = by ? file.entities.get(Number(by[1])) : undefined;
  if (!sides || transformation?.type !== 'ITEM_DEFINED_TRANSFORMATION') return undefined;
  const items = argumentsOf(file, transformation)
    .slice(2, 4)
    .map((a) => referencesIn(a)[0] ?? -1);
  const isOfChild = (item: number) => child.includes(all.representationOfItem.get(item) ?? -1);
  // Some systems have them the other way round; what an item belongs to tells.
  const isFirst = isOfChild(items[0]) !== isOfChild(items[1]) ? isOfChild(items[0]) : child.includes(Number(sides[1]));
  const [first, second] = items.map((item) => placementFrame(file, item, scaleOfItem(all, item) ?? 1));
  if (!first || !second) return undefined;
  const secondFromFirst = bringFrame(first, second);
  return isFirst ? secondFromFirst : invert(secondFromFirst);
}
