import type { NamedPlacement } from '#core/mesh';
import { namedPlacements, placementItemEdits, readPlacements } from './named-placements.ts';
import { argumentOf, entitiesByType, type Part21File, referencesIn, stringOf } from './part21.ts';
import { PlainSurfaces } from './plain-surfaces.ts';
import { commonColour, readColours } from './step-colours.ts';
import { cornersOf, shellsOf } from './step-faces.ts';
import { readLayers, readProductNames, withLayer } from './step-names.ts';
import { fileUnit, readParts, scaleOfItem } from './step-parts.ts';
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

/** Solids of true faces. */
export const SOLID_TYPES: ReadonlySet<string> = new Set(['MANIFOLD_SOLID_BREP', 'BREP_WITH_VOIDS', 'FACETED_BREP']);
/** Faces that may be sewn to bodies. */
export const SHELL_TYPES: ReadonlySet<string> = new Set(['SHELL_BASED_SURFACE_MODEL', 'FACE_BASED_SURFACE_MODEL']);
const SURFACE_TYPES = new Set(['SHELL_BASED_SURFACE_MODEL', 'FACE_BASED_SURFACE_MODEL', 'GEOMETRIC_CURVE_SET', 'GEOMETRIC_SET']);

/** Unit, and name, colour and size of every solid, from the text alone. */
export function readStepFacts(file: Part21File): StepFacts {
  const byType = entitiesByType(file);
  const parts = readParts(file, byType);
  const unit = fileUnit(file, parts);
  const names = readProductNames(file, byType, (type) => SOLID_TYPES.has(type) || SHELL_TYPES.has(type));
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
