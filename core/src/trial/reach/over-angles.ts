import { controlAngle, headRoom, reliefsOfHead, roomBetween, type SetUpParts } from '#core/carrier';
import type { TrialJob } from '../setting.ts';
import { trialSetting } from '../setting.ts';
import { leftBy } from './reach.ts';

/** What an edge makes of a contour with its head at an angle. */
export interface ReachAtAngle {
  readonly angle: number;
  /** As the control calls it; undefined where it has no name for it. */
  readonly control: number | undefined;
  /** mm2 of the section that stay in front of the contour's end, and how thick that is at most, mm. */
  readonly area: number;
  readonly thickness: number;
  /** Degrees: the smaller of what it leaves on face and side; undefined where the corner has come round. */
  readonly relief: number | undefined;
  /** mm from what holds the edge to chuck, jaws and work. */
  readonly room: number;
}

export interface ReachOverAngles {
  readonly angles: readonly ReachAtAngle[];
  /** The one that leaves least; of those that leave the same the one with the most relief. */
  readonly best: ReachAtAngle | undefined;
}

// Degrees of relief below which an edge only rubs: such angles are not looked at.
const LEAST_RELIEF = -12;
// mm2: what is within that leaves the same.
const SAME = 0.05;
// Degrees: about the best of the first look, how near the second one looks.
const NEARER = 1;
const AROUND = 3;

/**
 * What an edge in a swivel head makes of the contour over the angles of its head: every 3 degrees, and every degree about the best of those. Gives way between angles, with
 * how far it is (0 to 1).
 */
export function* reachOverAngles(parts: SetUpParts, job: TrialJob, placeId: string, edge: number): Generator<number, ReachOverAngles> {
  const setting = trialSetting(parts, job);
  const row = setting.table.stations.find((s) => s.place.id === placeId);
  const at = row?.edges[edge];
  const { carrier } = row ?? {};
  if (!row || !at || carrier?.kind !== 'swivel head' || !job.contour) return { angles: [], best: undefined };
  const room = headRoom(parts, row.place, carrier, at);
  const reliefAt = reliefsOfHead(at, row.place, carrier, row.first);
  const reliefOf = (angle: number): number | undefined => {
    const relief = reliefAt(angle);
    return relief && Math.min(relief.face, relief.side);
  };
  const look = (angle: number): ReachAtAngle | undefined => {
    const places = parts.setUp.places.map((p) => (p.id === placeId ? { ...p, angleDeg: angle } : p));
    const turned = trialSetting({ ...parts, setUp: { ...parts.setUp, places } }, job);
    const loaded = turned.edges.find((e) => e.row.place.id === placeId && e.edge.own.tip === at.own.tip && e.edge.own.piece === at.own.piece);
    // Where its corner has come round it is another tool.
    const { corner } = at.atWork;
    if (!loaded || loaded.edge.atWork.corner.x !== corner.x || loaded.edge.atWork.corner.z !== corner.z) return undefined;
    const left = leftBy(turned, loaded);
    return {
      angle,
      control: controlAngle(parts.machine.control.swivel, angle),
      area: left?.area ?? 0,
      thickness: left?.thickness ?? 0,
      relief: reliefOf(angle),
      room: roomBetween(room, angle) ?? 0,
    };
  };
  const found: ReachAtAngle[] = [];
  const take = (a: ReachAtAngle | undefined) => {
    if (a) found.push(a);
  };
  const first = room.angles.map((a) => a.angle).filter((angle) => (reliefOf(angle) ?? -Infinity) > LEAST_RELIEF);
  for (const [i, angle] of first.entries()) {
    yield i / (first.length + 2 * AROUND);
    take(look(angle));
  }
  const rough = bestOf(found);
  if (rough) {
    const [lowest, highest] = carrier.range;
    for (let k = 1 - AROUND; k < AROUND; k++) {
      const angle = rough.angle + k * NEARER;
      if (k === 0 || angle < lowest || angle > highest || found.some((f) => Math.abs(f.angle - angle) < NEARER / 4)) continue;
      yield (first.length + AROUND + k) / (first.length + 2 * AROUND);
      take(look(angle));
    }
  }
  found.sort((a, b) => a.angle - b.angle);
  return { angles: found, best: bestOf(found) };
}

function bestOf(all: readonly ReachAtAngle[]): ReachAtAngle | undefined {
  const least = all.reduce((m, a) => Math.min(m, a.area), Infinity);
  const good = all.filter((a) => a.area <= least + SAME);
  return good.reduce<ReachAtAngle | undefined>(
    (best, a) => (best && Math.min(best.relief ?? 0, best.room) >= Math.min(a.relief ?? 0, a.room) ? best : a),
    undefined,
  );
}
