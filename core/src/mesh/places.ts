import { addScaled, dot, subtract, type Vec3 } from '#core/math';
import { meshArea, type TriMesh } from './tri-mesh.ts';

// Steps of a sequence of pairs that fills a square evenly however far it goes (the plastic number's powers: Roberts, 2018).
const FIRST = 0.7548776662466927;
const SECOND = 0.5698402909980532;
// One place in so many lies on a side of its triangle.
const ON_SIDE = 4;
const SIDES: readonly ((share: number) => [number, number])[] = [(q) => [q, 0], (q) => [0, q], (q) => [q, 1 - q]];

/** A place on a mesh, with the area that it stands for, its triangle, and which corner of the mesh it is; -1 where it is none. */
export type VisitPlace = (x: number, y: number, z: number, area: number, triangle: number, corner: number) => void;

/** Places spread over a mesh: all corners of its triangles, of each triangle anew, and, by area, places inside them, about `most` in all. */
export function eachPlace(mesh: TriMesh, most: number, visit: VisitPlace): void {
  const { positions: p, triangles: t } = mesh;
  const count = t.length / 3;
  if (count === 0) return;
  let [first, second] = [0.5, 0.5];
  const spacing = Math.sqrt((2 * meshArea(mesh)) / Math.max(1, most - 3 * count, most / 4));
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
    const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
    const area = Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2;
    const longest = Math.max(Math.hypot(ux, uy, uz), Math.hypot(vx, vy, vz), Math.hypot(ux - vx, uy - vy, uz - vz));
    // A long thin triangle is cut by its length along and by its width across.
    const n = Math.max(1, Math.min(200, Math.ceil(Math.max(longest / (4 * spacing), Math.sqrt(2 * area) / spacing))));
    const places = ((n + 1) * (n + 2)) / 2;
    const share = area / places;
    visit(p[a], p[a + 1], p[a + 2], share, i / 3, t[i]);
    visit(p[b], p[b + 1], p[b + 2], share, i / 3, t[i + 1]);
    visit(p[c], p[c + 1], p[c + 2], share, i / 3, t[i + 2]);
    for (let k = 3; k < places; k++) {
      // The sequence goes on from triangle to triangle: strips that lie side by side are looked at in other places each.
      first = (first + FIRST) % 1;
      second = (second + SECOND) % 1;
      // Some on the sides, which a mesh may stand out by most.
      let [r, s] = k % ON_SIDE === 0 ? SIDES[(k / ON_SIDE) % 3](first) : [first, second];
      if (r + s > 1) [r, s] = [1 - r, 1 - s];
      visit(p[a] + r * ux + s * vx, p[a + 1] + r * uy + s * vy, p[a + 2] + r * uz + s * vz, share, i / 3, -1);
    }
  }
}

/** What is highest somewhere: the value at a place, or anything up to `above` where it is not more than that. */
export type ValueAt = (x: number, y: number, z: number, above: number) => number;

/** A value, and where it is. */
export interface Top {
  readonly value: number;
  readonly at: Vec3;
}

// Places of one triangle to climb from, at most.
const MOST_OF_ONE = 3;

/** The highest places of each triangle, of those that were noticed, to climb from: some, because a large triangle may span several tops. */
export class HighestPlaces {
  private readonly byTriangle = new Map<number, Top[]>();
  private readonly apart: number;

  /** Places about `spacing` mm apart are noticed. */
  constructor(spacing: number) {
    this.apart = 3 * spacing;
  }

  /** The greatest value that would not be noticed there, 0 or more. */
  leastOf(triangle: number): number {
    const tops = this.byTriangle.get(triangle);
    return tops?.length === MOST_OF_ONE ? tops[MOST_OF_ONE - 1].value : 0;
  }

  notice(triangle: number, value: number, x: number, y: number, z: number): void {
    if (value <= 0) return;
    const tops = this.byTriangle.get(triangle);
    if (!tops) {
      this.byTriangle.set(triangle, [{ value, at: [x, y, z] }]);
      return;
    }
    if (tops.length === MOST_OF_ONE && value <= tops[MOST_OF_ONE - 1].value) return;
    const beside = tops.findIndex(({ at }) => Math.hypot(at[0] - x, at[1] - y, at[2] - z) < this.apart);
    if (beside >= 0 && value <= tops[beside].value) return;
    tops.splice(beside >= 0 ? beside : Math.min(tops.length, MOST_OF_ONE - 1), 1, { value, at: [x, y, z] });
    tops.sort((a, b) => b.value - a.value);
  }

  /** Uphill from the `most` highest ones, by steps that get shorter: the greatest value and where it is; 0 where nothing was noticed. */
  climb(mesh: TriMesh, valueAt: ValueAt, most = Infinity): Top {
    const all = [...this.byTriangle].flatMap(([triangle, tops]) => tops.map((top) => ({ triangle, ...top })));
    const highest = all.sort((a, b) => b.value - a.value).slice(0, most);
    return highest.reduce<Top>(
      (best, { triangle, at }) => {
        const top = climbOnTriangle(cornersOf(mesh, triangle), at, this.apart / 3, valueAt);
        return top.value > best.value ? top : best;
      },
      { value: 0, at: [0, 0, 0] },
    );
  }
}

function cornersOf({ positions: p, triangles: t }: TriMesh, triangle: number): [Vec3, Vec3, Vec3] {
  return [placeOf(p, 3 * t[3 * triangle]), placeOf(p, 3 * t[3 * triangle + 1]), placeOf(p, 3 * t[3 * triangle + 2])];
}

const placeOf = (p: Float64Array, i: number): Vec3 => [p[i], p[i + 1], p[i + 2]];

// Steps until one is halved are tried in six directions; so many are tried in all.
const MOST_TRIED = 60;
const SIX = [
  [1, 0],
  [0, 1],
  [-1, 1],
  [-1, 0],
  [0, -1],
  [1, -1],
] as const;

/**
 * Goes from a place on a triangle uphill, by steps (mm) that get shorter, to where a distance is greatest near it: what lies between places is found so.
 */
export function climbOnTriangle([a, b, c]: readonly [Vec3, Vec3, Vec3], from: Vec3, step: number, valueAt: ValueAt): Top {
  const [u, v, w] = [subtract(b, a), subtract(c, a), subtract(from, a)];
  const [uu, uv, vv, uw, vw] = [dot(u, u), dot(u, v), dot(v, v), dot(u, w), dot(v, w)];
  const det = uu * vv - uv * uv;
  let value = valueAt(...from, -Infinity);
  let at = from;
  if (!(det > 1e-12 * uu * vv)) return { value, at };
  // Shares of the two sides; steps of the same length along each.
  let [r, s] = [(vv * uw - uv * vw) / det, (uu * vw - uv * uw) / det];
  let [dr, ds] = [step / Math.sqrt(uu), step / Math.sqrt(vv)];
  for (let tried = 0, since = 0; tried < MOST_TRIED; tried++) {
    const [x, y] = SIX[tried % 6];
    // Not beyond a side: to it.
    let [r2, s2] = [Math.max(0, r + x * dr), Math.max(0, s + y * ds)];
    if (r2 + s2 > 1) [r2, s2] = [r2 / (r2 + s2), s2 / (r2 + s2)];
    const there = addScaled(addScaled(a, u, r2), v, s2);
    const higher = valueAt(...there, value);
    if (higher > value) {
      [value, at, r, s, since] = [higher, there, r2, s2, 0];
    } else if (++since === 6) {
      [dr, ds, since] = [dr / 2, ds / 2, 0];
    }
  }
  return { value, at };
}
