import { addScaled, cross, dot, type Frame, fromZAndX, length, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { ER_DIAMETERS, HALF_ANGLES_RAD, nearestSize, SAME_TAPER_RAD, SQUARE_SHANKS, standardDiameter } from '#core/standards';
import { findSpigots } from './arbor-face.ts';
import { across, type FaceLook, lookAtFaces, type PlaneLook, planesOf, reachAlong, refOf, sayFace } from './face-table.ts';
import { extentOfFace, groupRound, onAxis, type RoundGroup } from './round-groups.ts';
import type { FoundConnection } from './found.ts';

/**
 * Seats of a holder, adapter or block: collet cones, bores as far as they are no screw holes, and channels for square shanks. A block's
 * bore or channel that goes through opens both ways and is two seats. `own` is the mount's frame.
 */
export function findSeats(bodies: readonly BodyGeometry[], own: Frame, isBlock: boolean): FoundConnection[] {
  const faces = bodies.flatMap(lookAtFaces);
  const seats: FoundConnection[] = [];
  const bores: { group: RoundGroup; run: RoundGroup['cylinders'][number]; coaxial: boolean }[] = [];
  for (const group of groupRound(faces)) {
    const coaxial = length(cross(group.direction, own.z)) < 1e-3 && length(across(subtract(own.origin, group.origin), group.direction)) < 0.05;
    if (!isBlock && !coaxial) continue;
    const cones = colletCones(group, coaxial, own);
    seats.push(...cones);
    if (cones.length > 0) continue;
    const run = group.cylinders
      .filter((c) => c.concave && c.cover > 0.5)
      .sort((a, b) => b.radius - a.radius)
      .find((c) => standardDiameter(2 * c.radius) !== undefined && c.to - c.from > 1.4 * c.radius && c.radius >= (isBlock ? 5.9 : 1.9));
    if (run) bores.push({ group, run, coaxial });
  }
  const widest = Math.max(0, ...bores.map((b) => b.run.radius));
  for (const { group, run, coaxial } of bores) {
    if (isBlock && run.radius < 0.6 * widest) continue;
    const size = standardDiameter(2 * run.radius) as number;
    for (const opening of openingsOf(faces, group, run, own, isBlock)) {
      seats.push({
        frame: fromZAndX(onAxis(group, opening.position), opening.z, coaxial ? own.x : own.z),
        connection: { standard: 'cylindrical', size },
        confidence: isBlock ? 0.85 : 0.92,
        evidence: `${run.faces.map(sayFace).slice(0, 2).join(', ')}: bore ${size}, ${(run.to - run.from).toFixed(1)} deep, opens at ${sayFace(opening.face)}`,
        faces: [...run.faces, opening.face].map(refOf),
      });
    }
  }
  if (isBlock) seats.push(...bodies.flatMap(channelsOf));
  else if (seats.length === 0) seats.push(...findSpigots(bodies, own));
  return seats.sort((a, b) => b.confidence - a.confidence);
}

function colletCones(group: RoundGroup, coaxial: boolean, own: Frame): FoundConnection[] {
  return group.cones.flatMap((face): FoundConnection[] => {
    const s = face.surface;
    if (s.kind !== 'cone' || !s.concave || Math.abs(s.halfAngleRad - HALF_ANGLES_RAD.ER) > SAME_TAPER_RAD) return [];
    const d = 2 * s.radiusLarge;
    const [size, table] = nearestSize(ER_DIAMETERS, d);
    if (Math.abs(table - d) > 1.6) return [];
    return [
      {
        // The work side is where the cone is wide.
        frame: fromZAndX(s.origin, scale(s.axis, -1), coaxial ? own.x : own.z),
        connection: { standard: 'ER', size },
        confidence: Math.abs(table - d) < 0.6 ? 0.94 : 0.8,
        evidence: `${sayFace(face)}: half angle 8 degrees, large end ${d.toFixed(2)}`,
        faces: [refOf(face)],
      },
    ];
  });
}

interface Opening {
  readonly position: number;
  readonly z: Vec3;
  readonly face: PlaneLook;
}

// The planes across a bore where it opens: those with a circle about its axis, the outermost each way. Of the mount's own bore only the
// end away from the machine.
function openingsOf(faces: readonly FaceLook[], group: RoundGroup, run: RoundGroup['cylinders'][number], own: Frame, both: boolean): Opening[] {
  const along = dot(own.z, group.direction);
  const isOwn = Math.abs(along) > 0.999 && length(across(subtract(own.origin, group.origin), group.direction)) < 0.05;
  const options = planesOf(faces)
    .filter((f) => Math.abs(dot(f.outward, group.direction)) > 0.99999 && hasCircleAbout(f, group, run.radius))
    .map((face) => {
      const sense = dot(face.outward, group.direction) > 0 ? 1 : -1;
      return { face, sense, position: dot(subtract(face.centre, group.origin), group.direction), z: scale(group.direction, sense) };
    })
    .filter(({ position, sense }) =>
      sense > 0 ? position >= run.to - 0.05 && position - run.to < 12 : position <= run.from + 0.05 && run.from - position < 12,
    );
  const wanted = isOwn ? options.filter((o) => o.sense * along > 0) : options;
  const outermost = (sense: number) => wanted.filter((o) => o.sense === sense).sort((a, b) => sense * (b.position - a.position))[0];
  const ends = [outermost(1), outermost(-1)].filter((o) => o !== undefined);
  return both ? ends : ends.sort((a, b) => b.face.area - a.face.area).slice(0, 1);
}

function hasCircleAbout(face: FaceLook, group: RoundGroup, radius: number): boolean {
  return face.body.faces[face.index].edges.some((e) => {
    const { curve } = face.body.edges[e];
    if (curve.kind !== 'circle' || curve.radius < radius - 0.02 || curve.radius > radius + 8) return false;
    return length(across(subtract(curve.centre, group.origin), group.direction)) < 0.05;
  });
}

// Two walls that look at each other a usual shank's height apart, and a third between them: a channel for a square shank.
function channelsOf(body: BodyGeometry): FoundConnection[] {
  const planes = planesOf(lookAtFaces(body))
    .filter((f) => f.area > 60)
    .sort((a, b) => b.area - a.area)
    .slice(0, 60);
  const found: FoundConnection[] = [];
  for (const a of planes)
    for (const b of planes) {
      if (dot(a.outward, b.outward) > -0.99999) continue;
      const gap = -b.offset - a.offset;
      const size = SQUARE_SHANKS.find((s) => Math.abs(s - gap) < 0.25);
      // Each pair once: the wall of the lower number first.
      if (size === undefined || gap <= 0 || a.index > b.index) continue;
      for (const back of planes) {
        if (Math.abs(dot(back.outward, a.outward)) > 1e-4) continue;
        const direction = cross(a.outward, back.outward);
        const [low, high] = extentOfFace(back, [0, 0, 0], a.outward);
        if (Math.abs(low - a.offset) > 0.3 || Math.abs(high + b.offset) > 0.3) continue;
        const spans = [a, b, back].map((f) => extentOfFace(f, [0, 0, 0], direction));
        const [from, to] = [Math.max(...spans.map((s) => s[0])), Math.min(...spans.map((s) => s[1]))];
        // The walls rise from the back wall towards where the channel is open.
        const rises = [a, b].every((f) => {
          const [near, far] = extentOfFace(f, [0, 0, 0], back.outward);
          return Math.abs(near - back.offset) < 0.3 && far - near > 0.6 * size;
        });
        if (!rises || to - from < 1.4 * size) continue;
        const whole = reachAlong(body, direction);
        for (const sense of [1, -1]) {
          const end = sense > 0 ? to : from;
          if (Math.abs(end - (sense > 0 ? whole[1] : whole[0])) > 6) continue;
          const z = scale(direction, sense);
          const origin = addScaled(addScaled(scale(a.outward, a.offset), back.outward, back.offset), direction, end);
          found.push({
            frame: fromZAndX(origin, z, a.outward),
            connection: { standard: 'square', size: `${size}x${size}` },
            confidence: 0.85,
            evidence: `walls ${a.index + 1} and ${b.index + 1} of ${body.id}, ${gap.toFixed(2)} apart, back wall ${back.index + 1}`,
            faces: [a, b, back].map(refOf),
          });
        }
      }
    }
  return found;
}
