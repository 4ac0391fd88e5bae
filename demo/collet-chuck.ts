import { makePlane, type Shape3D } from 'replicad';
import type { DemoModel } from './model.ts';
import { engrave, hole, type P2, prismXZ, turned } from './shapes.ts';

// Hollow short taper, flange 63 (ISO 12164 nominal sizes): 48 at the face, 32 long, 1:9.98.
const TAPER_SMALL = 24 - 32 / 9.98 / 2;

/** A collet chuck: hollow short taper 63, collet size 32, slotted nut. Mount on the flange face, seat at the nut's front. */
export function colletChuck(): DemoModel {
  const thread: P2[] = [];
  for (let z = 84; z < 98; z += 1.5) thread.push([20, z], [19.1, z + 0.75]);
  let body: Shape3D = turned([
    [17, -32],
    [TAPER_SMALL - 0.8, -32],
    [24 - 31.2 / 9.98 / 2, -31.2],
    [24, 0],
    [31.5, 0],
    [31.5, 11.2],
    [27.5, 13.6],
    [27.5, 15.4],
    [31.5, 17.8],
    [31.5, 26],
    [26, 26],
    [25, 27],
    [25, 78],
    [24, 79],
    [20, 79],
    ...thread,
    [20, 99],
    [19, 100],
    // inside, back to the rear: collet cone of 8 degrees, then the bore
    [16.5, 100],
    [16.5 - 40 * Math.tan((8 * Math.PI) / 180), 60],
    [9, 60],
    [9, 12],
    [12, 8],
    [12, -18],
    [17, -22],
  ]);
  body = body.fillet(1.5, (e) => e.inPlane('XY', 26).ofCurveType('CIRCLE').containsPoint([26, 0, 26]));
  for (const side of [1, -1])
    body = body.cut(
      prismXZ(
        [
          [22.5 * side, -1],
          [33 * side, -1],
          [33 * side, 9.5],
          [22.5 * side, 9.5],
        ],
        6.25,
        12.5,
      ),
    );
  for (const deg of [0, 180])
    body = body.cut(
      prismXZ(
        [
          [-6, -33],
          [6, -33],
          [6, -20],
          [-6, -20],
        ],
        30,
        30,
      ).rotate(deg, [0, 0, 0], [0, 0, 1]),
    );
  body = body.cut(hole(2.5, 9, [0, 32, 21], [0, -1, 0])).cut(hole(4, 60, [0, 0, -24], [0, 1, 0]));
  for (let i = 0; i < 4; i++) body = body.cut(hole(2.5, 6, [0, 25.4, 55], [0, -1, 0]).rotate(45 + 90 * i, [0, 0, 0], [0, 0, 1]));
  body = body.cut(
    prismXZ(
      [
        [-12, 34],
        [12, 34],
        [12, 48],
        [-12, 48],
      ],
      30,
      5.6,
    ),
  );
  body = engrave(body, '2-20', makePlane('XY', [0, 0, 0]).pivot(-90, 'X').translate([-8.5, 24.4, 38]), 5, 0.25);
  const inside: P2[] = [];
  for (let z = 97.25; z > 84; z -= 1.5) inside.push([19.3, z], [20.2, z - 0.75]);
  let nut: Shape3D = turned([[20.4, 81], [24.2, 81], [25, 81.8], [25, 103], [23, 105.5], [14, 105.5], [14, 104], [17.2, 100.8], [19.3, 100.8], ...inside]);
  for (let i = 0; i < 6; i++)
    nut = nut.cut(
      prismXZ(
        [
          [-2.6, 84],
          [2.6, 84],
          [2.6, 100],
          [-2.6, 100],
        ],
        26,
        3.2,
      ).rotate(60 * i, [0, 0, 0], [0, 0, 1]),
    );
  for (let i = 0; i < 6; i++) nut = nut.cut(hole(1, 3, [21, 0, 106], [0, 0, -1]).rotate(30 + 60 * i, [0, 0, 0], [0, 0, 1]));
  return {
    file: 'collet-chuck-63-32.step',
    unit: 'mm',
    name: 'Collet chuck 63 / 32',
    kind: 'holder',
    bodies: [
      { shape: body, name: 'Revolve1', colour: '#5f666d', role: 'tool body' },
      { shape: nut, name: 'UM-32', colour: '#3f4449', role: 'tool body' },
    ],
    pose: {
      rotate: [
        { axis: [1, 0, 0], deg: 180 },
        { axis: [0, 1, 0], deg: 30 },
      ],
      move: [15, 240, -60],
    },
    mount: { name: 'Taper', connection: { standard: 'HSK-A', size: 63 }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [{ id: 's1', name: 'Collet', connection: { standard: 'ER', size: 32 }, frame: { origin: [0, 0, 105.5], z: [0, 0, 1], x: [1, 0, 0] } }],
    tips: [],
    geometry: [{ target: 'non-cutting', mode: 'revolved', tolerance: 0.05 }],
  };
}
