import type { SampledBody } from '#core/kernel';
import { type HalfProfile, lengthOfPiece, listPieces, type PathPiece, placeOnPiece, profileDistance, type ProfilePoint } from '#core/outline';
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
  const areas = new Map<PathPiece, number>(pieces.map((p) => [p, 0]));
  const distance = profileDistance(profile);
  for (const { mesh } of bodies) {
    const { positions: p, triangles: t } = mesh;
    const zr = zrOfPoints(axis, p);
    for (let i = 0; i < t.length; i += 3) {
      const corners = [0, 1, 2].map((k): ProfilePoint => [zr[2 * t[i + k]], zr[2 * t[i + k] + 1]]);
      // Along the axis and away from it as its corners are: the middle of a flat is nearer to the axis.
      const [z, r] = [(corners[0][0] + corners[1][0] + corners[2][0]) / 3, (corners[0][1] + corners[1][1] + corners[2][1]) / 3];
      if (corners.some(([cz, cr]) => distance.depth(cz, cr) > tolerance)) continue;
      const near = nearestPiece(pieces, z, r);
      const [a, b, c] = [3 * t[i], 3 * t[i + 1], 3 * t[i + 2]];
      const [ux, uy, uz] = [p[b] - p[a], p[b + 1] - p[a + 1], p[b + 2] - p[a + 2]];
      const [vx, vy, vz] = [p[c] - p[a], p[c + 1] - p[a + 1], p[c + 2] - p[a + 2]];
      areas.set(near, (areas.get(near) as number) + Math.hypot(uy * vz - uz * vy, uz * vx - ux * vz, ux * vy - uy * vx) / 2);
    }
  }
  return new Map([...areas].map(([piece, area]) => [piece, Math.min(1, area / sweptArea(piece))]));
}

function nearestPiece(pieces: readonly PathPiece[], z: number, r: number): PathPiece {
  let [best, nearest] = [pieces[0], Infinity];
  for (const piece of pieces) {
    const d = Math.min(...Array.from({ length: STEPS }, (_, k) => fromStretch(placeOnPiece(piece, k / STEPS), placeOnPiece(piece, (k + 1) / STEPS), z, r)));
    if (d < nearest) [best, nearest] = [piece, d];
  }
  return best;
}

function fromStretch([z0, r0]: ProfilePoint, [z1, r1]: ProfilePoint, z: number, r: number): number {
  const [dz, dr] = [z1 - z0, r1 - r0];
  const s = Math.max(0, Math.min(1, ((z - z0) * dz + (r - r0) * dr) / (dz * dz + dr * dr || 1)));
  return Math.hypot(z - z0 - s * dz, r - r0 - s * dr);
}

// mm2.
function sweptArea(piece: PathPiece): number {
  let sum = 0;
  for (let k = 0; k < STEPS; k++) sum += placeOnPiece(piece, (k + 0.5) / STEPS)[1];
  return Math.max(1e-9, (2 * Math.PI * lengthOfPiece(piece) * sum) / STEPS);
}
