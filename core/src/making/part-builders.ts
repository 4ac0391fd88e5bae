import {
  type Axis,
  computeRevolvedEnvelopes,
  computeWrap,
  type ExactGeometry,
  flatsAround,
  flatsGrowth,
  type Growth,
  growthOfProfile,
  isUsableTolerance,
  revolveToMesh,
} from '#core/envelope';
import { done, failed, type Result } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import { type Solids, type TriMesh, weld } from '#core/mesh';
import { type HalfProfile, listPieces, validateProfile } from '#core/outline';
import { DEFAULT_CLOSE_BELOW } from '#core/records';
import type { GeometryRequest } from './request.ts';
import type { Made, WrapChoice } from './tasks.ts';

/** The body's own tessellation, pushed out by its sag. */
export function makeExact(body: SampledBody, { mesh, faceOf, growth }: ExactGeometry): Made {
  // Triangles come face by face.
  const faceStart = new Uint32Array(body.surfaces.length + 1);
  for (const f of faceOf) faceStart[f + 1]++;
  for (let f = 0; f < body.surfaces.length; f++) faceStart[f + 1] += faceStart[f];
  return { mesh, faceStart, built: growth };
}

/** A wrap of the body, coarser where it lies in others. */
export function makeWrap(
  body: SampledBody,
  exact: ExactGeometry,
  { tolerance, closeBelow = DEFAULT_CLOSE_BELOW, triangles }: WrapChoice,
  others: Solids,
  onProgress: (share: number) => void,
): Result<Made> {
  const wrap = computeWrap(body, { exact, tolerance, closeBelow, triangles, others, onProgress });
  if (!wrap.ok) return wrap;
  const { mesh, around, pushed, openings, widest, hollows } = wrap.value;
  const say = [
    openings > 0 ? `; ${openings} ${openings === 1 ? 'opening' : 'openings'} up to ${widest.toFixed(1)} wide closed` : '',
    hollows > 0 ? `; ${hollows} hollows filled` : '',
  ].join('');
  return done({ mesh, closedMesh: around, pushed, say });
}

// Shares of the tolerance that the profile may take, and chords of its arcs: what they leave goes to the flats around, of which there are many for each piece.
const PROFILE_SHARES = [0.45, 0.3, 0.1, 0.03];
const ARC_SHARES = [0.1, 0.3];
// Of what is left: the proof may find a little more than the builder.
const FLATS_SHARE = 0.97;

/** One revolved envelope of all bodies, or what was drawn in its place: the tolerance is shared out so that its mesh has the fewest triangles. */
export function makeRevolved(sampled: readonly SampledBody[], axis: Axis, request: GeometryRequest): Result<Made> {
  const { tolerance, closeBelow = DEFAULT_CLOSE_BELOW, bores = 'closed', bridge = 0, drawn } = request;
  const keeps = ({ built }: Turned) => built.max <= tolerance;
  let best: Turned | undefined;
  const shares = PROFILE_SHARES.map((share) => tolerance * share).filter(isUsableTolerance);
  const tolerances = drawn ? [tolerance] : shares.length > 0 ? shares : [tolerance];
  const envelopes = computeRevolvedEnvelopes(sampled, axis, tolerances, { keep: bores, closeBelow, bridge });
  if (!envelopes.ok) return envelopes;
  for (const envelope of envelopes.value) {
    const profile = drawn ?? envelope.profile;
    const faults = validateProfile(profile);
    if (faults.length > 0) {
      if (drawn) return failed('envelope.bad-profile', { text: faults.join('; ') });
      throw new Error(`part-builders.makeRevolved: a bad profile; ${faults.join('; ')}`);
    }
    const growth = drawn ? growthOfProfile(sampled, axis, drawn, envelope) : envelope.growth;
    for (const arcs of ARC_SHARES) {
      const next = turnedWithin(profile, growth, axis, tolerance, arcs);
      if (!best || (keeps(next) && (!keeps(best) || next.mesh.triangles.length < best.mesh.triangles.length))) best = next;
      if (next.arcs === 0) break;
    }
  }
  const { mesh, profile, built, arcs } = best as Turned;
  const says = [
    `; ${listPieces(profile).length} pieces`,
    arcs > 0 ? ` with ${arcs} ${arcs === 1 ? 'arc' : 'arcs'}` : '',
    bridge > 0 && !drawn ? `, gaps up to ${bridge.toFixed(1)} bridged` : '',
    drawn ? ', changed by hand' : '',
  ];
  return done({ mesh, profile, built, say: says.join('') });
}

interface Turned {
  readonly mesh: TriMesh;
  readonly profile: HalfProfile;
  readonly built: Growth;
  readonly arcs: number;
}

// A profile that stands out as it does, turned with as few flats as the tolerance then lets it have; its arcs may take a share of that.
function turnedWithin(profile: HalfProfile, growth: Growth, axis: Axis, tolerance: number, arcShare: number): Turned {
  const arcs = listPieces(profile).filter((p) => p.kind === 'arc').length;
  const sag = arcs > 0 ? arcShare * tolerance : 0;
  const radii = profile.flat().flatMap((p) => [p.from[1], p.to[1]]);
  const left = FLATS_SHARE * (tolerance - growth.max - sag);
  // Where the profile has used up the tolerance, by what was drawn or by coarse chords, the flats cannot mend that.
  const allowance = left > 0 ? left : tolerance * 0.25;
  const flats = (radius: number) => flatsAround(radius, allowance);
  const mesh = weld(revolveToMesh(profile, axis, flats, sag || undefined), 1e-7);
  return { mesh, profile, built: { ...growth, max: growth.max + Math.max(...radii.map((r) => flatsGrowth(r, flats(r)))) + sag }, arcs };
}
