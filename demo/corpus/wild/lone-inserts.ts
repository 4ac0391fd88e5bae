// Inserts of the wild corpus that stand alone in their files: sticks that groove, threading inserts of one or three profiles, plates by their shape letter.
import { loft, type Shape3D } from 'replicad';
import type { MarkedPlace } from '../corpus-model.ts';
import type { Random } from '../random.ts';
import { ARC, barXY, type Flat, lathe, onXZ, ring, rod } from './solids.ts';
import type { WildModel, WildTip } from './wild-model.ts';

// They lie with what they stand on at y 0, their top up, X to the side.
const lies = (size: number | '', turnedDeg = 0, origin: [number, number, number] = [0, 0, 0]): MarkedPlace => {
  const [s, c] = [Math.sin(turnedDeg * ARC), Math.cos(turnedDeg * ARC)];
  return { connection: { standard: 'bolted face', size }, frame: { origin, z: [s, 0, c], x: [c, 0, -s] } };
};
const turned = ([x, z]: Flat, deg: number): Flat => {
  const [s, c] = [Math.sin(deg * ARC), Math.cos(deg * ARC)];
  return [c * x + s * z, c * z - s * x];
};

export function loneInsert(r: Random): WildModel {
  return r.pick([stick, stick, thread, plate])(r);
}

function stick(r: Random): WildModel {
  const wide = r.pick([1.5, 2, 2.5, 3, 4, 5, 6]);
  const full = wide >= 2 && r.chance(0.3);
  const nose = full ? wide / 2 : r.pick([0.1, 0.15, 0.2, 0.3, 0.4]);
  const long = r.pick([12, 16, 20, 25].filter((l) => l >= 2.2 * wide));
  const tall = r.pick([3, 3.8, 4.5, 5.5]);
  const both = r.chance(0.4);
  const lead = !full && !both && r.chance(0.3) ? r.pick([4, 8]) : 0;
  const half = wide / 2;
  // A half circle ends where its sides are parallel.
  const slim = full ? 0 : 0.08;
  const waist = r.chance(0.6) ? Math.min(0.3, half - 0.5) : slim + 0.02;
  const head = Math.max(2.2, 0.6 * wide);
  // One end, from its left side over the edge to its right side.
  const end = (back: number): Flat[] => [
    [-half + waist, long - head - 0.2],
    [-half + slim, long - head],
    [-half, long],
    [half, long - wide * Math.tan(lead * ARC) - back],
    [half - (slim * (head - wide * Math.tan(lead * ARC) - back)) / head, long - head],
    [half - waist, long - head - 0.2],
  ];
  const other: Flat[] = both
    ? end(0).map(([x, z]): Flat => [-x, long - z])
    : [
        [half - waist, 0],
        [-half + waist, 0],
      ];
  const top = [...end(0), ...other];
  const inwards = tall * Math.tan(2 * ARC);
  const backwards = tall * Math.tan(r.pick([6, 8, 10]) * ARC);
  const low = top.map(([x, z]): Flat => {
    const isFront = z > long - head + 1e-6;
    const isRear = both && z < head - 1e-6;
    // Half a circle below as above, between sides that are parallel there too.
    const isSlim = isFront || isRear || (full && (z > long - head - 1e-6 || (both && z < head + 1e-6)));
    return [x - Math.sign(x) * (isSlim ? inwards : 0), z - (isFront ? backwards : 0) + (isRear ? backwards : 0)];
  });
  const rounds = (radius: number) => top.map((_, i) => (i === 2 || i === 3 || (both && (i === 8 || i === 9)) ? radius : 0));
  const lowNose = full ? half - inwards : nose;
  let shape: Shape3D = loft([ring(top, onXZ(tall), rounds(nose)), ring(low, onXZ(0), rounds(lowNose))], { ruled: true });
  const breaker = !full && r.chance(0.4);
  if (breaker) shape = shape.cut(rod(3, [-10, tall + 1.28, long - 3.2], [1, 0, 0], 20));
  const groove = wide >= 2.5 && r.chance(0.4);
  if (groove)
    shape = shape.cut(
      barXY(
        [
          [-wide / 5, -0.5],
          [wide / 5, -0.5],
          [0, wide / 5],
        ],
        -1,
        long + 1,
      ),
    );
  const apex = lead * ARC;
  // The left corner of a leaning edge is less than square.
  const corner = (x: -1 | 1): WildTip => {
    const beside = Math.atan(slim / head);
    // The two edges at the corner, from it: along the front and back along the side.
    const front: Flat = x < 0 ? [Math.cos(apex), -Math.sin(apex)] : [-Math.cos(apex), Math.sin(apex)];
    const side: Flat = [-x * Math.sin(beside), -Math.cos(beside)];
    const at: Flat = x < 0 ? [-half, long] : [half, long - wide * Math.tan(apex)];
    const angle = Math.acos(front[0] * side[0] + front[1] * side[1]);
    const middle: Flat = [front[0] + side[0], front[1] + side[1]];
    const l = Math.hypot(...middle);
    const away = nose / Math.sin(angle / 2);
    return { noseRadius: nose, noseCentre: [at[0] + (middle[0] / l) * away, tall, at[1] + (middle[1] / l) * away] };
  };
  const tips = full ? [] : [corner(-1), corner(1)];
  return {
    kind: 'insert',
    readAs: 'insert',
    bodies: [{ shape, role: 'cutting' }],
    mount: lies(''),
    ...(both ? { otherMounts: [lies('', 180, [0, 0, long])] } : {}),
    seats: [],
    tips: full ? [{ noseRadius: half, noseCentre: [0, tall, long - half] }] : tips,
    note: `grooving, ${wide} wide${full ? ', full radius' : `, radius ${nose}`}${both ? ', both ends' : ''}${lead ? `, leads by ${lead}` : ''}${breaker ? ', breaker' : ''}${groove ? ', grooved below' : ''}`,
  };
}

function thread(r: Random): WildModel {
  const ic = r.pick([6.35, 9.525, 12.7]);
  const thick = r.pick([3.2, 3.5, 4.8]);
  const angle = r.pick([60, 60, 55]);
  const nose = r.pick([0.08, 0.14, 0.22]);
  const count = r.pick([1, 3]);
  const high = r.pick([1.1, 1.4]);
  const out = 0.96 * ic;
  const t = high * Math.tan((angle / 2) * ARC);
  const shoulder = (ic - (out - high)) * Math.tan(30 * ARC);
  const points: Flat[] = [];
  const rounds: number[] = [];
  for (let k = 0; k < 3; k++) {
    const own: [Flat, number][] =
      k < count
        ? [
            [[-shoulder, out - high], 0],
            [[-t, out - high], 0],
            [[0, out], nose],
            [[t, out - high], 0],
            [[shoulder, out - high], 0],
          ]
        : [
            [[-shoulder, out - high], 0],
            [[shoulder, out - high], 0],
          ];
    for (const [p, round] of own) {
      points.push(turned(p, 120 * k));
      rounds.push(round);
    }
  }
  const scale = 1 - (thick * Math.tan(r.pick([7, 11]) * ARC)) / (ic / 2);
  const low = points.map(([x, z]): Flat => [x * scale, z * scale]);
  const bore = r.pick([2.9, 4.1]);
  const hole = lathe([
    [0, -1],
    [bore / 2, -1],
    [bore / 2, thick - 1],
    [bore / 2 + 0.9, thick + 0.01],
    [bore / 2 + 0.9, thick + 1],
    [0, thick + 1],
  ]).rotate(-90, [0, 0, 0], [1, 0, 0]);
  const shape = loft([ring(points, onXZ(thick), rounds), ring(low, onXZ(0), rounds)], { ruled: true }).cut(hole);
  const at = (k: number): WildTip => {
    const [x, z] = turned([0, out - nose / Math.sin((angle / 2) * ARC)], 120 * k);
    return { noseRadius: nose, noseCentre: [x, thick, z], ownAngle: angle };
  };
  const all = Array.from({ length: count }, (_, k) => k);
  return {
    kind: 'insert',
    readAs: 'insert',
    bodies: [{ shape, role: 'cutting' }],
    mount: lies(bore),
    ...(count > 1 ? { otherMounts: all.slice(1).map((k) => lies(bore, 120 * k)) } : {}),
    seats: [],
    tips: all.map(at),
    note: `threading ${angle}, circle ${ic}, ${count} of its corners`,
  };
}

const FORMS = { C: 80, D: 55, V: 35, S: 90, T: 60 } as const;

function plate(r: Random): WildModel {
  const form = r.pick(['C', 'D', 'V', 'S', 'T'] as const);
  const ic = r.pick(form === 'V' ? [6.35, 9.525] : [6.35, 9.525, 12.7, 15.875]);
  const thick = r.pick([2.38, 3.97, 4.76]);
  const clearance = r.pick([0, 5, 7, 11]);
  const nose = r.pick([0.2, 0.4, 0.8, 1.2]);
  const half = (FORMS[form] / 2) * ARC;
  const reach = ic / 2 / Math.sin(half);
  const blunt = ic / 2 / Math.cos(half);
  const points: Flat[] =
    form === 'T'
      ? [0, 1, 2].map((k) => turned([0, reach], 120 * k))
      : [
          [0, reach],
          [blunt, 0],
          [0, -reach],
          [-blunt, 0],
        ];
  const scale = 1 - (thick * Math.tan(clearance * ARC)) / (ic / 2);
  const low = points.map(([x, z]): Flat => [x * scale, z * scale]);
  let shape: Shape3D = loft([ring(points, onXZ(thick), nose), ring(low, onXZ(0), nose)], { ruled: true });
  const bore = r.chance(0.75) ? r.pick([2.8, 3.4, 4.4].filter((d) => d < 0.45 * ic)) : 0;
  if (bore > 0) shape = shape.cut(rod(bore, [0, -1, 0], [0, 1, 0], thick + 2));
  const turns = form === 'T' ? [0, 120, 240] : form === 'S' ? [0, 90, 180, 270] : [0, 180];
  const tipsAt = (y: number) =>
    turns.map((deg): WildTip => {
      const [x, z] = turned([0, reach - nose / Math.sin(half)], deg);
      return { noseRadius: nose, noseCentre: [x, y, z], ownAngle: FORMS[form] };
    });
  return {
    kind: 'insert',
    readAs: 'insert',
    bodies: [{ shape, role: 'cutting' }],
    mount: lies(bore || ''),
    otherMounts: turns.slice(1).map((deg) => lies(bore || '', deg)),
    seats: [],
    // Without clearance it may lie on either side.
    tips: clearance > 0 ? tipsAt(thick) : [...tipsAt(thick), ...tipsAt(0)],
    ...(clearance > 0 ? {} : { oneOf: true }),
    note: `${form}, circle ${ic}, clearance ${clearance}, radius ${nose}${bore > 0 ? `, hole ${bore}` : ''}`,
  };
}
