import { dot, type Frame, fromZAndX, length, subtract } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { colletClamps, type ConnectionSize } from '#core/standards';
import { type BoredCutter, findBoredCutter } from './arbor-face.ts';
import { LEAST_ADAPTER } from './component-kind.ts';
import { apexOf } from './corner.ts';
import { findAxisEnd, findDrillPoint } from './drill-point.ts';
import { across, reachAlong } from './face-table.ts';
import { findSplit } from './find-split.ts';
import { findFoot } from './foot.ts';
import type { FoundConnection, ReadingWarning, Shank } from './found.ts';
import { readHolder } from './holder-mount.ts';
import { cornerOfRing, findInsertsAbout, type InsertsAbout } from './inserts-about.ts';
import type { ReadingKind, ReadKind } from './kinds.ts';
import { findLoneInsert, type LoneInsert, mayBeInsert } from './lone-insert.ts';
import { withNamedPlacements } from './named-placements.ts';
import type { Reading } from './reading.ts';
import { proposeRoles, type RoleProposal, roundness } from './roles.ts';
import { findSeats } from './seats.ts';
import { findShanks } from './shanks.ts';
import { findStackedCutter, type StackedCutter } from './stacked-cutter.ts';
import { type FoundTip, readTips } from './tips.ts';
import { isTurningShank, poseIn, readTurning, turningCorner, turningKind } from './turning-mount.ts';
import { suspectUnit } from './unit-suspicion.ts';

/** Reads a model: kind, roles, axis, mount, seats and tips. `kind` says what it is where that is known. */
export const proposeReading = (model: Model, kind: ReadingKind = 'auto'): Reading => withNamedPlacements(readGeometry(model, kind), model);

function readGeometry(model: Model, kind: ReadingKind): Reading {
  const insert = kind === 'auto' ? findLoneInsert(model) : undefined;
  if (insert) return readInsert(insert);
  const warnings: ReadingWarning[] = [];
  const heaviest = mainBody(model);
  const stacked = kind === 'auto' || kind === 'rotating' ? stackedOf(model, heaviest.shanks[0]) : undefined;
  const { main, shanks } = stacked ? { main: stacked.held, shanks: findShanks([stacked.held]) } : heaviest;
  const bored = isNoShank(shanks[0]) && (kind === 'auto' || kind === 'rotating') ? findBoredCutter(model.bodies, heaviest.main) : undefined;
  if (bored) return readBored(model, heaviest.main, bored);
  const ring = !stacked && shanks[0] && (kind === 'auto' || kind === 'rotating') ? findInsertsAbout(model, main, shanks[0]) : undefined;
  if (ring) return readIndexable(model, main, shanks[0], ring);
  const corner = !stacked && shanks[0] && kind !== 'rotating' && kind !== 'block' ? turningCorner(model, main, shanks[0]) : undefined;
  const cutting = stacked
    ? { body: stacked.cutting, sure: stacked.confidence, evidence: stacked.evidence }
    : corner && !corner.isFused
      ? { body: corner.corner.body, sure: Math.max(0.6, corner.sure), evidence: `bears the cutting corner: ${corner.evidence}` }
      : undefined;
  const roles = proposeRoles(model, main, cutting, shanks[0]);
  const isRole = (b: BodyGeometry, role: string) => roles.find((r) => r.body === b.id)?.role === role;
  const tool = model.bodies.filter((b) => isRole(b, 'tool body'));
  // Wedges and plates that may close a pocket.
  const walls = model.bodies.filter((b) => b !== main && roundness(b) < 0.6);
  const none = { roles, otherMounts: [], tips: [], isFused: false, warnings };
  if (shanks.length === 0) {
    const foot = findFoot(
      main,
      model.bodies.filter((b) => b !== main),
    );
    if (foot)
      return {
        ...none,
        roles: asBlock(model, main, roles),
        kind: kind === 'auto' ? 'block' : kind,
        mount: foot,
        axis: axisOf(foot),
        seats: findSeats(tool, foot.frame, true, walls),
      };
    warnings.push({ code: 'no-shank', message: 'No shank, taper or foot of a known standard was found; mark the mount by hand.' });
    const unit = suspectUnit(model);
    if (unit) warnings.push(unit);
    return { ...none, roles: mayBeInsert(model) ? roles.map(asUnknown) : roles, kind: kind === 'auto' ? 'rotating' : kind, seats: [] };
  }
  const shank = shanks[0];
  const doubts = shanks
    .slice(1)
    .filter(
      (s) => s.confidence > shank.confidence - 0.1 && (s.connection.standard !== shank.connection.standard || s.connection.size !== shank.connection.size),
    );
  const mountOf = (s: Shank): { mount: FoundConnection; tips: FoundTip[] } =>
    corner && isTurningShank(s) ? readTurning(s, corner, tool) : { mount: readHolder(s, tool, { stacked }), tips: [] };
  const found = mountOf(shank);
  let { mount } = found;
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
  const seats = corner ? [] : findSeats(tool, mount.frame, isBlock, walls).map((seat) => closingAs(seat, mount.connection));
  // What holds nothing is a cutter: a head that is wider than its shank is no flange.
  if (!corner && !stacked && seats.length === 0 && shank.connection.standard === 'cylindrical') mount = readHolder(shank, tool, { isCutter: true });
  const point = !corner && seats.length === 0 && !isBlock ? findDrillPoint(stacked?.cutting ?? main, mount.frame) : undefined;
  const guessed: ReadKind =
    corner && found.tips[0]
      ? turningKind(found.tips[0], poseIn(shank, corner, mount.frame))
      : isBlock
        ? 'block'
        : guessRotating(shank, seats, tool, mount.frame);
  const split = guessed === 'cutter' && !stacked && roles.every((r) => r.role !== 'cutting') ? findSplit(main, mount.frame) : undefined;
  // Without a point its length is told to where it ends on its axis.
  const ends = stacked?.cutting ?? (split ? main : undefined);
  const end = ends && !point && seats.length === 0 ? findAxisEnd(ends, mount.frame, 0.95 * mount.confidence) : undefined;
  const tips = point ? [point] : end ? [end] : found.tips;
  const unit = suspectUnit(model, shank);
  if (unit) warnings.push(unit);
  return {
    kind: kind === 'auto' ? guessed : kind,
    roles: isBlock ? asBlock(model, main, roles) : roles,
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

// Nothing of a block cuts: what is small beside it is its hardware, whatever its form.
const asBlock = (model: Model, main: BodyGeometry, roles: readonly RoleProposal[]): RoleProposal[] =>
  roles.map((r, i) =>
    r.role === 'hardware' && r.confidence < 0.85 && model.bodies[i].volume < 0.15 * main.volume
      ? { ...r, confidence: 0.85, evidence: 'small beside the block: a wedge, a clamp or a key' }
      : r,
  );

// What was not recognized, though it may be an insert.
const asUnknown = (r: RoleProposal): RoleProposal => ({
  ...r,
  confidence: Math.min(r.confidence, 0.5),
  evidence: 'the only body; nothing that holds it was found, and it is small enough to be an insert',
});

// The body that the tool is built on: the heaviest, or another heavy one that alone has a shank (a nut may outweigh its chuck). One that is open, or inside out,
// may have any volume.
function mainBody(model: Model): { main: BodyGeometry; shanks: Shank[] } {
  const weight = (b: BodyGeometry) => Math.abs(b.volume);
  const byVolume = [...model.bodies].sort((a, b) => weight(b) - weight(a));
  const heavy = byVolume.filter((b) => weight(b) >= 0.3 * weight(byVolume[0])).map((main) => ({ main, shanks: findShanks([main]) }));
  const sure = (h: (typeof heavy)[number]) => h.shanks[0]?.confidence ?? 0;
  return heavy.find((h) => h !== heavy[0] && sure(h) > 0.85 && sure(h) > sure(heavy[0]) + 0.2) ?? heavy[0];
}

// A cylinder that is shorter than wide is no shank that anything holds.
const isNoShank = (shank: Shank | undefined): boolean =>
  !shank || (shank.connection.standard === 'cylindrical' && shank.to - shank.from < Number(shank.connection.size));

function readBored(model: Model, main: BodyGeometry, { mount: found, cutting }: BoredCutter): Reading {
  const ring = findInsertsAbout(model, main, { origin: found.frame.origin, direction: found.frame.z });
  const roles = proposeRoles(model, main, ring ? cuttingOf(ring) : cutting);
  const { mount, tips } = ring ? withTip(model, found, ring) : { mount: found, tips: [] };
  return { kind: 'cutter', roles, axis: axisOf(mount), mount, otherMounts: [], seats: [], tips, isFused: false, warnings: [] };
}

// Several inserts about the axis of a shank or a taper: they tell where the work is.
function readIndexable(model: Model, main: BodyGeometry, shank: Shank, ring: InsertsAbout): Reading {
  const work = shank.work ?? ring.work;
  const roles = proposeRoles(model, main, cuttingOf(ring), shank);
  const tool = model.bodies.filter((b) => roles.find((r) => r.body === b.id)?.role === 'tool body');
  const { mount, tips } = withTip(model, readHolder({ ...shank, work }, tool), ring);
  const unit = suspectUnit(model, shank);
  return { kind: 'cutter', roles, axis: axisOf(mount), mount, otherMounts: [], seats: [], tips, isFused: false, warnings: unit ? [unit] : [] };
}

const cuttingOf = ({ inserts, confidence, evidence }: InsertsAbout) => ({ body: inserts[0], sure: confidence, evidence, all: inserts });

// X goes through the outermost of the inserts' tips, which stands for all of them.
function withTip(model: Model, mount: FoundConnection, ring: InsertsAbout): { mount: FoundConnection; tips: FoundTip[] } {
  const found = cornerOfRing(model, ring, mount.frame);
  const x = found && across(subtract(apexOf(found.corner), mount.frame.origin), mount.frame.z);
  if (!found || !x || length(x) < 0.05) return { mount, tips: [] };
  const turned = { ...mount, frame: fromZAndX(mount.frame.origin, mount.frame.z, x), tellsX: true };
  return { mount: turned, tips: readTips(found, turned.frame, 'square', 0).slice(0, 1) };
}

// A cutter in several solids is held by its round shank; tapers and squares tell more than its ends.
const stackedOf = (model: Model, shank: Shank | undefined): StackedCutter | undefined =>
  shank?.connection.standard === 'cylindrical' ? findStackedCutter(model, shank) : undefined;

const axisOf = (c: FoundConnection) => ({ origin: c.frame.origin, direction: c.frame.z, confidence: c.confidence });

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
    return seats[0].connection.standard === 'cylindrical' && beyond < 55 && Number(seats[0].connection.size) >= LEAST_ADAPTER ? 'adapter' : 'rotating';
  }
  const reach = Math.max(...tool.map((b) => reachAlong(b, mount.z)[1])) - dot(mount.origin, mount.z);
  return seats[0].connection.standard === 'cylindrical' && reach < 30 ? 'adapter' : 'rotating';
}
