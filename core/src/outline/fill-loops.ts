import { triangulateFlat } from '#core/mesh';
import type { FlatPoint } from './flat.ts';
import { areaOfPolygon } from './path.ts';

/** A polygon with the holes in it. */
export interface PolygonWithHoles {
  readonly outer: readonly FlatPoint[];
  readonly holes: readonly (readonly FlatPoint[])[];
}

/** Closed polygons, counter-clockwise around material and clockwise around holes: each outer one with the holes in it. */
export function withHoles(loops: readonly (readonly FlatPoint[])[]): PolygonWithHoles[] {
  const groups = loops.filter((l) => areaOfPolygon(l) > 0).map((outer) => ({ outer, holes: [] as (readonly FlatPoint[])[] }));
  for (const hole of loops.filter((l) => areaOfPolygon(l) < 0)) groups.find((g) => isInside(g.outer, hole[0]))?.holes.push(hole);
  return groups;
}

/** Such a polygon as triangles, counter-clockwise: its corners ring after ring, and three numbers of corners for each. */
export function fillPolygon({ outer, holes }: PolygonWithHoles): { corners: FlatPoint[]; triangles: number[] } {
  const rings = [outer, ...holes];
  const starts = holes.map((_, i) => rings.slice(0, i + 1).reduce((n, r) => n + r.length, 0));
  const corners = rings.flat();
  return { corners, triangles: triangulateFlat(corners.flat(), starts) };
}

function isInside(loop: readonly FlatPoint[], [u, v]: FlatPoint): boolean {
  return loop.reduce((odd, a, i) => {
    const b = loop[(i + 1) % loop.length];
    return a[1] > v !== b[1] > v && u < a[0] + ((v - a[1]) * (b[0] - a[0])) / (b[1] - a[1]) ? !odd : odd;
  }, false);
}
