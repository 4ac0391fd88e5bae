import type { SampledBody } from '#core/kernel';
import { type HalfProfile, lengthOfPiece, listPieces, type PathPiece, placeOnPiece, profileDistance } from '#core/outline';
import { triangleArea } from '#core/mesh';
import { type Axis, zrOfPoints } from '../axis.ts';
import { flatsAround } from './revolve-mesh.ts';

// Places along a piece that its surface is summed over.
const STEPS = 8;
// Pieces of a profile that is looked at: one of many more is no light one.
const MOST_PIECES = 200;

/**
 * About how many triangles any closed mesh of bodies has at least that stands out by no more than `tolerance`, of what their faces have in common with their
 * revolved envelope. Around a rim where two pieces of the profile meet, the mesh has a corner for each flat (a flat over a round face is as wide as the
 * tolerance lets it be), and a closed mesh has twice as many triangles as corners. Rims that the tolerance could leave out do not count, nor what of a piece the
 * bodies do not fill.
 */
export function leastTriangles(bodies: readonly SampledBody[], profile: HalfProfile, axis: Axis, tolerance: number): number {
  if (listPieces(profile).length > MOST_PIECES) return 0;
  const filled = filledShares(bodies, profile, axis, tolerance);
  let corners = 0;
  for (const loop of profile)
    loop.forEach((piece, i) => {
      const next = loop[(i + 1) % loop.length];
      const r = piece.to[1];
      if (r > 1e-9 && standsOut(piece, next, tolerance)) corners += flatsAround(r, tolerance) * Math.min(filled.get(piece) ?? 0, filled.get(next) ?? 0);
    });
  return 2 * corners;
}

// Whether a profile without the corner between two pieces would be further away than the tolerance.
function standsOut(before: PathPiece, after: PathPiece, tolerance: number): boolean {
  const [a, b, p] = [before.from, after.to, before.to];
  const [dz, dr] = [b[0] - a[0], b[1] - a[1]];
  const l = Math.hypot(dz, dr);
  return l < 1e-9 || Math.abs((p[0] - a[0]) * dr - (p[1] - a[1]) * dz) / l > tolerance;
}

// By piece, the share of the surface it sweeps that triangles of the bodies lie on.
function filledShares(bodies: readonly SampledBody[], profile: HalfProfile, axis: Axis, tolerance: number): Map<PathPiece, number> {
  const pieces = listPieces(profile);
  const areas = new Float64Array(pieces.length);
  const distance = profileDistance(profile);
  const stretches = stretchesOf(pieces);
  for (const { mesh } of bodies) {
    const { positions: p, triangles: t } = mesh;
    const zr = zrOfPoints(axis, p);
    const isDeep = new Int8Array(p.length / 3);
    const lies = (v: number) => {
      if (isDeep[v] === 0)
        isDeep[v] = distance.leastDepth(zr[2 * v], zr[2 * v + 1]) > tolerance || distance.depth(zr[2 * v], zr[2 * v + 1]) > tolerance ? 1 : -1;
      return isDeep[v] < 0;
    };
    for (let i = 0; i < t.length; i += 3) {
      if (!lies(t[i]) || !lies(t[i + 1]) || !lies(t[i + 2])) continue;
      // Along the axis and away from it as its corners are: the middle of a flat is nearer to the axis.
      const z = (zr[2 * t[i]] + zr[2 * t[i + 1]] + zr[2 * t[i + 2]]) / 3;
      const r = (zr[2 * t[i] + 1] + zr[2 * t[i + 1] + 1] + zr[2 * t[i + 2] + 1]) / 3;
      areas[nearestPiece(stretches, z, r)] += triangleArea(mesh, i / 3);
    }
  }
  return new Map(pieces.map((piece, i) => [piece, Math.min(1, areas[i] / sweptArea(piece))]));
}

// Numbers of a straight stretch of a piece: its start, the way to its end, one over that one's square, and the piece.
const STRETCH = 6;

function stretchesOf(pieces: readonly PathPiece[]): Float64Array {
  return Float64Array.from(
    pieces.flatMap((piece, i) => {
      const steps = piece.kind === 'line' ? 1 : STEPS;
      return Array.from({ length: steps }, (_, k) => {
        const [[z0, r0], [z1, r1]] = [placeOnPiece(piece, k / steps), placeOnPiece(piece, (k + 1) / steps)];
        const [dz, dr] = [z1 - z0, r1 - r0];
        return [z0, r0, dz, dr, 1 / (dz * dz + dr * dr || 1), i];
      }).flat();
    }),
  );
}

function nearestPiece(stretches: Float64Array, z: number, r: number): number {
  let best = 0;
  let nearest = Infinity;
  for (let k = 0; k < stretches.length; k += STRETCH) {
    const wz = z - stretches[k];
    const wr = r - stretches[k + 1];
    const dz = stretches[k + 2];
    const dr = stretches[k + 3];
    const s = Math.max(0, Math.min(1, (wz * dz + wr * dr) * stretches[k + 4]));
    const d = (wz - s * dz) * (wz - s * dz) + (wr - s * dr) * (wr - s * dr);
    if (d >= nearest) continue;
    nearest = d;
    best = stretches[k + 5];
  }
  return best;
}

// mm2.
function sweptArea(piece: PathPiece): number {
  let sum = 0;
  for (let k = 0; k < STEPS; k++) sum += placeOnPiece(piece, (k + 0.5) / STEPS)[1];
  return Math.max(1e-9, (2 * Math.PI * lengthOfPiece(piece) * sum) / STEPS);
}
