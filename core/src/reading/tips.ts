import {
  addScaled,
  angleBetweenRad,
  anyAcross,
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
  yOf,
} from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { type ComponentRecord, cornerTowards, virtualTipOf } from '#core/records';
import { HOLDER_STYLES } from '#core/standards';
import type { Shank } from './found.ts';
import { apexOf, type Corner, isBluntAlone } from './corner.ts';
import { cornersOf } from './corners.ts';
import { type StandingCorner, standingCorners } from './standing-corners.ts';
import { across, type FaceLook, lookAtFaces, planesOf, reachAlong } from './face-table.ts';
import { extentOfFace } from './round-groups.ts';

/** A cutting corner that was found, in the coordinates of the file; angles in degrees. */
export interface FoundTip {
  readonly body: string;
  readonly kind: 'nose' | 'groove' | 'full radius' | 'round' | 'point';
  readonly noseRadius: number;
  readonly noseCentre: Vec3;
  readonly virtualTip: Vec3;
  /** Where the corner points, unit. */
  readonly towards: Vec3;
  /** Out of the rake face, unit. */
  readonly rake: Vec3;
  readonly enteringAngle: number;
  /** EPSR: between the two edges, in the rake plane. */
  readonly includedAngle: number;
  /** The same as it cuts: seen along the turning plane's normal, where a tilted insert shows a little more. */
  readonly includedAngleInPlane: number;
  /** Relief of the main and the side flank against the cutting direction; absent where a flank was not found. */
  readonly relief?: readonly [number | undefined, number | undefined];
  /** It cuts across the work: the entering angle is the one of facing. */
  readonly isFacing?: boolean;
  /** Width of a groove, mm. */
  readonly width?: number;
  readonly hand: 'right' | 'left' | 'neutral';
  readonly tipOrientation: number;
  readonly confidence: number;
  readonly evidence: string;
  /** The faces of the body that the evidence names. */
  readonly faces: readonly number[];
}

/** The cutting corner of a turning tool, before its mount is known. */
export interface FoundCorner {
  readonly corner: StandingCorner;
  /** Two corners of a groove, or the two halves of a full radius; the other one. */
  readonly partner?: Corner;
  readonly kind: FoundTip['kind'];
  /** Its body is the tool itself: there is no separate cutting part. */
  readonly isFused: boolean;
  /** 0 to 1, how sure it is that this corner cuts. */
  readonly sure: number;
  readonly evidence: string;
}

// mm. A flank higher than this is a rounding of the tool's body.
const HIGHEST_FLANK = 11;

// mm. Ends of one long edge may stand out on both sides of a thin bar: which of them cuts is for somebody to say.
const CLEARLY = 0.6;
const UNSURE = 0.69;
// The share that is left where what is found turns less than any insert's corner.
const BLUNT = 0.6;

/** The corner that cuts, if the model has one: of the cutting part where that is a body of its own, else of the tool's one solid. */
export function findCorner(model: Model, heaviest: BodyGeometry, shank: Shank): FoundCorner | undefined {
  const all = standingCorners(model, shank).filter((c) => flankHeight(c) < HIGHEST_FLANK);
  const wide = Number.parseFloat(String(shank.connection.size));
  const apart = all.filter((c) => c.body !== heaviest && c.out > -0.02 && c.body.volume < 0.4 * heaviest.volume);
  if (apart.length > 0) {
    const { body } = foremost(apart, shank)[0];
    const own = apart.filter((c) => c.body === body);
    const top = rakeSide(
      body,
      own[0].rake,
      model.bodies.filter((b) => b !== body),
    );
    const sided = own.filter((c) => dot(c.rake, top.top) > 0.9);
    const list = sided.length > 0 ? sided : own;
    const [best, ...others] = foremost(list, shank);
    const rival = others.find((c) => distance(c.centre, best.centre) > 0.5);
    const paired = pairOf(best, shank.direction);
    const ahead = (c: StandingCorner) => Math.max(forward(best, shank) - forward(c, shank), aside(best, shank) - aside(c, shank), best.out - c.out);
    const gap = rival && rival !== paired.partner ? ahead(rival) : Infinity;
    const another = apart.find((c) => c.body !== body && c.out > best.out - 0.3);
    const sure = (gap > CLEARLY ? 0.96 : gap > 0.05 ? UNSURE : 0.6) * (top.sure ? 1 : 0.93) * (another ? 0.8 : 1) * (isBluntAlone(best) ? BLUNT : 1);
    const evidence = `rounded edge ${best.edges[0] + 1} of ${body.id}, ${best.out.toFixed(2)} in front of all other bodies${Number.isFinite(gap) ? `, the next corner ${gap.toFixed(2)} behind` : ''}`;
    return { ...paired, isFused: false, sure, evidence };
  }
  // One solid: roundings of its outline are corners as well. A nose has a low flank and lies at an end of the shank.
  const end = (c: Corner) => {
    const z = dot(subtract(apexOf(c), shank.origin), shank.direction);
    return Math.max(shank.from - z, z - shank.to);
  };
  const about = all.filter((c) => c.body === heaviest);
  // The same corner on several sides of the axis is a rounded collar, a hole's rim, a nut: it does not cut.
  const isAlike = (o: Corner, c: Corner) => Math.abs(o.radius - c.radius) < 0.02 && Math.abs(o.includedDeg - c.includedDeg) < 40;
  const repeats = (c: Corner) => about.filter((o) => isAlike(o, c) && angleBetweenRad(radial(o, shank), radial(c, shank)) > 0.9).length > 1;
  // Of the two ends of one nose the larger is the edge: it has clearance below.
  const isLower = (c: Corner) => about.some((o) => o.flank === c.flank && o.radius > c.radius + 0.003);
  // The tool's material lies below its rake face.
  const above = (c: Corner) => reachAlong(heaviest, c.rake)[1] - dot(c.centre, c.rake);
  const fused = about
    .filter((c) => !repeats(c) && !isLower(c))
    .filter((c) => flankHeight(c) < 0.6 * wide && above(c) < 0.6 * wide && c.radius <= 5 && end(c) > -0.1 * wide && c.includedDeg < 125)
    .map((c) => ({ c, score: end(c) - 3 * c.radius - (c.includedDeg > 100 ? 8 : 0) - 0.5 * above(c) }))
    .sort((a, b) => b.score - a.score);
  if (fused.length === 0) return undefined;
  const best = fused[0];
  const rival = fused.find((f) => distance(f.c.centre, best.c.centre) > 0.5);
  const paired = pairOf(best.c, shank.direction);
  const alone = !rival || best.score - rival.score > 3 || rival.c === paired.partner || paired.kind === 'groove';
  return {
    ...paired,
    isFused: true,
    sure: alone ? 0.86 : 0.68,
    evidence: `rounded edge ${best.c.edges[0] + 1} of ${heaviest.id}, the end of the solid the way it points; flank ${flankHeight(best.c).toFixed(1)} high`,
  };
}

// mm. Corners that reach as far as this behind the foremost one are told by how far beside the shank they are: an edge that leads by a degree.
const AS_FAR = 0.35;

// An insert stands out with several of its corners. What cuts is what makes the diameter: outside, the one that is furthest in front, and of those the one
// furthest beside the shank; in a bore the other way round.
function foremost(all: readonly StandingCorner[], shank: Shank): StandingCorner[] {
  // The end of a clamp may stand out as well, but looks back.
  const ahead = all.filter(
    (c) => dot(c.towards, shank.direction) * Math.sign(dot(subtract(apexOf(c), shank.origin), shank.direction) - (shank.from + shank.to) / 2) > 0.05,
  );
  const list = ahead.length > 0 ? ahead : all;
  const [first, second] = shank.sides || shank.work ? [forward, aside] : [aside, forward];
  const most = Math.max(...list.map((c) => first(c, shank)));
  const front = list.filter((c) => first(c, shank) > most - AS_FAR).sort((a, b) => second(b, shank) - second(a, shank) || b.out - a.out);
  return [...front, ...all.filter((c) => !front.includes(c)).sort((a, b) => first(b, shank) - first(a, shank))];
}

// How far a corner reaches along the shank, away from it; and how far across it, the way the corner points.
const forward = (c: Corner, shank: Shank): number => {
  const middle = (shank.from + shank.to) / 2;
  return Math.abs(dot(subtract(apexOf(c), shank.origin), shank.direction) - middle);
};
const aside = (c: Corner, shank: Shank): number => {
  const way = across(across(c.towards, shank.direction), c.rake);
  return length(way) < 0.05 ? 0 : dot(subtract(apexOf(c), shank.origin), normalize(way));
};

const radial = (c: Corner, shank: Shank): Vec3 => across(subtract(apexOf(c), shank.origin), shank.direction);

function flankHeight(c: Corner): number {
  const faces = lookAtFaces(c.body);
  const f = faces[c.flank];
  const { positions: p, triangles: t } = c.body.mesh;
  let [low, high] = [Infinity, -Infinity];
  for (let i = 3 * c.body.faceStart[f.index]; i < 3 * c.body.faceStart[f.index + 1]; i++) {
    const v = p[3 * t[i]] * c.rake[0] + p[3 * t[i] + 1] * c.rake[1] + p[3 * t[i] + 2] * c.rake[2];
    low = Math.min(low, v);
    high = Math.max(high, v);
  }
  return high - low;
}

// Sine and cosine of the angle that the front of a groove may lean by: 10 degrees.
const ALONG = 0.17;
const ACROSS = 0.985;

// The second corner of a groove, or the other half of a full radius: the same radius, at the other end of a short straight front.
function pairOf(corner: StandingCorner, axis: Vec3): { corner: StandingCorner; partner?: Corner; kind: FoundTip['kind'] } {
  if (corner.includedDeg === 0 && corner.legLengths[0] === 0 && corner.legLengths[1] === 0) return { corner, kind: 'round' };
  if (corner.includedDeg < 12) return { corner, kind: 'full radius' };
  const others = cornersOf(corner.body).filter(
    (c) => dot(c.rake, corner.rake) > 0.99 && Math.abs(c.radius - corner.radius) < 0.02 && Math.abs(c.includedDeg - corner.includedDeg) < 3,
  );
  for (const partner of others) {
    const d = subtract(partner.centre, corner.centre);
    const apart = length(d);
    if (apart < 1e-3 || apart > 14) continue;
    // A groove's front lies along the work, which is along or across the shank.
    const lean = Math.abs(dot(normalize(d), axis));
    if (lean > ALONG && lean < ACROSS) continue;
    const front = corner.legs.findIndex((leg) => dot(normalize(d), leg) > 0.999);
    if (front < 0 || !partner.legs.some((leg) => dot(normalize(d), leg) < -0.999)) continue;
    const [side, other] = [corner.legs[1 - front], partner.legs.find((leg) => Math.abs(dot(normalize(d), leg)) < 0.9)];
    if (!other || dot(side, other) < 0.97) continue;
    const width = apart + 2 * corner.radius;
    if (apart < 0.2 * corner.radius) return { corner, partner, kind: 'full radius' };
    // As wide as long is a square insert, not a groove.
    const long = reachAlong(corner.body, side);
    if (width < 0.7 * (long[1] - long[0])) return { corner, partner, kind: 'groove' };
  }
  return { corner, kind: 'nose' };
}

/** Tip orientation number from the side of the corner in the turning plane (domain: virtual tip). */
export function tipOrientation({ x, z }: { x: number; z: number }): number {
  const table: Record<string, number> = { '1,1': 1, '1,-1': 2, '-1,-1': 3, '-1,1': 4, '0,1': 5, '1,0': 6, '0,-1': 7, '-1,0': 8, '0,0': 9 };
  return table[`${Math.sign(x)},${Math.sign(z)}`];
}

/**
 * The tips at a corner in a tool whose mount frame is known. The feed is along X for a tool that stands across the spindle (square
 * shanks), along Z for one that goes into the bore (round shanks); angles are seen along the turning plane's normal, as the programmer
 * sees them, so a tilted edge counts as it is seen. Hand (ISO 5608, 6261): seen on the rake face with the tip away from the viewer, a
 * right-hand tool has its corner at the left. `middle` is the x of the shank's middle line.
 */
export function readTips(found: FoundCorner, mount: Frame, shank: Pose, middle: number): FoundTip[] {
  const { corner, partner, kind, sure, evidence } = found;
  if (kind === 'full radius' && partner) {
    const apart = distance(partner.centre, corner.centre);
    const both = normalize(addScaled(corner.towards, partner.towards, 1));
    const centre = addScaled(corner.centre, subtract(partner.centre, corner.centre), 0.5);
    // The straight rest between the halves belongs to the round.
    const whole: Corner = {
      ...corner,
      centre: addScaled(centre, both, -apart / 2),
      radius: corner.radius + apart / 2,
      towards: both,
      edges: [...corner.edges, ...partner.edges],
    };
    return [readTip(whole, kind, mount, shank, middle, sure, evidence, 2 * whole.radius)];
  }
  const width = partner ? distance(partner.centre, corner.centre) + 2 * corner.radius : kind === 'full radius' ? 2 * corner.radius : undefined;
  return [corner, ...(partner ? [partner] : [])].map((c) => readTip(c, kind, mount, shank, middle, sure, evidence, width));
}

function readTip(
  c: Corner,
  kind: FoundTip['kind'],
  mount: Frame,
  shank: Pose,
  middle: number,
  sure: number,
  evidence: string,
  width: number | undefined,
): FoundTip {
  const side = cornerTowards(c.towards, mount);
  const virtualTip = virtualTipOf({ noseRadius: c.radius, noseCentre: c.centre, corner: side, towards: c.towards, rake: c.rake }, mount);
  const seen = describeCorner(c, mount, shank, kind);
  const at = move(frameFromWorld(mount), apexOf(c));
  const isCentral = side.x === 0 && Math.abs(at[0] - middle) < 0.05;
  return {
    body: c.body.id,
    kind,
    noseRadius: c.radius,
    noseCentre: c.centre,
    virtualTip,
    towards: c.towards,
    rake: c.rake,
    ...seen,
    ...(width === undefined ? {} : { width }),
    hand: isCentral ? 'neutral' : seen.hand,
    confidence: sure * (Math.abs(dot(c.rake, yOf(mount))) > 0.9 ? 1 : 0.7),
    evidence: seen.isFacing ? `${evidence}; a style for facing` : evidence,
    faces: [c.flank, c.top],
  };
}

/** What a corner is in a tool whose mount frame is known: angles in degrees as seen along the turning plane's normal, hand, reliefs, orientation. */
export function describeCorner(
  c: Corner,
  mount: Frame,
  shank: Pose,
  kind: FoundTip['kind'] = 'nose',
): Pick<FoundTip, 'enteringAngle' | 'includedAngle' | 'includedAngleInPlane' | 'hand' | 'tipOrientation'> & {
  readonly relief: readonly [number | undefined, number | undefined];
  /** It cuts with its other edge, across the work: the entering angle is the one of facing. */
  readonly isFacing: boolean;
} {
  const inMount = frameFromWorld(mount);
  const side = cornerTowards(c.towards, mount);
  const seen = c.legs.map((leg) => {
    const [x, , z] = turn(inMount, leg);
    return Math.hypot(x, z) > 1e-6 ? [x / Math.hypot(x, z), z / Math.hypot(x, z)] : [0, 0];
  });
  const along = (leg: number[]) => (shank === 'square' ? leg[0] * (side.x || 1) : leg[1] * (side.z || 1));
  const lead = leadingLeg(c, mount, shank);
  const angle = (v: number) => degFromRad(Math.acos(Math.max(-1, Math.min(1, v))));
  const rakeY = turn(inMount, c.rake)[1];
  const isGroove = kind === 'groove' || kind === 'full radius';
  const turning = angle(along(seen[lead]));
  const included = angle(seen[0][0] * seen[1][0] + seen[0][1] * seen[1][1]);
  const facing = shank === 'square' && kind === 'nose' ? facingAngle(turning, included) : undefined;
  return {
    enteringAngle: isGroove ? 90 : roundTo(facing ?? turning, 3),
    includedAngle: roundTo(c.includedDeg, 3),
    includedAngleInPlane: roundTo(included, 3),
    isFacing: facing !== undefined,
    relief: reliefOf(c, mount, rakeY < 0 ? -1 : 1, facing === undefined ? lead : lead === 0 ? 1 : 0),
    hand: Math.abs(rakeY) < 0.5 ? 'neutral' : rakeY > 0 ? 'right' : 'left',
    // As the machine sees it in the usual pose: a square shank turns outside, a round one bores, both towards the chuck.
    tipOrientation: tipOrientation(
      isGroove && shank === 'square' ? { x: -1, z: side.x === 0 ? 0 : -side.x } : shank === 'square' ? { x: -1, z: -1 } : { x: 1, z: -1 },
    ),
  };
}

/** Across the spindle, as a square shank and the head of a turning tool stand, or into the bore, as a round bar goes. */
export type Pose = 'square' | 'round';

/** How a tool is taken to stand: by its connection; a turning tool on a taper stands as a square shank does. */
export const usualPose = ({ mount, componentKind }: Pick<ComponentRecord, 'mount' | 'componentKind'>): Pose =>
  mount?.connection.standard === 'square' || (componentKind === 'turning tool' && mount?.connection.standard !== 'cylindrical') ? 'square' : 'round';

/** The pose of a head on a taper: the one in which its corner is that of a style of ISO 5608, across the spindle where both or none are. */
export function poseOfHead(corner: Corner, mount: Frame): Pose {
  const turns = (pose: Pose) => isStyle(describeCorner(corner, mount, pose).enteringAngle, false);
  return turns('round') && !turns('square') ? 'round' : 'square';
}

// Degrees. As far as a tilted insert is seen otherwise.
const SAME_STYLE = 0.8;
const isStyle = (angleDeg: number, isFacing: boolean): boolean =>
  Object.values(HOLDER_STYLES).some(([kapr, faces]) => faces === isFacing && Math.abs(kapr - angleDeg) < SAME_STYLE);

// The entering angle of facing, where the corner is that of a style of ISO 5608 for facing and of none for turning: both edges and the two feeds make
// a whole turn less the right angle between the feeds.
function facingAngle(turning: number, included: number): number | undefined {
  const facing = 270 - turning - included;
  return !isStyle(turning, false) && isStyle(facing, true) ? facing : undefined;
}

/** Which of a corner's two edges leads, 0 or 1: the one that leans least away from the feed. */
export function leadingLeg(c: Corner, mount: Frame, shank: Pose): 0 | 1 {
  const side = cornerTowards(c.towards, mount);
  const y = yOf(mount);
  const [a, b] = c.legs.map((leg) => {
    const flat = addScaled(leg, y, -dot(leg, y));
    const long = length(flat);
    if (long < 1e-6) return 0;
    return (shank === 'square' ? dot(flat, mount.x) * (side.x || 1) : dot(flat, mount.z) * (side.z || 1)) / long;
  });
  return a >= b ? 0 : 1;
}

// Flank under each leg against the cutting direction (the turning plane's normal): how far it leans away below the edge.
function reliefOf(c: Corner, mount: Frame, up: 1 | -1, lead: number): [number | undefined, number | undefined] {
  const faces = lookAtFaces(c.body);
  const y = yOf(mount);
  const one = (k: number): number | undefined => {
    const edge = c.body.edges[c.legEdges[k]];
    const flank = edge?.faces.map((f) => faces[f]).sort((a, b) => dot(a.normal, c.rake) - dot(b.normal, c.rake))[0] ?? faces[c.legFlanks?.[k] ?? -1];
    if (!flank || length(flank.normal) < 0.5 || dot(flank.normal, c.rake) > 0.7) return undefined;
    return roundTo(degFromRad(Math.asin(Math.max(-1, Math.min(1, -up * dot(normalize(flank.normal), y))))), 2);
  };
  return lead === 0 ? [one(0), one(1)] : [one(1), one(0)];
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
        if (liesOver(f, plate, n)) area += f.area;
      }
    return area;
  };
  // Its flanks lean in below the rake face, where it has clearance.
  const lean = flankLean(plate, normal);
  if (Math.abs(lean) > LEAST_LEAN) return { top: lean < 0 ? normal : scale(normal, -1), sure: true };
  const [up, down] = [covered(normal), covered(scale(normal, -1))];
  return { top: up <= down ? normal : scale(normal, -1), sure: Math.abs(up - down) > 1 };
}

// Whether a face and a plate overlap as seen along a direction, by their extents.
function liesOver(face: FaceLook, plate: BodyGeometry, along: Vec3): boolean {
  const u = anyAcross(along);
  return [u, cross(along, u)].every((way) => {
    const [low, high] = extentOfFace(face, [0, 0, 0], way);
    const [from, to] = reachAlong(plate, way);
    return Math.min(high, to) - Math.max(low, from) > 0.2;
  });
}

// Sine: the least clearance of ISO 1832, and a bit less.
const LEAST_LEAN = 0.04;

// How much the flanks of a plate look along a direction, by area.
function flankLean(plate: BodyGeometry, normal: Vec3): number {
  const flanks = lookAtFaces(plate).filter((f) => length(f.normal) > 0.3 && Math.abs(dot(f.normal, normal)) < 0.6 * length(f.normal));
  const area = flanks.reduce((a, f) => a + f.area * length(f.normal), 0);
  return area > 0 ? flanks.reduce((a, f) => a + f.area * dot(f.normal, normal), 0) / area : 0;
}
