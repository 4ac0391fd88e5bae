import { argumentOf, argumentsOf, bodyTextOf, type Part21Entity, type Part21File, referencesIn, stringOf } from './part21.ts';
import type { EntitiesByType } from './step-parts.ts';

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

/** '#rrggbb' by the item that is styled. */
export function readColours(file: Part21File, byType: EntitiesByType): Map<number, string> {
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

/** Of files that colour faces only: the colour that most of these faces have. */
export function commonColour(faces: readonly number[], colours: Map<number, string>): string | undefined {
  const counts = new Map<string, number>();
  for (const face of faces) {
    const colour = colours.get(face);
    if (colour) counts.set(colour, (counts.get(colour) ?? 0) + 1);
  }
  return [...counts].sort((a, b) => b[1] - a[1])[0]?.[0];
}
