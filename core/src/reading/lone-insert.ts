import { addScaled, boundsDiagonal, cross, distance, dot, type Frame, fromZAndX, normalize, roundTo, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { cornerTowards, virtualTipOf } from '#core/records';
import type { Corner } from './corner.ts';
import { cornersOf } from './corners.ts';
import { across, lookAtFaces, reachAlong, refOf, sayFace } from './face-table.ts';
import type { FoundConnection } from './found.ts';
import { plateOf } from './roles.ts';
import { groupRound, onAxis } from './round-groups.ts';
import { findStickInsert } from './stick-insert.ts';
import type { FoundTip } from './tips.ts';

/** An insert that stands alone in its file. */
export interface LoneInsert {
  readonly body: BodyGeometry;
  /** Its hole, or its middle, on the face that it lies on; absent where that is not flat. */
  readonly mount?: FoundConnection;
  readonly tips: readonly FoundTip[];
  readonly confidence: number;
  readonly evidence: string;
}

// mm. What is larger is no insert (ISO 1832: circles up to 25.4, thickness up to 12.7, with a little for long ones).
const WIDEST = 45;
const THICKEST = 13;
const LARGEST_RADIUS = 3.3;
// Corners of one insert differ by less (degrees, mm).
const SAME_ANGLE = 0.8;
const SAME_RADIUS = 0.02;

/** Whether a model is a single body as small as an insert, whatever its form: sticks are up to 50 long. */
export const mayBeInsert = ({ bodies }: Model): boolean => bodies.length === 1 && boundsDiagonal(bodies[0].bbox) < LONGEST_ACROSS;
const LONGEST_ACROSS = 55;

/** The only body of a model as an insert: a small plate with corners of one radius between straight edges, or round; a stick that grooves; undefined where it is none. */
export function findLoneInsert(model: Model): LoneInsert | undefined {
  if (model.bodies.length !== 1) return undefined;
  const [body] = model.bodies;
  const stick = findStickInsert(body);
  if (stick) {
    const { mount, corners, confidence, evidence } = stick;
    // It is fed along its middle line: its edge stands square to that.
    const tips = corners.map((c) => ({ ...tipOf(c, mount.frame, confidence, evidence), enteringAngle: 90 }));
    return { body, mount, tips, confidence, evidence };
  }
  const plate = plateOf(body);
  if (!plate || plate.thickness > THICKEST || plate.thickness < 0.8 || widthAcross(body, plate.normal) > WIDEST) return undefined;
  const hole = holeAlong(body, plate.normal);
  const round = roundInsert(body, plate.normal);
  const corners = round ?? sharpest(body, plate.normal) ?? threadProfile(body, plate.normal, hole?.radius ?? 0);
  if (!corners) return undefined;
  const { list, evidence } = corners;
  const [{ rake }] = list;
  const middle = hole ? hole.at : body.centroid;
  const [low] = reachAlong(body, rake);
  // From the middle towards a corner, the top up: as an insert lies in a pocket.
  const z = normalize(across(list[0].towards, rake));
  const frame: Frame = fromZAndX(addScaled(across(middle, rake), rake, low), z, cross(rake, z));
  const confidence = hole ? 0.92 : 0.78;
  const mount = hole ? screwed(frame, hole) : clamped(body, frame, rake, low);
  return { body, ...(mount ? { mount } : {}), tips: list.map((c) => tipOf(c, frame, confidence, evidence)), confidence, evidence };
}

const screwed = (frame: Frame, { radius, face }: NonNullable<ReturnType<typeof holeAlong>>): FoundConnection => ({
  frame,
  connection: { standard: 'bolted face', size: roundTo(2 * radius, 3) },
  confidence: 0.88,
  evidence: `${sayFace(face)}: its hole, on the face that it lies on`,
  faces: [refOf(face)],
});

// One without a hole is clamped: it lies on the flat face opposite to its rake face, by its middle.
function clamped(body: BodyGeometry, frame: Frame, rake: Vec3, low: number): FoundConnection | undefined {
  const under = lookAtFaces(body)
    .filter(
      (f) => f.surface.kind === 'plane' && Math.abs(Math.abs(dot(f.surface.normal, rake)) - 1) < 1e-4 && Math.abs(dot(f.surface.origin, rake) - low) < 0.01,
    )
    .sort((a, b) => b.area - a.area)[0];
  return (
    under && {
      frame,
      connection: { standard: 'bolted face', size: '' },
      confidence: 0.75,
      evidence: `${sayFace(under)}: the middle of the face that it lies on; without a hole it is clamped`,
      faces: [refOf(under)],
    }
  );
}

const widthAcross = (body: BodyGeometry, normal: Vec3): number => {
  const { x } = fromZAndX([0, 0, 0], normal);
  return Math.max(
    ...[x, cross(normal, x)].map((d) => {
      const [low, high] = reachAlong(body, d);
      return high - low;
    }),
  );
};

// The widest hole along the plate's normal that has its smallest radius as a cylinder: a countersink is no hole of its own.
function holeAlong(body: BodyGeometry, normal: Vec3) {
  for (const group of groupRound(lookAtFaces(body))) {
    if (Math.abs(dot(group.direction, normal)) < 0.9999) continue;
    const [run] = group.cylinders.filter((c) => c.concave && c.cover > 0.9 && c.radius > 0.7).sort((a, b) => a.radius - b.radius);
    if (run) return { at: onAxis(group, run.from), radius: run.radius, face: run.faces[0] };
  }
  return undefined;
}

// The corners with the sharpest angle, all on the side of the plate that has more of them; of a plate with clearance that is its top.
function sharpest(body: BodyGeometry, normal: Vec3): { list: readonly Corner[]; evidence: string } | undefined {
  const all = cornersOf(body).filter(
    (c) =>
      Math.abs(dot(c.rake, normal)) > 0.95 &&
      c.radius <= LARGEST_RADIUS &&
      c.radius > 0.02 &&
      c.includedDeg > 25 &&
      c.includedDeg < 140 &&
      c.legLengths.every((l, k) => l > 0.5 * c.radius || (c.legFlanks?.[k] ?? -1) >= 0),
  );
  const sides = [normal, scale(normal, -1)].map((n) => {
    const own = all.filter((c) => dot(c.rake, n) > 0);
    return { own, area: wide(body, n) };
  });
  const [{ own }] = sides.sort((a, b) => b.area - a.area || b.own.length - a.own.length);
  if (own.length < 2) return undefined;
  const least = Math.min(...own.map((c) => c.includedDeg));
  const sharp = own.filter((c) => c.includedDeg < least + SAME_ANGLE);
  // What cuts has one radius, and lies around the middle: one side of a rounded block has not.
  const radius = Math.max(...sharp.map((c) => c.radius));
  const list = sharp.filter((c) => radius - c.radius < SAME_RADIUS);
  if (list.length < 2) return undefined;
  return { list, evidence: `a plate with ${list.length} corners of ${roundTo(list[0].includedDeg, 2)} degrees, radius ${roundTo(radius, 3)}` };
}

// Of a triangle the one corner that has a thread's profile: the others are drawn as they are clamped.
function threadProfile(body: BodyGeometry, normal: Vec3, hole: number): { list: readonly Corner[]; evidence: string } | undefined {
  if (!isTriangle(body, normal, hole)) return undefined;
  const all = cornersOf(body).filter(
    (c) => Math.abs(dot(c.rake, normal)) > 0.95 && c.radius < LARGEST_THREAD && THREADS.some((a) => Math.abs(c.includedDeg - a) < SAME_ANGLE),
  );
  const sides = [normal, scale(normal, -1)].map((n) => ({ own: all.filter((c) => dot(c.rake, n) > 0), area: wide(body, n) })).filter((s) => s.own.length > 0);
  const [side] = sides.sort((a, b) => b.area - a.area);
  if (!side || side.own.length > 1) return undefined;
  const [one] = side.own;
  return { list: [one], evidence: `a triangle with one profile of ${roundTo(one.includedDeg, 2)} degrees, radius ${roundTo(one.radius, 3)}` };
}

// Angles of thread profiles (ISO 68, ISO 228, ISO 2901), degrees; mm.
const THREADS = [60, 55, 30];
const LARGEST_THREAD = 1;

// Whether what is seen along a normal, with a hole of some radius, is about as wide from all sides as a triangle of equal sides, and fills as much of that.
function isTriangle(body: BodyGeometry, normal: Vec3, hole: number): boolean {
  const { x } = fromZAndX([0, 0, 0], normal);
  const y = cross(normal, x);
  const widths = Array.from({ length: 36 }, (_, i) => {
    const a = (i * Math.PI) / 36;
    const [low, high] = reachAlong(body, addScaled(scale(x, Math.cos(a)), y, Math.sin(a)));
    return high - low;
  });
  const [least, most] = [Math.min(...widths), Math.max(...widths)];
  // By its volume with its hole filled: a square fills half of the square about its diagonal, a triangle of equal sides 0.43 of that about its side.
  const [low, high] = reachAlong(body, normal);
  const filled = (Math.abs(body.volume) / (high - low) + Math.PI * hole * hole) / (most * most);
  return most / least < 1.32 && filled > 0.3 && filled < 0.47;
}

// How far a side of the plate reaches: the top of an insert with clearance is the wider one.
function wide(body: BodyGeometry, n: Vec3): number {
  const [, high] = reachAlong(body, n);
  const { positions: p } = body.mesh;
  const { x } = fromZAndX([0, 0, 0], n);
  const y = cross(n, x);
  let [x0, x1, y0, y1] = [Infinity, -Infinity, Infinity, -Infinity];
  for (let i = 0; i < p.length; i += 3) {
    const at: Vec3 = [p[i], p[i + 1], p[i + 2]];
    if (dot(at, n) < high - 0.45) continue;
    [x0, x1] = [Math.min(x0, dot(at, x)), Math.max(x1, dot(at, x))];
    [y0, y1] = [Math.min(y0, dot(at, y)), Math.max(y1, dot(at, y))];
  }
  // To a hundredth: both sides of a plate without clearance are the same.
  return Math.round((x1 - x0) * (y1 - y0) * 10) / 10;
}

// A round insert: its rim is a whole turn of one circle, and nothing of it reaches further.
function roundInsert(body: BodyGeometry, normal: Vec3): { list: readonly Corner[]; evidence: string } | undefined {
  const faces = lookAtFaces(body);
  const isOutside = (f: number): boolean => {
    const s = faces[f].surface;
    return (s.kind === 'cylinder' || s.kind === 'cone') && !s.concave && Math.abs(dot(s.axis, normal)) > 0.9999;
  };
  const rims = body.edges.flatMap(({ curve, faces: of }, index) =>
    curve.kind === 'circle' && Math.abs(dot(curve.axis, normal)) > 0.9999 && curve.radius >= 2 && curve.radius <= 16 && of.some(isOutside)
      ? [{ curve, of, index }]
      : [],
  );
  const widest = Math.max(...rims.map((r) => r.curve.radius));
  const { x } = fromZAndX([0, 0, 0], normal);
  const [low, high] = reachAlong(body, x);
  if (Math.abs(high - low - 2 * widest) > 0.02) return undefined;
  // Both rims of a plate without clearance are as wide: any of them.
  const [first] = rims.filter((r) => r.curve.radius > widest - 1e-3);
  const rim = rims.filter((r) => distance(r.curve.centre, first.curve.centre) < 1e-3);
  if (rim.reduce((sum, r) => sum + r.curve.sweepRad, 0) < 6.2) return undefined;
  const flank = first.of.find(isOutside) ?? first.of[0];
  const { centre, radius } = first.curve;
  const rake = scale(normal, dot(subtract(faces[flank].centre, centre), normal) > 0 ? -1 : 1);
  const towards = normalize(across(x, rake));
  const side = cross(rake, towards);
  return {
    list: [
      {
        body,
        edges: rim.map((r) => r.index),
        radius,
        centre,
        towards,
        rake,
        includedDeg: 0,
        legs: [side, scale(side, -1)],
        legLengths: [0, 0],
        legEdges: [-1, -1],
        flank,
        top: first.of.find((f) => f !== flank) ?? flank,
      },
    ],
    evidence: `a round plate of diameter ${roundTo(2 * radius, 3)}`,
  };
}

function tipOf(c: Corner, frame: Frame, confidence: number, evidence: string): FoundTip {
  const round = c.includedDeg === 0;
  return {
    body: c.body.id,
    kind: round ? 'round' : 'nose',
    noseRadius: c.radius,
    noseCentre: c.centre,
    virtualTip: virtualTipOf({ noseRadius: c.radius, noseCentre: c.centre, corner: cornerTowards(c.towards, frame), towards: c.towards, rake: c.rake }, frame),
    towards: c.towards,
    rake: c.rake,
    // As the insert lies here: its middle line is the feed.
    enteringAngle: round ? 90 : roundTo(c.includedDeg / 2, 3),
    includedAngle: roundTo(c.includedDeg, 3),
    includedAngleInPlane: roundTo(c.includedDeg, 3),
    hand: 'neutral',
    tipOrientation: 9,
    confidence: confidence * 0.97,
    evidence,
    faces: [c.flank, c.top],
  };
}
