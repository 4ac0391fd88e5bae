// Bringing a body to where it belongs by pairs of faces, axes and corners: the first pair decides most, as in 3-2-1 locating.
import {
  add,
  addScaled,
  angleBetweenRad,
  anyAcross,
  compose,
  cross,
  degFromRad,
  dot,
  IDENTITY,
  length,
  type Motion,
  move,
  normalize,
  rotationAbout,
  rotationBetween,
  scale,
  subtract,
  translation,
  turn,
  type Vec3,
} from '#core/math';

/** What belongs together: a face of the body that moves on a face that stays (they look at each other), an axis on an axis, a corner on a corner. */
export type LocatingPair =
  | { readonly kind: 'face'; readonly moving: OnDirection; readonly fixed: OnDirection }
  | { readonly kind: 'axis'; readonly moving: OnDirection; readonly fixed: OnDirection }
  | { readonly kind: 'corner'; readonly moving: Vec3; readonly fixed: Vec3 };

interface OnDirection {
  readonly origin: Vec3;
  /** The face's outward normal, or the axis' direction. Unit. */
  readonly direction: Vec3;
}

export interface Located {
  readonly motion: Motion;
  /** What each pair is still apart, in mm and degrees: zeros where the pairs do not contradict each other. */
  readonly left: readonly { readonly gap: number; readonly angleDeg: number }[];
}

// Sine of the angle under which a direction adds nothing to those that are decided.
const SAME = 1e-6;

/** The motion that brings a body to where its pairs say; an earlier pair is kept where a later one contradicts it. */
export function locate(pairs: readonly LocatingPair[]): Located {
  const turned = turnByDirections(pairs) ?? turnByCorners(pairs);
  const motion = shift(turned, pairs);
  return { motion, left: pairs.map((p) => leftOf(motion, p)) };
}

// The direction that the moving one is to take: against the fixed face; along the fixed axis, the way that is nearer.
function wanted(pair: Exclude<LocatingPair, { kind: 'corner' }>, now: Vec3): Vec3 {
  const { direction } = pair.fixed;
  return pair.kind === 'face' || dot(now, direction) < 0 ? scale(direction, -1) : direction;
}

function turnByDirections(pairs: readonly LocatingPair[]): Motion | undefined {
  let motion = IDENTITY;
  let kept: Vec3 | undefined;
  for (const pair of pairs) {
    if (pair.kind === 'corner') continue;
    const now = turn(motion, pair.moving.direction);
    const to = wanted(pair, now);
    const about = pair.moving.origin;
    if (!kept) {
      const opposite = dot(now, to) < -1 + 1e-12;
      motion = compose(opposite ? rotationAbout(move(motion, about), anyAcross(now), Math.PI) : rotationBetween(move(motion, about), now, to), motion);
      kept = to;
      continue;
    }
    // Only about the direction that is decided already.
    const axis = kept;
    const [a, b] = [now, to].map((d) => addScaled(d, axis, -dot(d, axis)));
    if (length(a) < SAME || length(b) < SAME) continue;
    const angle = Math.atan2(dot(axis, cross(a, b)), dot(a, b));
    return compose(rotationAbout(move(motion, about), axis, angle), motion);
  }
  return kept ? motion : undefined;
}

// Corners alone: the first is met, the second gives a direction, the third the turn about it.
function turnByCorners(pairs: readonly LocatingPair[]): Motion {
  const corners = pairs.filter((p) => p.kind === 'corner');
  if (corners.length < 2) return IDENTITY;
  const [a, b, c] = corners;
  const way = (p: typeof a, side: 'moving' | 'fixed') => subtract(p[side], a[side]);
  if (length(way(b, 'moving')) < SAME || length(way(b, 'fixed')) < SAME) return IDENTITY;
  const to = normalize(way(b, 'fixed'));
  const first = rotationBetween(a.moving, normalize(way(b, 'moving')), to);
  if (!c) return first;
  const across = (d: Vec3) => addScaled(d, to, -dot(d, to));
  const [from, goal] = [across(turn(first, way(c, 'moving'))), across(way(c, 'fixed'))];
  if (length(from) < SAME || length(goal) < SAME) return first;
  return compose(rotationAbout(move(first, a.moving), to, Math.atan2(dot(to, cross(from, goal)), dot(from, goal))), first);
}

function shift(turned: Motion, pairs: readonly LocatingPair[]): Motion {
  let by: Vec3 = [0, 0, 0];
  const decided: Vec3[] = [];
  // One equation: the moved point comes to lie at the goal along a direction; only what is not decided yet moves for it.
  const meet = (from: Vec3, goal: Vec3, along: Vec3) => {
    const free = decided.reduce((d, e) => addScaled(d, e, -dot(d, e)), along);
    if (length(free) < SAME) return;
    const way = normalize(free);
    by = addScaled(by, way, dot(subtract(goal, add(from, by)), along) / dot(way, along));
    decided.push(way);
  };
  for (const pair of pairs) {
    if (pair.kind === 'corner') for (const axis of AXES) meet(move(turned, pair.moving), pair.fixed, axis);
    else {
      const from = move(turned, pair.moving.origin);
      const { origin, direction } = pair.fixed;
      if (pair.kind === 'face') meet(from, origin, direction);
      else {
        const u = anyAcross(direction);
        for (const across of [u, cross(direction, u)]) meet(from, origin, across);
      }
    }
  }
  return compose(translation(by), turned);
}

const AXES: readonly Vec3[] = [
  [1, 0, 0],
  [0, 1, 0],
  [0, 0, 1],
];

function leftOf(motion: Motion, pair: LocatingPair): { gap: number; angleDeg: number } {
  if (pair.kind === 'corner') return { gap: length(subtract(move(motion, pair.moving), pair.fixed)), angleDeg: 0 };
  const now = turn(motion, pair.moving.direction);
  const apart = subtract(move(motion, pair.moving.origin), pair.fixed.origin);
  const along = dot(apart, pair.fixed.direction);
  return {
    gap: pair.kind === 'face' ? Math.abs(along) : length(addScaled(apart, pair.fixed.direction, -along)),
    angleDeg: degFromRad(angleBetweenRad(now, wanted(pair, now))),
  };
}
