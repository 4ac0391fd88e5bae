import { dot, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { faceRadius, type FaceRef, lookAtFaces, planesOf, refOf, sayFace } from './face-table.ts';
import type { Shank } from './found.ts';
import { shankRadius } from './shanks.ts';

/** The plane across an axis where a shank ends against a flange: it faces the machine, and material goes on beyond it. */
export function flangeOf(
  bodies: readonly BodyGeometry[],
  shank: Shank,
  work: Vec3,
): { position: number; reach: number; evidence: string; area: number; faces: FaceRef[] } | undefined {
  const planes = bodies.flatMap((b) => planesOf(lookAtFaces(b)));
  const radius = shankRadius(shank);
  const sense = dot(work, shank.direction);
  const end = sense > 0 ? shank.to : shank.from;
  const candidates = planes
    .filter((f) => dot(f.outward, work) < -0.99999)
    .map((f) => ({ face: f, position: dot(subtract(f.centre, shank.origin), work), reach: faceRadius(f, shank) }))
    // A flange stands out of the shank all round, near the shank's end.
    .filter(({ position, reach }) => reach > radius * 1.08 && Math.abs(position - end * sense) < Math.max(6, 0.6 * radius));
  const best = candidates.sort((a, b) => b.face.area - a.face.area)[0];
  return best && { position: best.position, reach: best.reach, evidence: `flange ${sayFace(best.face)}`, area: best.face.area, faces: [refOf(best.face)] };
}
