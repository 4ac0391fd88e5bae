// Booleans on flat polygons, by the Manifold library. A port of the same clipping to JavaScript lost a corner of a shank in one model of the corpus
// (its products leave the exact range of a double); this one counts in 64 bits.
import type { CrossSection } from 'manifold-3d';
import type { FlatPoint } from '#core/outline';
import type { Kernel } from './kernel.ts';
import { loadManifold } from './manifold.ts';

/** Closed polygons in mm, counter-clockwise around material and clockwise around holes. */
export interface FlatBooleans {
  /** What loops wind around at least once, as polygons that do not overlap. */
  readonly unite: (loops: readonly (readonly FlatPoint[])[]) => FlatPoint[][];
  /** The same polygons without slits narrower than twice some mm. */
  readonly closeSlits: (polygons: readonly (readonly FlatPoint[])[], by: number) => FlatPoint[][];
  /** Polygons moved outwards by some mm, corners kept sharp. */
  readonly grow: (polygons: readonly (readonly FlatPoint[])[], by: number) => FlatPoint[][];
}

// Corners sharper than this, as a multiple of the move, are cut off.
const MITER_LIMIT = 8;

export async function loadFlatBooleans({ booleansUrl }: Pick<Kernel, 'booleansUrl'>): Promise<FlatBooleans> {
  const { CrossSection: Section } = await loadManifold(booleansUrl);
  const run = (loops: readonly (readonly FlatPoint[])[], ...moves: number[]): FlatPoint[][] => {
    const plain = loops.map((loop) => loop.map(([x, y]): [number, number] => [x, y]));
    const steps: CrossSection[] = [new Section(plain, 'Positive')];
    for (const by of moves) steps.push(steps[steps.length - 1].offset(by, 'Miter', MITER_LIMIT));
    const out = steps[steps.length - 1].toPolygons().map((loop) => loop.map(([x, y]): FlatPoint => [x, y]));
    for (const section of steps) section.delete();
    return out;
  };
  return {
    unite: (loops) => run(loops),
    closeSlits: (polygons, by) => run(polygons, by, -by),
    grow: (polygons, by) => run(polygons, by),
  };
}
