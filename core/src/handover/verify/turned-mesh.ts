import type { Vec3 } from '#core/math';
import { SignedDistance, type TriMesh, weld } from '#core/mesh';
import { type HalfProfile, placeOnPiece, profileDepthFinder } from '#core/outline';

/** Where a mesh is not its profile turned: the place and in words what is wrong there. */
export interface TurnedFault {
  readonly at: Vec3;
  readonly text: string;
}

const PLACES_A_PIECE = 6;
const PLACES_AROUND = 8;
const GOLDEN_ANGLE = Math.PI * (3 - Math.sqrt(5));

interface Corner {
  readonly z: number;
  readonly r: number;
  readonly angle: number;
  readonly at: Vec3;
}

/**
 * Holds a mesh, in the frame whose Z is its axis, against the profile it should be turned from: its corners form rings of even steps around the axis, each ring
 * lies on the profile or as far outside of it as its flats, and arcs within `sag` mm, need, and nothing of the profile is out of it. `near` (mm): what
 * rounding has done to its corners, where it was written. The first fault is given.
 */
export function turnedFault(mesh: TriMesh, profile: HalfProfile | undefined, sag: number, near: number): TurnedFault | undefined {
  const depth = profile && profileDepthFinder(profile);
  // The smallest first: a corner that has left its ring is alone.
  const rings = ringsOf(mesh, near).sort((a, b) => a.length - b.length);
  for (const ring of rings) {
    const uneven = unevenCorner(ring, near);
    if (uneven) return { at: uneven.at, text: 'a corner is not in line with the others around the axis' };
    if (!depth) continue;
    const { z, r, at } = ring[0];
    const within = r < near ? r : r * Math.cos(Math.PI / ring.length);
    // Flats outside touch the profile from outside, those of bores have their corners on it.
    const off = Math.min(Math.abs(depth(z, r)), Math.abs(depth(z, within)));
    if (off > near + sag) return { at, text: `a ring of corners is ${off.toFixed(4)} mm off the profile` };
  }
  return profile && leftOut(mesh, profile, near);
}

// Places of the profile, turned all around, that the mesh leaves out, the one that is furthest out.
function leftOut(mesh: TriMesh, profile: HalfProfile, near: number): TurnedFault | undefined {
  const signed = new SignedDistance(weld(mesh, 1e-7));
  let worst: TurnedFault | undefined;
  let most = near;
  // Turned a little from one to the next, so that flats and edges are met in many places.
  let angle = 0;
  for (const piece of profile.flat())
    for (let k = 0; k < PLACES_A_PIECE; k++) {
      const [z, r] = placeOnPiece(piece, k / PLACES_A_PIECE);
      for (let i = 0; i < PLACES_AROUND; i++) {
        angle += GOLDEN_ANGLE;
        const at: Vec3 = [r * Math.cos(angle), r * Math.sin(angle), z];
        const out = signed.at(...at);
        if (out > most) [most, worst] = [out, { at, text: `the profile stands ${out.toFixed(4)} mm out of it` }];
      }
    }
  return worst;
}

// Corners of the same place in the half plane, in the order of their angles, each angle once.
function ringsOf({ positions: p }: TriMesh, near: number): Corner[][] {
  const corners: Corner[] = [];
  for (let i = 0; i < p.length; i += 3)
    corners.push({ z: p[i + 2], r: Math.hypot(p[i], p[i + 1]), angle: Math.atan2(p[i + 1], p[i]), at: [p[i], p[i + 1], p[i + 2]] });
  corners.sort((a, b) => a.z - b.z);
  const rings: Corner[][] = [];
  // By z first, then by r.
  for (const level of runsOf(corners, (c) => c.z, near))
    for (const ring of runsOf(
      level.sort((a, b) => a.r - b.r),
      (c) => c.r,
      near,
    ))
      rings.push(ring.sort((a, b) => a.angle - b.angle).filter((c, i) => i === 0 || (c.angle - ring[i - 1].angle) * c.r > near));
  return rings.map((ring) => (ring[0].r < near ? [ring[0]] : ring));
}

function runsOf<T>(sorted: readonly T[], value: (t: T) => number, near: number): T[][] {
  const runs: T[][] = [];
  sorted.forEach((t, i) => {
    if (i === 0 || value(t) - value(sorted[i - 1]) > near) runs.push([t]);
    else runs[runs.length - 1].push(t);
  });
  return runs;
}

// A corner of a ring that is a step off where even steps would have it, and the most so.
function unevenCorner(ring: readonly Corner[], near: number): Corner | undefined {
  const n = ring.length;
  if (n < 3) return ring[0].r < near ? undefined : ring[0];
  const step = (2 * Math.PI) / n;
  // Their phase, by all of them together.
  const offsets = ring.map((c, k) => c.angle - k * step);
  const middle = [...offsets].sort((a, b) => a - b)[n >> 1];
  let worst: Corner | undefined;
  let most = near;
  ring.forEach((c, k) => {
    const off = Math.abs(offsets[k] - middle) * c.r;
    if (off > most) [most, worst] = [off, c];
  });
  return worst;
}
