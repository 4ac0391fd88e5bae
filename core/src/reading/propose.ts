import { addScaled, cross, dot, type Frame, fromZAndX, length, scale, subtract, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { colletClamps, type ConnectionSize } from '#core/standards';
import { type BoredCutter, findBoredCutter } from './arbor-face.ts';
import { findAxisEnd, findDrillPoint } from './drill-point.ts';
import { across, lookAtFaces, reachAlong } from './face-table.ts';
import { findSplit, type FoundSplit } from './find-split.ts';
import { flangeOf } from './flange.ts';
import { findFoot, tidyAcross } from './foot.ts';
import { findLoneInsert, type LoneInsert } from './lone-insert.ts';
import { proposeRoles, type RoleProposal } from './roles.ts';
import { findSeats } from './seats.ts';
import type { FoundConnection, ReadingWarning, Shank } from './found.ts';
import type { ReadingKind, ReadKind } from './kinds.ts';
import { findShanks } from './shanks.ts';
import { apexOf } from './corners.ts';
import { findCorner, type FoundCorner, type FoundTip, readTips } from './tips.ts';
import { findStackedCutter, type StackedCutter } from './stacked-cutter.ts';
import { suspectUnit } from './unit-suspicion.ts';

/** What could be read from a model: proposals with evidence and confidence (0 to 1), in the coordinates of the file, mm and degrees. */
export interface Reading {
  readonly kind: ReadKind;
  readonly roles: readonly RoleProposal[];
  readonly axis?: { readonly origin: Vec3; readonly direction: Vec3; readonly confidence: number };
  readonly mount?: FoundConnection;
  /** What else the mount could be, the surest first. */
  readonly otherMounts: readonly FoundConnection[];
  readonly seats: readonly FoundConnection[];
  readonly tips: readonly FoundTip[];
  /** What of a one-solid cutter cuts, as a stretch along the mount's Z. */
  readonly splits?: readonly FoundSplit[];
  /** The cutting part is no body of its own: the tips are on the tool's one solid. */
  readonly isFused: boolean;
  readonly warnings: readonly ReadingWarning[];
}

/** Reads a model: kind, roles, axis, mount, seats and tips. `kind` says what it is where that is known. */
export function proposeReading(model: Model, kind: ReadingKind = 'auto'): Reading {
  const insert = kind === 'auto' ? findLoneInsert(model) : undefined;
  if (insert) return readInsert(insert);
  const warnings: ReadingWarning[] = [];
  const heaviest = mainBody(model);
  const stacked = kind === 'auto' || kind === 'rotating' ? stackedOf(model, heaviest.shanks[0]) : undefined;
  const { main, shanks } = stacked ? { main: stacked.held, shanks: findShanks([stacked.held]) } : heaviest;
  const bored = isNoShank(shanks[0]) && (kind === 'auto' || kind === 'rotating') ? findBoredCutter(model.bodies, heaviest.main) : undefined;
  if (bored) return readBored(model, heaviest.main, bored);
  const couldTurn = !stacked && shanks[0] && ['square', 'cylindrical'].includes(shanks[0].connection.standard) && kind !== 'rotating' && kind !== 'block';
  const corner = couldTurn ? findCorner(model, main, shanks[0]) : undefined;
  const cutting = stacked
    ? { body: stacked.cutting, sure: stacked.confidence, evidence: stacked.evidence }
    : corner && !corner.isFused
      ? { body: corner.corner.body, sure: Math.max(0.6, corner.sure), evidence: `bears the cutting corner: ${corner.evidence}` }
      : undefined;
  const roles = proposeRoles(model, main, cutting, shanks[0]);
  const isRole = (b: BodyGeometry, role: string) => roles.find((r) => r.body === b.id)?.role === role;
  const tool = model.bodies.filter((b) => isRole(b, 'tool body'));
  const none = { roles, otherMounts: [], tips: [], isFused: false, warnings };
  if (shanks.length === 0) {
    const foot = findFoot(main);
    if (foot) return { ...none, kind: kind === 'auto' ? 'block' : kind, mount: foot, axis: axisOf(foot), seats: findSeats(tool, foot.frame, true) };
    warnings.push({ code: 'no-shank', message: 'No shank, taper or foot of a known standard was found; mark the mount by hand.' });
    const unit = suspectUnit(model);
    if (unit) warnings.push(unit);
    return { ...none, kind: kind === 'auto' ? 'rotating' : kind, seats: [] };
  }
  const shank = shanks[0];
  const doubts = shanks
    .slice(1)
    .filter(
      (s) => s.confidence > shank.confidence - 0.1 && (s.connection.standard !== shank.connection.standard || s.connection.size !== shank.connection.size),
    );
  const mountOf = (s: Shank): { mount: FoundConnection; tips: FoundTip[] } =>
    corner && (s.sides || s.connection.standard === 'cylindrical') ? readTurning(s, corner, tool) : { mount: readHolder(s, tool, stacked), tips: [] };
  const found = mountOf(shank);
  const { mount } = found;
  if (doubts.length > 0)
    warnings.push({
      code: 'two-shanks',
      message: `The mount could also be ${doubts
        .slice(0, 2)
        .map((d) => `${d.connection.standard} ${d.connection.size} (${d.evidence})`)
        .join(' or ')}. Which one goes into the machine decides it.`,
    });
  if (corner && corner.sure < 0.75)
    warnings.push({ code: 'tip-unsure', message: 'Another rounded corner stands out nearly as far; pick the cutting corner if the proposed one is wrong.' });
  const isBlock = shank.connection.standard === 'VDI';
  const seats = corner ? [] : findSeats(tool, mount.frame, isBlock).map((seat) => closingAs(seat, mount.connection));
  const point = !corner && seats.length === 0 && !isBlock ? findDrillPoint(stacked?.cutting ?? main, mount.frame) : undefined;
  const end = stacked && !point && seats.length === 0 ? findAxisEnd(stacked.cutting, mount.frame, 0.95 * mount.confidence) : undefined;
  const tips = point ? [point] : end ? [end] : found.tips;
  const guessed: ReadKind = corner ? turningKind(tips[0], shank) : isBlock ? 'block' : guessRotating(shank, seats, tool, mount.frame);
  const split = guessed === 'cutter' && !stacked && roles.every((r) => r.role !== 'cutting') ? findSplit(main, mount.frame) : undefined;
  const unit = suspectUnit(model, shank);
  if (unit) warnings.push(unit);
  return {
    kind: kind === 'auto' ? guessed : kind,
    roles,
    axis: { origin: shank.origin, direction: mount.frame.z, confidence: shank.confidence },
    mount,
    otherMounts: doubts.slice(0, 3).map((s) => mountOf(s).mount),
    seats,
    tips,
    ...(split ? { splits: [split] } : {}),
    isFused: corner?.isFused ?? (point !== undefined && !stacked),
    warnings,
  };
}

function readInsert({ body, mount, tips, confidence, evidence }: LoneInsert): Reading {
  return {
    kind: 'insert',
    roles: [{ body: body.id, role: 'cutting', confidence, evidence }],
    ...(mount ? { mount } : {}),
    otherMounts: [],
    seats: [],
    tips,
    isFused: false,
    warnings: [],
  };
}

// The body that the tool is built on: the heaviest, or another heavy one that alone has a shank (a nut may outweigh its chuck).
function mainBody(model: Model): { main: BodyGeometry; shanks: Shank[] } {
  const byVolume = [...model.bodies].sort((a, b) => b.volume - a.volume);
  const heavy = byVolume.filter((b) => b.volume > 0.3 * byVolume[0].volume).map((main) => ({ main, shanks: findShanks([main]) }));
  const sure = (h: (typeof heavy)[number]) => h.shanks[0]?.confidence ?? 0;
  return heavy.find((h) => h !== heavy[0] && sure(h) > 0.85 && sure(h) > sure(heavy[0]) + 0.2) ?? heavy[0];
}

// A cylinder that is shorter than wide is no shank that anything holds.
const isNoShank = (shank: Shank | undefined): boolean =>
  !shank || (shank.connection.standard === 'cylindrical' && shank.to - shank.from < Number(shank.connection.size));

function readBored(model: Model, main: BodyGeometry, { mount, cutting }: BoredCutter): Reading {
  const roles = proposeRoles(model, main, cutting);
  return { kind: 'cutter', roles, axis: axisOf(mount), mount, otherMounts: [], seats: [], tips: [], isFused: false, warnings: [] };
}

// A cutter in several solids is held by its round shank; tapers and squares tell more than its ends.
const stackedOf = (model: Model, shank: Shank | undefined): StackedCutter | undefined =>
  shank?.connection.standard === 'cylindrical' ? findStackedCutter(model, shank) : undefined;

const axisOf = (c: FoundConnection) => ({ origin: c.frame.origin, direction: c.frame.z, confidence: c.confidence });

function turningKind(tip: FoundTip, shank: Shank): ReadKind {
  if (tip.kind === 'groove' || tip.kind === 'full radius') return 'grooving';
  const isProfile =
    [60, 55].some((a) => Math.abs(tip.includedAngle - a) < 0.6) &&
    tip.noseRadius <= 0.3 &&
    Math.abs(tip.enteringAngle - (180 - tip.includedAngleInPlane) / 2) < 1;
  return isProfile ? 'threading' : shank.sides ? 'turning' : 'boring';
}

// The bore of a collet closes on its shank.
function closingAs(seat: FoundConnection, mount: ConnectionSize): FoundConnection {
  const { standard, size } = seat.connection;
  if (mount.standard !== 'ER' || standard !== 'cylindrical') return seat;
  return { ...seat, connection: { standard, size, clamps: colletClamps(Number(mount.size), Number(size)) } };
}

// A cutter has no seat; a sleeve or an adapter is short beyond its mount, a holder is not.
function guessRotating(shank: Shank, seats: readonly FoundConnection[], tool: readonly BodyGeometry[], mount: Frame): ReadKind {
  if (seats.length === 0) return shank.connection.standard === 'cylindrical' ? 'cutter' : 'rotating';
  if (shank.connection.standard === 'ER' || seats[0].connection.standard === 'bolted face') return 'rotating';
  if (shank.connection.standard !== 'cylindrical') {
    // Beyond the flange a holder has a neck; an adapter's bore begins soon.
    const beyond = dot(subtract(seats[0].frame.origin, mount.origin), mount.z);
    return seats[0].connection.standard === 'cylindrical' && beyond < 55 && Number(seats[0].connection.size) >= 16 ? 'adapter' : 'rotating';
  }
  const reach = Math.max(...tool.map((b) => reachAlong(b, mount.z)[1])) - dot(mount.origin, mount.z);
  return seats[0].connection.standard === 'cylindrical' && reach < 30 ? 'adapter' : 'rotating';
}

// Turning tools: the tip tells which way the work lies.
function readTurning(shank: Shank, found: FoundCorner, tool: readonly BodyGeometry[]): { mount: FoundConnection; tips: FoundTip[] } {
  const { corner } = found;
  const apex = apexOf(corner);
  const fromAxis = subtract(apex, shank.origin);
  const z = scale(shank.direction, dot(fromAxis, shank.direction) > (shank.from + shank.to) / 2 ? 1 : -1);
  const rear = Math.min(...tool.map((b) => reachAlong(b, z)[0]));
  const aside = across(fromAxis, z);
  let frame: Frame;
  let middle = 0;
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
  } else {
    const byRake = cross(corner.rake, z);
    const sided = scale(byRake, dot(byRake, aside) < 0 ? -1 : 1);
    // A tilted rake face does not tell the turning plane; the tip on it does. A flat one does, also where the tip is off the centre.
    const isFlat = Math.abs(dot(corner.rake, z)) < 1e-3;
    const x = !isFlat && length(aside) > 0.05 ? aside : sided;
    frame = fromZAndX(addScaled(shank.origin, z, rear - dot(shank.origin, z)), z, x);
  }
  const tips = readTips(found, frame, shank.sides ? 'square' : 'round', middle);
  return {
    mount: {
      frame,
      connection: shank.connection,
      confidence: shank.confidence * (found.sure > 0.75 ? 1 : 0.9),
      evidence: `${shank.evidence}; rear face at the end away from the tip`,
      faces: shank.faces,
    },
    tips,
  };
}

// Holders, adapters, cutters and blocks: the taper, the flange, or where the cutting end is, tells which way the work lies.
function readHolder(shank: Shank, tool: readonly BodyGeometry[], stacked: StackedCutter | undefined): FoundConnection {
  const place = (z: Vec3, position: number, confidence: number, evidence: string, faces = shank.faces): FoundConnection => ({
    frame: fromZAndX(addScaled(shank.origin, z, position), z, shank.index ?? tidyAcross(z)),
    connection: shank.connection,
    confidence,
    evidence: `${shank.evidence}; ${evidence}`,
    faces,
  });
  if (shank.work && shank.plane !== undefined) {
    const sense = dot(shank.work, shank.direction) > 0 ? 1 : -1;
    return place(shank.work, shank.plane * sense, shank.confidence, shank.connection.standard === 'PSC' ? 'at the flange' : 'at the gauge diameter');
  }
  const rearOf = (z: Vec3) => Math.min(...tool.map((b) => reachAlong(b, z)[0])) - dot(shank.origin, z);
  if (stacked) {
    const flange = flangeOf(tool, shank, stacked.work);
    // A head as wide as it cuts is no flange that it is pushed in to.
    const isCollar = flange && Math.abs(flange.reach - stacked.radius) > 0.02 * stacked.radius;
    const sure = shank.confidence * stacked.confidence;
    if (isCollar) return place(stacked.work, flange.position, sure, flange.evidence, [...shank.faces, ...flange.faces]);
    return place(stacked.work, rearOf(stacked.work), Math.max(sure, 0.97 * stacked.confidence), `rear end, away from what cuts: ${stacked.evidence}`);
  }
  const options = (shank.work ? [shank.work] : [shank.direction, scale(shank.direction, -1)]).map((z) => ({ z, flange: flangeOf(tool, shank, z) }));
  options.sort((a, b) => (b.flange?.area ?? 0) - (a.flange?.area ?? 0));
  const [best, other] = options;
  if (best.flange) {
    const clear = !other?.flange || best.flange.area > 1.5 * other.flange.area;
    return place(best.z, best.flange.position, shank.confidence * (clear || shank.work ? 1 : 0.8), best.flange.evidence, [
      ...shank.faces,
      ...best.flange.faces,
    ]);
  }
  // A plain round piece: the cutting end is where the faces are that are neither round about the axis nor flat across it.
  const ends = shapedSide(shank, tool);
  const z = scale(shank.direction, ends.sense);
  return place(
    z,
    rearOf(z),
    ends.sure ? Math.max(0.86, shank.confidence) : 0.6 * shank.confidence,
    ends.sure ? 'rear end, away from the flutes' : 'no flange found, rear end taken',
  );
}

// Which way along the shank the shaped faces lie: those that are not of revolution about its axis.
function shapedSide(shank: Shank, tool: readonly BodyGeometry[]): { sense: 1 | -1; sure: boolean } {
  const middle = tool.map((b) => reachAlong(b, shank.direction)).reduce((s, [a, b]) => s + (a + b) / 2, 0) / tool.length;
  let [moment, area] = [0, 0];
  for (const f of tool.flatMap(lookAtFaces)) {
    const s = f.surface;
    const isTurned =
      (s.kind === 'plane' && Math.abs(dot(s.normal, shank.direction)) > 0.999) ||
      ((s.kind === 'cylinder' || s.kind === 'cone' || s.kind === 'torus') &&
        length(cross(s.axis, shank.direction)) < 1e-3 &&
        length(across(subtract(s.kind === 'torus' ? s.centre : s.origin, shank.origin), shank.direction)) < 0.01);
    if (isTurned) continue;
    moment += f.area * (dot(f.centre, shank.direction) - middle);
    area += f.area;
  }
  const whole = Math.max(...tool.map((b) => reachAlong(b, shank.direction)).map(([a, b]) => b - a));
  const lean = area > 0 ? moment / area / whole : 0;
  return { sense: lean < 0 ? -1 : 1, sure: area > 20 && Math.abs(lean) > 0.08 };
}
