import { MM_PER_INCH } from '#core/units';
import { argumentsOf, type Part21Entity, type Part21File, referencesIn, stringOf } from './part21.ts';

/** What the text of a STEP file says about one solid. */
export interface SolidFacts {
  readonly entity: number;
  /** The solid's own label, or the name of the product that it belongs to; may be meaningless or empty. */
  readonly name: string;
  /** '#rrggbb' where the file gives one. */
  readonly colour?: string;
  readonly faceCount: number;
  /** Root mean square distance of the corner points from their mean, in mm: the same in any pose. */
  readonly gyration: number;
}

export interface StepFacts {
  readonly unit: string;
  readonly unitScale: number;
  readonly solids: readonly SolidFacts[];
  /** How many open shells and wire models there are, for files without a solid. */
  readonly surfaceModels: number;
}

const SOLID_TYPES = new Set(['MANIFOLD_SOLID_BREP', 'BREP_WITH_VOIDS', 'FACETED_BREP']);
const SURFACE_TYPES = new Set(['SHELL_BASED_SURFACE_MODEL', 'FACE_BASED_SURFACE_MODEL', 'GEOMETRIC_CURVE_SET', 'GEOMETRIC_SET']);

/** Unit, and name, colour and size of every solid, from the text alone. */
export function readStepFacts(file: Part21File): StepFacts {
  const byType = groupByType(file);
  const unit = readLengthUnit(file);
  const names = readProductNames(file, byType);
  const colours = readColours(file, byType);
  const solids = [...SOLID_TYPES].flatMap((type) => byType.get(type) ?? []).sort((a, b) => a - b);
  return {
    ...unit,
    surfaceModels: [...SURFACE_TYPES].reduce((sum, type) => sum + (byType.get(type)?.length ?? 0), 0),
    solids: solids.map((entity) => {
      const faces = facesOf(file, entity);
      return {
        entity,
        name: (argument(file, entity, 0, stringOf) || names.get(entity) || '').trim(),
        colour: colours.get(entity) ?? commonColour(faces, colours),
        faceCount: faces.length,
        gyration: solids.length > 1 ? gyrationOf(file, faces) * unit.unitScale : 0,
      };
    }),
  };
}

function groupByType(file: Part21File): Map<string, number[]> {
  const groups = new Map<string, number[]>();
  for (const [id, { type }] of file.entities) {
    const group = groups.get(type);
    if (group) group.push(id);
    else groups.set(type, [id]);
  }
  return groups;
}

const bodyText = (file: Part21File, e: Part21Entity) => file.text.slice(e.start, e.end);
function argument<T>(file: Part21File, id: number, index: number, read: (a: string) => T): T | undefined {
  const entity = file.entities.get(id);
  const value = entity && argumentsOf(file, entity)[index];
  return value === undefined ? undefined : read(value);
}
const referencesOf = (file: Part21File, id: number): number[] => {
  const entity = file.entities.get(id);
  return entity ? referencesIn(bodyText(file, entity)) : [];
};

const PREFIXES: Record<string, number> = { MILLI: 1, CENTI: 10, DECI: 100, MICRO: 0.001, KILO: 1e6 };

// The length unit of the (first) geometric context that is in use.
function readLengthUnit(file: Part21File): { unit: string; unitScale: number } {
  for (const entity of file.entities.values()) {
    if (entity.type !== '') continue; // units and contexts are complex instances
    const body = bodyText(file, entity);
    const context = /GLOBAL_UNIT_ASSIGNED_CONTEXT\s*\(\s*\(([^)]*)\)/.exec(body);
    if (!context) continue;
    for (const id of referencesIn(context[1])) {
      const unit = file.entities.get(id);
      const text = unit ? bodyText(file, unit) : '';
      if (!/\bLENGTH_UNIT\b/.test(text)) continue;
      const conversion = /CONVERSION_BASED_UNIT\s*\(\s*'([^']*)'\s*,\s*#(\d+)/.exec(text);
      if (conversion) {
        const measure = referencesOf(file, Number(conversion[2]));
        const factor = Number(/LENGTH_MEASURE\s*\(\s*([-+.\dEe]+)/.exec(bodyTextOf(file, Number(conversion[2])))?.[1] ?? MM_PER_INCH);
        const base = siScale(bodyTextOf(file, measure[0])) ?? 1;
        const unitScale = factor * base;
        const name = conversion[1].toLowerCase();
        return { unit: Math.abs(unitScale - MM_PER_INCH) < 1e-6 ? 'inch' : name, unitScale };
      }
      const scale = siScale(text);
      if (scale !== undefined) return { unit: { 1: 'mm', 10: 'cm', 1000: 'm', 0.001: 'µm' }[scale] ?? `${scale} mm`, unitScale: scale };
    }
  }
  return { unit: 'mm', unitScale: 1 };
}

const bodyTextOf = (file: Part21File, id: number): string => {
  const entity = file.entities.get(id);
  return entity ? bodyText(file, entity) : '';
};
function siScale(text: string): number | undefined {
  const match = /SI_UNIT\s*\(\s*(?:\.(\w+)\.|\$)\s*,\s*\.METRE\./.exec(text);
  if (!match) return undefined;
  return match[1] ? (PREFIXES[match[1]] ?? 1) : 1000;
}

// solid -> product name, over the shape representation that lists the solid.
function readProductNames(file: Part21File, byType: Map<string, number[]>): Map<number, string> {
  const definitionNames = new Map<number, string>();
  for (const id of byType.get('PRODUCT_DEFINITION') ?? []) {
    const formation = argument(file, id, 2, referencesIn)?.[0];
    const product = formation === undefined ? undefined : argument(file, formation, 2, referencesIn)?.[0];
    if (product === undefined) continue;
    definitionNames.set(id, argument(file, product, 1, stringOf) || argument(file, product, 0, stringOf) || '');
  }
  const shapeNames = new Map<number, string>();
  for (const id of byType.get('PRODUCT_DEFINITION_SHAPE') ?? []) {
    const name = definitionNames.get(argument(file, id, 2, referencesIn)?.[0] ?? -1);
    if (name) shapeNames.set(id, name);
  }
  const names = new Map<number, string>();
  // Vendors hang the solids on a second representation that is related to the named one.
  const related = new Map<number, number[]>();
  for (const id of byType.get('SHAPE_REPRESENTATION_RELATIONSHIP') ?? []) {
    const [a, b] = argumentsOf(file, file.entities.get(id) as Part21Entity)
      .slice(2)
      .flatMap(referencesIn);
    related.set(a, [...(related.get(a) ?? []), b]);
    related.set(b, [...(related.get(b) ?? []), a]);
  }
  for (const id of byType.get('SHAPE_DEFINITION_REPRESENTATION') ?? []) {
    const [definition, representation] = referencesOf(file, id);
    const name = shapeNames.get(definition);
    if (!name) continue;
    for (const r of [representation, ...(related.get(representation) ?? [])]) {
      for (const item of argument(file, r, 1, referencesIn) ?? []) {
        if (SOLID_TYPES.has(file.entities.get(item)?.type ?? '') && !names.has(item)) names.set(item, name);
      }
    }
  }
  return names;
}

// ISO 10303-46, draughting pre-defined colours.
const NAMED_COLOURS: Record<string, string> = {
  red: '#ff0000',
  green: '#00ff00',
  blue: '#0000ff',
  yellow: '#ffff00',
  magenta: '#ff00ff',
  cyan: '#00ffff',
  black: '#000000',
  white: '#ffffff',
};

function readColours(file: Part21File, byType: Map<string, number[]>): Map<number, string> {
  const colours = new Map<number, string>();
  const known = new Map<number, string | undefined>();
  const colourBelow = (id: number, depth: number): string | undefined => {
    if (known.has(id)) return known.get(id);
    const entity = file.entities.get(id);
    let colour: string | undefined;
    if (entity?.type === 'COLOUR_RGB') {
      const channels = argumentsOf(file, entity).slice(1, 4).map(Number);
      if (channels.every((v) => v >= 0 && v <= 1))
        colour = `#${channels
          .map((v) =>
            Math.round(v * 255)
              .toString(16)
              .padStart(2, '0'),
          )
          .join('')}`;
    } else if (entity?.type === 'DRAUGHTING_PRE_DEFINED_COLOUR') {
      colour = NAMED_COLOURS[argument(file, id, 0, stringOf) ?? ''];
    } else if (entity && depth > 0) {
      for (const next of referencesIn(bodyText(file, entity))) {
        colour = colourBelow(next, depth - 1);
        if (colour) break;
      }
    }
    known.set(id, colour);
    return colour;
  };
  for (const type of ['STYLED_ITEM', 'OVER_RIDING_STYLED_ITEM']) {
    for (const id of byType.get(type) ?? []) {
      const args = argumentsOf(file, file.entities.get(id) as Part21Entity);
      const item = referencesIn(args[2] ?? '')[0];
      const colour = referencesIn(args[1] ?? '')
        .map((style) => colourBelow(style, 8))
        .find(Boolean);
      if (item !== undefined && colour) colours.set(item, colour);
    }
  }
  return colours;
}

// Files that colour faces only: the colour that most faces have.
function commonColour(faces: readonly number[], colours: Map<number, string>): string | undefined {
  const counts = new Map<string, number>();
  for (const face of faces) {
    const colour = colours.get(face);
    if (colour) counts.set(colour, (counts.get(colour) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}

function facesOf(file: Part21File, solid: number): number[] {
  const shells = argumentsOf(file, file.entities.get(solid) as Part21Entity)
    .slice(1)
    .flatMap(referencesIn);
  return shells.flatMap((shell) => {
    const type = file.entities.get(shell)?.type;
    const of = type === 'ORIENTED_CLOSED_SHELL' ? referencesOf(file, shell)[0] : shell;
    return argument(file, of, 1, referencesIn) ?? [];
  });
}

function gyrationOf(file: Part21File, faces: readonly number[]): number {
  const points = new Map<number, number[]>();
  const seen = new Set<number>();
  const walk = (id: number) => {
    if (seen.has(id)) return;
    seen.add(id);
    const entity = file.entities.get(id);
    if (!entity) return;
    if (entity.type === 'VERTEX_POINT') {
      const at = referencesOf(file, id)[0];
      const text = bodyTextOf(file, at);
      const numbers = text.slice(text.lastIndexOf('(') + 1).match(/[-+]?\d[\d.]*(?:E[-+]?\d+)?/gi);
      if (numbers?.length === 3) points.set(id, numbers.map(Number));
    } else if (/^(ADVANCED_FACE|FACE_SURFACE|FACE_BOUND|FACE_OUTER_BOUND|EDGE_LOOP|ORIENTED_EDGE|EDGE_CURVE|VERTEX_LOOP)$/.test(entity.type)) {
      for (const next of referencesOf(file, id)) walk(next);
    }
  };
  for (const face of faces) walk(face);
  return gyration([...points.values()]);
}

/** Root mean square distance of points from their mean; 0 for none. */
export function gyration(points: readonly (readonly number[])[]): number {
  if (points.length === 0) return 0;
  const mean = [0, 1, 2].map((i) => points.reduce((sum, p) => sum + p[i], 0) / points.length);
  return Math.sqrt(points.reduce((sum, p) => sum + (p[0] - mean[0]) ** 2 + (p[1] - mean[1]) ** 2 + (p[2] - mean[2]) ** 2, 0) / points.length);
}

/** What is known of a body of the kernel, to find its solid in the text. */
export interface BodySignature {
  readonly faceCount: number;
  readonly gyration: number;
}

/**
 * Which solid of the text each body of the kernel is. By number of faces and by gyration; where several
 * agree, in the order of the file. A solid may serve several bodies (an assembly that uses it twice) only
 * when no unused one is as good.
 */
export function matchSolids(bodies: readonly BodySignature[], solids: readonly SolidFacts[]): (SolidFacts | undefined)[] {
  if (bodies.length === 1 && solids.length === 1) return [solids[0]];
  const used = new Set<number>();
  return bodies.map((body, index) => {
    const cost = (s: SolidFacts) => {
      const off = Math.abs(s.gyration - body.gyration) / Math.max(1, body.gyration);
      return (s.faceCount === body.faceCount ? 0 : 0.5) + Math.min(off, 1) + (used.has(s.entity) ? 1e-3 : 0) + (solids[index] === s ? 0 : 1e-6);
    };
    const best = solids.reduce<SolidFacts | undefined>((a, b) => (a && cost(a) <= cost(b) ? a : b), undefined);
    if (!best || cost(best) > 0.4) return bodies.length === solids.length ? solids[index] : undefined;
    used.add(best.entity);
    return best;
  });
}
