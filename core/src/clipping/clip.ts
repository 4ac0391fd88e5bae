import {
  area,
  pointInPolygon,
  PointInPolygonResult,
  difference,
  EndType,
  FillRule,
  inflatePaths,
  intersect,
  JoinType,
  type Paths64,
  ramerDouglasPeucker,
  rectClip,
  simplifyPaths,
  union,
} from 'clipper2-ts';
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

/** Square units: positive of a polygon that runs counter-clockwise. */
export const areaOfUnits = (polygon: Polygons[number]): number => area(polygon);

/** Whether a place in units lies in a polygon; on its boundary counts. */
export const isInPolygon = (place: Polygons[number][number], polygon: Polygons[number]): boolean =>
  pointInPolygon(place, polygon) !== PointInPolygonResult.IsOutside;

/** Without corners that lie nearer than `units` to the line of their neighbours. */
export const fewerCorners = (all: Polygons, units: number): Polygons => simplifyPaths(all, units, true);

/** An open chain without corners that are nearer than so many millimetres to what is left of it. */
export const straighter = (chain: readonly FlatPoint[], by: number): FlatPoint[] => toMillimetres(ramerDouglasPeucker(toUnits(chain), by * UNITS));

/** A closed polygon without such corners. */
export const straighterRing = (ring: readonly FlatPoint[], by: number): FlatPoint[] => toMillimetres(simplifyPaths([toUnits(ring)], by * UNITS, true)[0] ?? []);

// Units. Arcs round the corners of what is grown: chords within 0.5 micrometres, of large ones within a thousandth of the radius.
const ROUND = 50;
const ROUND_LARGE = UNITS / 1000;

/** Grown by so many millimetres, round at its corners. */
export const grown = (all: Polygons, by: number): Polygons =>
  inflatePaths(all, by * UNITS, JoinType.Round, EndType.Polygon, 2, Math.max(ROUND, by * ROUND_LARGE));

/** Where a polygon can be moved to so that it meets some: the origin of all places at which it has something in common with them (Minkowski). */
export function touching(all: Polygons, moved: Polygons[number]): Polygons {
  const [first] = moved;
  const turned = moved.map((q) => ({ x: -q.x, y: -q.y }));
  // Along all boundaries, and where it is inside of one of them.
  const along = all.flatMap((ring) => sweptAlong(turned, ring, true));
  const inside = all.map((p) => p.map((q) => ({ x: q.x - first.x, y: q.y - first.y })));
  return together([...along, ...inside]);
}

/** What a polygon covers whose origin goes along a chain, closed to its start or not: where it begins, and what its leading edges pass over. Counter-clockwise. */
export function sweptAlong(polygon: Polygons[number], chain: Polygons[number], isClosed: boolean): Polygons {
  const [start] = chain;
  if (!start) return [];
  const out: Polygons = [polygon.map((p) => ({ x: p.x + start.x, y: p.y + start.y }))];
  const ends = isClosed ? [...chain.slice(1), start] : chain.slice(1);
  let from = start;
  for (const to of ends) {
    passedOver(polygon, from, to, out);
    from = to;
  }
  return out;
}

function passedOver(polygon: Polygons[number], from: Polygons[number][number], to: Polygons[number][number], out: Polygons): void {
  const n = polygon.length;
  const [dx, dy] = [to.x - from.x, to.y - from.y];
  // Its outward side looks the way it goes.
  const leads = (i: number): boolean => {
    const [p, q] = [polygon[i], polygon[(i + 1) % n]];
    return (q.y - p.y) * dx - (q.x - p.x) * dy > 0;
  };
  let start = 0;
  while (start < n && !(leads(start) && !leads((start + n - 1) % n))) start++;
  if (start === n) return;
  for (let k = 0; k < n; ) {
    if (!leads((start + k) % n)) {
      k++;
      continue;
    }
    let m = 0;
    while (k + m < n && leads((start + k + m) % n)) m++;
    const ring: Polygons[number] = [];
    for (let s = 0; s <= m; s++) {
      const p = polygon[(start + k + s) % n];
      ring.push({ x: p.x + to.x, y: p.y + to.y });
    }
    for (let s = m; s >= 0; s--) {
      const p = polygon[(start + k + s) % n];
      ring.push({ x: p.x + from.x, y: p.y + from.y });
    }
    out.push(ring);
    k += m;
  }
}
