import { boundsDiagonal, distance, type Vec3 } from '#core/math';
import { findSelfCrossings, meshBounds, type Solids, type TriMesh, TriangleTree } from '#core/mesh';
import { CoverBound } from './cover-bound.ts';
import { type Ball, Hull } from './hull.ts';
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

// Share of the tolerance that is used up at first, by what is told without looking at the mesh.
const SURE = 0.9;
// How often a hull is made anew where it goes through itself.
const MOST_ROUNDS = 6;
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
  const cover = new CoverBound(reach);
  // At first only what surely keeps the tolerance, which is told without looking at the mesh; most triangles go there.
  const begin = () => {
    const sure = new Hull(mesh, reach, { tolerance: SURE * tolerance, triangles, isSure: true, keepOut, cover, progress });
    sure.pass();
    return sure.mesh.compact();
  };
  let start = begin();
  let crossing: TriMesh | undefined;
  let own: readonly Vec3[] | undefined;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    const hull = new Hull(start.mesh, reach, { tolerance, triangles, isSure: false, keepOut, cover, progress }, start.outside).run();
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
