import type { SampledBody } from '#core/kernel';

// The kernel keeps within its chords unevenly: 0.95 of the count was the least seen.
const AT_LEAST = 0.9;

/**
 * How many triangles the exact geometry of a body has at least with chords `coarser` times as high: of a curved face their number falls with the chord where
 * it bends two ways, with its root where it bends one way. Flat faces keep theirs but for their curved borders, and one needs two at least; so do the triangles
 * of a mesh file.
 */
export function leastOfExact({ faceStart, surfaces, points }: SampledBody, coarser: number): number {
  let least = 0;
  for (let f = 0; f + 1 < faceStart.length; f++) {
    const count = faceStart[f + 1] - faceStart[f];
    if (points.length === 0) least += count;
    else if (surfaces[f].kind === 'plane') least += Math.min(count, Math.max(2, count / Math.sqrt(coarser)));
    else least += count / coarser;
  }
  return AT_LEAST * least;
}
