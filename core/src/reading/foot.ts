import { add, addScaled, cross, dot, fromZAndX, length, scale, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { across, lookAtFaces, planesOf, refOf, sayFace } from './face-table.ts';
import { groupRound, onAxis, type RoundGroup } from './round-groups.ts';
import type { FoundConnection } from './found.ts';

/** A flat foot of a block: a large plane with bolt holes through it, often with a boss that centres it. Its mount is a bolted face. */
export function findFoot(body: BodyGeometry): FoundConnection | undefined {
  const faces = lookAtFaces(body);
  const groups = groupRound(faces);
  const planes = planesOf(faces)
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
    const headsHere = holes.some(({ g, c }) => g.cylinders.some((o) => o !== c && o.concave && o.radius < c.radius));
    const middle = holes.reduce<Vec3>((sum, { g }) => add(sum, scale(onAxis(g, 0), 1 / holes.length)), [0, 0, 0]);
    const centre = boss ? boss.g.origin : middle;
    const origin = addScaled(across(centre, plane.outward), plane.outward, plane.offset);
    const confidence = boss ? 0.88 : headsHere ? 0.35 : 0.72;
    return [
      {
        frame: fromZAndX(origin, scale(plane.outward, -1), tidyAcross(plane.outward)),
        connection: { standard: 'bolted face' as const, size: '' },
        confidence,
        evidence: `${sayFace(plane)}: the foot, with ${holes.length} bolt holes${boss ? ` and a boss of diameter ${(2 * boss.c.radius).toFixed(2)}` : ''}`,
        faces: [refOf(plane), ...holes.flatMap(({ c }) => c.faces.map(refOf))],
      },
    ];
  });
  return found.sort((a, b) => b.confidence - a.confidence)[0];
}

const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

/** X where nothing tells it: the file's own axis that is most square to Z. */
export const tidyAcross = (z: Vec3): Vec3 => AXES.reduce((a, b) => (Math.abs(dot(a, z)) <= Math.abs(dot(b, z)) + 1e-9 ? a : b));
