import { type Frame, yOf } from './frame.ts';
import { SAME_DIRECTION_RAD } from './tolerances.ts';
import { add, length, angleBetweenRad, anyAcross, cross, dot, normalize, subtract, type Vec3 } from './vec3.ts';

/**
 * A rigid motion, row by row: p' = R p + t.
 *   [ r0 r1 r2 | t0 ]
 *   [ r3 r4 r5 | t1 ]
 *   [ r6 r7 r8 | t2 ]
 * Motions are named target-from-source: `gaugeFromTool` takes a point of the tool into the gauge frame.
 */
export interface Motion {
  readonly r: readonly [number, number, number, number, number, number, number, number, number];
  readonly t: Vec3;
}

export const IDENTITY: Motion = { r: [1, 0, 0, 0, 1, 0, 0, 0, 1], t: [0, 0, 0] };

export const translation = (t: Vec3): Motion => ({ r: IDENTITY.r, t });

/** Moves a direction: the rotation only. */
export function turn({ r }: Motion, d: Vec3): Vec3 {
  return [r[0] * d[0] + r[1] * d[1] + r[2] * d[2], r[3] * d[0] + r[4] * d[1] + r[5] * d[2], r[6] * d[0] + r[7] * d[1] + r[8] * d[2]];
}

/** Moves a point. */
export const move = (m: Motion, p: Vec3): Vec3 => add(turn(m, p), m.t);

export const moveFrame = (m: Motion, f: Frame): Frame => ({ origin: move(m, f.origin), z: turn(m, f.z), x: turn(m, f.x) });

/** `a` after `b`: compose(aFromB, bFromC) is aFromC. */
export function compose(a: Motion, b: Motion): Motion {
  const [c0, c1, c2] = [0, 1, 2].map((i) => turn(a, [b.r[i], b.r[3 + i], b.r[6 + i]]));
  return { r: [c0[0], c1[0], c2[0], c0[1], c1[1], c2[1], c0[2], c1[2], c2[2]], t: move(a, b.t) };
}

export function invert({ r, t }: Motion): Motion {
  const back: Motion = { r: [r[0], r[3], r[6], r[1], r[4], r[7], r[2], r[5], r[8]], t: [0, 0, 0] };
  const moved = turn(back, t);
  return { r: back.r, t: [-moved[0], -moved[1], -moved[2]] };
}

/** World from frame: takes coordinates measured in `frame` into the coordinates that `frame` is written in. */
export function worldFromFrame(frame: Frame): Motion {
  const { z, x, origin } = frame;
  const y = yOf(frame);
  return { r: [x[0], y[0], z[0], x[1], y[1], z[1], x[2], y[2], z[2]], t: origin };
}

export const frameFromWorld = (frame: Frame): Motion => invert(worldFromFrame(frame));

/** The motion that brings `source` onto `target`. */
export const bringFrame = (source: Frame, target: Frame): Motion => compose(worldFromFrame(target), frameFromWorld(source));

/** Rotation by an angle about the line through `point` along `axis` (Rodrigues). */
export function rotationAbout(point: Vec3, axis: Vec3, angleRad: number): Motion {
  const [x, y, z] = normalize(axis);
  const [c, s] = [exactCos(angleRad), exactSin(angleRad)];
  const k = 1 - c;
  const r: Motion['r'] = [
    c + x * x * k,
    x * y * k - z * s,
    x * z * k + y * s,
    y * x * k + z * s,
    c + y * y * k,
    y * z * k - x * s,
    z * x * k - y * s,
    z * y * k + x * s,
    c + z * z * k,
  ]; // prettier would break the matrix
  return { r, t: subtract(point, turn({ r, t: [0, 0, 0] }, point)) };
}

/** The smallest rotation about `point` that turns direction `from` into `to`; nearly opposite ones by half a turn about any axis across, and the rest. */
export function rotationBetween(point: Vec3, from: Vec3, to: Vec3): Motion {
  const angle = angleBetweenRad(from, to);
  if (angle < SAME_DIRECTION_RAD * 1e-3) return IDENTITY;
  if (Math.PI - angle >= SAME_DIRECTION_RAD) return rotationAbout(point, cross(from, to), angle);
  const half = rotationAbout(point, anyAcross(from), Math.PI);
  return compose(rotationBetween(point, turn(half, from), to), half);
}

/** A motion's turn as an axis (unit) and an angle in 0..pi; any axis where it does not turn. */
export function axisAngleOf({ r }: Motion): { axis: Vec3; angleRad: number } {
  const twist: Vec3 = [r[7] - r[5], r[2] - r[6], r[3] - r[1]];
  const angleRad = Math.atan2(length(twist), r[0] + r[4] + r[8] - 1);
  if (length(twist) > 1e-6) return { axis: normalize(twist), angleRad };
  if (angleRad < 1) return { axis: [0, 0, 1], angleRad: 0 };
  // Half a turn: r = 2 a a' - 1, read off the column of the largest component.
  const k = [0, 4, 8].reduce((a, b) => (r[b] > r[a] ? b : a)) / 4;
  const column: Vec3 = [r[k], r[3 + k], r[6 + k]];
  return { axis: normalize(column.map((v, i) => v + (i === k ? 1 : 0)) as unknown as Vec3), angleRad: Math.PI };
}

/** True where the motion keeps lengths and does not mirror. */
export function isRigid({ r, t }: Motion): boolean {
  if (![...r, ...t].every(Number.isFinite)) return false;
  const [a, b, c]: Vec3[] = [
    [r[0], r[1], r[2]],
    [r[3], r[4], r[5]],
    [r[6], r[7], r[8]],
  ];
  const near = (v: number, w: number) => Math.abs(v - w) < 1e-9;
  return near(dot(a, a), 1) && near(dot(b, b), 1) && near(dot(a, b), 0) && near(dot(cross(a, b), c), 1);
}

// Quarter turns come out exact, so that a model laid on its side keeps round coordinates.
const quarterTurns = (angleRad: number) => {
  const q = angleRad / (Math.PI / 2);
  return Math.abs(q - Math.round(q)) < 1e-14 ? ((Math.round(q) % 4) + 4) % 4 : undefined;
};
const exactCos = (a: number) => [1, 0, -1, 0][quarterTurns(a) ?? -1] ?? Math.cos(a);
const exactSin = (a: number) => [0, 1, 0, -1][quarterTurns(a) ?? -1] ?? Math.sin(a);
