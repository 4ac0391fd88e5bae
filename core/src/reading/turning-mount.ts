import { addScaled, cross, dot, type Frame, fromZAndX, length, scale, subtract, type Vec3, yOf } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import type { ConnectionSize } from '#core/standards';
import { apexOf } from './corner.ts';
import { across, lookAtFaces, reachAlong } from './face-table.ts';
import type { FoundConnection, Shank } from './found.ts';
import { readHolder } from './holder-mount.ts';
import type { ReadKind } from './kinds.ts';
import { isAlike, plateOf } from './roles.ts';
import { groupRound, isAboutLine } from './round-groups.ts';
import { nearestHeight } from './shanks.ts';
import { findCorner, type FoundCorner, type FoundTip, type Pose, poseOfHead, readTips } from './tips.ts';

const TURNING_TAPERS = ['PSC', 'HSK-A'];
/** Whether a turning tool could have it: square, round, or a taper of heads. */
export const isTurningShank = (s: Shank): boolean => s.sides !== undefined || ['cylindrical', ...TURNING_TAPERS].includes(s.connection.standard);

/** The corner of a turning tool. What sits on a taper turns if one plate by itself bears it; several alike mill. */
export function turningCorner(model: Model, main: BodyGeometry, shank: Shank): FoundCorner | undefined {
  if (!isTurningShank(shank)) return undefined;
  const corner = findCorner(model, main, shank);
  if (corner?.isFused && (hasWideBore(main, shank) || isBallEnd(corner, shank))) return undefined;
  if (!corner || !TURNING_TAPERS.includes(shank.connection.standard)) return corner;
  const { body } = corner.corner;
  const isOneOfMany = model.bodies.some((b) => b !== body && isAlike(b, body));
  return corner.isFused || isOneOfMany || plateOf(body) === undefined ? undefined : corner;
}

// Of a nose's radius, how far its centre may lie off the axis of a ball end; and of the shank's diameter, the least such radius.
const ON_AXIS = 0.05;
const LEAST_BALL = 0.1;
// A nose about a place on the axis turns nothing: a ball end, whose profile is a face's border where the flutes run out.
function isBallEnd({ corner: { centre, radius } }: FoundCorner, { connection, origin, direction }: Shank): boolean {
  if (connection.standard !== 'cylindrical' || radius < LEAST_BALL * Number(connection.size)) return false;
  return length(across(subtract(centre, origin), direction)) < ON_AXIS * radius;
}

// Of a shank's radius, from which a bore through it holds something: coolant's are narrower.
const WIDE_BORE = 0.4;
function hasWideBore(main: BodyGeometry, shank: Shank): boolean {
  if (shank.connection.standard !== 'cylindrical') return false;
  return groupRound(lookAtFaces(main)).some(
    (g) =>
      isAboutLine(g, shank) &&
      g.cylinders.some((c) => c.concave && c.cover > 0.5 && c.radius > (WIDE_BORE / 2) * Number(shank.connection.size) && c.to - c.from > 2 * c.radius),
  );
}

/** How the tool of a shank is taken to stand. */
export const poseIn = (shank: Shank, { corner }: FoundCorner, mount: Frame): Pose =>
  shank.sides ? 'square' : shank.connection.standard === 'cylindrical' ? 'round' : poseOfHead(corner, mount);

/** What a turning tool is called, by its edge. */
export function turningKind(tip: FoundTip, pose: Pose): ReadKind {
  if (tip.kind === 'groove' || tip.kind === 'full radius') return 'grooving';
  const isProfile =
    [60, 55].some((a) => Math.abs(tip.includedAngle - a) < 0.6) &&
    tip.noseRadius <= 0.3 &&
    Math.abs(tip.enteringAngle - (180 - tip.includedAngleInPlane) / 2) < 1;
  return isProfile ? 'threading' : pose === 'square' ? 'turning' : 'boring';
}

/** Mount and tips of a turning tool: the tip tells which way the work lies. */
export function readTurning(shank: Shank, found: FoundCorner, tool: readonly BodyGeometry[]): { mount: FoundConnection; tips: FoundTip[] } {
  const { corner } = found;
  const apex = apexOf(corner);
  const fromAxis = subtract(apex, shank.origin);
  const z = scale(shank.direction, dot(fromAxis, shank.direction) > (shank.from + shank.to) / 2 ? 1 : -1);
  const rear = Math.min(...tool.map((b) => reachAlong(b, z)[0]));
  const aside = across(fromAxis, z);
  let frame: Frame;
  let middle = 0;
  let { connection } = shank;
  if (shank.sides) {
    // X: the side of the square that is most square to the rake, towards the tip; Y is then along the rake.
    const [one, two] = [...shank.sides].sort((a, b) => Math.abs(dot(a.outward, corner.rake)) - Math.abs(dot(b.outward, corner.rake)));
    const x = dot(one.outward, aside) > dot(two.outward, aside) ? one.outward : two.outward;
    const back = x === one.outward ? two : one;
    const topSide = [...shank.sides].sort((a, b) => dot(b.outward, corner.rake) - dot(a.outward, corner.rake))[0];
    // Back side, rake-side face and rear face meet in the origin (ISO 5608: WF from the back side, HF at the top of the shank).
    const at = addScaled(addScaled(scale(z, rear), x, -back.offset), topSide.outward, topSide.offset);
    frame = fromZAndX(at, z, x);
    middle = (one.offset + two.offset) / 2;
    connection = squareOf(shank.sides, frame);
  } else {
    const byRake = cross(corner.rake, z);
    const sided = scale(byRake, dot(byRake, aside) < 0 ? -1 : 1);
    // A tilted rake face does not tell the turning plane; the tip on it does. A flat one does, also where the tip is off the centre.
    const isFlat = Math.abs(dot(corner.rake, z)) < 1e-3;
    const x = !isFlat && length(aside) > 0.05 ? aside : sided;
    if (shank.work) {
      // A taper tells its own plane; about it the tip does.
      const own = readHolder(shank, tool);
      const mount = { ...own, frame: fromZAndX(own.frame.origin, own.frame.z, x), confidence: own.confidence * (found.sure > 0.75 ? 1 : 0.9), tellsX: true };
      return { mount, tips: readTips(found, mount.frame, poseIn(shank, found, mount.frame), 0) };
    }
    frame = fromZAndX(addScaled(shank.origin, z, rear - dot(shank.origin, z)), z, x);
  }
  const mount: FoundConnection = {
    frame,
    connection,
    confidence: shank.confidence * (found.sure > 0.75 ? 1 : 0.9),
    evidence: `${shank.evidence}; rear face at the end away from the tip`,
    faces: shank.faces,
    tellsX: true,
  };
  return { mount, tips: readTips(found, frame, poseIn(shank, found, frame), middle) };
}

// Height times width: along the mount's Y and X.
function squareOf(sides: NonNullable<Shank['sides']>, mount: Frame): ConnectionSize {
  const wide = (way: Vec3) => sides.filter((f) => Math.abs(dot(f.outward, way)) > 0.9).reduce((sum, f) => sum + f.offset, 0);
  return { standard: 'square', size: [yOf(mount), mount.x].map((way) => nearestHeight(wide(way))).join('x') };
}
