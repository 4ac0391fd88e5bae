import type { NamedPlacement } from '#core/mesh';
import { namedPlacements, placementItemEdits, readPlacements } from './named-placements.ts';
import { argumentOf, argumentsOf, bodyTextOf, type Part21Entity, type Part21File, referencesIn, stringOf } from './part21.ts';
import { PlainSurfaces } from './plain-surfaces.ts';
import { cornersOf, shellsOf } from './step-faces.ts';
import { fileUnit, joinedRepresentations, readParts, scaleOfItem } from './step-parts.ts';
import { TextToRead } from './text-to-read.ts';

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
  /** How many loose faces each part has (a shape representation with surface models), in the order of the file. */
  readonly surfaceFaces: readonly number[];
  /** Coordinate systems by name, in mm. */
  readonly placements: readonly NamedPlacement[];
  readonly toRead: TextToRead;
  /** How many open shells and wire models there are, for files without a solid. */
  readonly surfaceModels: number;
}

const SOLID_TYPES = new Set(['MANIFOLD_SOLID_BREP', 'BREP_WITH_VOIDS', 'FACETED_BREP']);
// Faces that may be sewn to bodies.
const SHELL_TYPES = new Set(['SHELL_BASED_SURFACE_MODEL', 'FACE_BASED_SURFACE_MODEL']);
const SURFACE_TYPES = new Set(['SHELL_BASED_SURFACE_MODEL', 'FACE_BASED_SURFACE_MODEL', 'GEOMETRIC_CURVE_SET', 'GEOMETRIC_SET']);

/** Unit, and name, colour and size of every solid, from the text alone. */
export function readStepFacts(file: Part21File): StepFacts {
  const byType = groupByType(file);
  const parts = readParts(file, byType);
  const unit = fileUnit(file, parts);
  const names = readProductNames(file, byType);
  const colours = readColours(file, byType);
  const layers = readLayers(file, byType);
  const named = namedPlacements(file, byType);
  // As they are opened: solids, then what is sewn.
  const ofTypes = (types: ReadonlySet<string>) => [...types].flatMap((type) => byType.get(type) ?? []).sort((a, b) => a - b);
  const solids = [...ofTypes(SOLID_TYPES), ...ofTypes(SHELL_TYPES)];
  const plain = new PlainSurfaces(file, byType, unit.unitScale);
  return {
    ...unit,
    surfaceFaces: surfaceFaces(file, byType),
    placements: readPlacements(file, named, parts),
    toRead: new TextToRead(file, solids, placementItemEdits(file, byType, named), plain),
    surfaceModels: [...SURFACE_TYPES].reduce((sum, type) => sum + (byType.get(type)?.length ?? 0), 0),
    solids: solids.map((entity) => {
      const faces = shellsOf(file, entity).flat();
      return {
        entity,
        name: withLayer((argumentOf(file, entity, 0, stringOf) || names.get(entity) || '').trim(), layers.get(entity)),
        colour: colours.get(entity) ?? commonColour(faces, colours),
        faceCount: faces.length,
        gyration: solids.length > 1 ? gyrationOf(file, faces) * (scaleOfItem(parts, entity) ?? unit.unitScale) : 0,
      };
    }),
  };
}

function surfaceFaces(file: Part21File, byType: Map<string, number[]>): number[] {
  const models = new Set([...SHELL_TYPES].flatMap((type) => byType.get(type) ?? []));
  if (models.size === 0) return [];
  const parts = [...byType]
    .filter(([type]) => type.endsWith('SHAPE_REPRESENTATION'))
    .flatMap(([, ids]) => ids)
    .map((id) => (argumentOf(file, id, 1, referencesIn) ?? []).filter((item) => models.has(item)))
    .filter((items) => items.length > 0)
    .sort((a, b) => a[0] - b[0]);
  return parts.map((items) => items.reduce((sum, id) => sum + shellsOf(file, id).flat().length, 0));
}

// Layers of ISO/TS 13399-80 tell what cuts; others are drawing aids.
const LAYER = /^(?:NO)?CUT$/i;
const withLayer = (name: string, layer: string | undefined): string =>
  layer && !name.toUpperCase().includes(layer) ? [name, layer].filter(Boolean).join(' ') : name;

// solid -> CUT or NOCUT, of solids or of shells and faces below them.
function readLayers(file: Part21File, byType: Map<string, number[]>): Map<number, string> {
  const out = new Map<number, string>();
  for (const id of byType.get('PRESENTATION_LAYER_ASSIGNMENT') ?? []) {
    const name = (argumentOf(file, id, 0, stringOf) ?? '').trim();
    if (LAYER.test(name)) for (const item of argumentOf(file, id, 2, referencesIn) ?? []) out.set(item, name.toUpperCase());
  }
  return out;
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

const referencesOf = (file: Part21File, id: number): number[] => referencesIn(bodyTextOf(file, id));

// solid -> product name, over the shape representation that lists the solid.
function readProductNames(file: Part21File, byType: Map<string, number[]>): Map<number, string> {
  const definitionNames = new Map<number, string>();
  for (const id of byType.get('PRODUCT_DEFINITION') ?? []) {
    const formation = argumentOf(file, id, 2, referencesIn)?.[0];
    const product = formation === undefined ? undefined : argumentOf(file, formation, 2, referencesIn)?.[0];
    if (product === undefined) continue;
    definitionNames.set(id, argumentOf(file, product, 1, stringOf) || argumentOf(file, product, 0, stringOf) || '');
  }
  const shapeNames = new Map<number, string>();
  for (const id of byType.get('PRODUCT_DEFINITION_SHAPE') ?? []) {
    const name = definitionNames.get(argumentOf(file, id, 2, referencesIn)?.[0] ?? -1);
    if (name) shapeNames.set(id, name);
  }
  const names = new Map<number, string>();
  const same = joinedRepresentations(file, byType);
  for (const id of byType.get('SHAPE_DEFINITION_REPRESENTATION') ?? []) {
    const [definition, representation] = referencesOf(file, id);
    const name = shapeNames.get(definition);
    if (!name) continue;
    for (const r of same(representation)) {
      for (const item of argumentOf(file, r, 1, referencesIn) ?? []) {
        const type = file.entities.get(item)?.type ?? '';
        if ((SOLID_TYPES.has(type) || SHELL_TYPES.has(type)) && !names.has(item)) names.set(item, name);
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
      colour = NAMED_COLOURS[argumentOf(file, id, 0, stringOf) ?? ''];
    } else if (entity && depth > 0) {
      for (const next of referencesIn(bodyTextOf(file, id))) {
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

function gyrationOf(file: Part21File, faces: readonly number[]): number {
  return gyration(cornersOf(file, faces));
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
