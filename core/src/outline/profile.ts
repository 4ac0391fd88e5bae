import { flatDistance, type FlatPoint, sideOf } from './flat.ts';
import { areaOfPolygon, flattenPath, mapPiece, mirrorPiece, type PathPiece, reversePath, sweepOfArc } from './path.ts';
import { PathDistance } from './path-distance.ts';

/** A point of a half profile: [z, r], both in mm, z along the axis, r >= 0 from it. */
export type ProfilePoint = FlatPoint;

/**
 * The half section of what is turned: closed loops of lines and arcs in [z, r], counter-clockwise around material (outside surfaces run against
 * z, bores along it). What lies on the axis are lines at r = 0. More than one loop where material stands apart.
 */
export type HalfProfile = readonly (readonly PathPiece[])[];

/** mm. Nearer to the axis than this is on it. */
const ON_AXIS = 1e-7;
const isOnAxis = (p: PathPiece): boolean => p.kind === 'line' && Math.abs(p.from[1]) < ON_AXIS && Math.abs(p.to[1]) < ON_AXIS;

/** The pieces that are surfaces: all but those on the axis, loop after loop. */
export const listPieces = (profile: HalfProfile): PathPiece[] => profile.flatMap((loop) => loop.filter((p) => !isOnAxis(p)));

/** A half profile seen from its other end: z runs from `at` backwards. */
export const mirrorProfile = (profile: HalfProfile, at: number): PathPiece[][] =>
  profile.map((loop) =>
    reversePath(loop).map((p) => {
      const mapped = mapPiece(p, ([z, r]) => [at - z, r]);
      // Mirrored along the axis: what ran counter-clockwise runs clockwise.
      return mapped.kind === 'line' ? mapped : { ...mapped, ccw: !mapped.ccw };
    }),
  );

/** Where the front of a half section is: its end with the largest z. */
export const frontOf = (profile: HalfProfile): number => Math.max(...profile.flat().flatMap((p) => [p.from[0], p.to[0]]));

/** A half section moved along its axis, with its front at z = `at`. */
export function withFrontAt(profile: HalfProfile, at: number): PathPiece[][] {
  const by = at - frontOf(profile);
  return profile.map((l) => l.map((p) => mapPiece(p, ([z, r]) => [z + by, r])));
}

/** The same with its front at z 0. */
export const facingOut = (profile: HalfProfile): PathPiece[][] => withFrontAt(profile, 0);

/** A half section with its other end in front. */
export const turnedRound = (profile: HalfProfile): PathPiece[][] => facingOut(mirrorProfile(profile, 0));

/** A loop of straight pieces through points, closed from the last to the first. */
export const loopThrough = (points: readonly ProfilePoint[]): PathPiece[] =>
  points.map((from, i) => ({ kind: 'line', from, to: points[(i + 1) % points.length] }));

/** Whether a profile has material on the axis at z = `at`, or as near to it as `within` mm. */
export const endsOnAxis = (profile: HalfProfile, at: number, within = 1e-6): boolean =>
  profile.some((loop) => loop.some((p) => Math.abs(p.from[1]) < ON_AXIS && Math.abs(p.from[0] - at) < within));

/** What is wrong with a half profile, in words; empty for a good one. `isTurned`: false for an outline that is seen from above, which has no axis. */
export function validateProfile(profile: HalfProfile, isTurned = true): string[] {
  if (profile.length === 0) return ['it has no loop'];
  return profile.flatMap((loop, i) => {
    const where = profile.length > 1 ? ` in loop ${i + 1}` : '';
    const at = ([z, r]: ProfilePoint) => (isTurned ? ` at z ${z.toFixed(3)}, r ${r.toFixed(3)}${where}` : ` at ${z.toFixed(3)}, ${r.toFixed(3)}${where}`);
    const wrongSide = isTurned ? loop.find((p) => p.from[1] < 0) : undefined;
    const fault = wrongSide ? `a point on the wrong side of the axis${at(wrongSide.from)}` : faultOfLoop(loop, at, where);
    return fault === undefined ? [] : [fault];
  });
}

/** What is wrong with a closed loop that is to run counter-clockwise, in words; undefined for a good one. `at` says a place. */
export function faultOfLoop(loop: readonly PathPiece[], at: (p: FlatPoint) => string, where = ''): string | undefined {
  if (loop.length < 2) return `fewer than two pieces${where}`;
  const numbers = loop.flatMap((p) => [...p.from, ...p.to, ...(p.kind === 'arc' ? p.centre : [])]);
  if (!numbers.every(Number.isFinite)) return `a number that is not finite${where}`;
  for (const [k, p] of loop.entries()) {
    const next = loop[(k + 1) % loop.length];
    if (flatDistance(p.to, next.from) > 1e-9) return `a gap${at(p.to)}`;
    if (p.kind === 'arc' && Math.abs(flatDistance(p.from, p.centre) - flatDistance(p.to, p.centre)) > 1e-6)
      return `an arc whose ends are not on one circle${at(p.from)}`;
  }
  const polygon = flattenPath(loop, 0.01, false);
  if (!(areaOfPolygon(polygon) > 0)) return `material on the wrong side, or none${where}`;
  const crossed = selfCrossing(polygon);
  return crossed ? `it crosses itself${at(crossed)}` : undefined;
}

// Where two edges of a polygon that are no neighbours cross, if any do.
function selfCrossing(polygon: readonly ProfilePoint[]): ProfilePoint | undefined {
  const n = polygon.length;
  for (let i = 0; i < n; i++) {
    const [a, b] = [polygon[i], polygon[(i + 1) % n]];
    for (let k = i + 2; k < n; k++) {
      if (i === 0 && k === n - 1) continue;
      const [c, d] = [polygon[k], polygon[(k + 1) % n]];
      if (Math.max(a[0], b[0]) < Math.min(c[0], d[0]) || Math.max(c[0], d[0]) < Math.min(a[0], b[0])) continue;
      const [p, q] = [sideOf(a, b, c), sideOf(a, b, d)];
      const [s, t] = [sideOf(c, d, a), sideOf(c, d, b)];
      if (p * q < 0 && s * t < 0) return [a[0] + ((b[0] - a[0]) * s) / (s - t), a[1] + ((b[1] - a[1]) * s) / (s - t)];
    }
  }
  return undefined;
}
/** Volume in mm3 of the solid of revolution, exact: pi times the integral of r squared along the loops (Green's theorem). */
export function profileVolume(profile: HalfProfile): number {
  let sum = 0;
  for (const piece of profile.flat()) {
    const [[z0, r0], [z1, r1]] = [piece.from, piece.to];
    if (piece.kind === 'line') {
      sum -= ((z1 - z0) * (r0 * r0 + r0 * r1 + r1 * r1)) / 3;
      continue;
    }
    const c = piece.centre[1];
    const radius = flatDistance(piece.from, piece.centre);
    const start = Math.atan2(r0 - c, z0 - piece.centre[0]);
    // r = c + radius sin t, dz = -radius sin t dt.
    const part = (t: number) => {
      const [s, k] = [Math.sin(t), Math.cos(t)];
      return radius * (-c * c * k + c * radius * (t - s * k) + radius * radius * ((k * k * k) / 3 - k));
    };
    sum += part(start + sweepOfArc(piece)) - part(start);
  }
  return Math.PI * sum;
}

/**
 * Signed distance of places from a profile's surfaces in the half plane, mm, exact: positive inside. The axis is no surface: loops that touch it
 * are measured with their mirror images.
 */
export function profileDistance(profile: HalfProfile): PathDistance {
  const closed = profile.flatMap((loop): PathPiece[][] => {
    const first = loop.findIndex((p, i) => isOnAxis(loop[(i + loop.length - 1) % loop.length]) && !isOnAxis(p));
    if (first < 0) return [[...loop]];
    // One or more chains from the axis to the axis, each with its mirror image.
    const chains: PathPiece[][] = [];
    for (let i = 0; i < loop.length; i++) {
      const p = loop[(first + i) % loop.length];
      const before = loop[(first + i + loop.length - 1) % loop.length];
      if (isOnAxis(p)) continue;
      if (isOnAxis(before)) chains.push([p]);
      else chains[chains.length - 1].push(p);
    }
    return chains.map((chain) => [...chain, ...reversePath(chain.map(mirrorPiece))]);
  });
  return new PathDistance(closed);
}

/** The same as a function of z and r. */
export function profileDepthFinder(profile: HalfProfile): (z: number, r: number) => number {
  const distance = profileDistance(profile);
  return (z, r) => distance.depth(z, r);
}

/** Signed distance of one point; see `profileDistance`. */
export const depthInProfile = (profile: HalfProfile, [z, r]: ProfilePoint): number => profileDistance(profile).depth(z, r);
