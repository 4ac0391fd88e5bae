import {
  type Axis,
  computeExactGeometry,
  computeRevolvedEnvelope,
  computeWrap,
  flatsAround,
  flatsGrowth,
  type Growth,
  growthOfProfile,
  revolveToMesh,
} from '#core/envelope';
import { done, failed, type Result } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import { type Solids, type TriMesh, weld } from '#core/mesh';
import { type HalfProfile, listPieces, validateProfile } from '#core/outline';
import { DEFAULT_CLOSE_BELOW } from '#core/records';
import type { GeometryRequest } from './make-geometry.ts';

/** What a builder gives: a mesh, and what its proof and its report have to know of it. */
export interface Made {
  readonly mesh: TriMesh;
  readonly faceStart?: Uint32Array;
  readonly profile?: HalfProfile;
  /** Growth as the builder measured it on the true faces. */
  readonly built?: Growth;
  readonly closedMesh?: TriMesh;
  readonly pushed?: number;
  readonly say?: string;
}

/** The body's own tessellation, pushed out by its sag. */
export function makeExact(body: SampledBody): Result<Made> {
  const { mesh, faceOf, growth } = computeExactGeometry(body);
  // Triangles come face by face.
  const faceStart = new Uint32Array(body.surfaces.length + 1);
  for (const f of faceOf) faceStart[f + 1]++;
  for (let f = 0; f < body.surfaces.length; f++) faceStart[f + 1] += faceStart[f];
  return done({ mesh, faceStart, built: growth });
}

/** A wrap of the body, coarser where it lies in others. */
export function makeWrap(
  body: SampledBody,
  { tolerance, closeBelow = DEFAULT_CLOSE_BELOW, triangles }: GeometryRequest,
  others: Solids,
  onProgress: (share: number) => void,
): Result<Made> {
  const wrap = computeWrap(body, { tolerance, closeBelow, triangles, others, onProgress });
  if (!wrap.ok) return wrap;
  const { mesh, around, pushed, openings, widest, hollows } = wrap.value;
  const say = [
    openings > 0 ? `; ${openings} ${openings === 1 ? 'opening' : 'openings'} up to ${widest.toFixed(1)} wide closed` : '',
    hollows > 0 ? `; ${hollows} hollows filled` : '',
  ].join('');
  return done({ mesh, closedMesh: around, pushed, say });
}

/** One revolved envelope of all bodies, or what was drawn in its place. */
export function makeRevolved(
  sampled: readonly SampledBody[],
  axis: Axis,
  { tolerance, closeBelow = DEFAULT_CLOSE_BELOW, bores = 'closed', bridge = 0, drawn }: GeometryRequest,
): Result<Made> {
  const envelope = computeRevolvedEnvelope(sampled, axis, tolerance * 0.3, { keep: bores, closeBelow, bridge });
  if (!envelope.ok) return envelope;
  const profile = drawn ?? envelope.value.profile;
  const faults = validateProfile(profile);
  if (faults.length > 0) {
    if (drawn) return failed('envelope.bad-profile', { text: faults.join('; ') });
    throw new Error(`make-geometry.makeRevolved: a bad profile; ${faults.join('; ')}`);
  }
  const growth = drawn ? growthOfProfile(sampled, axis, drawn, envelope.value) : envelope.value.growth;
  const largest = Math.max(...profile.flat().flatMap((p) => [p.from[1], p.to[1]]));
  const flats = flatsAround(largest, tolerance * 0.25);
  const sag = tolerance * 0.1;
  const mesh = weld(revolveToMesh(profile, axis, flats, sag), 1e-7);
  const pieces = listPieces(profile);
  const arcs = pieces.filter((p) => p.kind === 'arc').length;
  const say = `; ${pieces.length} pieces${arcs > 0 ? ` with ${arcs} ${arcs === 1 ? 'arc' : 'arcs'}` : ''}${bridge > 0 && !drawn ? `, gaps up to ${bridge.toFixed(1)} bridged` : ''}${drawn ? ', changed by hand' : ''}`;
  return done({ mesh, profile, built: { ...growth, max: growth.max + flatsGrowth(largest, flats) + (arcs > 0 ? sag : 0) }, say });
}
