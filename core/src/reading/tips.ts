import {
  addScaled,
  cross,
  degFromRad,
  distance,
  dot,
  type Frame,
  frameFromWorld,
  length,
  move,
  normalize,
  roundTo,
  scale,
  subtract,
  turn,
  type Vec3,
} from '#core/math';
import type { BodyGeometry, EdgeFacts } from '#core/mesh';
import { cornerTowards } from '#core/records';
import { lookAtFaces, planesOf, reachAlong } from './face-table.ts';

/** A cutting corner that was found, in the coordinates of the file; angles in degrees. */
export interface FoundTip {
  readonly body: string;
  readonly noseRadius: number;
  readonly noseCentre: Vec3;
  readonly virtualTip: Vec3;
  /** Where the corner points, unit. */
  readonly towards: Vec3;
  readonly enteringAngle: number;
  readonly includedAngle: number;
  readonly hand: 'right' | 'left' | 'neutral';
  readonly tipOrientation: number;
  readonly confidence: number;
  readonly evidence: string;
}

/** A rounded corner of an insert's top face, with the two straight edges that it joins. */
export interface Corner {
  readonly body: BodyGeometry;
  readonly edge: number;
  readonly radius: number;
  readonly centre: Vec3;
  readonly towards: Vec3;
  readonly includedDeg: number;
  /** Directions away from the corner along its two edges. */
  readonly legs: readonly [Vec3, Vec3];
}

const LARGEST_NOSE = 6.4;

/** The rounded corners of the plate's face that looks along `top`: convex arcs between two edges. */
export function cornersOf(body: BodyGeometry, top: Vec3): Corner[] {
  const [, high] = reachAlong(body, top);
  const middle = body.centroid;
  const found: Corner[] = [];
  body.edges.forEach((edge, index) => {
    const { curve } = edge;
    if (curve.kind !== 'circle' || curve.radius > LARGEST_NOSE || curve.sweepRad > Math.PI * 0.95 || curve.sweepRad < 0.2) return;
    if (Math.abs(dot(curve.axis, top)) < 0.8) return;
    // On the top face: within a tenth of a millimetre of the highest points, or the highest edge there is at this corner.
    if (high - dot(curve.centre, top) > 0.6) return;
    const towards = normalize(subtract(curve.middle, curve.centre));
    // Convex: it bulges away from the middle of the insert.
    if (dot(towards, subtract(curve.centre, middle)) <= 0) return;
    const legs = legsOf(curve.axis, edge, curve.centre);
    found.push({ body, edge: index, radius: curve.radius, centre: curve.centre, towards, includedDeg: 180 - degFromRad(curve.sweepRad), legs });
  });
  // The same corner may have more than one arc, one above the other (a land, a chip breaker): the highest is the cutting one.
  return found.filter(
    (c) => !found.some((d) => d !== c && length(across(subtract(d.centre, c.centre), top)) < 0.3 && dot(subtract(d.centre, c.centre), top) > 1e-4),
  );
}

const across = (v: Vec3, n: Vec3): Vec3 => addScaled(v, n, -dot(v, n));

// Tangents at the two ends of an arc, each away from it.
function legsOf(axis: Vec3, edge: EdgeFacts, centre: Vec3): [Vec3, Vec3] {
  const tangent = (at: Vec3, other: Vec3): Vec3 => {
    const t = normalize(cross(axis, subtract(at, centre)));
    return dot(t, subtract(other, at)) > 0 ? scale(t, -1) : t;
  };
  return [tangent(edge.start, edge.end), tangent(edge.end, edge.start)];
}

/** Tip orientation number from the side of the corner in the turning plane (domain: virtual tip). */
export function tipOrientation({ x, z }: { x: number; z: number }): number {
  const table: Record<string, number> = { '1,1': 1, '1,-1': 2, '-1,-1': 3, '-1,1': 4, '0,1': 5, '1,0': 6, '0,-1': 7, '-1,0': 8, '0,0': 9 };
  return table[`${Math.sign(x)},${Math.sign(z)}`];
}

/**
 * The active corner of an insert in a tool whose mount frame is known: the one that reaches furthest along Z and X together. The feed
 * is along X for a tool that stands across the spindle (square shanks), along Z for one that goes into the bore (round shanks); the
 * entering angle is between it and the edge that leads. Hand (ISO 5608, 6261): seen on the rake face with the tip away from the
 * viewer, a right-hand tool has its corner at the left.
 */
export function readTip(body: BodyGeometry, top: Vec3, mount: Frame, shank: 'square' | 'round'): FoundTip | undefined {
  const inMount = frameFromWorld(mount);
  const corners = cornersOf(body, top)
    .map((c) => {
      const at = move(inMount, addScaled(c.centre, c.towards, c.radius));
      return { ...c, reach: at[0] + at[2] };
    })
    .sort((a, b) => b.reach - a.reach);
  const [best, next] = corners;
  if (!best) return undefined;
  const corner = cornerTowards(best.towards, mount);
  const virtualTip = addScaled(addScaled(best.centre, mount.x, best.radius * corner.x), mount.z, best.radius * corner.z);
  const feed: Vec3 = shank === 'square' ? [corner.x || 1, 0, 0] : [0, 0, corner.z || 1];
  // The edge that leads leans least away from the feed.
  const leading = Math.max(...best.legs.map((leg) => dot(turn(inMount, leg), feed)));
  const enteringAngle = roundTo(90 + degFromRad(Math.asin(Math.max(-1, Math.min(1, -leading)))), 3);
  const rakeY = turn(inMount, top)[1];
  const gap = next ? best.reach - next.reach : Infinity;
  const isFlat = Math.abs(rakeY) > 0.95;
  return {
    body: body.id,
    noseRadius: best.radius,
    noseCentre: best.centre,
    virtualTip,
    towards: best.towards,
    enteringAngle,
    includedAngle: roundTo(best.includedDeg, 3),
    hand: corner.x === 0 || Math.abs(rakeY) < 0.5 ? 'neutral' : rakeY > 0 ? 'right' : 'left',
    // As the machine sees it in the usual pose: a square shank turns outside, a round one bores, both towards the chuck.
    tipOrientation: tipOrientation(shank === 'square' ? { x: -1, z: -1 } : { x: 1, z: -1 }),
    confidence: gap > 0.3 && isFlat ? 0.95 : 0.7,
    evidence: `rounded edge ${best.edge + 1} of ${body.id}, the furthest of ${corners.length} corners${gap < Infinity ? ` by ${gap.toFixed(2)}` : ''}`,
  };
}

/** Which of a plate's two sides is its rake face: the one that is free, and that the rest of the tool does not cover. */
export function rakeSide(plate: BodyGeometry, normal: Vec3, others: readonly BodyGeometry[]): { top: Vec3; sure: boolean } {
  // A side is covered where another body has a plane that lies against it, or where bodies reach far beyond it around the plate's middle.
  const covered = (n: Vec3): number => {
    const [, high] = reachAlong(plate, n);
    let area = 0;
    for (const other of others)
      for (const f of planesOf(lookAtFaces(other))) {
        if (dot(f.outward, n) > -0.999 || Math.abs(-f.offset - high) > 0.05) continue;
        if (distance(across(f.centre, n), across(plate.centroid, n)) < 20) area += f.area;
      }
    return area;
  };
  const [up, down] = [covered(normal), covered(scale(normal, -1))];
  return { top: up <= down ? normal : scale(normal, -1), sure: Math.abs(up - down) > 1 };
}
