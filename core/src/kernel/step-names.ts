// What the text of a STEP file calls its solids: by product, and by layer.
import { argumentOf, bodyTextOf, type Part21File, referencesIn, stringOf } from './part21.ts';
import { type EntitiesByType, joinedRepresentations } from './step-parts.ts';

/** Product names by solid, over the shape representation that lists the solid; `isSolid` tells by type which items are solids. */
export function readProductNames(file: Part21File, byType: EntitiesByType, isSolid: (type: string) => boolean): Map<number, string> {
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
    const [definition, representation] = referencesIn(bodyTextOf(file, id));
    const name = shapeNames.get(definition);
    if (!name) continue;
    for (const r of same(representation)) {
      for (const item of argumentOf(file, r, 1, referencesIn) ?? []) {
        if (isSolid(file.entities.get(item)?.type ?? '') && !names.has(item)) names.set(item, name);
      }
    }
  }
  return names;
}

// Layers of ISO/TS 13399-80 tell what cuts; others are drawing aids.
const LAYER = /^(?:NO)?CUT$/i;
export const withLayer = (name: string, layer: string | undefined): string =>
  layer && !name.toUpperCase().includes(layer) ? [name, layer].filter(Boolean).join(' ') : name;

/** CUT or NOCUT by solid, or by shells and faces below it. */
export function readLayers(file: Part21File, byType: EntitiesByType): Map<number, string> {
  const out = new Map<number, string>();
  for (const id of byType.get('PRESENTATION_LAYER_ASSIGNMENT') ?? []) {
    const name = (argumentOf(file, id, 0, stringOf) ?? '').trim();
    if (LAYER.test(name)) for (const item of argumentOf(file, id, 2, referencesIn) ?? []) out.set(item, name.toUpperCase());
  }
  return out;
}
