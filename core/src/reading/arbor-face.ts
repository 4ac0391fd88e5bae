// The seat of milling cutters on arbors (ISO 6462): a face about a spigot, and the bore that goes onto it.
import { dot, type Frame, fromZAndX, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { type FaceLook, faceRadius, lookAtFaces, type PlaneLook, planesOf, reachAlong, refOf, sayFace } from './face-table.ts';
import { tidyAcross } from './foot.ts';
import type { FoundConnection } from './found.ts';
import { plateOf } from './roles.ts';
import { type CylinderRun, groupRound, isAboutLine, onAxis, type RoundGroup } from './round-groups.ts';
import { radiusAbout } from './turned-faces.ts';

// Diameter and length of the spigot, mm.
const SPIGOTS: readonly (readonly [diameter: number, length: number])[] = [
  [16, 17],
  [22, 19],
  [27, 21],
  [32, 24],
  [40, 27],
  [50, 30],
  [60, 40],
];
// Times the spigot's radius that the face about it reaches: 32 wide for one of 16, 40 for 22, 58 for 32. A nose with a bore for a shank stands on a narrower one.
const LEAST_FACE = 1.6;
const spigotOf = (diameter: number) => SPIGOTS.find(([d]) => Math.abs(d - diameter) < 0.06);

/** The seats of an arbor: spigots of a standard size that end a body towards the work, with a face around their foot. `own` is the mount's frame. */
export function findSpigots(bodies: readonly BodyGeometry[], own: Frame): FoundConnection[] {
  const faces = bodies.flatMap(lookAtFaces);
  const reach = Math.max(...bodies.map((b) => reachAlong(b, own.z)[1]));
  return groupRound(faces).flatMap((group) => {
    if (!isAboutLine(group, { origin: own.origin, direction: own.z })) return [];
    const sense = dot(group.direction, own.z) > 0 ? 1 : -1;
    return group.cylinders.flatMap((run): FoundConnection[] => {
      const spigot = spigotOf(2 * run.radius);
      const long = run.to - run.from;
      if (run.concave || run.cover < 0.5 || !spigot || Math.abs(long - spigot[1]) > 4) return [];
      const [foot, end] = sense > 0 ? [run.from, run.to] : [-run.to, -run.from];
      const at = (f: { readonly centre: Vec3 }) => dot(subtract(f.centre, group.origin), own.z);
      if (reach - dot(group.origin, own.z) - end > 2.5) return [];
      const face = planesOf(faces).find(
        (p) => dot(p.outward, own.z) > 0.9999 && Math.abs(at(p) - foot) < 0.6 && faceRadius(p, group) > LEAST_FACE * run.radius,
      );
      if (!face) return [];
      return [
        {
          frame: fromZAndX(onAxis(group, sense * at(face)), own.z, own.x),
          connection: { standard: 'bolted face', size: spigot[0] },
          confidence: 0.85,
          evidence: `${sayFace(face)} about ${run.faces.map(sayFace).slice(0, 2).join(', ')}: a spigot of ${spigot[0]}, ${long.toFixed(1)} long`,
          faces: [face, ...run.faces].map(refOf),
        },
      ];
    });
  });
}

/** A milling cutter with a bore: its seat on the arbor, and which of its bodies cuts. */
export interface BoredCutter {
  readonly mount: FoundConnection;
  readonly cutting: { readonly body: BodyGeometry; readonly sure: number; readonly evidence: string } | undefined;
}

/** A short, wide body with a bore of a standard arbor, wider in front for the screw or with what cuts there; undefined where it is none. */
export function findBoredCutter(bodies: readonly BodyGeometry[], main: BodyGeometry): BoredCutter | undefined {
  const faces = lookAtFaces(main);
  for (const group of groupRound(faces).slice(0, 3)) {
    const bore = group.cylinders.find((c) => c.concave && c.cover > 0.6 && spigotOf(2 * c.radius) !== undefined && c.to - c.from > 0.4 * c.radius);
    if (!bore) continue;
    const spans = bodies.map((b) => reachAlong(b, group.direction));
    const [low, high] = [Math.min(...spans.map((s) => s[0])), Math.max(...spans.map((s) => s[1]))];
    const width = 2 * radiusAbout(main, group);
    if (high - low > 1.2 * width || width < 3.2 * bore.radius) continue;
    const seats = [1, -1].flatMap((sense) => {
      const seat = seatFace(faces, group, bore, sense);
      return seat ? [{ seat, sense }] : [];
    });
    const [found] = seats
      .map(({ seat, sense }) => ({ seat, work: scale(group.direction, -sense), ...cuttingSide(bodies, main, group, bore, -sense) }))
      .sort((a, b) => b.sure - a.sure);
    if (!found || found.sure < 0.5) continue;
    const at = dot(subtract(found.seat.centre, group.origin), group.direction);
    const size = spigotOf(2 * bore.radius)?.[0] ?? 0;
    return {
      mount: {
        frame: fromZAndX(onAxis(group, at), found.work, tidyAcross(found.work)),
        connection: { standard: 'bolted face', size },
        confidence: found.sure,
        evidence: `${sayFace(found.seat)} about a bore of ${size}; ${found.evidence}`,
        faces: [found.seat, ...bore.faces].map(refOf),
      },
      cutting: cuttingBody(bodies, main, found.work),
    };
  }
  return undefined;
}

// The plane across the axis where the bore opens, at an end of the body.
function seatFace(faces: readonly FaceLook[], group: RoundGroup, bore: CylinderRun, sense: number): PlaneLook | undefined {
  const end = sense > 0 ? bore.to : bore.from;
  const [face] = planesOf(faces)
    .filter((p) => sense * dot(p.outward, group.direction) > 0.9999 && Math.abs(dot(subtract(p.centre, group.origin), group.direction) - end) < 2.5)
    .sort((a, b) => b.area - a.area);
  if (!face || faceRadius(face, group) < 1.3 * bore.radius) return undefined;
  const [low, high] = reachAlong(face.body, group.direction).map((v) => v - dot(group.origin, group.direction));
  return Math.abs((sense > 0 ? high : low) - dot(subtract(face.centre, group.origin), group.direction)) < 1 ? face : undefined;
}

// How sure it is that a side is where it cuts: the bore is wider there for the screw, and the tool is.
function cuttingSide(
  bodies: readonly BodyGeometry[],
  main: BodyGeometry,
  group: RoundGroup,
  bore: CylinderRun,
  sense: number,
): { sure: number; evidence: string } {
  const beyond = (c: CylinderRun) => (sense > 0 ? c.from >= bore.to - 1 : c.to <= bore.from + 1);
  const counterbore = group.cylinders.some((c) => c.concave && c.radius > 1.15 * bore.radius && beyond(c));
  const others = bodies.some((b) => b !== main && sense * dot(subtract(b.centroid, main.centroid), group.direction) > 0);
  const sure = 0.35 + (counterbore ? 0.4 : 0) + (others ? 0.13 : 0);
  return { sure, evidence: counterbore ? 'wider in front for its screw' : 'its bodies lie in front' };
}

// Plates as inserts are, or a ring in front.
function cuttingBody(bodies: readonly BodyGeometry[], main: BodyGeometry, work: Vec3): BoredCutter['cutting'] {
  const others = bodies.filter((b) => b !== main).sort((a, b) => reachAlong(b, work)[1] - reachAlong(a, work)[1]);
  const plate = others.find((b) => plateOf(b) !== undefined);
  const front = plate ?? others[0];
  if (!front || reachAlong(front, work)[1] < reachAlong(main, work)[1] - 0.5) return undefined;
  return { body: front, sure: plate ? 0.8 : 0.75, evidence: plate ? 'a plate in front, as inserts are' : 'in front of the body' };
}
