import { makeCylinder, makePlane, type Shape3D, type Solid } from 'replicad';
import { layOut, rhombicInsert, type RhombicInsert } from './inserts.ts';
import type { DemoModel } from './model.ts';
import { engrave, hole, type P2, polygon, prismXZ, screw, turned } from './shapes.ts';

const insert: RhombicInsert = { tip: [11, 150], angleDeg: 80, inscribedCircle: 6.35, thickness: 2.38, noseRadius: 0.4, holeDiameter: 2.8, clearanceDeg: 7 };

/** A 16 mm boring bar with coolant hole and flats, filed in inches. Mount on the axis at the rear face. */
export function boringBar(): DemoModel {
  const { e1, e2, sharp, corners, centre, noseCentre } = layOut(insert);
  const at = (a: number, b: number): P2 => [sharp[0] + a * e1[0] + b * e2[0], sharp[1] + a * e1[1] + b * e2[1]];
  let body: Shape3D = turned([
    [0, 0],
    [7.2, 0],
    [8, 0.8],
    [8, 149.2],
    [0, 149.2],
  ]);
  // The head: wider towards the tip, cut away above the insert.
  const head = prismXZ([[0, 128], [7.4, 128], [at(7, 0.6)[0], 138], at(0.6, 0.6), at(0.6, 14), [0, 149.2]], 0, 6.6);
  // Rounded so that it goes into a bore of 21: inside a circle of that size through the tip.
  body = body.fuse(head.intersect(makeCylinder(10.35, 40, [0.55, 0, 120], [0, 0, 1])));
  body = body.cut(
    prismXZ(
      [
        [-9, 132],
        [14, 132],
        [14, 152],
        [-9, 152],
      ],
      9,
      9,
    ),
  );
  body = body.cut(prismXZ([at(-4, -4), at(6.45, -4), at(6.45, 0), corners[2], at(0, 6.45), at(-4, 6.45)], 1, 1 + insert.thickness));
  body = body.cut(hole(1.4, 9, [centre[0], 0, centre[1]], [0, -1, 0]));
  body = body.cut(hole(2, 136, [-1.5, -2.5, -1], [0, 0, 1])).cut(hole(0.9, 30, [-1.5, -2.5, 134], [0.26, 0.05, 0.96]));
  for (const y of [7.4, -16.4])
    body = body.cut(
      prismXZ(
        [
          [-9, 0.001 - 1],
          [9, 0.001 - 1],
          [9, 118],
          [-9, 118],
        ],
        y + 9,
        9,
      ),
    );
  body = engrave(body, 'HL16-5', makePlane('XY', [0, 0, 0]).pivot(-90, 'X').translate([-2, 7.4, 60]), 3.2, 0.2);
  return {
    file: 'hub-bore-bar-16-inch.step',
    unit: 'inch',
    name: 'Hub-bore bar 16',
    kind: 'boring bar',
    bodies: [
      { shape: body, name: 'Import1', colour: '#80868b', role: 'tool body' },
      { shape: rhombicInsert(insert), name: 'Import1', colour: '#d4b13f', role: 'cutting' },
      { shape: screw(3.9, 2.5, 7, [centre[0], -0.3, centre[1]]), name: 'Import1-2', colour: '#4f5358', role: 'hardware' },
    ],
    pose: { rotate: [{ axis: [0, 1, 0], deg: 90 }], move: [0, 0, 0] },
    mount: { name: 'Shank', connection: { standard: 'cylindrical', size: 16 }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [{ id: 't1', name: 'Corner', noseRadius: 0.4, noseCentre: [noseCentre[0], 0, noseCentre[1]] }],
    geometry: [
      { target: 'cutting', mode: 'exact', tolerance: 0.01 },
      { target: 'non-cutting', mode: 'auto', tolerance: 0.05 },
    ],
  };
}

/** A reduction sleeve 32 to 16: slotted, with three set screws in its flange. Mount at the flange's rear, seat at its front. */
export function reductionSleeve(): DemoModel {
  let body: Shape3D = turned([
    [8, -70],
    [15, -70],
    [16, -69],
    [16, -0.6],
    [15.6, -0.3],
    [15.6, 0],
    [23, 0],
    [24, 1],
    [24, 17],
    [23, 18],
    [9, 18],
    [8, 17],
  ]);
  body = body.cut(
    prismXZ(
      [
        [-0.8, -71],
        [0.8, -71],
        [0.8, 5],
        [-0.8, 5],
      ],
      25,
      25,
    ),
  );
  for (const deg of [0, 120, 240]) body = body.cut(hole(3, 30, [0, 0, 9], [0, 1, 0]).rotate(deg, [0, 0, 0], [0, 0, 1]));
  for (let i = 0; i < 6; i++) body = body.cut(hole(1.2, 20, [19.5, 0, -0.001], [0, 0, 1]).rotate(30 + 60 * i, [0, 0, 0], [0, 0, 1]));
  body = body.cut(
    polygon([
      [23.6, 6],
      [25, 6],
      [25, 7.2],
      [23.6, 7.2],
    ])
      .sketchOnPlane('XZ')
      .revolve([0, 0, 1]) as Solid,
  );
  const setScrew = () => screw(6, 5, 12, [0, 23.4, 9]);
  return {
    file: 'sleeve-32-16.step',
    unit: 'mm',
    name: 'Sleeve 32 to 16',
    kind: 'adapter',
    bodies: [
      { shape: body, name: 'Part1', colour: '#6d747b', role: 'tool body' },
      ...[0, 120, 240].map((deg, i) => ({
        shape: setScrew().rotate(deg, [0, 0, 0], [0, 0, 1]),
        name: `GWS-${i}`,
        colour: '#33373b',
        role: 'hardware' as const,
      })),
    ],
    pose: { rotate: [{ axis: [1, 0, 0], deg: -90 }], move: [0, 70, 300] },
    mount: { name: 'Shank', connection: { standard: 'cylindrical', size: 32 }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [{ id: 's1', name: 'Bore', connection: { standard: 'cylindrical', size: 16 }, frame: { origin: [0, 0, 18], z: [0, 0, 1], x: [1, 0, 0] } }],
    tips: [],
    geometry: [{ target: 'non-cutting', mode: 'revolved', tolerance: 0.05 }],
  };
}
