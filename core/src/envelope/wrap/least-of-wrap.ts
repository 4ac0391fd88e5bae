import type { SampledBody } from '#core/kernel';
import { addScaled, cross, dot, length, subtract, type Vec3 } from '#core/math';
import { nextHalf, pairHalfEdges, type Surface, type TriMesh } from '#core/mesh';
import type { ExactGeometry } from '../exact/exact.ts';
import { sagOfTriangles } from '../sag.ts';
import { closeOpenings } from './close-openings.ts';

// How many times the triangles around rims, as counted below, a wrap has at least: 1.5 was the least over fifty models and tolerances, because corners of flat
// faces and of what the wrap could not mend come on top.
const OF_RIMS = 1.25;

// Share of the triangles of faces that bend two ways, as the tolerance leaves them, that a wrap has at least beside: 0.1 was the least seen.
const OF_BENDS = 0.1;

// Times the tolerance: a narrower band may go.
const NARROW = 4;

/**
 * How many triangles the wrap of a body that stands alone has at least. Over a round face there are flats, as wide as the tolerance lets them be, with a corner
 * for each at both rims, and a closed mesh has twice as many triangles as corners; the number of triangles over a face that bends two ways falls with how far
 * they stand off it. Flat faces, narrow bands, and what openings hide that are closed, do not count; nor does a mesh file, whose bends are not known.
 */
export function leastOfWrap(body: SampledBody, exact: ExactGeometry, tolerance: number, closeBelow: number): number {
  const sags = sagOfTriangles(body);
  const sagOfFace = new Float64Array(body.surfaces.length);
  for (let f = 0; f < sagOfFace.length; f++) for (let t = body.faceStart[f]; t < body.faceStart[f + 1]; t++) sagOfFace[f] = Math.max(sagOfFace[f], sags[t]);
  const { mesh, kept } = closeOpenings(exact.mesh, exact.faceOf, body, closeBelow);
  const partner = pairHalfEdges(mesh);
  const rounds = body.surfaces.map((surface) => roundOf(surface, tolerance));
  const corners = new Float64Array(body.surfaces.length);
  // Of a triangle that closes an opening: flat.
  const faceAt = (triangle: number) => (triangle < kept.length ? exact.faceOf[kept[triangle]] : -1);
  let bends = 0;
  for (let i = 0; i < kept.length; i++) {
    const face = faceAt(i);
    const round = rounds[face];
    if (!round) {
      if (body.surfaces[face].kind !== 'plane') bends += Math.min(1, sagOfFace[face] / tolerance);
      continue;
    }
    for (let h = 3 * i; h < 3 * i + 3; h++) {
      const next = partner[h] < 0 ? face : faceAt(Math.floor(partner[h] / 3));
      if (next === face) continue;
      // A rim of two round faces is both's; over a bend that is small enough two rims may become one.
      const share = next < 0 || body.surfaces[next].kind === 'plane' ? 1 : 0.5;
      corners[face] += share * round.flatsOver(mesh, h);
    }
  }
  // The first corner of a face may be its neighbours'.
  return 2 * OF_RIMS * corners.reduce((sum, n) => sum + Math.max(0, n - 1), 0) + OF_BENDS * bends;
}

interface Round {
  /** How many flats, at their widest, there are along an edge of a mesh, given by its half-edge. */
  readonly flatsOver: (mesh: TriMesh, halfEdge: number) => number;
}

// A cylinder or a cone that is no narrow band.
function roundOf(surface: Surface, tolerance: number): Round | undefined {
  if (surface.kind !== 'cylinder' && surface.kind !== 'cone') return undefined;
  const { origin, axis, length: along } = surface;
  const cos = surface.kind === 'cone' ? Math.cos(surface.halfAngleRad) : 1;
  if (along / cos < NARROW * tolerance) return undefined;
  return {
    flatsOver: ({ positions: p, triangles: t }, h) => {
      const [a, b] = [3 * t[h], 3 * t[nextHalf(h)]];
      const from = subtract([(p[a] + p[b]) / 2, (p[a + 1] + p[b + 1]) / 2, (p[a + 2] + p[b + 2]) / 2], origin);
      const away = addScaled(from, axis, -dot(from, axis));
      const radius = length(away);
      if (radius < tolerance) return 0;
      const way: Vec3 = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
      const angle = Math.abs(dot(way, cross(axis, away))) / (radius * radius);
      return angle / (2 * Math.acos(radius / (radius + tolerance / cos)));
    },
  };
}
