import { addScaled, cross, dot, type Frame, fromZAndX, length, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { ER_DIAMETERS, HALF_ANGLES_RAD, nearestSize, SAME_TAPER_RAD, SQUARE_HEIGHTS, SQUARE_SHANKS, standardDiameter } from '#core/standards';
import { findSpigots } from './arbor-face.ts';
import { across, type FaceLook, joinedPlanes, lookAtFaces, type PlaneLook, planesOf, reachAlong, refOf, sayFace } from './face-table.ts';
import { extentOfPlane, groupRound, isAboutLine, onAxis, type RoundGroup } from './round-groups.ts';
import type { FoundConnection } from './found.ts';

/**
 * Seats of a holder, adapter or block: collet cones, bores as far as they are no screw holes, and channels for square shanks. A block's
 * bore or channel that goes through opens both ways and is two seats. `own` is the mount's frame; `walls` are loose bodies that may be a channel's fourth side.
 */
export function findSeats(bodies: readonly BodyGeometry[], own: Frame, isBlock: boolean, walls: readonly BodyGeometry[] = []): FoundConnection[] {
  const faces = bodies.flatMap(lookAtFaces);
  const seats: FoundConnection[] = [];
  const bores: Bore[] = [];
  for (const group of groupRound(faces)) {
    const coaxial = isAboutLine(group, { origin: own.origin, direction: own.z });
    if (!isBlock && !coaxial) continue;
    const cones = colletCones(group, coaxial, own);
    seats.push(...cones);
    if (cones.length > 0) continue;
    const runs = group.cylinders
      .filter((c) => c.concave && c.cover > 0.5)
      .sort((a, b) => b.radius - a.radius)
      .filter((c) => standardDiameter(2 * c.radius) !== undefined && c.to - c.from > 1.4 * c.radius && c.radius >= (isBlock ? 5.9 : 1.9));
    // Another bore on the line may be the drawbar's.
    const run = runs.find((c) => openingsOf(faces, group, c, own, isBlock).length > 0) ?? runs[0];
    if (run) bores.push({ group, run, coaxial });
  }
  const channels = isBlock ? bodies.flatMap((b) => bestChannels(b, walls)) : [];
  const tooled = bores.filter((b) => !isBlock || !isBoltHole(b, bores, own));
  const widest = Math.max(0, ...tooled.map((b) => b.run.radius));
  for (const { group, run, coaxial } of tooled) {
    if (isBlock && run.radius < 0.6 * widest) continue;
    // Beside a channel a bore without a screw that looks into it is a bolt's or a pin's.
    if (isBlock && channels.length > 0 && !coaxial && !hasClampingScrew(faces, group, run)) continue;
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
  if (isBlock) seats.push(...channels);
  else {
    // The bore in a spigot is its screw's, where no screw looks into it that clamps a shank.
    const holds = seats.some((s) => s.connection.standard === 'ER') || tooled.some((b) => b.coaxial && hasClampingScrew(faces, b.group, b.run));
    const spigots = holds ? [] : findSpigots(bodies, own);
    if (spigots.length > 0) return spigots;
  }
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
  const isOwn = isAboutLine(group, { origin: own.origin, direction: own.z });
  const options = planesOf(faces)
    .filter((f) => Math.abs(dot(f.outward, group.direction)) > 0.99999 && hasCircleAbout(f, group, run.radius))
    .map((face) => {
      const sense = dot(face.outward, group.direction) > 0 ? 1 : -1;
      return { face, sense, position: dot(subtract(face.centre, group.origin), group.direction), z: scale(group.direction, sense) };
    })
    .filter(({ position, sense }) =>
      sense > 0 ? position >= run.to - 0.05 && position - run.to < 12 : position <= run.from + 0.05 && run.from - position < 12,
    );
  // What opens towards the machine at the mount itself is a bolt's hole, or coolant's.
  const isAtMount = (o: Opening) => dot(o.z, own.z) < -0.99 && Math.abs(dot(subtract(o.face.centre, own.origin), own.z)) < 1;
  const wanted = isOwn ? options.filter((o) => o.sense * along > 0) : options.filter((o) => !isAtMount(o));
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

interface Bore {
  readonly group: RoundGroup;
  readonly run: RoundGroup['cylinders'][number];
  readonly coaxial: boolean;
}

// Bolts go along the mount's Z, beside its axis, several alike; their holes are stepped for the heads.
function isBoltHole({ group, run, coaxial }: Bore, all: readonly Bore[], mount: Frame): boolean {
  if (coaxial || length(cross(group.direction, mount.z)) > 1e-3) return false;
  const isStepped = (b: Bore) => b.group.cylinders.some((c) => c !== b.run && c.concave && Math.abs(c.radius - b.run.radius) > 0.4);
  const own = isStepped({ group, run, coaxial });
  const alike = all.filter(
    (b) => b.group !== group && Math.abs(b.run.radius - run.radius) < 0.02 && length(cross(b.group.direction, mount.z)) < 1e-3 && isStepped(b) === own,
  );
  return alike.length >= (own ? 2 : 3);
}

// A smaller hole across a bore whose axis meets the bore's, as those of clamping screws do.
function hasClampingScrew(faces: readonly FaceLook[], bore: RoundGroup, run: RoundGroup['cylinders'][number]): boolean {
  return groupRound(faces).some((g) => {
    if (Math.abs(dot(g.direction, bore.direction)) > 0.5) return false;
    const normal = cross(g.direction, bore.direction);
    const apart = Math.abs(dot(subtract(g.origin, bore.origin), normal)) / length(normal);
    const at = dot(subtract(g.origin, bore.origin), bore.direction);
    return apart < 0.5 && at > run.from && at < run.to && g.cylinders.some((c) => c.concave && c.radius < run.radius);
  });
}

// A channel has some play for a metric shank; only one that fits closely is for an inch one beside it.
const channelSize = (gap: number): number | undefined =>
  SQUARE_SHANKS.find((s) => Math.abs(s - gap) < 0.25) ?? SQUARE_HEIGHTS.find((s) => gap - s > -0.02 && gap - s < 0.12);

// mm. As far as walls of a channel may miss each other; of a loose wall, which is set by screws.
const WALLS_MEET = 0.3;
const LOOSE_MEETS = 2;

// A wedge in a pocket makes it as wide as the shank: the pocket without it is no seat then. Holes for bolts may part a wall.
function bestChannels(body: BodyGeometry, walls: readonly BodyGeometry[]): FoundConnection[] {
  const tries = [
    () => channelsOf(body, walls, false, true),
    () => channelsOf(body, walls, true, true),
    () => channelsOf(body, []),
    () => channelsOf(body, [], true),
  ];
  for (const look of walls.length > 0 ? tries : tries.slice(2)) {
    const found = look();
    if (found.length > 0) return found;
  }
  return [];
}

/**
 * Two walls that look at each other a usual shank's height apart, and a third between them: a channel for a square shank. The second wall may be the side of a
 * loose body, a wedge or a plate, that stands in a wider pocket.
 */
function channelsOf(body: BodyGeometry, loose: readonly BodyGeometry[], apart = false, looseOnly = false): FoundConnection[] {
  const planes = joinedPlanes(body, apart)
    .filter((f) => f.area > 60)
    .sort((a, b) => b.area - a.area)
    .slice(0, 60);
  const wedges = loose.flatMap((b) => joinedPlanes(b)).filter((f) => f.area > 60);
  const found: FoundConnection[] = [];
  for (const a of planes)
    for (const b of looseOnly ? wedges : planes) {
      if (dot(a.outward, b.outward) > -0.99999) continue;
      const gap = -b.offset - a.offset;
      const size = channelSize(gap);
      const isLoose = b.body !== body;
      // Each pair once: the wall of the lower number first.
      if (size === undefined || gap <= 0 || (!isLoose && a.index > b.index)) continue;
      for (const back of planes) {
        if (Math.abs(dot(back.outward, a.outward)) > 1e-4) continue;
        const direction = cross(a.outward, back.outward);
        const [low, high] = extentOfPlane(back, [0, 0, 0], a.outward);
        if (Math.abs(low - a.offset) > WALLS_MEET || (isLoose ? high < -b.offset - WALLS_MEET : Math.abs(high + b.offset) > WALLS_MEET)) continue;
        const own = (isLoose ? [a, back] : [a, b, back]).map((f) => extentOfPlane(f, [0, 0, 0], direction));
        const [from, to] = [Math.max(...own.map((s) => s[0])), Math.min(...own.map((s) => s[1]))];
        const [near, far] = extentOfPlane(b, [0, 0, 0], direction);
        if (Math.min(far, to) - Math.max(near, from) < 0.5 * size) continue;
        // The walls rise from the back wall towards where the channel is open.
        const rises = [a, b].every((f) => {
          const [foot, top] = extentOfPlane(f, [0, 0, 0], back.outward);
          return Math.abs(foot - back.offset) < (f === b && isLoose ? LOOSE_MEETS : WALLS_MEET) && top - foot > 0.6 * size;
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
            confidence: isLoose ? 0.8 : 0.85,
            evidence: `walls ${a.index + 1} and ${b.index + 1} of ${isLoose ? `${body.id} and ${b.body.id}` : body.id}, ${gap.toFixed(2)} apart, back wall ${back.index + 1}`,
            faces: [a, b, back].flatMap((f) => f.parts.map(refOf)),
          });
        }
      }
    }
  return found;
}
