// What was made, measured against what it was made from, by another way than it was made: samples of both surfaces, signed distances in a tree
// of boxes, and for what spins the outermost places of sampled edges.
import type { SampledBody } from '#core/kernel';
import { addScaled, dot, ENCLOSURE_SLACK, length, subtract, type Vec3 } from '#core/math';
import {
  eachPlace,
  findSelfCrossings,
  HighestPlaces,
  isClosedMesh,
  joinMeshes,
  meshArea,
  meshVolume,
  PLANE_SIZE,
  planeOfTriangle,
  SignedDistance,
  Solids,
  type TriMesh,
  validateMesh,
  weldWith,
} from '#core/mesh';
import { type Axis, zrOf, zrOfPoints } from '../axis.ts';
import { gainsOfTriangles, sagOfTriangles } from '../sag.ts';
import { SweptOutline } from './swept-outline.ts';

export interface Proof {
  /** mm. How far the result stands outside the original: a negative least growth is a cut into the tool. */
  readonly least: number;
  readonly mean: number;
  readonly greatest: number;
  readonly leastAt: Vec3;
  readonly greatestAt: Vec3;
  /** Places that were measured on both surfaces. */
  readonly samples: number;
  readonly closed: boolean;
  readonly openEdges: number;
  readonly badEdges: number;
  readonly degenerate: number;
  /** Edges that go through a triangle of the same mesh. */
  readonly crossings: number;
  readonly volumeBefore: number;
  readonly volumeAfter: number;
  /** mm2, of the result, but for what lies in others. */
  readonly area: number;
  /** Share of the result's area by growth, from 0 to `greatest` in equal steps. */
  readonly histogram: readonly number[];
}

export interface ProofInput {
  readonly bodies: readonly SampledBody[];
  /** The body with its openings closed, where the result closes some: growth is then measured from there. */
  readonly closedMesh?: TriMesh;
  /** mm. How far the closed mesh may stand out of the true faces itself, where the result was not made around it: so deep in it is no cut. */
  readonly closedSlack?: number;
  /** Where the result is what the bodies sweep about an axis: growth is then measured in the half plane. */
  readonly spin?: Spin;
  /** Bodies that must be in the result too, because they lie in the others. */
  readonly inside?: readonly SampledBody[];
  /** Other closed, welded results that stand with it: what of it is in them is no outside, and has no growth. */
  readonly others?: readonly TriMesh[];
  /** Share of the places that are measured, for who only looks; without it all are, and only then is it a proof. */
  readonly share?: number;
}

export interface Spin {
  readonly axis: Axis;
  /** mm. Gaps of the outside up to this width are filled on purpose. */
  readonly bridge?: number;
}

// Places on each of the two surfaces; corners and given points come on top.
const SAMPLES = 12_000;
// Highest places that are followed uphill.
const CLIMBS = 128;
const BINS = 24;
// mm. A point that is nearer than this to the surface is on it.
const ON_SURFACE = 1e-9;

/** Measures a result against the bodies that it stands for. The least growth of a sound result is 0 within 1e-6 mm. */
export function proveEnclosure(input: ProofInput, result: TriMesh): Proof {
  const signed = new SignedDistance(weldWith(result, 1e-7).mesh);
  return joinProofs(lookWithin(input, signed), lookOver(input, signed));
}

/** One half of a proof: that nothing of the original is outside the result, and what the result is as a mesh. */
export type InsideProof = Omit<Proof, 'mean' | 'greatest' | 'greatestAt' | 'area' | 'histogram'>;

/** The other half: how far the result stands out, and that it is nowhere inside the original. */
export type OutsideProof = Pick<Proof, 'least' | 'leastAt' | 'mean' | 'greatest' | 'greatestAt' | 'samples' | 'area' | 'histogram'>;

/** The halves apart, for two who do them at once; see `joinProofs`. */
export const proveInside = (input: ProofInput, result: TriMesh): InsideProof => lookWithin(input, new SignedDistance(weldWith(result, 1e-7).mesh));
export const proveOutside = (input: ProofInput, result: TriMesh): OutsideProof => lookOver(input, new SignedDistance(weldWith(result, 1e-7).mesh));

export function joinProofs(inside: InsideProof, outside: OutsideProof): Proof {
  const lower = outside.least < inside.least ? outside : inside;
  const least = Math.abs(lower.least) < ENCLOSURE_SLACK / 100 ? 0 : lower.least;
  return { ...inside, ...outside, least, leastAt: lower.leastAt, samples: inside.samples + outside.samples };
}

/** The proof of a result, for bodies that it must enclose besides those that it stands for, because they lie in them. */
export function proveAround(proof: Proof, { bodies, share = 1 }: Pick<ProofInput, 'bodies' | 'share'>, result: TriMesh): Proof {
  const least = new Least();
  lookFromOriginal(bodies, new SignedDistance(weldWith(result, 1e-7).mesh), least, share);
  const joined = joinProofs({ ...proof, least: least.growth, leastAt: least.at, samples: least.samples }, proof);
  return { ...joined, volumeBefore: proof.volumeBefore + bodies.reduce((v, b) => v + b.volume, 0) };
}

function lookWithin({ bodies, inside = [], share = 1 }: ProofInput, signed: SignedDistance): InsideProof {
  const { mesh } = signed.tree;
  const faults = validateMesh(mesh);
  const enclosed = [...bodies, ...inside];
  const least = new Least();
  lookFromOriginal(enclosed, signed, least, share);
  return {
    least: least.growth,
    leastAt: least.at,
    samples: least.samples,
    closed: isClosedMesh(faults) && !faults.insideOut,
    openEdges: faults.openEdges,
    badEdges: faults.badEdges,
    degenerate: faults.degenerate,
    crossings: findSelfCrossings(signed.tree).count,
    volumeBefore: enclosed.reduce((v, b) => v + b.volume, 0),
    volumeAfter: meshVolume(mesh),
  };
}

function lookOver(input: ProofInput, signed: SignedDistance): OutsideProof {
  const least = new Least();
  const seen = lookFromResult(input, signed, least);
  return { ...seen, least: least.growth, leastAt: least.at };
}

// The least growth so far, and where it is.
class Least {
  growth = Infinity;
  at: Vec3 = [0, 0, 0];
  samples = 0;

  notice(growth: number, x: number, y: number, z: number): void {
    this.samples++;
    if (growth >= this.growth) return;
    this.growth = growth;
    this.at = [x, y, z];
  }
}

// No place of the original may be outside the result.
function lookFromOriginal(bodies: readonly SampledBody[], signed: SignedDistance, least: Least, share: number): void {
  const step = 3 * Math.round(1 / share);
  // The place that was looked at last, and how deep in the result it lay: no place is nearer to the surface than that less its way from there, so that one
  // that must be deeper than the least so far need not be looked at.
  const last = { x: 0, y: 0, z: 0, depth: -Infinity };
  const look = (x: number, y: number, z: number, gain: number) => {
    const way = Math.sqrt((x - last.x) * (x - last.x) + (y - last.y) * (y - last.y) + (z - last.z) * (z - last.z));
    if (last.depth - way >= least.growth) {
      least.samples++;
      return;
    }
    last.depth = -signed.at(x, y, z);
    last.x = x;
    last.y = y;
    last.z = z;
    least.notice(gain + last.depth, x, y, z);
  };
  for (const body of bodies) {
    const { skin } = body;
    const { positions } = body.mesh;
    for (let i = 0; i < skin.length; i += step) look(skin[i], skin[i + 1], skin[i + 2], 0);
    for (let i = 0; i < positions.length; i += 3) look(positions[i], positions[i + 1], positions[i + 2], 0);
    // A chord of a bore lies nearer to its axis than the bore: what the result leaves free there is no cut.
    const gains = gainsOfTriangles(body);
    eachPlace(body.mesh, (share * SAMPLES) / bodies.length, (x, y, z, _, triangle, corner) => {
      if (corner < 0) look(x, y, z, gains[triangle]);
    });
  }
}

// No place of the result may be inside the original, as far as the original's chords tell; and how far those that are seen stand out.
function lookFromResult(
  { bodies, closedMesh, closedSlack, spin, others = [], share = 1 }: ProofInput,
  { tree }: SignedDistance,
  least: Least,
): Pick<Proof, 'mean' | 'greatest' | 'greatestAt' | 'samples' | 'area' | 'histogram'> {
  const { mesh } = tree;
  const places = share * SAMPLES;
  const hiding = new Solids(others);
  const isHidden = (x: number, y: number, z: number) => others.length > 0 && hiding.isDeeper(x, y, z, ON_SURFACE);
  const grown = spin ? growthOfSpin(bodies, spin, mesh) : growthOverMesh(bodies, closedMesh, closedSlack);
  const values: number[] = [];
  const areas: number[] = [];
  let samples = 0;
  const highest = new HighestPlaces(Math.sqrt(meshArea(mesh) / places));
  // A corner has many triangles: it is looked at once.
  const corners = new Map<number, number | undefined>();
  const growthAt = (x: number, y: number, z: number): number | undefined => {
    const { growth, slack } = grown.at(x, y, z);
    if (growth < -slack) least.notice(growth, x, y, z);
    return isHidden(x, y, z) ? undefined : growth;
  };
  eachPlace(mesh, places, (x, y, z, area, triangle, corner) => {
    const isKnown = corner >= 0 && corners.has(corner);
    const growth = isKnown ? corners.get(corner) : growthAt(x, y, z);
    if (corner >= 0 && !isKnown) corners.set(corner, growth);
    if (growth === undefined) return;
    if (!isKnown) samples++;
    values.push(Math.max(0, growth));
    areas.push(area);
    highest.notice(triangle, growth, x, y, z);
  });
  const area = areas.reduce((a, b) => a + b, 0) || 1;
  // Between the places it may be more: uphill from the highest ones, and from over the original's corners, where dents narrower than that are.
  for (const { mesh: original } of bodies) {
    const p = original.positions;
    const stride = 3 * Math.ceil(p.length / 3 / places);
    for (let i = 0; i < p.length; i += stride) {
      if (!tree.nearest(p[i], p[i + 1], p[i + 2])) continue;
      const [x, y, z] = tree.point;
      if (grown.isAbove(x, y, z, highest.leastOf(tree.triangle)) && !isHidden(x, y, z)) highest.notice(tree.triangle, grown.at(x, y, z).growth, x, y, z);
    }
  }
  const seen = (x: number, y: number, z: number, above: number) => (!grown.isAbove(x, y, z, above) || isHidden(x, y, z) ? 0 : grown.at(x, y, z).growth);
  const { value: greatest, at: greatestAt } = highest.climb(mesh, seen, Math.ceil(share * CLIMBS));
  const histogram = new Array<number>(BINS).fill(0);
  values.forEach((v, i) => {
    histogram[Math.min(BINS - 1, greatest > 0 ? Math.floor((v / greatest) * BINS) : 0)] += areas[i] / area;
  });
  return { mean: values.reduce((s, v, i) => s + v * areas[i], 0) / area, greatest, greatestAt, samples, area, histogram };
}

/** Growth at places of a result. */
export interface GrowthField {
  /** mm, and what the original's chords may hide there. */
  at(x: number, y: number, z: number): { growth: number; slack: number };
  /** False where growth is surely no more than so many mm: sooner told than how much it is. */
  isAbove(x: number, y: number, z: number, above: number): boolean;
}

/** The distance from the bodies' meshes. */
export function growthOverMesh(bodies: readonly SampledBody[], closedMesh?: TriMesh, closedSlack = 0): GrowthField {
  const { mesh, kept } = weldWith(closedMesh ?? joinMeshes(bodies.map((b) => b.mesh)), 1e-7);
  const signed = new SignedDistance(mesh);
  const sag = closedMesh ? undefined : bodies.flatMap((b) => [...sagOfTriangles(b)]);
  return {
    at: (x, y, z) => {
      const growth = signed.at(x, y, z);
      return { growth, slack: ON_SURFACE + (sag ? sag[kept[signed.tree.triangle]] : closedSlack) };
    },
    isAbove: (x, y, z, above) => above <= 0 || !signed.tree.isNear(x, y, z, above),
  };
}

// mm. A face within this of a lid's place is that lid.
const SAME_LID = 1e-6;

/**
 * Growth at places of a revolved result: in the half plane, from what the bodies sweep; of what lies below the outermost of that, along the walls of bores,
 * from what comes nearest to the axis. Lids, flat faces around the axis, have none: they are there to close a bore.
 */
export function growthOfSpin(bodies: readonly SampledBody[], { axis, bridge }: Spin, result: TriMesh): GrowthField {
  const outside = new SweptOutline(bodies, axis, 'outer', bridge);
  // Only where there are some: the outside of an envelope nowhere looks towards its axis.
  const bores = looksInwards(result, axis) ? new SweptOutline(bodies, axis, 'inner') : undefined;
  const lids = lidsOf(result, axis);
  const at: GrowthField['at'] = (x, y, z) => {
    const [along, r] = zrOf(axis, [x, y, z]);
    const place = { z: along, r };
    const isLid = lids.some((lid) => Math.abs(along - lid) < SAME_LID);
    // Inside of what is swept nothing is measured here: that is what the original's own places tell.
    return { growth: outside.distance(place) || (isLid || !bores ? 0 : bores.distance(place)), slack: Infinity };
  };
  return { at, isAbove: () => true };
}

// Sine of how far a triangle must lean to look towards the axis: that of an outside's flats, as they are rounded, does not.
const INWARDS = 1e-6;

function looksInwards({ positions: p, triangles: t }: TriMesh, { origin, direction }: Axis): boolean {
  const plane = new Float64Array(PLANE_SIZE);
  for (let f = 0; f < t.length / 3; f++) {
    planeOfTriangle(p, t, f, plane);
    const normal: Vec3 = [plane[0], plane[1], plane[2]];
    const middle = ([0, 1, 2] as const).map((k) => (p[3 * t[3 * f] + k] + p[3 * t[3 * f + 1] + k] + p[3 * t[3 * f + 2] + k]) / 3) as unknown as Vec3;
    const from = subtract(middle, origin);
    const outwards = addScaled(from, direction, -dot(from, direction));
    if (dot(normal, outwards) < -INWARDS * length(outwards)) return true;
  }
  return false;
}

// Where, along the axis, flat faces reach the axis: its ends, and what closes its bores.
function lidsOf({ positions, triangles: t }: TriMesh, axis: Axis): number[] {
  const zr = zrOfPoints(axis, positions);
  const lids = new Set<number>();
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [2 * t[i], 2 * t[i + 1], 2 * t[i + 2]];
    if (Math.min(zr[a + 1], zr[b + 1], zr[c + 1]) > SAME_LID) continue;
    if (Math.max(zr[a], zr[b], zr[c]) - Math.min(zr[a], zr[b], zr[c]) < SAME_LID) lids.add(Math.round(zr[a] / SAME_LID) * SAME_LID);
  }
  return [...lids];
}
