import type { SampledBody } from '#core/kernel';
import type { ExactGeometry } from '../exact/exact.ts';
import { sagOfTriangles } from '../sag.ts';
import { closeOpenings } from './close-openings.ts';

// Share of the count below that a wrap has at least: 0.37 was the least seen over ten models that spin, of cutters with flutes.
const AT_LEAST = 0.37;

/**
 * How many triangles the wrap of a body that stands alone has at least: of a face that bends one way their number falls with the root of how far they stand off
 * it, of one that bends two ways with that itself. Flat faces, and what openings hide that are closed, do not count; nor does a mesh file, whose bends are not
 * known.
 */
export function leastOfWrap(body: SampledBody, exact: ExactGeometry, tolerance: number, closeBelow: number): number {
  const sags = sagOfTriangles(body);
  const sagOfFace = new Float64Array(body.surfaces.length);
  for (let f = 0; f < sagOfFace.length; f++) for (let t = body.faceStart[f]; t < body.faceStart[f + 1]; t++) sagOfFace[f] = Math.max(sagOfFace[f], sags[t]);
  let count = 0;
  for (const t of closeOpenings(exact.mesh, exact.faceOf, body, closeBelow).kept) {
    const face = exact.faceOf[t];
    const { kind } = body.surfaces[face];
    const share = Math.min(1, sagOfFace[face] / tolerance);
    if (kind !== 'plane') count += kind === 'cylinder' || kind === 'cone' ? Math.sqrt(share) : share;
  }
  return AT_LEAST * count;
}
