import { difference, FillRule, intersect, type Paths64, rectClip, simplifyPaths, union } from 'clipper2-ts';
import type { FlatPoint } from '#core/outline';

// The one door to polygon clipping: whole numbers of a hundred-thousandth of a millimetre, so that nothing is lost between one step and the next. Products of two lengths
// of half a metre stay below what a double counts exactly.

/** Units in a millimetre. */
export const UNITS = 1e5;

/** Closed polygons in units: counter-clockwise around material. */
export type Polygons = Paths64;

/** A polygon in units. */
export const toUnits = (polygon: readonly FlatPoint[]): Polygons[number] => polygon.map(([x, y]) => ({ x: Math.round(x * UNITS), y: Math.round(y * UNITS) }));

export const toMillimetres = (polygon: Polygons[number]): FlatPoint[] => polygon.map(({ x, y }) => [x / UNITS, y / UNITS]);

export const without = (all: Polygons, cut: Polygons): Polygons => difference(all, cut, FillRule.NonZero);
export const together = (all: Polygons): Polygons => union(all, FillRule.NonZero);
export const common = (a: Polygons, b: Polygons): Polygons => intersect(a, b, FillRule.NonZero);
export const within = (all: Polygons, left: number, right: number, bottom: number, top: number): Polygons =>
  rectClip({ left, top: bottom, right, bottom: top }, all);

/** Without corners that lie nearer than `units` to the line of their neighbours. */
export const fewerCorners = (all: Polygons, units: number): Polygons => simplifyPaths(all, units, true);
