import { failed, type Result, done } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import { ENCLOSURE_SLACK } from '#core/math';
import { depthInProfile, type OuterProfile, type ProfilePoint, profileVolume } from '#core/outline';
import { type Axis, zrOfPoints } from './axis.ts';
import { computeRadiusCells, profileOfCells, simplifyProfile } from './outer-profile.ts';
import { SEGMENT_SIZE, sweptSegments } from './swept-segments.ts';

/** Growth of an envelope over the original, mm; a negative least growth means that it cuts into the tool. */
export interface Growth {
  readonly min: number;
  readonly mean: number;
  readonly max: number;
}

export interface RevolvedEnvelope {
  readonly profile: OuterProfile;
  /** The exact outer profile that it was simplified from. */
  readonly exact: OuterProfile;
  readonly growth: Growth;
  readonly volume: number;
  /** How many points of the true faces the enclosure was checked at. */
  readonly samples: number;
}

export const isUsableTolerance = (mm: number): boolean => Number.isFinite(mm) && mm >= 0.001 && mm <= 5;

/**
 * The outer revolved envelope of bodies that spin about `axis`: bores closed, never inside, and at most `tolerance`
 * outside of the exact outer profile in r. Lines only.
 */
export function computeRevolvedEnvelope(bodies: readonly SampledBody[], axis: Axis, tolerance: number): Result<RevolvedEnvelope> {
  if (!isUsableTolerance(tolerance)) return failed('envelope.bad-tolerance', { tolerance });
  if (bodies.length === 0) return failed('envelope.no-bodies');
  const segments = bodies.flatMap((body) => sweptSegments(body, axis));
  const least = leastRadius(segments);
  if (least > 0) {
    const far = farthestReach(segments);
    if (least > far / 2) return failed('envelope.axis-off', { distance: least.toFixed(1) });
  }
  const exact = profileOfCells(computeRadiusCells(segments));
  const profile = simplifyProfile(exact, tolerance);
  const { growth, samples } = measureGrowth(bodies, axis, profile, exact);
  return done({ profile, exact, growth, volume: profileVolume(profile), samples });
}

const reach = (s: readonly number[], i: number, k: number) => Math.hypot(s[i + 2] + k * s[i + 4], s[i + 3] + k * s[i + 5]);
function leastRadius(s: readonly number[]): number {
  let least = Infinity;
  for (let i = 0; i < s.length; i += SEGMENT_SIZE) least = Math.min(least, reach(s, i, 0), reach(s, i, 1));
  return least;
}
function farthestReach(s: readonly number[]): number {
  let far = 0;
  for (let i = 0; i < s.length; i += SEGMENT_SIZE) far = Math.max(far, reach(s, i, 0), reach(s, i, 1));
  return far;
}

/**
 * Growth in the half plane. The least: over points of the true faces (evaluated on the surfaces, not on the triangles the
 * profile was built from) and all mesh corners, the depth below the profile. Mean and greatest: over points along the
 * profile, the distance to the exact outer profile.
 */
function measureGrowth(bodies: readonly SampledBody[], axis: Axis, profile: OuterProfile, exact: OuterProfile) {
  const finder = depthFinder(profile);
  let min = Infinity;
  let samples = 0;
  for (const body of bodies) {
    for (const points of [body.skin, body.mesh.positions]) {
      const zr = zrOfPoints(axis, points);
      for (let i = 0; i < zr.length; i += 2) min = Math.min(min, finder(zr[i], zr[i + 1]));
      samples += zr.length / 2;
    }
  }
  const exactFinder = depthFinder(exact);
  let [sum, weight, max] = [0, 0, 0];
  for (const run of profile) {
    for (let i = 2; i < run.length - 1; i++) {
      const [a, b] = [run[i - 1], run[i]];
      const length = Math.hypot(b[0] - a[0], b[1] - a[1]);
      const n = Math.min(50, Math.max(2, Math.ceil(length / 0.5)));
      for (let k = 0; k <= n; k++) {
        const p: ProfilePoint = [a[0] + ((b[0] - a[0]) * k) / n, a[1] + ((b[1] - a[1]) * k) / n];
        const g = Math.max(0, -exactFinder(p[0], p[1]));
        const area = (length / n) * (k === 0 || k === n ? 0.5 : 1) * p[1];
        max = Math.max(max, g);
        sum += g * area;
        weight += area;
      }
    }
  }
  // Depths of a few 1e-12 are noise of the square roots.
  return { growth: { min: Math.abs(min) < ENCLOSURE_SLACK / 100 ? 0 : min, mean: weight > 0 ? sum / weight : 0, max }, samples };
}

// depthInProfile for many points: first only the pieces over the point's z decide, exact enough to rank; the true
// distance is computed only for points that lie near the border.
function depthFinder(profile: OuterProfile): (z: number, r: number) => number {
  const pieces = profile.flatMap((run) => run.slice(1).map((to, i) => ({ from: run[i], to }))).filter(({ from, to }) => to[0] > from[0]);
  const starts = Float64Array.from(pieces, (p) => p.from[0]);
  return (z, r) => {
    let [low, high] = [0, starts.length];
    while (low + 1 < high) {
      const mid = (low + high) >> 1;
      if (starts[mid] <= z) low = mid;
      else high = mid;
    }
    const piece = pieces[low];
    if (piece && z >= piece.from[0] && z <= piece.to[0]) {
      const limit = piece.from[1] + ((piece.to[1] - piece.from[1]) * (z - piece.from[0])) / (piece.to[0] - piece.from[0]);
      // Straight below the border and far from it: the exact depth does not matter for the least.
      if (limit - r > 1) return 1;
    }
    return depthInProfile(profile, [z, r]);
  };
}
