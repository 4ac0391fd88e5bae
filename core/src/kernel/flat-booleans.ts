// Booleans on flat polygons, by the Manifold library. A port of the same clipping to JavaScript lost a corner of a shank in one model of the corpus
// (its products leave the exact range of a double); this one counts in 64 bits.
import type { CrossSection } from 'manifold-3d';
import type { TriMesh } from '#core/mesh';
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
  /**
   * Prisms on polygons in (z, x), from `low` to `high` in y, as one solid; where they meet there is nothing between them. Its corners come in single
   * precision, and walls that all but coincide become one, so that it is made larger all around by more than that takes: less than 0.1 micrometres.
   */
  readonly stack: (prisms: readonly { readonly polygons: readonly (readonly FlatPoint[])[]; readonly low: number; readonly high: number }[]) => TriMesh;
}

// Corners sharper than this, as a multiple of the move, are cut off.
const MITER_LIMIT = 8;

export async function loadFlatBooleans({ booleansUrl }: Pick<Kernel, 'booleansUrl'>): Promise<FlatBooleans> {
  const { CrossSection: Section, Manifold: Solid } = await loadManifold(booleansUrl);
  const run = (loops: readonly (readonly FlatPoint[])[], ...moves: number[]): FlatPoint[][] => {
    if (loops.length === 0) return [];
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
    stack: (prisms) => {
      const reach = Math.max(1, ...prisms.flatMap(({ polygons, low, high }) => [Math.abs(low), Math.abs(high), ...polygons.flat(2).map(Math.abs)]));
      const more = SINGLE * reach + 2 * SAME_WALL;
      const owned: { delete(): void }[] = [];
      const own = <T extends { delete(): void }>(made: T): T => {
        owned.push(made);
        return made;
      };
      try {
        const solids = prisms
          .filter((p) => p.polygons.length > 0)
          .map(({ polygons, low, high }) => {
            const section = own(
              new Section(
                polygons.map((loop) => loop.map(([z, x]): [number, number] => [z, x])),
                'Positive',
              ),
            );
            const grown = own(section.offset(more, 'Miter', MITER_LIMIT));
            const upright = own(Solid.extrude(grown, high - low + 2 * more));
            return own(upright.translate([0, 0, low - more]));
          });
        const { vertProperties, numProp, triVerts } = own(own(Solid.union(solids)).simplify(SAME_WALL)).getMesh();
        // Upright there is y here, and (z, x, y) turns as (x, y, z) does.
        const positions = new Float64Array((3 * vertProperties.length) / numProp);
        for (let i = 0; 3 * i < positions.length; i++) {
          positions[3 * i] = vertProperties[numProp * i + 1];
          positions[3 * i + 1] = vertProperties[numProp * i + 2];
          positions[3 * i + 2] = vertProperties[numProp * i];
        }
        return { positions, triangles: Uint32Array.from(triVerts) };
      } finally {
        for (const made of owned) made.delete();
      }
    },
  };
}

// mm. Walls of two prisms that are nearer than this are one.
const SAME_WALL = 2e-5;
// Of a length, what single precision may take of it and a little more.
const SINGLE = 2e-7;
