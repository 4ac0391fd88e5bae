import { type Carried, carriedWith, indexAxisOf } from '#core/carrier';
import type { Vec3 } from '#core/math';
import type { FlatPoint } from '#core/outline';
import type { CarrierOf } from '#core/records';
import type { At } from '../cut/sweep.ts';
import { sayMm } from '../events.ts';
import type { MoveFault } from '../move-faults.ts';
import { radiiOf, radiusOver, type RadiusStep } from '../region/radii.ts';
import type { Region } from '../region/region.ts';
import type { LoadedEdge, TrialSetting } from '../setting.ts';
import { TOUCH } from './follow.ts';
import type { Obstacle } from './obstacles.ts';
import { nameOf, refOf } from './say-carried.ts';

// mm. How far below the true one a distance may be told, and how small a triangle is looked at as a whole.
const EXACT = 2e-3;
const SMALLEST = 4e-3;

/** What stands at the spindle axis, as cylinders one behind the other along Z of the part; sorted. */
interface Around {
  readonly name: string;
  readonly steps: readonly RadiusStep[];
}

/**
 * What a turret's bodies get near to while it is indexed where it stands, from the station of one tool to that of another by the shorter way (by both where they are
 * as long). The index axis is parallel to the spindle's: a point of a body runs on a circle about it, and is nearest to the spindle axis where it is nearest to the line
 * between the two. So no angles are sampled: triangles are divided until the least that they can be apart and a point of them agree.
 */
export function indexFaults(
  setting: TrialSetting,
  from: LoadedEdge,
  to: LoadedEdge,
  at: At,
  work: Region,
  obstacles: readonly Obstacle[],
): Omit<MoveFault, 'share'>[] {
  const { carrier } = from;
  const [a, b] = [from.row.place.station, to.row.place.station];
  if (carrier.kind !== 'turret' || carrier.id !== to.carrier.id || a === b) return [];
  const clearance = Math.max(setting.job.clearance, TOUCH);
  const around = [{ name: 'work', steps: radiiOf(work.loops) }, ...obstacles.map((o) => ({ name: o.name, steps: radiiOf(o.region.loops) }))];
  const reference = setting.placeInMachine(carrier, at);
  const turns = turnsOf(carrier, a, b);
  return carriedWith(from.row, setting.table, setting.parts).flatMap((carried) => {
    const turning = aboutIndexAxis(carried, carrier, reference, setting.partZ);
    return around.flatMap((other): Omit<MoveFault, 'share'>[] => {
      const near = nearestWhileIndexed(turning, turns, other, clearance);
      if (!near) return [];
      const name = nameOf(carried);
      const deep = -near.gap > TOUCH;
      const does = deep ? `goes ${sayMm(-near.gap)} into the ${other.name}` : `gets as near as ${sayMm(Math.max(0, near.gap))} to the ${other.name}`;
      const message = `While ${carrier.name} is indexed from station ${a} to ${b}, ${name} ${does}.`;
      const body = refOf(carried);
      return [
        {
          kind: deep ? 'touch' : 'near',
          between: [name, other.name],
          depth: deep ? -near.gap : Math.max(0, near.gap),
          at: near.at,
          message,
          ...(body ? { body } : {}),
        },
      ];
    });
  });
}

/** The turns about Z by which a turret goes from one station to another: the shorter one, or both; radians. */
export function turnsOf({ stations, numbered }: Pick<CarrierOf<'turret'>, 'stations' | 'numbered'>, from: number, to: number): number[] {
  const onward = (((to - from) % stations) + stations) % stations;
  const counts = 2 * onward === stations ? [onward, -onward] : [2 * onward < stations ? onward : onward - stations];
  return counts.map((n) => (numbered * n * 2 * Math.PI) / stations);
}

interface Nearest {
  /** mm; below 0 it goes that deep into it. */
  readonly gap: number;
  /** [z, r] of the part. */
  readonly at: FlatPoint;
}

// A corner of a mesh about the index axis: towards the spindle axis, across, and along Z of the part.
type Corner = readonly [u: number, v: number, z: number];

/** A body about the index axis, which is `apart` mm from the spindle axis. */
interface Turning {
  readonly corners: readonly Corner[];
  readonly triangles: Uint32Array;
  readonly apart: number;
  readonly widest: number;
  /** Along Z of the part. */
  readonly low: number;
  readonly high: number;
}

function aboutIndexAxis({ mesh, motion: { r, t } }: Carried, carrier: CarrierOf<'turret'>, reference: Vec3, partZ: (machineZ: number) => number): Turning {
  const axis = indexAxisOf(carrier);
  const off = reference[0] + axis[0];
  const towards = off > 0 ? -1 : 1;
  const { positions: p, triangles } = mesh;
  const corners: Corner[] = [];
  let [widest, low, high] = [0, Infinity, -Infinity];
  for (let i = 0; i < p.length; i += 3) {
    const x = r[0] * p[i] + r[1] * p[i + 1] + r[2] * p[i + 2] + t[0] - axis[0];
    const y = r[3] * p[i] + r[4] * p[i + 1] + r[5] * p[i + 2] + t[1] - axis[1];
    const z = partZ(r[6] * p[i] + r[7] * p[i + 1] + r[8] * p[i + 2] + t[2] + reference[2]);
    corners.push([towards * x, towards * y, z]);
    widest = Math.max(widest, x * x + y * y);
    [low, high] = [Math.min(low, z), Math.max(high, z)];
  }
  return { corners, triangles, apart: Math.abs(off), widest: Math.sqrt(widest), low, high };
}

// The least that it stays apart, or how deep it goes; undefined where it stays farther away than `within` mm.
function nearestWhileIndexed(
  { corners, triangles, apart, widest, low, high }: Turning,
  turns: readonly number[],
  { steps }: Around,
  within: number,
): Nearest | undefined {
  // Mostly it has retreated far enough.
  if (apart - widest - radiusOver(steps, low, high) >= within) return undefined;
  let best: Nearest | undefined;
  const bound = () => Math.min(within, (best?.gap ?? Infinity) - EXACT);
  const stack: [Corner, Corner, Corner][] = [];
  for (let i = 0; i < triangles.length; i += 3) {
    stack.push([corners[triangles[i]], corners[triangles[i + 1]], corners[triangles[i + 2]]]);
    for (let next = stack.pop(); next; next = stack.pop()) {
      const [a, b, c] = next;
      const radius = radiusOver(steps, Math.min(a[2], b[2], c[2]), Math.max(a[2], b[2], c[2]));
      if (radius === 0) continue;
      const size = Math.max(sizeOf(next[0], next[1]), sizeOf(next[1], next[2]), sizeOf(next[2], next[0]));
      const least = leastApart(next, size, turns, apart) - radius;
      if (least >= bound()) continue;
      for (const corner of next) {
        const around = radiusOver(steps, corner[2], corner[2]);
        const off = leastApart([corner], 0, turns, apart);
        if (off - around < bound()) best = { gap: off - around, at: [corner[2], off] };
      }
      if (size <= SMALLEST) {
        if (least < bound()) best = { gap: least, at: [a[2], least + radius] };
        continue;
      }
      const [ab, bc, ca] = [middle(a, b), middle(b, c), middle(c, a)];
      stack.push([a, ab, ca], [ab, b, bc], [ca, bc, c], [ab, bc, ca]);
    }
  }
  return best;
}

const middle = (a: Corner, b: Corner): Corner => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2, (a[2] + b[2]) / 2];
const sizeOf = (a: Corner, b: Corner): number => Math.hypot(a[0] - b[0], a[1] - b[1], a[2] - b[2]);

/** No more than the least distance from the spindle axis of a triangle of some size while it turns; of a point just that. */
function leastApart(triangle: readonly Corner[], size: number, turns: readonly number[], apart: number): number {
  const radius = Math.max(...triangle.map(([u, v]) => Math.hypot(u, v)));
  // Angles about the index axis, 0 towards the spindle; beside each other as the triangle lies.
  const [first, ...others] = triangle.map(([u, v]) => Math.atan2(v, u));
  const angles = [first, ...others.map((o) => first + wrapped(o - first))];
  const [from, to] = [Math.min(...angles), Math.max(...angles)];
  // One that spans half a turn may hold the axis itself.
  const isAllRound = to - from > Math.PI - 1e-9;
  const off = isAllRound ? 0 : Math.min(...turns.map((turn) => fromZero(from + Math.min(0, turn), to + Math.max(0, turn))));
  const foot = Math.min(radius, Math.max(0, radius - size, apart * Math.cos(off)));
  return Math.sqrt(Math.max(0, foot * foot + apart * apart - 2 * foot * apart * Math.cos(off)));
}

const wrapped = (angle: number): number => angle - 2 * Math.PI * Math.round(angle / (2 * Math.PI));

/** How far a stretch of angles stays away from 0 and its whole turns. */
function fromZero(from: number, to: number): number {
  if (Math.floor(to / (2 * Math.PI)) !== Math.floor(from / (2 * Math.PI))) return 0;
  return Math.min(Math.abs(wrapped(from)), Math.abs(wrapped(to)));
}
