import { distanceFromSegment, flattenPath, type FlatPoint, type HalfProfile, profileDistance } from '#core/outline';

/** An edge that would cut what none of the loaded ones does. Angles in degrees. */
export interface MissingEdge {
  /** [z, r] in the middle of what it is wanted for, and how thick that is. */
  readonly at: FlatPoint;
  readonly thickness: number;
  readonly isInside: boolean;
  /** How much its edge towards the chuck, and the one away from it, must rise out of the axis' direction there. */
  readonly towardsChuck: number;
  readonly away: number;
  /** What is left between the two: the insert must be slimmer. */
  readonly between: number;
  /** A usual insert that is: the largest of them; undefined where only a grooving edge gets in. */
  readonly included: (typeof USUAL)[number] | undefined;
  readonly hand: 'right' | 'left';
  /** mm. How wide a grooving edge may be, where one is wanted. */
  readonly width: number | undefined;
}

// Included angles of inserts that are usual for turning.
const USUAL = [80, 60, 55, 35] as const;
// Degrees that an edge is to clear what it leaves by, on either side; a step of looking round.
export const CLEARS = 2;
const STEP = 0.5;
// mm. Thinner rests are those of noses in corners; places as near to the contour lie on it; places look round from beside it.
const WORTH = 0.4;
const ON = 0.01;
const BESIDE = 0.005;
// mm. Noses are no larger.
const NOSE = 2.5;
// Places of a rest that are looked at.
const MOST_PLACES = 40;

/** What edges would be wanted for what a set-up leaves (closed polygons): for each piece of it, by how far its places on the contour see out of the part. */
export function missingEdges(contour: HalfProfile, loops: readonly (readonly FlatPoint[])[]): MissingEdge[] {
  const rings = contour.map((l) => flattenPath(l, 0.01, false));
  const distance = profileDistance(contour);
  const behind = Math.min(...rings.flat().map((p) => p[0]));
  return loops.flatMap((loop): MissingEdge[] => {
    const places = alongLoop(loop);
    const deepest = places.reduce((m, [z, r]) => Math.max(m, -distance.depth(z, r)), 0);
    if (deepest < WORTH) return [];
    const [zs, rs] = [loop.map((p) => p[0]), loop.map((p) => p[1])];
    // What a nose leaves before the bar is cut with what the part is cut off with.
    if (Math.min(...zs) < behind + ON && Math.max(...zs) - Math.min(...zs) < NOSE) return [];
    const at: FlatPoint = [(Math.min(...zs) + Math.max(...zs)) / 2, (Math.min(...rs) + Math.max(...rs)) / 2];
    const on = places.filter(([z, r]) => Math.abs(distance.depth(z, r)) < ON);
    const isInside = isBelow(rings, at);
    const seen = on.map((p) => seenFrom(p, rings, isInside));
    const towardsChuck = Math.max(0, ...seen.map((s) => s.towardsChuck));
    const away = Math.max(0, ...seen.map((s) => s.away));
    const between = 180 - towardsChuck - away - 2 * CLEARS;
    const included = USUAL.find((u) => u <= between);
    return [
      {
        at,
        thickness: deepest,
        isInside,
        towardsChuck: Math.round(towardsChuck),
        away: Math.round(away),
        between: Math.round(between),
        included,
        hand: towardsChuck >= away ? 'right' : 'left',
        width: included === undefined ? Math.max(...zs) - Math.min(...zs) : undefined,
      },
    ];
  });
}

/** A missing edge in words, as it would be asked for; mm. */
export function sayMissing({ at: [z, r], isInside, included, between, towardsChuck, away, hand, width }: MissingEdge): string {
  const where = `${isInside ? 'inside' : 'outside'} about Z ${z.toFixed(1)}, diameter ${(2 * r).toFixed(1)}`;
  if (included === undefined) return `a grooving edge of at most ${(width ?? 0).toFixed(2)} mm, ${where}`;
  return `an insert of ${included}\u00b0 or slimmer (${between}\u00b0 are free), ${hand} hand, rising at least ${towardsChuck}\u00b0 towards the chuck and ${away}\u00b0 away from it, ${where}`;
}

// Places along a closed line, no more than are worth looking at.
function alongLoop(loop: readonly FlatPoint[]): FlatPoint[] {
  const every = Math.max(1, Math.ceil(loop.length / MOST_PLACES));
  return loop.flatMap((p, i): FlatPoint[] => {
    const q = loop[(i + 1) % loop.length];
    const isLong = Math.hypot(q[0] - p[0], q[1] - p[1]) > 1;
    if (!isLong) return i % every === 0 ? [p] : [];
    return [0.05, 0.35, 0.5, 0.65, 0.95].map((t): FlatPoint => [p[0] + t * (q[0] - p[0]), p[1] + t * (q[1] - p[1])]);
  });
}

// Whether the part lies over a place, farther from the axis, and not under it.
function isBelow(rings: readonly (readonly FlatPoint[])[], [z, r]: FlatPoint): boolean {
  const radii = rings.flatMap((ring) =>
    ring.flatMap((a, i) => {
      const b = ring[(i + 1) % ring.length];
      return a[0] > z === b[0] > z ? [] : [a[1] + ((b[1] - a[1]) * (z - a[0])) / (b[0] - a[0])];
    }),
  );
  return radii.some((x) => x > r) && !radii.some((x) => x < r);
}

// From a place of the surface the lowest directions, towards the chuck and away from it, in which nothing of the part is before it; degrees out of the axis' direction.
function seenFrom([z, r]: FlatPoint, rings: readonly (readonly FlatPoint[])[], isInside: boolean): { towardsChuck: number; away: number } {
  const up = isInside ? -1 : 1;
  const from: FlatPoint = [z, r + up * BESIDE];
  const isFree = (deg: number) => {
    const way: FlatPoint = [-Math.cos((deg * Math.PI) / 180), up * Math.sin((deg * Math.PI) / 180)];
    return !rings.some((ring) => ring.some((a, i) => meets(from, way, a, ring[(i + 1) % ring.length], isInside)));
  };
  let towardsChuck = 0;
  while (towardsChuck < 90 && !isFree(towardsChuck)) towardsChuck += STEP;
  let away = 0;
  while (away < 90 && !isFree(180 - away)) away += STEP;
  return { towardsChuck, away };
}

// Whether a ray meets an edge; of a bore not beyond the axis.
function meets([z, r]: FlatPoint, [wz, wr]: FlatPoint, a: FlatPoint, b: FlatPoint, isInside: boolean): boolean {
  const [ez, er] = [b[0] - a[0], b[1] - a[1]];
  const det = wz * er - wr * ez;
  if (Math.abs(det) < 1e-12) return false;
  const t = ((a[0] - z) * er - (a[1] - r) * ez) / det;
  const s = ((a[0] - z) * wr - (a[1] - r) * wz) / det;
  if (t <= 1e-9 || s < 0 || s > 1) return false;
  if (isInside && r + t * wr < 0) return false;
  return distanceFromSegment(a, b, [z, r]) > BESIDE / 2;
}
