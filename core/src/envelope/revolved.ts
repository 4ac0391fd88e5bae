import { failed, type Result, done } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import { boundsOfPoints, ENCLOSURE_SLACK, frameFromWorld, fromZAndX, joinBounds } from '#core/math';
import { movePoints } from '#core/mesh';
import { type OuterProfile, profileDepthFinder, type ProfilePoint, profileVolume } from '#core/outline';
import { type Axis, zrOfPoints } from './axis.ts';
import { profileOfEnvelope, simplifyProfile } from './outer-profile.ts';
import { SEGMENT_SIZE, sweptSegments } from './swept-segments.ts';
import { chordsOfSegments, dropHidden, type Pieces, upperEnvelope } from './upper-envelope.ts';

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
  const swept = bodies.map((body) => sweptSegments(body, axis));
  const off = axisDistance(bodies, axis);
  if (off.beside > off.across / 2) return failed('envelope.axis-off', { distance: off.beside.toFixed(1) });
  const exactness = tolerance * EXACTNESS;
  const chords = swept.map(({ segments }) => chordsOfSegments(dropHidden(segments, SEGMENT_SIZE), SEGMENT_SIZE, exactness));
  const exact = profileOfEnvelope(upperEnvelope(joinPieces(chords.map((c) => upperEnvelope(c.pieces)))));
  const profile = simplifyProfile(exact, tolerance);
  const { growth, samples } = measureGrowth(bodies, axis, profile, exact);
  // Against the true faces the profile may stand out further: by the chords, and by what the tessellation blurs.
  const max = growth.max + Math.max(...chords.map((c) => c.gap)) + Math.max(...swept.map((s) => s.blur));
  return done({ profile, exact, growth: { ...growth, max }, volume: profileVolume(profile), samples });
}

// Share of the tolerance that the chords of swept edges may stand out.
const EXACTNESS = 0.03;

function joinPieces(parts: readonly Pieces[]): Pieces {
  const out = new Float64Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

// How far the axis passes beside the bodies' box across it, and how wide that box is; an axis far beside is a mistake.
function axisDistance(bodies: readonly SampledBody[], { origin, direction }: Axis): { beside: number; across: number } {
  const frame = fromZAndX(origin, direction);
  const frameFromModel = frameFromWorld(frame);
  const box = joinBounds(bodies.map((b) => boundsOfPoints(movePoints(frameFromModel, b.mesh.positions))).filter((b) => b !== undefined));
  if (!box) return { beside: 0, across: 0 };
  const gap = (k: 0 | 1) => Math.max(0, box.min[k], -box.max[k]);
  return { beside: Math.hypot(gap(0), gap(1)), across: Math.hypot(box.max[0] - box.min[0], box.max[1] - box.min[1]) };
}

/**
 * Growth in the half plane. The least: over points of the true faces (evaluated on the surfaces, not on the triangles the
 * profile was built from) and all mesh corners, the depth below the profile. Mean and greatest: over points along the
 * profile, the distance to the exact outer profile.
 */
function measureGrowth(bodies: readonly SampledBody[], axis: Axis, profile: OuterProfile, exact: OuterProfile) {
  const finder = profileDepthFinder(profile);
  let min = Infinity;
  let samples = 0;
  for (const body of bodies) {
    for (const points of [body.skin, body.mesh.positions]) {
      const zr = zrOfPoints(axis, points);
      for (let i = 0; i < zr.length; i += 2) min = Math.min(min, finder(zr[i], zr[i + 1]));
      samples += zr.length / 2;
    }
  }
  const exactFinder = profileDepthFinder(exact);
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
