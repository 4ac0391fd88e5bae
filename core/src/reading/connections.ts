import { addScaled, cross, dot, fromZAndX, type Frame, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { type ConnectionSize, USUAL_SIZES } from '#core/standards';
import { type FaceLook, lookAtFaces, type PlaneLook, planesOf, reachAlong, sayFace } from './face-table.ts';
import { extentOfFace, groupRound, onAxis, type RoundGroup } from './round-groups.ts';

/** A connection that was found: where it could be, and how sure that is. */
export interface FoundConnection {
  readonly frame: Frame;
  readonly connection: ConnectionSize;
  readonly confidence: number;
  readonly evidence: string;
}

/** A shank or taper before it is known which way the work lies. */
export interface Shank {
  readonly connection: ConnectionSize;
  /** A point of the axis (for a square shank: of its middle line), and its direction without sense. */
  readonly origin: Vec3;
  readonly direction: Vec3;
  /** The stretch it takes along the direction, from the origin, mm. */
  readonly from: number;
  readonly to: number;
  readonly confidence: number;
  readonly evidence: string;
  /** Planes of a square shank, by their outward normals. */
  readonly sides?: readonly PlaneLook[];
  /** The side of a serrated shank that has the teeth: the index direction. */
  readonly index?: Vec3;
}

const HSK_HALF_RAD = Math.atan(1 / (2 * 9.98)); // ISO 12164: taper 1:9.98
const STEEP_HALF_RAD = Math.atan(7 / 48); // ISO 7388: taper 7:24
const ER_HALF_RAD = (8 * Math.PI) / 180; // ISO 15488
const SAME_TAPER_RAD = (0.12 * Math.PI) / 180;

// ISO 12164: largest diameter of the taper by size. ISO 7388: gauge diameter. ISO 15488: largest diameter of the collet.
const HSK_DIAMETERS: readonly [size: number, diameter: number][] = [
  [32, 24],
  [40, 30],
  [50, 38],
  [63, 48],
  [80, 60],
  [100, 75],
  [125, 95],
];
const STEEP_DIAMETERS: readonly [number, number][] = [
  [30, 31.75],
  [40, 44.45],
  [50, 69.85],
];
const ER_DIAMETERS: readonly [number, number][] = [
  [11, 11.5],
  [16, 17],
  [20, 21],
  [25, 26],
  [32, 33],
  [40, 41],
];
const nearest = (table: readonly [number, number][], diameter: number): readonly [number, number] =>
  table.reduce((a, b) => (Math.abs(a[1] - diameter) <= Math.abs(b[1] - diameter) ? a : b));

/** All shanks and tapers of the tool's bodies, the surest first. */
export function findShanks(bodies: readonly BodyGeometry[]): Shank[] {
  const faces = bodies.flatMap(lookAtFaces);
  const groups = groupRound(faces);
  const found = [...groups.flatMap((g) => tapersOf(g)), ...groups.flatMap((g) => cylindersOf(g, bodies, faces)), ...bodies.flatMap(squareShanks)];
  return found.sort((a, b) => b.confidence - a.confidence);
}

// The tapers that are told by their angle, with the diameter of their large end by size; `within` is how far that may be off, in mm.
const TAPERS = [
  { standard: 'HSK-A', halfAngleRad: HSK_HALF_RAD, diameters: HSK_DIAMETERS, within: 1.2, sure: 0.97, say: 'taper 1:9.98' },
  { standard: '7/24', halfAngleRad: STEEP_HALF_RAD, diameters: STEEP_DIAMETERS, within: 1.5, sure: 0.96, say: 'taper 7:24' },
] as const;

function tapersOf(group: RoundGroup): Shank[] {
  return group.cones.flatMap((face): Shank[] => {
    const s = face.surface;
    if (s.kind !== 'cone' || s.concave) return [];
    const taper = TAPERS.find((t) => Math.abs(s.halfAngleRad - t.halfAngleRad) < SAME_TAPER_RAD);
    if (!taper) return [];
    const d = 2 * s.radiusLarge;
    const [size, table] = nearest(taper.diameters, d);
    const off = Math.abs(table - d);
    if (off >= taper.within) return [];
    const [from, to] = extentOfFace(face, group.origin, group.direction);
    return [
      {
        connection: { standard: taper.standard, size },
        origin: group.origin,
        direction: group.direction,
        from,
        to,
        confidence: off < 0.5 ? taper.sure : 0.8,
        evidence: `${sayFace(face)}: ${taper.say}, large end ${d.toFixed(2)}`,
      },
    ];
  });
}

function standardDiameter(diameter: number): number | undefined {
  return USUAL_SIZES.cylindrical.map(Number).find((d) => Math.abs(d - diameter) <= 0.03);
}

function cylindersOf(group: RoundGroup, bodies: readonly BodyGeometry[], faces: readonly FaceLook[]): Shank[] {
  const overall = Math.max(...bodies.map((b) => reachAlong(b, group.direction)).map(([a, b]) => b - a));
  return group.cylinders.flatMap((run): Shank[] => {
    const d = 2 * run.radius;
    const long = run.to - run.from;
    if (run.concave || long < 0.75 * d || run.cover < 0.3) return [];
    const base = { origin: group.origin, direction: group.direction, from: run.from, to: run.to };
    const size = standardDiameter(d);
    const where = run.faces.map(sayFace).slice(0, 2).join(', ');
    const flanks = toothFlanks(faces, group, run.from, run.to, run.radius);
    const teeth = flanks.length;
    if (teeth >= 6 && USUAL_SIZES.VDI.map(Number).some((v) => Math.abs(v - d) < 0.05))
      return [
        {
          ...base,
          index: flanks.reduce<Vec3>((sum, f) => addScaled(sum, across(subtract(f.centre, group.origin), group.direction), f.area), [0, 0, 0]),
          connection: { standard: 'VDI', size: Math.round(d) },
          confidence: 0.96,
          evidence: `${where}: diameter ${d.toFixed(3)} with ${teeth} flanks of teeth`,
        },
      ];
    // A shank is a good part of the whole; a collar or a nut is short.
    const share = long / overall;
    const confidence = (size === undefined ? 0.45 : 0.72) + 0.22 * Math.min(1, share * 1.6) - (run.cover < 0.6 ? 0.05 : 0);
    return [
      {
        ...base,
        connection: { standard: 'cylindrical', size: size ?? Math.round(d * 1000) / 1000 },
        confidence: Math.min(0.94, confidence) * Math.min(1, 0.55 + share),
        evidence: `${where}: diameter ${d.toFixed(3)}, ${long.toFixed(1)} long${run.cover < 0.95 ? ', with flats or slots' : ''}`,
      },
    ];
  });
}

// Flanks of a toothed side: planes near 45 degrees to the axis, inside the shank's own stretch and radius.
function toothFlanks(faces: readonly FaceLook[], group: RoundGroup, from: number, to: number, radius: number): FaceLook[] {
  return planesOf(faces).filter((f) => {
    const slope = Math.abs(dot(f.outward, group.direction));
    if (slope < 0.5 || slope > 0.87) return false;
    const d = subtract(f.centre, group.origin);
    const z = dot(d, group.direction);
    return z > from && z < to && length(addScaled(d, group.direction, -z)) < radius * 1.02;
  });
}

// Four long planes in two pairs, a standard distance apart.
function squareShanks(body: BodyGeometry): Shank[] {
  const planes = planesOf(lookAtFaces(body)).sort((a, b) => b.area - a.area);
  const pairs: { a: PlaneLook; b: PlaneLook; wide: number }[] = [];
  const top = planes.slice(0, 24);
  for (const a of top)
    for (const b of top) {
      if (a.index >= b.index || dot(a.outward, b.outward) > -0.99999) continue;
      const wide = a.offset + b.offset;
      if (SQUARES.some((s) => Math.abs(s - wide) < 0.06)) pairs.push({ a, b, wide });
    }
  const found: Shank[] = [];
  for (const p of pairs)
    for (const q of pairs) {
      if (p === q || Math.abs(dot(p.a.outward, q.a.outward)) > 1e-4) continue;
      const direction = normalize(cross(p.a.outward, q.a.outward));
      // Each pair once: the first by the order of its faces.
      if (p.a.index > q.a.index) continue;
      const sides = [p.a, p.b, q.a, q.b];
      const spans = sides.map((f) => extentOfFace(f, [0, 0, 0], direction));
      const from = Math.max(...spans.map(([a]) => a));
      const to = Math.min(...spans.map(([, b]) => b));
      const long = to - from;
      const wide = Math.max(p.wide, q.wide);
      if (long < 1.8 * wide) continue;
      const middle = addScaled(scale(p.a.outward, (p.a.offset - p.b.offset) / 2), q.a.outward, (q.a.offset - q.b.offset) / 2);
      const round = (v: number) => SQUARES.reduce((a, b) => (Math.abs(a - v) <= Math.abs(b - v) ? a : b));
      const [low, high] = reachAlong(body, direction);
      const share = long / (high - low);
      found.push({
        connection: { standard: 'square', size: `${round(p.wide)}x${round(q.wide)}` },
        origin: middle,
        direction,
        from,
        to,
        confidence: Math.min(0.97, 0.7 + 0.35 * share),
        evidence: `${sides.map((f) => `plane ${f.index + 1}`).join(', ')} of ${body.id}, ${long.toFixed(1)} long`,
        sides,
      });
    }
  return found;
}
const SQUARES = USUAL_SIZES.square.map((s) => Number.parseFloat(String(s)));

/** The plane across an axis where a shank ends against a flange: it faces the machine, and material goes on beyond it. */
export function flangeOf(bodies: readonly BodyGeometry[], shank: Shank, work: Vec3): { position: number; evidence: string; area: number } | undefined {
  const planes = bodies.flatMap((b) => planesOf(lookAtFaces(b)));
  const radius = radiusOf(shank);
  const sense = dot(work, shank.direction);
  const end = sense > 0 ? shank.to : shank.from;
  const candidates = planes
    .filter((f) => dot(f.outward, work) < -0.99999)
    .map((f) => ({ face: f, position: dot(subtract(f.centre, shank.origin), work), reach: faceRadius(f, shank) }))
    // A flange stands out of the shank all round, near the shank's end.
    .filter(({ position, reach }) => reach > radius * 1.08 && Math.abs(position - end * sense) < Math.max(6, 0.6 * radius));
  const best = candidates.sort((a, b) => b.face.area - a.face.area)[0];
  return best && { position: best.position, evidence: `flange ${sayFace(best.face)}`, area: best.face.area };
}

const radiusOf = (shank: Shank): number => {
  const { standard, size } = shank.connection;
  if (standard === 'HSK-A') return (HSK_DIAMETERS.find(([s]) => s === size)?.[1] ?? Number(size)) / 2;
  if (standard === '7/24') return (STEEP_DIAMETERS.find(([s]) => s === size)?.[1] ?? 0) / 2;
  return Number.parseFloat(String(size)) / 2;
};

function faceRadius(face: FaceLook, { origin, direction }: Pick<Shank, 'origin' | 'direction'>): number {
  const { positions: p, triangles: t } = face.body.mesh;
  let most = 0;
  for (let i = 3 * face.body.faceStart[face.index]; i < 3 * face.body.faceStart[face.index + 1]; i++) {
    const k = 3 * t[i];
    const d = subtract([p[k], p[k + 1], p[k + 2]], origin);
    most = Math.max(most, length(addScaled(d, direction, -dot(d, direction))));
  }
  return most;
}

/** Seats of a holder, adapter or block: collet cones and bores, as far as they are no screw holes. `own` is the mount's frame. */
export function findSeats(bodies: readonly BodyGeometry[], own: Frame, isBlock: boolean): FoundConnection[] {
  const faces = bodies.flatMap(lookAtFaces);
  const groups = groupRound(faces);
  const seats: FoundConnection[] = [];
  for (const group of groups) {
    const coaxial = length(cross(group.direction, own.z)) < 1e-3 && length(across(subtract(own.origin, group.origin), group.direction)) < 0.05;
    if (!isBlock && !coaxial) continue;
    for (const face of group.cones) {
      const s = face.surface;
      if (s.kind !== 'cone' || !s.concave || Math.abs(s.halfAngleRad - ER_HALF_RAD) > SAME_TAPER_RAD) continue;
      const d = 2 * s.radiusLarge;
      const [size, table] = nearest(ER_DIAMETERS, d);
      if (Math.abs(table - d) > 1.6) continue;
      // The work side is where the cone is wide.
      const z = scale(s.axis, -1);
      seats.push({
        frame: fromZAndX(s.origin, z, coaxial ? own.x : undefined),
        connection: { standard: 'ER', size },
        confidence: Math.abs(table - d) < 0.6 ? 0.93 : 0.8,
        evidence: `${sayFace(face)}: half angle 8 degrees, large end ${d.toFixed(2)}`,
      });
    }
    if (seats.some((s) => s.connection.standard === 'ER' && length(across(subtract(s.frame.origin, group.origin), group.direction)) < 0.05)) continue;
    const run = group.cylinders
      .filter((c) => c.concave && c.cover > 0.5)
      .sort((a, b) => b.radius - a.radius)
      .find((c) => standardDiameter(2 * c.radius) !== undefined && c.to - c.from > 1.4 * c.radius && c.radius >= (isBlock ? 5.9 : 1.9));
    if (!run) continue;
    const size = standardDiameter(2 * run.radius) as number;
    const opening = openingOf(faces, group, run.from, run.to, own);
    if (!opening) continue;
    seats.push({
      frame: fromZAndX(onAxis(group, opening.position), opening.z, coaxial ? own.x : undefined),
      connection: { standard: 'cylindrical', size },
      confidence: isBlock ? 0.8 : 0.9,
      evidence: `${run.faces.map(sayFace).slice(0, 2).join(', ')}: bore ${size}, ${(run.to - run.from).toFixed(1)} deep, opens at ${opening.evidence}`,
    });
  }
  return seats.sort((a, b) => b.confidence - a.confidence);
}

const across = (v: Vec3, direction: Vec3): Vec3 => addScaled(v, direction, -dot(v, direction));

// The plane across a bore where it opens: the outermost one around it, on the side away from the machine where the bore is the mount's own.
function openingOf(
  faces: readonly FaceLook[],
  group: RoundGroup,
  from: number,
  to: number,
  own: Frame,
): { position: number; z: Vec3; evidence: string } | undefined {
  const options = planesOf(faces)
    .filter((f) => Math.abs(dot(f.outward, group.direction)) > 0.99999)
    .map((f) => ({ face: f, position: dot(subtract(f.centre, group.origin), group.direction), sense: dot(f.outward, group.direction) > 0 ? 1 : -1 }))
    .filter(({ position, sense }) => (sense > 0 ? position >= to - 0.05 && position - to < 12 : position <= from + 0.05 && from - position < 12))
    .filter(({ face }) => length(across(subtract(face.centre, group.origin), group.direction)) < 60);
  const along = dot(own.z, group.direction);
  const wanted = Math.abs(along) > 0.999 ? options.filter((o) => o.sense * along > 0) : options;
  const best = wanted.sort((a, b) => b.face.area - a.face.area)[0];
  return best && { position: best.position, z: scale(group.direction, best.sense), evidence: sayFace(best.face) };
}
