import { failed, type Result, done } from '#core/issues';
import type { SampledBody } from '#core/kernel';
import { ENCLOSURE_SLACK } from '#core/math';
import {
  type HalfProfile,
  lengthOfPiece,
  listPieces,
  loopThrough,
  mirrorPiece,
  type PathPiece,
  placeOnPiece,
  profileDepthFinder,
  profileDistance,
  type ProfilePoint,
  profileVolume,
  reversePiece,
} from '#core/outline';
import { type Axis, eachAbout } from '../axis.ts';
import { type BoreOptions, emptyStretches, keptBores } from './bores.ts';
import { bridgeGaps, closeCracks } from './bridge-gaps.ts';
import { DeepPlaces } from './deep-places.ts';
import { fewestPieces, type Ring } from './fewest-pieces.ts';
import { dropShadowed, tangentsOfSegments } from './inner-reach.ts';
import { outlinesOfEnvelope } from './outlines.ts';
import { coverOf, type PlacesAbout, placesAbout } from './buried.ts';
import { SEGMENT_SIZE, SegmentList } from './segment-list.ts';
import { type SweptBody, sweptSegments } from './swept-segments.ts';
import { chordsOfSegments, dropHidden, type Pieces, upperEnvelope } from './upper-envelope.ts';

/** Growth of an envelope over the original, mm; a negative least growth means that it cuts into the tool. */
export interface Growth {
  readonly min: number;
  readonly mean: number;
  readonly max: number;
}

export interface RevolvedEnvelope {
  readonly profile: HalfProfile;
  /** The exact profile that it was simplified from, straight pieces only. */
  readonly exact: HalfProfile;
  /** mm. How far the exact profile may itself stand outside the true faces. */
  readonly blur: number;
  readonly growth: Growth;
  readonly volume: number;
  /** How many points of the true faces the enclosure was checked at. */
  readonly samples: number;
}

export const isUsableTolerance = (mm: number): boolean => Number.isFinite(mm) && mm >= 0.001 && mm <= 5;

/** What of the outside and of bores is left open. */
export interface OpenOptions extends BoreOptions {
  /** mm. Gaps of the outside up to this width are filled. */
  readonly bridge?: number;
}

const ALL_CLOSED: OpenOptions = { keep: 'closed', closeBelow: 0 };

/**
 * The revolved envelope of bodies that spin about `axis`, in the fewest lines and arcs: never inside, and at most `tolerance` outside of the exact
 * profile in r. Bores are closed, or stay open as asked for and get narrower by no more than the tolerance; narrow gaps of the outside are bridged where
 * that is asked for, and growth counts from the bridged shape.
 */
export function computeRevolvedEnvelope(bodies: readonly SampledBody[], axis: Axis, tolerance: number, open = ALL_CLOSED): Result<RevolvedEnvelope> {
  const made = computeRevolvedEnvelopes(bodies, axis, [tolerance], open);
  return made.ok ? done(made.value[0]) : made;
}

/** The same within several tolerances: what bodies sweep is found once for all of them. */
export function computeRevolvedEnvelopes(
  bodies: readonly SampledBody[],
  axis: Axis,
  tolerances: readonly number[],
  open = ALL_CLOSED,
): Result<RevolvedEnvelope[]> {
  const wrong = tolerances.find((t) => !isUsableTolerance(t));
  if (wrong !== undefined) return failed('envelope.bad-tolerance', { tolerance: wrong });
  if (bodies.length === 0) return failed('envelope.no-bodies');
  const places = bodies.map((body) => placesAbout(body, axis));
  const off = axisDistance(places);
  if (off.beside > off.across / 2) return failed('envelope.axis-off', { distance: off.beside.toFixed(1) });
  const exactness = EXACTNESS * Math.sqrt(Math.min(...tolerances) * Math.max(...tolerances));
  // At first with all that is known of faces of revolution; where that left something outside, with every allowance.
  const quick = sweep(bodies, places, axis, exactness, open, false);
  let careful: Sweep | undefined;
  let whole: Sweep | undefined;
  return done(
    tolerances.map((tolerance) => {
      const made = simplify(bodies, axis, quick, tolerance);
      if (made.growth.min >= -ENCLOSURE_SLACK) return made;
      careful ??= sweep(bodies, places, axis, exactness, open, true);
      const second = simplify(bodies, axis, careful, tolerance);
      if (second.growth.min >= -ENCLOSURE_SLACK) return second;
      // A border whose neighbour is missing reaches out between the corners of its chords; a sewn one lies beside its faces.
      whole ??= withPlacesOutside(careful, bodies, axis, exactness, open);
      return whole === careful ? second : simplify(bodies, axis, whole, tolerance);
    }),
  );
}

/** What bodies sweep about an axis, exactly but for chords. */
interface Sweep {
  readonly swept: readonly SweptBody[];
  readonly runs: readonly Run[];
  readonly exact: HalfProfile;
  readonly rings: readonly Ring[];
  readonly blur: number;
}

function sweep(bodies: readonly SampledBody[], places: readonly PlacesAbout[], axis: Axis, exactness: number, open: OpenOptions, isCareful: boolean): Sweep {
  const hasBores = open.keep !== 'closed';
  // What lies below the outside may still be a bore's wall; and the careful try trusts no chord that may stand out of a hollow face.
  const cover = hasBores || isCareful ? undefined : coverOf(bodies, places);
  const swept = bodies.map((body, i) => sweptSegments(body, axis, { innermost: hasBores, withBorders: isCareful, places: places[i], cover }));
  return gather(swept, bodies, axis, exactness, open, isCareful);
}

// The outside of what is swept, and its bores.
function gather(swept: readonly SweptBody[], bodies: readonly SampledBody[], axis: Axis, exactness: number, open: OpenOptions, isCareful: boolean): Sweep {
  const hasBores = open.keep !== 'closed';
  const outer = outermost(swept, exactness, isCareful);
  const inner = hasBores ? innermost(swept, exactness, isCareful) : { outlines: [], gap: 0 };
  const empty = hasBores ? emptyStretches(bodies, axis) : [];
  const runs = bridgeGaps(outer.outlines, open.bridge ?? 0).map((outline): Run => {
    const stretch = [outline[0][0], outline[outline.length - 1][0]] as const;
    return { outline, bores: keptBores(inner.outlines, empty, stretch, open) };
  });
  // Against the true faces the profile may stand out further: by the chords, and by what the tessellation blurs.
  const blur = Math.max(outer.gap, inner.gap) + Math.max(...swept.map((s) => s.blur));
  return { swept, runs, exact: runs.map((run) => loopThrough(cornersOf(run))), rings: swept.flatMap((s) => s.rings), blur };
}

/** The same with the places of the true faces that it leaves outside; itself where there are none, or one stands out by more than chords explain. */
function withPlacesOutside(made: Sweep, bodies: readonly SampledBody[], axis: Axis, exactness: number, open: OpenOptions): Sweep {
  const beside = placesOutside(bodies, axis, made.exact);
  return beside ? gather([...made.swept, beside], bodies, axis, exactness, open, true) : made;
}

function simplify(bodies: readonly SampledBody[], axis: Axis, { runs, exact, rings, blur }: Sweep, tolerance: number): RevolvedEnvelope {
  // The circles of true faces lie under their own straight pieces by a hair; where that was not all, arcs are done without.
  let best: { profile: HalfProfile; measured: Measured } | undefined;
  for (const means of [{ rings, arcs: true }, { arcs: true }, { arcs: false }]) {
    const profile = runs.map((run) => simplified(run, tolerance, means));
    const measured = measureGrowth(bodies, axis, profile, exact);
    best = { profile, measured };
    if (measured.growth.min >= -ENCLOSURE_SLACK) break;
  }
  const { profile, measured } = best as NonNullable<typeof best>;
  return {
    profile,
    exact,
    blur,
    growth: { ...measured.growth, max: measured.growth.max + blur },
    volume: profileVolume(profile),
    samples: measured.samples,
  };
}

// Share of the tolerance that the chords of swept edges may stand out.
const EXACTNESS = 0.03;

// A stretch of material: its outside, and the walls of the bores that stay, all from left to right.
interface Run {
  readonly outline: readonly ProfilePoint[];
  readonly bores: readonly (readonly ProfilePoint[])[];
}

type Means = { readonly rings?: readonly Ring[]; readonly arcs: boolean };

interface Reach {
  readonly outlines: ProfilePoint[][];
  /** mm. How far straight pieces stand outside the swept edges. */
  readonly gap: number;
}

function outermost(swept: readonly SweptBody[], exactness: number, isCareful: boolean): Reach {
  const { pieces, gap } = chordsOfSegments(dropHidden(joinPacked(swept.map((s) => s.segments)), SEGMENT_SIZE), SEGMENT_SIZE, exactness);
  return { outlines: closeCracks(outlinesOfEnvelope(upperEnvelope(pieces), isCareful ? NO_LINES : exactLines(swept, 1))), gap };
}

function innermost(swept: readonly SweptBody[], exactness: number, isCareful: boolean): Reach {
  const { pieces, gap } = tangentsOfSegments(dropShadowed(joinPacked(swept.map((s) => s.segments)), SEGMENT_SIZE), SEGMENT_SIZE, exactness);
  return { outlines: closeCracks(outlinesOfEnvelope(upperEnvelope(pieces), isCareful ? NO_LINES : exactLines(swept, -1))), gap };
}

const NO_LINES: Pieces = new Float64Array(0);

// The generatrices of faces of revolution as straight pieces with what they are allowed, r counted upwards or downwards.
function exactLines(swept: readonly SweptBody[], sense: 1 | -1): Pieces {
  const out: number[] = [];
  for (const { segments, exactLength } of swept)
    for (let i = 0; i < exactLength; i += SEGMENT_SIZE)
      out.push(segments[i], sense * segments[i + 2] + segments[i + 6], segments[i + 1], sense * (segments[i + 2] + segments[i + 4]) + segments[i + 6]);
  return Float64Array.from(out);
}

function joinPacked(parts: readonly Float64Array[]): Float64Array {
  const out = new Float64Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const part of parts) {
    out.set(part, at);
    at += part.length;
  }
  return out;
}

const TOUCHES = 1e-6;
// mm. A bore keeps clear of its axis by this whatever the tolerance.
const BORE_ROOF = -0.01;

// The corners of a run's exact loop, counter-clockwise around material: along the bores and the axis, and back over the outside.
function cornersOf({ outline, bores }: Run): ProfilePoint[] {
  const [start, end] = [outline[0], outline[outline.length - 1]];
  const corners: ProfilePoint[] = [];
  const push = (p: ProfilePoint) => {
    const last = corners[corners.length - 1];
    if (!last || Math.hypot(p[0] - last[0], p[1] - last[1]) > 1e-12) corners.push(p);
  };
  if (!bores.some((b) => b[0][0] < start[0] + TOUCHES)) push([start[0], 0]);
  for (const bore of bores) {
    const [first, last] = [bore[0], bore[bore.length - 1]];
    if (first[0] >= start[0] + TOUCHES) push([first[0], 0]);
    for (const p of bore) push(p);
    if (last[0] <= end[0] - TOUCHES) push([last[0], 0]);
  }
  if (!bores.some((b) => b[b.length - 1][0] > end[0] - TOUCHES)) push([end[0], 0]);
  for (let i = outline.length - 1; i >= 0; i--) push(outline[i]);
  if (Math.hypot(corners[0][0] - start[0], corners[0][1] - start[1]) < 1e-12) corners.pop();
  return corners;
}

// The same loop in few pieces.
function simplified({ outline, bores }: Run, tolerance: number, means: Means): PathPiece[] {
  const outside = fewestPieces(outline, { tolerance, ...means });
  const downwards = means.rings?.map((ring): Ring => ({ ...ring, centre: [ring.centre[0], -ring.centre[1]] }));
  const walls = bores.map((bore) =>
    fewestPieces(
      bore.map(([z, r]): ProfilePoint => [z, -r]),
      { tolerance, roof: BORE_ROOF, arcs: means.arcs, rings: downwards },
    ).map(mirrorPiece),
  );
  const [start, end] = [outside[0].from, outside[outside.length - 1].to];
  const out: PathPiece[] = [];
  let cursor: ProfilePoint = bores.some((b) => b[0][0] < start[0] + TOUCHES) ? walls[0][0].from : [start[0], 0];
  const first = cursor;
  const lineTo = (to: ProfilePoint) => {
    if (Math.hypot(to[0] - cursor[0], to[1] - cursor[1]) > 1e-9) out.push({ kind: 'line', from: cursor, to });
    else if (out.length > 0) out[out.length - 1] = { ...out[out.length - 1], to };
    cursor = to;
  };
  walls.forEach((wall, i) => {
    const [from, to] = [wall[0].from, wall[wall.length - 1].to];
    if (bores[i][0][0] >= start[0] + TOUCHES) {
      lineTo([from[0], 0]);
      lineTo(from);
    }
    out.push(...wall);
    cursor = to;
    if (to[0] <= end[0] - TOUCHES) lineTo([to[0], 0]);
  });
  if (!bores.some((b) => b[b.length - 1][0] > end[0] - TOUCHES)) lineTo([end[0], 0]);
  lineTo(end);
  out.push(...outside.map(reversePiece).reverse());
  cursor = start;
  if (Math.hypot(first[0] - cursor[0], first[1] - cursor[1]) > 1e-9) lineTo(first);
  return out;
}

/** Growth of another profile of the same bodies, one that was drawn; measured as that of the computed one. */
export function growthOfProfile(bodies: readonly SampledBody[], axis: Axis, drawn: HalfProfile, { exact, blur }: RevolvedEnvelope): Growth {
  const { growth } = measureGrowth(bodies, axis, drawn, exact);
  return { ...growth, max: growth.max + blur };
}

// How far the axis passes beside the bodies' box across it, and how wide that box is; an axis far beside is a mistake.
function axisDistance(places: readonly PlacesAbout[]): { beside: number; across: number } {
  let [u0, u1, v0, v1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (const { flat } of places)
    for (let i = 0; i < flat.length; i += 2) {
      const u = flat[i];
      const v = flat[i + 1];
      if (u < u0) u0 = u;
      if (u > u1) u1 = u;
      if (v < v0) v0 = v;
      if (v > v1) v1 = v;
    }
  if (u0 > u1) return { beside: 0, across: 0 };
  return { beside: Math.hypot(Math.max(0, u0, -u1), Math.max(0, v0, -v1)), across: Math.hypot(u1 - u0, v1 - v0) };
}

// mm. What lies deeper says nothing of the least growth, where anything lies less deep.
const SURELY_DEEP = 1e-3;

interface Measured {
  readonly growth: Growth;
  readonly samples: number;
}

// The least depth of points of the true faces and of the corners of their triangles below a profile; of those that `each` gives, place along the axis and squared distance from it.
function leastDepth(
  bodies: readonly SampledBody[],
  profile: HalfProfile,
  each: (points: Float64Array, look: (z: number, rSq: number) => void) => void,
): number {
  const distance = profileDistance(profile);
  let min = Infinity;
  const look = (z: number, rSq: number) => {
    const r = Math.sqrt(rSq);
    // A point that is surely deeper than another was need not be looked at closely.
    if (distance.leastDepth(z, r) < min) min = Math.min(min, distance.depth(z, r));
  };
  for (const { skin, mesh } of bodies) eachPlace(skin, mesh, (points) => each(points, look));
  return min;
}

// mm. What is less far outside is within what is promised.
const LEAST_OUTSIDE = ENCLOSURE_SLACK / 2;
// Chords that a place may stand out by and still be meant.
const MOST_BESIDE = 4;
// Of what a place stands out by, how much further what lies between it and the next may be.
const BETWEEN = 0.2;
// Of the same, how far it reaches back.
const OVER = 1.5;

// The places of the true faces and edges that a profile leaves outside, as what is swept besides; undefined where none is, or one stands out by more than chords explain.
function placesOutside(bodies: readonly SampledBody[], axis: Axis, profile: HalfProfile): SweptBody | undefined {
  const distance = profileDistance(profile);
  const out = new SegmentList(64);
  let blur = 0;
  for (const { skin, mesh, chordTolerance } of bodies) {
    let most = 0;
    eachPlace(skin, mesh, (points) =>
      eachAbout(axis, points, (z, rSq) => {
        const r = Math.sqrt(rSq);
        if (distance.leastDepth(z, r) >= -LEAST_OUTSIDE) return;
        const by = -distance.depth(z, r);
        if (by <= LEAST_OUTSIDE) return;
        most = Math.max(most, by);
        // Before an end it has to reach back over it, or it stands alone and spans nothing.
        const back = (distance.depth(z - by, r) > distance.depth(z + by, r) ? -1 : 1) * OVER * by;
        out.push(Math.min(z, z + back), Math.max(z, z + back), r, 0, 0, 0, BETWEEN * by, BETWEEN * by);
      }),
    );
    if (most > MOST_BESIDE * chordTolerance) return undefined;
    blur = Math.max(blur, BETWEEN * most);
  }
  return blur > 0 ? { segments: out.packed(), exactLength: 0, rings: [], blur } : undefined;
}

// Places of the true faces, and the corners of their triangles, which of a mesh are the same.
function eachPlace(skin: Float64Array, { positions }: SampledBody['mesh'], look: (points: Float64Array) => void): void {
  look(positions);
  if (skin !== positions) look(skin);
}

/**
 * Growth in the half plane. The least: over points of the true faces (evaluated on the surfaces, not on the triangles the
 * profile was built from) and all mesh corners, the depth below the profile. Mean and greatest: over points along the
 * profile, the distance to the exact profile.
 */
function measureGrowth(bodies: readonly SampledBody[], axis: Axis, profile: HalfProfile, exact: HalfProfile): Measured {
  const samples = bodies.reduce((n, { skin, mesh }) => n + (skin.length + mesh.positions.length) / 3, 0);
  const deep = new DeepPlaces(profile, SURELY_DEEP);
  const quick = leastDepth(bodies, profile, (points, look) => deep.eachOther(axis, points, look));
  // Where nothing comes near the profile, what was passed over may be what is least.
  const min = quick < SURELY_DEEP ? quick : leastDepth(bodies, profile, (points, look) => eachAbout(axis, points, look));
  const exactDepth = profileDepthFinder(exact);
  let [sum, weight, max] = [0, 0, 0];
  for (const piece of listPieces(profile)) {
    const length = lengthOfPiece(piece);
    const n = Math.min(50, Math.max(4, Math.ceil(length / 0.5)));
    for (let k = 0; k <= n; k++) {
      const [z, r] = placeOnPiece(piece, k / n);
      const g = Math.max(0, -exactDepth(z, r));
      const area = (length / n) * (k === 0 || k === n ? 0.5 : 1) * r;
      max = Math.max(max, g);
      sum += g * area;
      weight += area;
    }
  }
  // Depths of a few 1e-12 are noise of the square roots.
  return { growth: { min: Math.abs(min) < ENCLOSURE_SLACK / 100 ? 0 : min, mean: weight > 0 ? sum / weight : 0, max }, samples };
}
