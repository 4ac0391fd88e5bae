import { makeBaseBox, makePlane, type Shape3D } from 'replicad';
import type { DemoModel } from './model.ts';
import { clampScrew, engrave, hole, prismXZ, screw, serratedShank } from './shapes.ts';

const TOP_SCREWS = [32, 46, 60];

/** A station block with serrated shank 40: a bore 32 along the shank, and a 25 x 25 slot across it. Mount on the contact face. */
export function stationBlock(): DemoModel {
  let body: Shape3D = makeBaseBox(110, 84, 70).translate([17, -4, 0]);
  body = body.chamfer(4, (e) => e.inDirection('Z')).fillet(2, (e) => e.inPlane('XY', 70));
  body = body.fuse(serratedShank());
  // Seat along the shank: bore 32 with three clamping screws.
  body = body.cut(hole(16, 72, [0, 0, -1], [0, 0, 1])).cut(hole(15.5, 64, [0, 0, -64], [0, 0, 1]));
  for (const z of [18, 35, 52]) body = body.cut(hole(4.2, 40, [0, -46, z], [0, 1, 0]));
  // Seat across: slot for a 25 shank on the top right, open to +X and upwards.
  body = body.cut(
    prismXZ(
      [
        [20, 30],
        [73, 30],
        [73, 55.001],
        [20, 55.001],
      ],
      60,
      60 + 25,
    ),
  );
  for (const x of TOP_SCREWS) body = body.cut(hole(4.2, 30, [x, -12.5, 72], [0, 0, -1]));
  for (const [x, y] of [
    [-30, 28],
    [64, 28],
    [-30, -38],
    [64, -38],
  ])
    body = body.cut(hole(3, 80, [x, y, -1], [0, 0, 1])).cut(hole(5, 9, [x, y, 62], [0, 0, 1]));
  body = body.cut(hole(2.5, 60, [-39, 6, 20], [1, 0, 0])).cut(hole(5, 14, [-39, 6, 20], [1, 0, 0]));
  body = engrave(body, 'H-2025', makePlane('XZ', [-32, -46, 12]), 8, 0.4);
  const clampScrews = [18, 35, 52].map((z, i) => ({
    shape: clampScrew(0, -44, z, 24),
    name: `S${i + 1}`,
    colour: '#2f3337',
    role: 'hardware' as const,
  }));
  const topScrews = TOP_SCREWS.map((x, i) => ({
    // Down to the shank in the slot.
    shape: screw(9, 8, 16, [0, 0, 0]).rotate(90, [0, 0, 0], [1, 0, 0]).translate([x, -12.5, 71]),
    name: `S${i + 4}`,
    colour: '#2f3337',
    role: 'hardware' as const,
  }));
  return {
    file: 'station-block-40.step',
    unit: 'mm',
    name: 'Station block 40',
    kind: 'station block',
    bodies: [{ shape: body, name: 'BLK', colour: '#70767d', role: 'tool body' }, ...clampScrews, ...topScrews],
    pose: {
      rotate: [
        { axis: [0, 0, 1], deg: 90 },
        { axis: [1, 0, 0], deg: 90 },
      ],
      move: [-250, 40, 75.5],
    },
    mount: { name: 'Serrated shank', connection: { standard: 'VDI', size: 40 }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [
      { id: 's1', name: 'Bore along', connection: { standard: 'cylindrical', size: 32 }, frame: { origin: [0, 0, 70], z: [0, 0, 1], x: [1, 0, 0] } },
      { id: 's2', name: 'Slot across', connection: { standard: 'square', size: '25x25' }, frame: { origin: [72, 0, 30], z: [1, 0, 0], x: [0, 0, 1] } },
    ],
    tips: [],
    geometry: [{ target: 'non-cutting', mode: 'auto', tolerance: 0.1 }],
  };
}
