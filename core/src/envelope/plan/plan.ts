import { done, failed, type Result } from '#core/issues';
import type { FlatBooleans, SampledBody } from '#core/kernel';
import { dot, ENCLOSURE_SLACK, type Frame, frameFromWorld, worldFromFrame, yOf } from '#core/math';
import { movePoints, PLANE_SIZE, planeOfTriangle, triangulateFlat, type TriMesh, weldWith } from '#core/mesh';
import { areaOfPolygon, fitPath, type FlatPoint, flattenPath, PathDistance, pathOfPolygon, type PathPiece } from '#core/outline';
import { type Growth, isUsableTolerance } from '../revolved/revolved.ts';
import { lossOfTriangles, sagOfTriangles } from '../sag.ts';
import { chooseSteps } from './plan-steps.ts';
import { EVERYTHING, silhouetteOf, type Slab } from './silhouette.ts';

/** One closed line of a plan outline in (z, x) of its frame: counter-clockwise around material, clockwise around a hole. */
export interface PlanLoop {
  readonly hole: boolean;
  readonly pieces: readonly PathPiece[];
}

export interface PlanOutline {
  readonly loops: readonly PlanLoop[];
  /** Across the outline, mm: how far it stands outside of what the bodies cover. */
  readonly growth: Growth;
  /** The stretch that the bodies take along the frame's Y. */
  readonly low: number;
  readonly high: number;
  /** The stretches of it that have outlines of their own, from the lowest to the highest; one where no others are asked for, or they save little. */
  readonly steps: readonly PlanStep[];
  /** The steps' outlines extruded over their stretches, in the bodies' coordinates. */
  readonly mesh: TriMesh;
}

export interface PlanStep extends Slab {
  readonly loops: readonly PlanLoop[];
}

export interface PlanOptions {
  readonly tolerance: number;
  /** See `loadFlatBooleans`. */
  readonly flat: FlatBooleans;
  /** Keeps holes that can be seen through. */
  readonly holes?: boolean;
  /** The solid has steps of their own outlines where the tool is much lower; else it has one height. */
  readonly steps?: boolean;
}

const MOST_ROUNDS = 5;
// mm2.
const SLIVER = 1e-3;
// mm.
const SLIT = 5e-5;
// Chords of the solid's arcs, as a share of the tolerance.
const SOLID_SAG = 0.25;

/**
 * The plan outline of bodies in the turning plane, seen along Y of `frame`: what they cover, as lines and arcs, never inside it and at most
 * `tolerance` outside. Straight edges and round corners that stand square to the plane come out exactly as they are; where curved faces lean, the
 * outline is pushed out by what their chords have lost, as the true faces show.
 */
export function computePlanOutline(
  bodies: readonly SampledBody[],
  frame: Frame,
  { tolerance, flat, holes = false, steps: isStepped = false }: PlanOptions,
): Result<PlanOutline> {
  if (!isUsableTolerance(tolerance)) return failed('envelope.bad-tolerance', { tolerance });
  if (bodies.length === 0) return failed('envelope.no-bodies');
  const sags = bodies.map(sagOfTriangles);
  const [low, high] = stretchAlongY(bodies, sags, frame);
  const meshes = bodies.map((b) => weldWith(b.mesh).mesh);
  const losses = bodies.map(lossOfTriangles);
  const inSlab = isStepped ? slabWidener(meshes, losses, frame, { low, high }) : () => EVERYTHING;
  const coveredIn = (slab: Slab): FlatPoint[][] => {
    const seen = silhouetteOf(meshes, frame, flat, inSlab(slab))
      // Slivers between edges that all but coincide; one that stood outside would be found by the points of the true faces.
      .filter((loop) => Math.abs(areaOfPolygon(loop)) > SLIVER && (holes || areaOfPolygon(loop) > 0));
    // Cracks without width, where edges of two bodies all but coincide, are no border of anything.
    return flat.closeSlits(seen, SLIT);
  };
  const covered = coveredIn({ low, high });
  if (covered.length === 0) return failed('envelope.no-bodies');
  const places = bodies.flatMap((b, i) => [
    movePoints(frameFromWorld(frame), b.skin),
    movePoints(frameFromWorld(frame), b.mesh.positions),
    movePoints(frameFromWorld(frame), leaningCorners(b, losses[i], frame)),
  ]);
  const whole = outlineAround(covered, places, tolerance, flat);
  const slabs = isStepped ? chooseSteps(bodies, frame, { low, high }, coveredIn) : [{ low, high }];
  const steps = slabs.map((slab): PlanStep => {
    if (slabs.length === 1) return { ...slab, loops: whole.loops };
    const { low: from, high: to } = inSlab(slab);
    const own = places.map((p) => p.filter((_, i) => p[i - (i % 3) + 1] >= from && p[i - (i % 3) + 1] <= to));
    return { ...slab, loops: outlineAround(coveredIn(slab), own, tolerance, flat).loops };
  });
  const growth = growthOf(whole.loops, covered, whole.near);
  return done({ loops: whole.loops, growth, low, high, steps, mesh: solidOf(steps, frame, flat, SOLID_SAG * tolerance) });
}

// mm.
const LEAST_BEYOND = 1e-4;

// What is lost by the chords of curved faces, and by taking corners for an arc: pushed out until nothing is outside.
function outlineAround(
  covered: FlatPoint[][],
  places: readonly Float64Array[],
  tolerance: number,
  flat: FlatBooleans,
): { loops: PlanLoop[]; near: readonly Float64Array[] } {
  let push = 0;
  let loops: PlanLoop[] = [];
  let left = places;
  for (let round = 0; round < MOST_ROUNDS; round++) {
    loops = fitAll(push > 0 ? flat.grow(covered, push) : covered, Math.max(0, 0.5 * (tolerance - 2 * push)), 0.5 * tolerance);
    const { least, near } = leastDepth(loops, left, 2 * tolerance);
    left = near;
    if (least >= -ENCLOSURE_SLACK) break;
    push += -least * 1.05 + 1e-6;
  }
  return { loops, near: left };
}

// Faces that lean are out of their triangles by what these have lost: what is in a slab is looked for that much beyond it, and clear of all corners.
function slabWidener(meshes: readonly TriMesh[], losses: readonly Float64Array[], frame: Frame, { low, high }: Slab): (slab: Slab) => Slab {
  const heights = meshes.flatMap((m) => heightsAlong(m, frame));
  const beyond = losses.flatMap((l) => [...l]).reduce((a, l) => Math.max(a, l), LEAST_BEYOND);
  return (slab) => ({
    low: slab.low <= low ? -Infinity : clearOf(heights, slab.low - beyond),
    high: slab.high >= high ? Infinity : clearOf(heights, slab.high + beyond),
  });
}

function heightsAlong({ positions: p }: TriMesh, frame: Frame): number[] {
  const y = yOf(frame);
  const off = dot(frame.origin, y);
  return Array.from({ length: p.length / 3 }, (_, i) => p[3 * i] * y[0] + p[3 * i + 1] * y[1] + p[3 * i + 2] * y[2] - off);
}

// A height near the given one that no corner has.
function clearOf(heights: readonly number[], at: number): number {
  let clear = at;
  for (let k = 1; heights.some((h) => Math.abs(h - clear) < CLEAR); k++) clear = at + k * 3 * CLEAR;
  return clear;
}

// mm.
const CLEAR = 1e-7;

const fitAll = (polygons: readonly FlatPoint[][], tolerance: number, sag: number): PlanLoop[] =>
  polygons.map((polygon) => ({ hole: areaOfPolygon(polygon) < 0, pieces: fitPath(polygon, { tolerance, sag }) })).filter((l) => l.pieces.length > 1);

// A prism on closed polygons, in the frame.
function prism(polygons: readonly (readonly FlatPoint[])[], low: number, high: number): TriMesh {
  const corners: number[] = [];
  const triangles: number[] = [];
  const outer = polygons.filter((p) => areaOfPolygon(p) > 0);
  const inner = polygons.filter((p) => areaOfPolygon(p) < 0);
  for (const border of outer) {
    const own = inner.filter((h) => isInside(border, h[0]));
    const rings = [border, ...own];
    const flat = rings.flat();
    const base = corners.length / 3;
    for (const [z, x] of flat) corners.push(x, low, z);
    for (const [z, x] of flat) corners.push(x, high, z);
    const n = flat.length;
    const starts = own.reduce<number[]>((s, _, i) => [...s, (s.at(-1) ?? 0) + rings[i].length], []);
    const cut = triangulateFlat(
      flat.flatMap(([z, x]) => [z, x]),
      starts,
    );
    for (let i = 0; i < cut.length; i += 3) {
      const [a, b, c] = [base + cut[i], base + cut[i + 1], base + cut[i + 2]];
      triangles.push(n + a, n + b, n + c, a, c, b);
    }
    let at = 0;
    for (const ring of rings) {
      ring.forEach((_, k) => {
        const [a, b] = [base + at + k, base + at + ((k + 1) % ring.length)];
        triangles.push(a, b, n + b, a, n + b, n + a);
      });
      at += ring.length;
    }
  }
  return { positions: Float64Array.from(corners), triangles: Uint32Array.from(triangles) };
}

function isInside(polygon: readonly FlatPoint[], [z, x]: FlatPoint): boolean {
  let inside = false;
  polygon.forEach(([az, ax], i) => {
    const [bz, bx] = polygon[(i + 1) % polygon.length];
    if (ax > x !== bx > x && z < az + ((x - ax) / (bx - ax)) * (bz - az)) inside = !inside;
  });
  return inside;
}

// Of curved faces that do not stand square to the plane the outline runs somewhere between the places that were sampled. A face stands out
// of its triangles' planes by what they have lost at most, so that their corners, moved out by that, stand for it.
function leaningCorners(body: SampledBody, lost: Float64Array, frame: Frame): Float64Array {
  const { surfaces, points, faceStart } = body;
  const { positions: p, triangles: t } = body.mesh;
  const y = yOf(frame);
  const out: number[] = [];
  if (points.length === 0) return new Float64Array(0);
  const plane = new Float64Array(PLANE_SIZE);
  surfaces.forEach((s, face) => {
    const stands = s.kind === 'plane' || ((s.kind === 'cylinder' || s.kind === 'cone') && Math.abs(dot(s.axis, y)) >= 1 - 1e-9);
    if (stands) return;
    for (let i = faceStart[face]; i < faceStart[face + 1]; i++) {
      if (lost[i] === 0) continue;
      planeOfTriangle(p, t, i, plane);
      for (let m = 3 * i; m < 3 * i + 3; m++) for (let k = 0; k < 3; k++) out.push(p[3 * t[m] + k] + lost[i] * plane[k]);
    }
  });
  return Float64Array.from(out);
}

// The least depth of points under the outline, and those that are so near to it that another outline might leave them outside.
function leastDepth(loops: readonly PlanLoop[], flat: readonly Float64Array[], within: number): { least: number; near: Float64Array[] } {
  const paths = new PathDistance(loops.map((l) => l.pieces));
  let least = Infinity;
  const near: number[] = [];
  for (const p of flat)
    for (let i = 0; i < p.length; i += 3) {
      // Most places are surely deep under it.
      const sure = paths.leastDepth(p[i + 2], p[i]);
      if (sure >= within) {
        if (sure < least) least = sure;
        continue;
      }
      const depth = paths.depth(p[i + 2], p[i]);
      if (depth < least) least = depth;
      if (depth < within) near.push(p[i], p[i + 1], p[i + 2]);
    }
  return { least, near: [Float64Array.from(near)] };
}

// From places along the outline to what is covered, and from the bodies to the outline.
function growthOf(loops: readonly PlanLoop[], covered: readonly FlatPoint[][], flat: readonly Float64Array[]): Growth {
  const paths = new PathDistance(covered.map(pathOfPolygon));
  let [sum, weight, max] = [0, 0, 0];
  for (const { pieces } of loops) {
    const polygon = flattenPath(pieces, 1e-4, false);
    polygon.forEach(([az, ax], i) => {
      const [bz, bx] = polygon[(i + 1) % polygon.length];
      const long = Math.hypot(bz - az, bx - ax);
      const n = Math.max(1, Math.min(60, Math.ceil(long / 0.2)));
      for (let k = 0; k < n; k++) {
        const g = Math.max(0, -paths.depth(az + ((bz - az) * k) / n, ax + ((bx - ax) * k) / n));
        sum += (g * long) / n;
        weight += long / n;
        max = Math.max(max, g);
      }
    });
  }
  const { least } = leastDepth(loops, flat, 0);
  return { min: Math.abs(least) < ENCLOSURE_SLACK ? 0 : least, mean: weight > 0 ? sum / weight : 0, max };
}

// From the lowest to the highest place: of flat faces their corners, of curved ones what their chords may have lost beyond as well.
function stretchAlongY(bodies: readonly SampledBody[], sags: readonly Float64Array[], frame: Frame): [number, number] {
  let [low, high] = [Infinity, -Infinity];
  const [dx, dy, dz] = yOf(frame);
  const off = dot(frame.origin, yOf(frame));
  bodies.forEach(({ mesh: { positions: p, triangles } }, b) => {
    for (let i = 0; i < triangles.length; i++) {
      const v = 3 * triangles[i];
      const y = p[v] * dx + p[v + 1] * dy + p[v + 2] * dz - off;
      const lost = sags[b][(i - (i % 3)) / 3];
      if (y - lost < low) low = y - lost;
      if (y + lost > high) high = y + lost;
    }
  });
  return [low, high];
}

function solidOf(steps: readonly PlanStep[], frame: Frame, flat: FlatBooleans, sag: number): TriMesh {
  const prisms = steps.map(({ low, high, loops }) => ({ low, high, polygons: loops.map((l) => flattenPath(l.pieces, sag, !l.hole)) }));
  const mesh = prisms.length === 1 ? prism(prisms[0].polygons, prisms[0].low, prisms[0].high) : flat.stack(prisms);
  return { positions: movePoints(worldFromFrame(frame), mesh.positions), triangles: mesh.triangles };
}
