import { add, addScaled, cross, dot, fromZAndX, length, scale, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { across, type FaceLook, joinedPlanes, lookAtFaces, type PlaneLook, planesOf, reachAlong, refOf, sayFace } from './face-table.ts';
import { roundness } from './roles.ts';
import { extentOfFace, groupRound, onAxis, type RoundGroup } from './round-groups.ts';
import type { FoundConnection } from './found.ts';

/**
 * A flat foot of a block: a large plane with bolt holes through it. Which of two opposite sides it is, is told by what goes on into the machine (`others`: bolts
 * that stand out, a key), by a boss or a key's slot, and by the heads of its bolts, which lie on the other side. Its mount is a bolted face.
 */
export function findFoot(body: BodyGeometry, others: readonly BodyGeometry[] = []): FoundConnection | undefined {
  const faces = lookAtFaces(body);
  const groups = groupRound(faces);
  // A key's slot parts it.
  const planes = joinedPlanes(body, true)
    .sort((a, b) => b.area - a.area)
    .slice(0, 6);
  const found = planes.flatMap((plane) => {
    const along = groups.filter((g) => length(cross(g.direction, plane.outward)) < 1e-4);
    const at = (g: RoundGroup) => plane.offset - dot(g.origin, plane.outward);
    const sense = (g: RoundGroup) => dot(g.direction, plane.outward);
    // Bolt holes begin at the plane; a counterbore there means that the heads lie on this side.
    const holes = along.flatMap((g) =>
      g.cylinders
        .filter((c) => c.concave && c.radius < 12 && c.radius > 1.5 && Math.min(Math.abs(c.from * sense(g) - at(g)), Math.abs(c.to * sense(g) - at(g))) < 0.6)
        .map((c) => ({ g, c })),
    );
    if (holes.length < 3) return [];
    const boss = along
      .flatMap((g) => g.cylinders.filter((c) => !c.concave && c.radius > 7 && c.cover > 0.7).map((c) => ({ g, c })))
      .find(({ g, c }) => {
        const [near, far] = [c.from * sense(g), c.to * sense(g)].sort((a, b) => a - b);
        return near > at(g) - 1.5 && far > at(g) + 0.8;
      });
    // One wider at its mouth may be a coolant hole with its ring.
    const stepped = holes.filter(({ g, c }) => g.cylinders.some((o) => o !== c && o.concave && o.radius < c.radius));
    const headsHere = stepped.length > 1 && 2 * stepped.length > holes.length;
    const out = others.filter((b) => standsOut(b, plane));
    const bolts = out.filter((b) => roundness(b) > 0.6);
    const keys = out.filter((b) => roundness(b) <= 0.6);
    const slot = keySlot(faces, plane);
    // Those of one size that are most; a pin's or coolant's are others.
    const alike = holes.map(({ c }) => holes.filter((o) => Math.abs(o.c.radius - c.radius) < 0.05)).reduce((a, b) => (b.length > a.length ? b : a));
    const middle = alike.reduce<Vec3>((sum, { g }) => add(sum, scale(onAxis(g, 0), 1 / alike.length)), [0, 0, 0]);
    const centre = boss && !headsHere ? boss.g.origin : middle;
    const origin = addScaled(across(centre, plane.outward), plane.outward, plane.offset);
    const signs = [
      ...(boss ? [`a boss of diameter ${(2 * boss.c.radius).toFixed(2)}`] : []),
      ...(bolts.length > 1 ? [`${bolts.length} bolts that stand out`] : []),
      ...(keys.length > 0 ? ['a key that stands out'] : slot ? ['a slot for a key'] : []),
    ];
    const told = (boss ? 0.16 : 0) + (bolts.length > 1 ? 0.2 : 0) + (keys.length > 0 || slot ? 0.12 : 0);
    const confidence = headsHere ? Math.min(0.6, 0.35 + told / 2) : Math.min(0.93, 0.72 + told);
    return [
      {
        frame: fromZAndX(origin, scale(plane.outward, -1), tidyAcross(plane.outward)),
        connection: { standard: 'bolted face' as const, size: '' },
        confidence,
        evidence: `${sayFace(plane)}: the foot, with ${holes.length} bolt holes${signs.length > 0 ? `, ${signs.join(', ')}` : ''}${headsHere ? '; but heads of bolts lie on this side' : ''}`,
        faces: [...plane.parts.map(refOf), ...holes.flatMap(({ c }) => c.faces.map(refOf))],
      },
    ];
  });
  return found.sort((a, b) => b.confidence - a.confidence)[0];
}

// mm. What goes on into the machine stands out by more, and is held on this side of the plane.
const STANDS_OUT = 1.5;
function standsOut(body: BodyGeometry, plane: PlaneLook): boolean {
  const [low, high] = reachAlong(body, plane.outward);
  return high > plane.offset + STANDS_OUT && low < plane.offset - STANDS_OUT;
}

// Two walls across a plane that begin at it and look at each other, a key's width apart, with a floor between them.
function keySlot(faces: readonly FaceLook[], plane: PlaneLook): boolean {
  const walls = planesOf(faces).filter((f) => {
    if (Math.abs(dot(f.outward, plane.outward)) > 1e-4) return false;
    const [low, high] = extentOfFace(f, [0, 0, 0], plane.outward);
    return Math.abs(high - plane.offset) < 0.6 && high - low > 1 && high - low < 12;
  });
  return walls.some((a) =>
    walls.some((b) => {
      const gap = -b.offset - a.offset;
      return dot(a.outward, b.outward) < -0.99999 && gap > 4 && gap < 26;
    }),
  );
}

const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** X where nothing tells it: the file's own axis that is most square to Z. */
export const tidyAcross = (z: Vec3): Vec3 => AXES.reduce((a, b) => (Math.abs(dot(a, z)) <= Math.abs(dot(b, z)) + 1e-9 ? a : b));
