import { boundsDiagonal, distance, type Vec3 } from '#core/math';
import { eachPlace, findSelfCrossings, HighestPlaces, meshArea, meshBounds, type Solids, type TriMesh, TriangleTree } from '#core/mesh';
import { type Ball, Hull, NEARLY } from './hull.ts';
import { Reach } from './reach.ts';

export interface HullOptions {
  /** mm. How far the result may stand outside `mesh`. */
  readonly tolerance: number;
  /** What else there is: in it the hull may be where it likes. */
  readonly others?: Solids;
  /** Ends early when no more triangles than this are left. */
  readonly triangles?: number;
  readonly onProgress?: (share: number) => void;
}

// Share of the tolerance that is used up by what surely keeps it.
const SURE = 0.9;
// Share of it that is used up by what is looked at in places.
const LOOKED_AT = 0.95;
// How often a hull is made anew with a smaller tolerance, and at how many places it is looked over.
const MOST_ROUNDS = 6;
const CHECKED = 30_000;
// Of the mesh's diagonal: how far a hull may stand out where it is hidden. Further, spikes of neighbouring triangles cross each other.
const MOST_HIDDEN = 0.05;
// Radius of the first ball around a place where a hull crossed itself, in tolerances.
const FIRST_BALL = 3;

/**
 * A closed mesh of fewer triangles around a closed mesh, never inside it (Sander and others, Silhouette clipping, 2000: progressive hulls).
 * Edges are collapsed, cheapest first, each to a place that lies outside the planes of all triangles around it: the tetrahedra between that
 * place and the old triangles then all add to the solid, so that nothing is ever lost. The place is sought with the least volume added.
 */
export function progressiveHull(mesh: TriMesh, options: HullOptions): TriMesh {
  const tree = new TriangleTree(mesh);
  const { triangles = 4, tolerance, others, onProgress } = options;
  const box = meshBounds(mesh);
  const reach = new Reach(tree, tolerance, others, box ? MOST_HIDDEN * boundsDiagonal(box) : 0);
  const all = mesh.triangles.length / 3;
  const progress = (left: number) => onProgress?.((all - left) / Math.max(1, all - triangles));
  const keepOut: Ball[] = [];
  // At first only what surely keeps the tolerance, which is told without looking at the mesh; most triangles go there.
  const begin = () => {
    const sure = new Hull(mesh, reach, { tolerance: SURE * tolerance, triangles, isSure: true, keepOut, progress });
    sure.pass();
    return sure.mesh.compact();
  };
  let start = begin();
  // Uphill from the places that a collapse looks at most of what stands out further is found, but not all.
  let allowed = LOOKED_AT * tolerance;
  let crossing: TriMesh | undefined;
  let own: readonly Vec3[] | undefined;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const hull = new Hull(start.mesh, reach, { tolerance: allowed, triangles, isSure: false, keepOut, progress }, start.outside).run();
    const over = placesOver(new Reach(tree, tolerance, others), hull, tolerance);
    if (over.length > 0) {
      // Between the places that a collapse looks at it stands out further: again, leaving it as it is there, and if that does not help, with less.
      keepClear(keepOut, over, tolerance);
      if (round > 1) allowed *= 0.9;
      continue;
    }
    const { places } = findSelfCrossings(new TriangleTree(hull));
    if (places.length === 0) return hull;
    // What crosses itself in the mesh does so in every hull.
    own ??= findSelfCrossings(tree).places;
    const news = places.filter((at) => own?.every((known) => distance(at, known) > FIRST_BALL * tolerance));
    if (news.length === 0) return hull;
    // Two walls near each other have grown into each other: again, leaving them as they are there.
    crossing = hull;
    keepClear(keepOut, news, tolerance);
    if (findSelfCrossings(new TriangleTree(start.mesh)).count > 0) start = begin();
  }
  return crossing ?? start.mesh;
}

// Where a hull stands out of a mesh by more than the tolerance: looked for at many places, and uphill from the highest of each triangle. Over a dent
// that is hardly wider than the tolerance none of these may lie.
function placesOver(reach: Reach, hull: TriMesh, tolerance: number): Vec3[] {
  const highest = new HighestPlaces(Math.sqrt(meshArea(hull) / CHECKED));
  eachPlace(hull, CHECKED, (x, y, z, _, triangle) => {
    if (!reach.isNear(x, y, z, NEARLY * tolerance) && reach.nearest(x, y, z)) highest.notice(triangle, reach.distance, x, y, z);
  });
  noticeDents(reach, hull, tolerance, highest);
  const tops = highest.tops(hull, (x, y, z) => (reach.nearest(x, y, z) ? reach.distance : 0), { above: tolerance });
  return tops.filter(({ value }) => value > tolerance).map(({ at }) => at);
}

// The places over dents: nearest to corners of the mesh that are further below than the tolerance, and to the middles of the triangles there.
function noticeDents(reach: Reach, hull: TriMesh, tolerance: number, highest: HighestPlaces): void {
  const { positions: p, triangles: t } = reach.tree.mesh;
  const around = new TriangleTree(hull);
  const notice = (x: number, y: number, z: number) => {
    if (!around.nearest(x, y, z)) return;
    const [u, v, w] = around.point;
    if (reach.nearest(u, v, w)) highest.notice(around.triangle, reach.distance, u, v, w);
  };
  const isDeep = new Uint8Array(p.length / 3);
  for (let v = 0; v < isDeep.length; v++) {
    const i = 3 * v;
    if (around.isNear(p[i], p[i + 1], p[i + 2], tolerance)) continue;
    isDeep[v] = 1;
    notice(p[i], p[i + 1], p[i + 2]);
  }
  for (let i = 0; i < t.length; i += 3) {
    if (!isDeep[t[i]] && !isDeep[t[i + 1]] && !isDeep[t[i + 2]]) continue;
    const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
    notice((p[a] + p[b] + p[c]) / 3, (p[a + 1] + p[b + 1] + p[c + 1]) / 3, (p[a + 2] + p[b + 2] + p[c + 2]) / 3);
  }
}

// Balls around places that are in none yet; one that was not enough gets twice as large.
function keepClear(balls: Ball[], places: readonly Vec3[], tolerance: number): void {
  const before = [...balls];
  const radii = before.map((b) => b.radius);
  for (const at of places) {
    const known = before.findIndex((b, i) => distance(b.at, at) < radii[i]);
    if (known >= 0) before[known].radius = 2 * radii[known];
    else if (!balls.some((b) => distance(b.at, at) < b.radius / 2)) balls.push({ at, radius: FIRST_BALL * tolerance });
  }
}
