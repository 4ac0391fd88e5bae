// Inserts of the wild corpus, seated in a tool: their form by shape letter, tilt, chip breaker and wiper, and what holds them.
import { loft, type Shape3D } from 'replicad';
import { compose, IDENTITY, type Motion, move, rotationAbout, turn } from '#core/math';
import type { Random } from '../random.ts';
import { ARC, along, type Flat, lathe, onXZ, type Point, plateXZ, ring, rod } from './solids.ts';
import type { WildBody, WildTip } from './wild-model.ts';

const CORNER = { C: 80, D: 55, V: 35, S: 90, T: 60, W: 80 } as const;
export type Form = keyof typeof CORNER;
const way = (deg: number): Flat => [Math.cos(deg * ARC), Math.sin(deg * ARC)];

// Corners from the cutting one on, about it, with the line into the insert along (1, 0).
function outline(form: Form, ic: number): Flat[] {
  const half = (CORNER[form] / 2) * ARC;
  const reach = ic / 2 / Math.sin(half);
  if (form === 'T') return [0, 1, 2].map((k): Flat => [reach - reach * Math.cos(k * 120 * ARC), -reach * Math.sin(k * 120 * ARC)]);
  if (form === 'W')
    return [0, 1, 2, 3, 4, 5].map((k): Flat => {
      const r = k % 2 === 0 ? reach : ic / 2 / Math.sin(80 * ARC);
      return [reach - r * Math.cos(k * 60 * ARC), -r * Math.sin(k * 60 * ARC)];
    });
  const edge = ic / Math.sin(2 * half);
  return [
    [0, 0],
    [edge * Math.cos(half), -edge * Math.sin(half)],
    [2 * edge * Math.cos(half), 0],
    [edge * Math.cos(half), edge * Math.sin(half)],
  ];
}

export interface Seated {
  readonly insert: Shape3D;
  /** Outline of its top where it lies, before it is tilted. */
  readonly top: readonly Flat[];
  readonly middle: Flat;
  readonly nosePoint: Flat;
  readonly size: number;
  readonly tilt: (s: Shape3D) => Shape3D;
  readonly tip: WildTip;
  readonly thick: number;
  readonly said: string;
}

interface Wish {
  readonly form: Form;
  readonly ic: number;
  readonly thick: number;
  readonly nose: number;
  readonly clearance: number;
  readonly mainDeg: number;
  /** On which side of the main edge the insert lies. */
  readonly sense: 1 | -1;
  readonly noseCentre: Flat;
  readonly tilts: Flat;
  /** The feed's direction in (x, z). */
  readonly feed: Flat;
  readonly breaker: 'none' | 'ring' | 'open' | 'bumps';
  readonly wiper: boolean;
  readonly hole: boolean;
}

// mm: radius of an open chip breaker's trough, and how deep it is.
const TROUGH = 4.5;
const DEEP = 0.28;
const troughDepth = (along: number): number => (Math.abs(along) < TROUGH ? Math.max(0, DEEP - TROUGH + Math.sqrt(TROUGH ** 2 - along ** 2)) : 0);

export function seatInsert(w: Wish, hand: 'right' | 'left'): Seated {
  const eps = CORNER[w.form];
  const inwards = w.mainDeg + (w.sense * eps) / 2;
  const [u, v] = [way(inwards), way(inwards + 90)];
  const sharp: Flat = [w.noseCentre[0] - (u[0] * w.nose) / Math.sin((eps / 2) * ARC), w.noseCentre[1] - (u[1] * w.nose) / Math.sin((eps / 2) * ARC)];
  const own = outline(w.form, w.ic);
  const place = ([a, b]: Flat): Flat => [sharp[0] + a * u[0] + b * v[0], sharp[1] + a * u[1] + b * v[1]];
  const reach = w.ic / 2 / Math.sin((eps / 2) * ARC);
  const middle = place([reach, 0]);
  const rounds = own.map((_, i) => (w.form === 'W' && i % 2 === 1 ? 0 : w.nose));
  const slim = w.thick * Math.tan(w.clearance * ARC);
  // Each side goes in by the same: about the inscribed circle's middle the outline scales.
  const scaled = (f: number) => own.map(([a, b]): Flat => [reach + (a - reach) * f, b * f]).map(place);
  const topWire = w.wiper ? wiperRing(scaled(1), w.nose, onXZ(0)) : ring(scaled(1), onXZ(0), rounds);
  let insert: Shape3D;
  if (slim === 0) insert = along(topWire, [0, -w.thick, 0]);
  else {
    const f = 1 - slim / (w.ic / 2);
    const low = w.wiper
      ? wiperRing(scaled(f), w.nose * f, onXZ(-w.thick))
      : ring(
          scaled(f),
          onXZ(-w.thick),
          rounds.map((r) => r * f),
        );
    insert = loft([topWire, low], { ruled: true });
  }
  if (w.breaker === 'ring')
    insert = insert.cut(
      plateXZ(
        scaled(0.84),
        1,
        1.18,
        rounds.map((r) => r * 0.8),
      ).cut(plateXZ(scaled(0.58), 2, 4)),
    );
  if (w.breaker === 'open') {
    // A trough across the corner that runs out through both edges.
    const d = 2 * TROUGH;
    const at = place([reach * 0.42, 0]);
    const across: Point = [v[0], 0, v[1]];
    insert = insert.cut(rod(d, [at[0] - v[0] * 40, d / 2 - DEEP, at[1] - v[1] * 40], across, 80));
  }
  if (w.breaker === 'bumps') {
    for (const k of [0.25, 0.4, 0.55]) {
      const at = place([reach * k + w.nose, 0]);
      insert = insert.fuse(rod(1.1, [at[0], -0.3, at[1]], [0, 1, 0], 0.42));
    }
  }
  if (w.hole)
    insert = insert.cut(rod(w.ic * 0.42, [middle[0], 1, middle[1]], [0, -1, 0], w.thick + 3)).cut(rod(w.ic * 0.53, [middle[0], 1, middle[1]], [0, -1, 0], 1.7));
  const apex: Point = [w.noseCentre[0] - u[0] * w.nose, 0, w.noseCentre[1] - u[1] * w.nose];
  const m: Motion =
    w.tilts[0] === 0 && w.tilts[1] === 0
      ? IDENTITY
      : compose(rotationAbout(apex, [0, 0, 1], w.tilts[1] * ARC), rotationAbout(apex, [1, 0, 0], w.tilts[0] * ARC));
  const tilt = (s: Shape3D) => (m === IDENTITY ? s : s.rotate(w.tilts[0], apex, [1, 0, 0]).rotate(w.tilts[1], apex, [0, 0, 1]));
  const seen = (deg: number): Flat => {
    const d = turn(m, [way(deg)[0], 0, way(deg)[1]]);
    return [d[0], d[2]];
  };
  const [main, side] = [seen(w.mainDeg), seen(w.mainDeg + w.sense * eps)];
  const between = (a: Flat, b: Flat) => Math.acos((a[0] * b[0] + a[1] * b[1]) / Math.hypot(...a) / Math.hypot(...b)) / ARC;
  const flip = hand === 'left' ? -1 : 1;
  // A wiper cuts the corner back a little: its nose lies further in, as `wiperRing` draws it.
  const half = (eps / 2) * ARC;
  const s = 3.2 * w.nose;
  const back = w.wiper
    ? s * Math.cos(half) - (s * Math.sin(half)) / Math.tan(half + 1.5 * ARC) + w.nose / Math.sin(half + 1.5 * ARC) - w.nose / Math.sin(half)
    : 0;
  // A trough that goes over the nose lowers its edge there.
  const sunk = w.breaker === 'open' ? troughDepth(w.nose / Math.sin(half) - w.nose - reach * 0.42) : 0;
  const f = 1 - (sunk * Math.tan(w.clearance * ARC)) / (w.ic / 2);
  const flat: Flat = [w.noseCentre[0] + u[0] * back, w.noseCentre[1] + u[1] * back];
  const c = move(m, [middle[0] + (flat[0] - middle[0]) * f, -sunk, middle[1] + (flat[1] - middle[1]) * f]);
  return {
    insert: tilt(insert),
    top: scaled(1),
    middle,
    nosePoint: w.noseCentre,
    size: w.ic,
    tilt,
    thick: w.thick,
    tip: {
      noseRadius: w.nose * f,
      noseCentre: [c[0], c[1] * flip, c[2]],
      enteringAngle: between(main, w.feed),
      includedAngle: between(main, side),
      ownAngle: eps,
      hand,
    },
    said: `${w.form} ${w.ic}${w.breaker === 'none' ? '' : `, breaker ${w.breaker}`}${w.wiper ? ', wiper' : ''}${m === IDENTITY ? '' : `, tilted ${w.tilts.join('/')}`}`,
  };
}

// A corner with an arc of a large radius on each side of the nose before the straight edges begin.
function wiperRing(corners: readonly Flat[], r: number, lift: (p: Flat) => Point) {
  // The corner is cut back a little along both edges; there the blunter ones get large radii.
  const n = corners.length;
  const out: Flat[] = [];
  const rounds: number[] = [];
  corners.forEach((p, i) => {
    const [a, b] = [corners[(i + n - 1) % n], corners[(i + 1) % n]];
    if (i !== 0) {
      out.push(p);
      rounds.push(r);
      return;
    }
    // Two points on the edges 2.2 r from the corner; between them the outline bulges by tangents that turn by a degree and a half.
    const u = norm([a[0] - p[0], a[1] - p[1]]);
    const v = norm([b[0] - p[0], b[1] - p[1]]);
    const s = 3.2 * r;
    const lean = 1.5 * ARC;
    // A line from each point, turned towards the insert, meets its other in the new corner.
    const p1: Flat = [p[0] + u[0] * s, p[1] + u[1] * s];
    const p2: Flat = [p[0] + v[0] * s, p[1] + v[1] * s];
    const sense = u[0] * v[1] - u[1] * v[0] > 0 ? 1 : -1;
    const d1 = rotate([-u[0], -u[1]], -sense * lean);
    const d2 = rotate([-v[0], -v[1]], sense * lean);
    const det = d1[0] * -d2[1] + d2[0] * d1[1];
    const t = ((p2[0] - p1[0]) * -d2[1] + d2[0] * (p2[1] - p1[1])) / det;
    out.push(p1, [p1[0] + d1[0] * t, p1[1] + d1[1] * t], p2);
    rounds.push(40 * r, r, 40 * r);
  });
  return ring(out, lift, rounds);
}
export const norm = (v: Flat): Flat => [v[0] / Math.hypot(...v), v[1] / Math.hypot(...v)];
const rotate = ([a, b]: Flat, by: number): Flat => [a * Math.cos(by) - b * Math.sin(by), a * Math.sin(by) + b * Math.cos(by)];

// What may lie under an insert: inside of it, and behind its nose.
export const under = ({ top, middle: m, nosePoint }: Seated, share: number): Flat[] =>
  top.map(
    ([x, z], i): Flat =>
      i === 0
        ? [nosePoint[0] + (m[0] - nosePoint[0]) * 0.05, nosePoint[1] + (m[1] - nosePoint[1]) * 0.05]
        : [m[0] + (x - m[0]) * share, m[1] + (z - m[1]) * share],
  );

// Room for the insert and all above it.
export function pocket(s: Seated, deep: number): Shape3D {
  const m = s.middle;
  const grown = s.top.map(([x, z]): Flat => [m[0] + (x - m[0]) * 1.004, m[1] + (z - m[1]) * 1.004]);
  const tip = s.top[0];
  const out = norm([tip[0] - m[0], tip[1] - m[1]]);
  const ahead = grown.map(([x, z]): Flat => [x + out[0] * 30, z + out[1] * 30]);
  return s.tilt(plateXZ(around([...grown, ...ahead]), 14, 14 + deep));
}
/** Points around others, in order. */
export function around(points: readonly Flat[]): Flat[] {
  const start = [...points].sort((a, b) => a[1] - b[1] || a[0] - b[0])[0];
  const out: Flat[] = [start];
  let from: Flat = start;
  for (let guard = 0; guard < 60; guard++) {
    let next: Flat | undefined;
    for (const p of points) {
      if (p === from) continue;
      if (!next) next = p;
      else {
        const c = (next[0] - from[0]) * (p[1] - from[1]) - (next[1] - from[1]) * (p[0] - from[0]);
        if (c < -1e-9 || (Math.abs(c) < 1e-9 && Math.hypot(p[0] - from[0], p[1] - from[1]) > Math.hypot(next[0] - from[0], next[1] - from[1]))) next = p;
      }
    }
    if (!next || next === start) break;
    out.push(next);
    from = next;
  }
  return out;
}

// What holds an insert: a shim, and a screw, a lever's pin or a finger from behind.
export function fastened(r: Random, s: Seated, shim: number): WildBody[] {
  const out: WildBody[] = [];
  const m = s.middle;
  if (shim > 0) {
    const plate = plateXZ(
      s.top.map(([x, z]): Flat => [m[0] + (x - m[0]) * 0.96, m[1] + (z - m[1]) * 0.96]),
      -s.thick,
      shim,
      s.tip.noseRadius,
    );
    out.push({ shape: s.tilt(plate.cut(rod(3, [m[0], 5, m[1]], [0, -1, 0], 40))), role: 'hardware' });
  }
  // A finger needs room behind the insert.
  const how = r.pick(s.size > 9 ? (['screw', 'lever', 'finger'] as const) : (['screw', 'lever'] as const));
  if (how === 'screw') {
    const head = lathe([
      [0, 0],
      [2.1, 0],
      [1.5, -1.4],
      [1.2, -1.4],
      [1.2, -(s.thick + shim + 4)],
      [0, -(s.thick + shim + 4)],
    ]).rotate(-90, [0, 0, 0], [1, 0, 0]);
    out.push({ shape: s.tilt(head.translate([m[0], -0.2, m[1]])), role: 'hardware' });
  } else if (how === 'lever') out.push({ shape: s.tilt(rod(2.4, [m[0], -0.6, m[1]], [0, -1, 0], s.thick + shim + 3)), role: 'hardware' });
  else {
    const o = norm([m[0] - s.top[0][0], m[1] - s.top[0][1]]);
    const q: Flat = [-o[1], o[0]];
    const at = (a: number, b: number): Flat => [m[0] + o[0] * a + q[0] * b, m[1] + o[1] * a + q[1] * b];
    out.push({ shape: s.tilt(plateXZ([at(-1, -2.2), at(13, -3.5), at(13, 3.5), at(-1, 2.2)], 3.4, 3.3, 0.8)), role: 'hardware' });
  }
  return out;
}

export const flipped = (bodies: readonly WildBody[]): WildBody[] => bodies.map((b) => ({ ...b, shape: b.shape.mirror('XZ') }));

export const INSERTS: readonly { ic: number; thick: number; noses: readonly number[] }[] = [
  { ic: 6.35, thick: 2.38, noses: [0.2, 0.4, 0.8] },
  { ic: 9.525, thick: 3.97, noses: [0.4, 0.8, 1.2] },
  { ic: 12.7, thick: 4.76, noses: [0.4, 0.8, 1.2, 1.6] },
  { ic: 15.875, thick: 6.35, noses: [0.8, 1.2, 1.6] },
];
// Inch noses are of 1/64.
const INCH_NOSES = [0.3969, 0.7938, 1.1906];

export function wishFor(
  r: Random,
  form: Form,
  size: (typeof INSERTS)[number],
  inch: boolean,
  negative: boolean,
): Omit<Wish, 'mainDeg' | 'sense' | 'noseCentre' | 'feed'> {
  return {
    form,
    ic: size.ic,
    thick: size.thick,
    nose: inch ? r.pick(INCH_NOSES.slice(size.ic > 9 ? 1 : 0)) : r.pick(size.noses),
    clearance: negative ? 0 : r.pick([5, 7, 11]),
    tilts: negative
      ? r.pick([
          [6, -6],
          [5, -5],
          [6, -6.5],
        ] as Flat[])
      : [0, 0],
    breaker: r.pick(['none', 'ring', 'open', 'bumps'] as const),
    wiper: form === 'C' && r.chance(0.3),
    hole: r.chance(0.85),
  };
}
