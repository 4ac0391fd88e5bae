// Cutters with several inserts.
import { loft, type Shape3D } from 'replicad';
import type { Random } from '../random.ts';
import { at, cylindrical } from './places.ts';
import { ARC, box, capScrew, type Flat, helicalGroove, lathe, onXZ, plateXZ, ring, rod } from './solids.ts';
import type { WildBody, WildModel, WildTip } from './wild-model.ts';

// An insert that lies on its side in a milling or drilling body: a square plate with rounded corners, its top towards -Y... and turned into place.
function plateInsert(side: number, thick: number, nose: number): Shape3D {
  const square: Flat[] = [
    [0, 0],
    [-side, 0],
    [-side, -side],
    [0, -side],
  ];
  const c: Flat = [-side / 2, -side / 2];
  const f = 1 - (2 * thick * Math.tan(11 * ARC)) / side;
  const low = square.map(([a, b]): Flat => [c[0] + (a - c[0]) * f, c[1] + (b - c[1]) * f]);
  return loft([ring(square, onXZ(0), nose), ring(low, onXZ(-thick), nose * f)], { ruled: true }).cut(rod(side * 0.38, [c[0], 1, c[1]], [0, -1, 0], thick + 2));
}

/** A face or shell mill on an arbor's bore, or a drill with two inserts. */
export function indexable(r: Random): WildModel {
  const side = r.pick([9.525, 12.7]);
  const thick = side < 10 ? 3.97 : 4.76;
  const nose = r.pick([0.4, 0.8]);
  if (r.chance(0.6)) {
    const D = r.pick([40, 50, 63, 80]);
    const bore = D < 45 ? 16 : D < 55 ? 22 : D < 70 ? 22 : 27;
    const H = D < 60 ? 40 : 50;
    const n = r.pick(D < 45 ? [3, 4] : [4, 5, 6]);
    let body = lathe([
      [bore / 2, 0],
      [D * 0.42, 0],
      [D * 0.42, H - 16],
      [D / 2 - 1.2, H - 12],
      [D / 2 - 1.2, H - 0.8],
      [bore * 0.75, H - 0.8],
      [bore * 0.75, H - 14],
      [bore / 2, H - 14],
    ]);
    body = body.cut(box([-D, D], [-4, 4], [-1, 5.6]));
    const bodies: WildBody[] = [];
    const tips: WildTip[] = [];
    for (let k = 0; k < n; k++) {
      const turn = (360 / n) * k + 20;
      const put = (s: Shape3D) => s.rotate(turn, [0, 0, 0], [0, 0, 1]);
      body = body.cut(
        put(
          plateXZ(
            [
              [D / 2 - side - 0.05, H - side - 0.05],
              [D, H - side - 0.05],
              [D, H + 9],
              [D / 2 - side - 0.05, H + 9],
            ],
            9,
            9 + thick,
          ),
        ),
      );
      bodies.push({ shape: put(plateInsert(side, thick, nose).translate([D / 2, 0, H])), role: 'cutting', like: { of: 'insert', turned: turn } });
      bodies.push({
        shape: put(capScrew(2.5, 7, [D / 2 - side / 2, -1.5, H - side / 2], [0, 1, 0]).cut(box([-400, 400], [-1.2, 50], [-400, 400]))),
        role: 'hardware',
        like: { of: 'screw', turned: turn },
      });
      const [c, s] = [Math.cos(turn * ARC), Math.sin(turn * ARC)];
      const x = D / 2 - nose;
      tips.push({ noseRadius: nose, noseCentre: [c * x, s * x, H - nose] });
    }
    return {
      kind: 'indexable',
      readAs: 'cutter',
      bodies: [{ shape: body, role: 'tool body' }, ...bodies],
      mount: at(0, { standard: 'bolted face', size: bore }),
      seats: [],
      tips,
      oneOf: true,
      note: `face mill ${D}, ${n} inserts, bore ${bore}`,
    };
  }
  const D = r.pick([20, 24, 28]);
  const sd = 25;
  const hold = 56;
  const flange = 12;
  const end = hold + flange + 3 * D + 10;
  let body = lathe([
    [0, -hold],
    [sd / 2 - 1, -hold],
    [sd / 2, -hold + 1],
    [sd / 2, 0],
    [sd / 2 + 6, 0],
    [sd / 2 + 6, flange],
    [D * 0.48, flange + 8],
    [D * 0.48, end - hold - 0.5],
    [0, end - hold - 0.5],
  ]);
  body = body.cut(box([sd * 0.45, sd], [-sd, sd], [-hold + 14, -hold + 32]));
  const L = end - hold;
  const side2 = 6.35;
  for (let k = 0; k < 2; k++) body = body.cut(helicalGroove(D * 0.27, D * 0.42, 8 * D, flange + 12, L + 4, 180 * k + 70));
  const bodies: WildBody[] = [];
  const tips: WildTip[] = [];
  for (const [k, out] of [
    [0, D / 2],
    [1, side2 - 0.6],
  ] as const) {
    const put = (s: Shape3D) => s.rotate(180 * k, [0, 0, 0], [0, 0, 1]);
    body = body.cut(
      put(
        plateXZ(
          [
            [out - side2, L - side2],
            [out + 9, L - side2],
            [out + 9, L + 9],
            [out - side2, L + 9],
          ],
          12,
          12 + 2.38,
        ),
      ),
    );
    bodies.push({ shape: put(plateInsert(side2, 2.38, 0.4).translate([out, 0, L])), role: 'cutting' });
    tips.push({ noseRadius: 0.4, noseCentre: [(k === 0 ? 1 : -1) * (out - 0.4), 0, L - 0.4] });
  }
  return {
    kind: 'indexable',
    readAs: 'cutter',
    bodies: [{ shape: body, role: 'tool body' }, ...bodies],
    mount: at(0, cylindrical(sd)),
    seats: [],
    tips,
    oneOf: true,
    note: `drill ${D} with two inserts, shank ${sd}`,
  };
}
