import { addScaled, cross, dot, length, normalize, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import {
  ER_DIAMETERS,
  HALF_ANGLES_RAD,
  HSK_DIAMETERS,
  nearestSize,
  SAME_TAPER_RAD,
  SQUARE_HEIGHTS,
  shankDiameter,
  STEEP_DIAMETERS,
  STEEP_FLANGES,
  USUAL_SIZES,
} from '#core/standards';
import { type DriveSlot, findDriveSlot } from './drive-slots.ts';
import { across, type FaceLook, type JoinedPlane, joinedPlanes, lookAtFaces, planesOf, reachAlong, refOf, sayFace } from './face-table.ts';
import type { Shank } from './found.ts';
import { findPolygonTapers } from './polygon-taper.ts';
import { extentOfFace, extentOfPlane, groupRound, type RoundGroup } from './round-groups.ts';

/** All shanks and tapers of the tool's bodies, the surest first. */
export function findShanks(bodies: readonly BodyGeometry[]): Shank[] {
  const faces = bodies.flatMap(lookAtFaces);
  const groups = groupRound(faces);
  const found = [
    ...findPolygonTapers(bodies, groups),
    ...groups.flatMap((g) => tapersOf(g, faces)),
    ...groups.flatMap(colletsOf),
    ...groups.flatMap((g) => cylindersOf(g, bodies, faces)),
    ...bodies.flatMap(squareShanks),
  ];
  return found.sort((a, b) => b.confidence - a.confidence);
}

// The tapers that are told by their angle, with the diameter of their large end by size; `within` is how far that may be off, in mm.
const TAPERS = [
  { standard: 'HSK-A', diameters: HSK_DIAMETERS, within: 1.2, sure: 0.97, say: 'taper 1:9.98' },
  { standard: '7/24', diameters: STEEP_DIAMETERS, within: 1.5, sure: 0.97, say: 'taper 7:24' },
] as const;

function tapersOf(group: RoundGroup, faces: readonly FaceLook[]): Shank[] {
  return group.cones.flatMap((face): Shank[] => {
    const s = face.surface;
    if (s.kind !== 'cone' || s.concave) return [];
    const taper = TAPERS.find((t) => Math.abs(s.halfAngleRad - HALF_ANGLES_RAD[t.standard]) < SAME_TAPER_RAD);
    // A chamfer of that angle is short.
    if (!taper || s.length < 0.2 * s.radiusLarge) return [];
    const d = 2 * s.radiusLarge;
    const [size, table] = nearestSize(taper.diameters, d);
    const off = Math.abs(table - d);
    if (off >= taper.within) return [];
    const [from, to] = extentOfFace(face, group.origin, group.direction);
    // The surface's axis runs from the large end to the small one, away from the work.
    const sense = dot(s.axis, group.direction) > 0 ? -1 : 1;
    const large = dot(subtract(s.origin, group.origin), group.direction);
    const gauge = large + (sense * (table / 2 - s.radiusLarge)) / Math.tan(s.halfAngleRad);
    const slot = taper.standard === '7/24' ? slotInFlange(faces, group, gauge, sense, table / 2) : slotInEnd(faces, group, from, to, sense, s.radiusLarge);
    return [
      {
        connection: taper.standard === '7/24' ? { standard: steepKind(group, size, gauge, sense), size } : { standard: taper.standard, size },
        origin: group.origin,
        direction: group.direction,
        from,
        to,
        work: scale(s.axis, -1),
        ...(taper.standard === '7/24' ? { plane: gauge } : {}),
        confidence: off < 0.5 ? taper.sure : 0.8,
        ...(slot ? { index: slot.direction } : {}),
        evidence: [`${sayFace(face)}: ${taper.say}, large end ${d.toFixed(2)}`, slot?.evidence].filter(Boolean).join('; '),
        faces: [refOf(face), ...(slot?.faces ?? [])],
      },
    ];
  });
}

// A collet from outside: the cone of ISO 15488, wide towards the work.
function colletsOf(group: RoundGroup): Shank[] {
  return group.cones.flatMap((face): Shank[] => {
    const s = face.surface;
    if (s.kind !== 'cone' || s.concave || Math.abs(s.halfAngleRad - HALF_ANGLES_RAD.ER) > SAME_TAPER_RAD || s.length < 0.8 * s.radiusLarge) return [];
    const [size, table] = nearestSize(ER_DIAMETERS, 2 * s.radiusLarge);
    if (Math.abs(table - 2 * s.radiusLarge) > 0.6) return [];
    const [from, to] = extentOfFace(face, group.origin, group.direction);
    const sense = dot(s.axis, group.direction) > 0 ? -1 : 1;
    const large = dot(subtract(s.origin, group.origin), group.direction);
    return [
      {
        connection: { standard: 'ER', size },
        origin: group.origin,
        direction: group.direction,
        from,
        to,
        work: scale(s.axis, -1),
        plane: large + (sense * (table / 2 - s.radiusLarge)) / Math.tan(s.halfAngleRad),
        confidence: 0.94,
        evidence: `${sayFace(face)}: half angle 8 degrees, large end ${(2 * s.radiusLarge).toFixed(2)}`,
        faces: [refOf(face)],
      },
    ];
  });
}

// The key of a hollow taper drives the half of it that is away from the work.
function slotInEnd(faces: readonly FaceLook[], group: RoundGroup, from: number, to: number, sense: number, radius: number): DriveSlot | undefined {
  const long = to - from;
  const stretch = sense > 0 ? { from: from - 0.2 * long, to: from + 0.5 * long } : { from: to - 0.5 * long, to: to + 0.2 * long };
  return findDriveSlot(faces, group, { ...stretch, reach: 0.75 * radius });
}

// That of a steep taper drives its flange, up to the size of which it lies behind the gauge plane.
function slotInFlange(faces: readonly FaceLook[], group: RoundGroup, gauge: number, sense: number, radius: number): DriveSlot | undefined {
  const stretch = sense > 0 ? { from: gauge - 1, to: gauge + radius } : { from: gauge - radius, to: gauge + 1 };
  return findDriveSlot(faces, group, { ...stretch, reach: 1.02 * radius });
}

// ISO 7388-1 and 7388-2 differ in their flange's diameter.
function steepKind(group: RoundGroup, size: number, gauge: number, sense: number): 'SK' | 'BT' | '7/24' {
  const flange = Math.max(
    0,
    ...group.cylinders
      .filter((c) => !c.concave && (sense > 0 ? c.from - gauge : gauge - c.to) > -0.5 && Math.abs((c.from + c.to) / 2 - gauge) < 45)
      .map((c) => 2 * c.radius),
  );
  const near = (kind: 'SK' | 'BT') => Math.abs(flange - (STEEP_FLANGES[kind].find(([s]) => s === size)?.[1] ?? 0)) < 0.25;
  return near('SK') ? 'SK' : near('BT') ? 'BT' : '7/24';
}

function cylindersOf(group: RoundGroup, bodies: readonly BodyGeometry[], faces: readonly FaceLook[]): Shank[] {
  const overall = Math.max(...bodies.map((b) => reachAlong(b, group.direction)).map(([a, b]) => b - a));
  return group.cylinders.flatMap((run): Shank[] => {
    const d = 2 * run.radius;
    const long = run.to - run.from;
    // Thinner than 3 mm is a rounding or a pin.
    if (run.concave || long < 0.75 * d || run.cover < 0.3 || d < 2.9) return [];
    const base = { origin: group.origin, direction: group.direction, from: run.from, to: run.to };
    const size = shankDiameter(d);
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
          faces: [...run.faces, ...flanks].map(refOf),
        },
      ];
    // Flutes are in what cuts: beside a plain shank that one is none.
    const isFluted =
      run.cover < 0.85 &&
      group.cylinders.some((c) => c !== run && !c.concave && c.cover > 0.9 && c.to - c.from > 1.5 * c.radius && c.radius > 0.4 * run.radius);
    // A shank is a good part of the whole; a collar or a nut is short.
    const share = long / overall;
    const confidence = (size === undefined ? 0.45 : 0.72) + 0.22 * Math.min(1, share * 1.6) - (run.cover < 0.6 ? 0.05 : 0);
    return [
      {
        ...base,
        connection: { standard: 'cylindrical', size: size ?? Math.round(d * 1000) / 1000 },
        confidence: Math.min(0.94, confidence) * Math.min(1, 0.55 + share) * (isFluted ? 0.75 : 1),
        evidence: `${where}: diameter ${d.toFixed(3)}, ${long.toFixed(1)} long${run.cover < 0.95 ? ', with flats or slots' : ''}`,
        faces: run.faces.map(refOf),
      },
    ];
  });
}

// Flanks of a toothed side: planes near 45 degrees to the axis, inside the shank's own stretch and radius. All teeth are cut across it in one direction: each flank
// looks one of two ways, and half of them each. The facets of flutes look anywhere.
function toothFlanks(faces: readonly FaceLook[], group: RoundGroup, from: number, to: number, radius: number): FaceLook[] {
  const leaning = planesOf(faces).filter((f) => {
    const slope = Math.abs(dot(f.outward, group.direction));
    if (slope < 0.5 || slope > 0.87) return false;
    const d = subtract(f.centre, group.origin);
    const z = dot(d, group.direction);
    return z > from && z < to && length(addScaled(d, group.direction, -z)) < radius * 1.02;
  });
  let best: FaceLook[] = [];
  for (const f of leaning) {
    // The other flank of a tooth, the axis being square to both ways.
    const other = addScaled(f.outward, group.direction, -2 * dot(f.outward, group.direction));
    const one = leaning.filter((g) => dot(g.outward, f.outward) > SAME_FLANK);
    const two = leaning.filter((g) => dot(g.outward, other) > SAME_FLANK);
    if (one.length >= 3 && two.length >= 3 && one.length + two.length > best.length) best = [...one, ...two];
  }
  return best;
}
const SAME_FLANK = Math.cos(0.01);

// Four long planes in two pairs, a standard distance apart.
function squareShanks(body: BodyGeometry): Shank[] {
  const planes = joinedPlanes(body).sort((a, b) => b.area - a.area);
  const pairs: { a: JoinedPlane; b: JoinedPlane; wide: number }[] = [];
  const top = planes.slice(0, 24);
  for (const a of top)
    for (const b of top) {
      if (a.index >= b.index || dot(a.outward, b.outward) > -0.99999) continue;
      const wide = a.offset + b.offset;
      if (SQUARE_HEIGHTS.some((s) => Math.abs(s - wide) < 0.06)) pairs.push({ a, b, wide });
    }
  const found: Shank[] = [];
  for (const p of pairs)
    for (const q of pairs) {
      if (p === q || Math.abs(dot(p.a.outward, q.a.outward)) > 1e-4) continue;
      const direction = normalize(cross(p.a.outward, q.a.outward));
      // Each pair once: the first by the order of its faces.
      if (p.a.index > q.a.index) continue;
      const sides = [p.a, p.b, q.a, q.b];
      const spans = sides.map((f) => extentOfPlane(f, [0, 0, 0], direction));
      const from = Math.max(...spans.map(([a]) => a));
      const to = Math.min(...spans.map(([, b]) => b));
      const long = to - from;
      const wide = Math.max(p.wide, q.wide);
      if (long < 1.05 * wide) continue;
      const middle = addScaled(scale(p.a.outward, (p.a.offset - p.b.offset) / 2), q.a.outward, (q.a.offset - q.b.offset) / 2);
      const [low, high] = reachAlong(body, direction);
      const share = long / (high - low);
      found.push({
        connection: { standard: 'square', size: `${nearestHeight(p.wide)}x${nearestHeight(q.wide)}` },
        origin: middle,
        direction,
        from,
        to,
        confidence: Math.min(0.97, 0.7 + 0.35 * share) - (long < 1.8 * wide ? 0.08 : 0),
        evidence: `${sides.map((f) => `plane ${f.index + 1}`).join(', ')} of ${body.id}, ${long.toFixed(1)} long`,
        sides,
        faces: sides.flatMap((f) => f.parts.map(refOf)),
      });
    }
  return found;
}

/** The usual height of a square shank that is nearest to a measured one, mm. */
export const nearestHeight = (v: number): number => SQUARE_HEIGHTS.reduce((a, b) => (Math.abs(a - v) <= Math.abs(b - v) ? a : b));

/** Diameter of a shank, mm; the table's large end for a taper. */
export const shankRadius = ({ connection: { standard, size } }: Pick<Shank, 'connection'>): number => {
  if (standard === 'HSK-A') return (HSK_DIAMETERS.find(([s]) => s === size)?.[1] ?? Number(size)) / 2;
  if (standard === '7/24' || standard === 'SK' || standard === 'BT') return (STEEP_DIAMETERS.find(([s]) => s === size)?.[1] ?? 0) / 2;
  return Number.parseFloat(String(size)) / 2;
};
