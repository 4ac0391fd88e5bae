import { makeBaseBox, makePlane, type Shape3D } from 'replicad';
import type { DemoModel } from './model.ts';
import { clampScrew, engrave, hole, prismXZ, serratedShank } from './shapes.ts';

/** A block for stations on a rim: two bores 32 along the spindle axis, one towards each spindle, on the centre plane. */
export function doubleBoreBlock(): DemoModel {
  let body: Shape3D = makeBaseBox(164, 84, 94).translate([0, -4, 0]);
  body = body.chamfer(3, (e) => e.inDirection('Y')).fuse(serratedShank());
  body = body.cut(hole(16, 76, [82.001, 0, 52], [-1, 0, 0])).cut(hole(16, 76, [-82.001, 0, 52], [1, 0, 0]));
  const clamps = [66, 48, 30, -30, -48, -66];
  for (const x of clamps) body = body.cut(hole(4.2, 40, [x, -46, 52], [0, 1, 0]));
  for (const [x, y] of [
    [-70, 30],
    [70, 30],
    [-70, -38],
    [70, -38],
  ])
    body = body.cut(hole(3.4, 100, [x, y, -1], [0, 0, 1])).cut(hole(5.5, 12, [x, y, 84], [0, 0, 1]));
  body = body.cut(hole(3, 60, [0, 28, -1], [0, 0, 1]));
  body = engrave(body, 'H-2040', makePlane('XZ', [-16, -46, 14]), 8, 0.4);
  return {
    file: 'double-bore-block-40.step',
    unit: 'mm',
    name: 'Double bore block 40',
    kind: 'station block',
    bodies: [
      { shape: body, name: 'BLK', colour: '#70767d', role: 'tool body' },
      ...clamps.map((x, i) => ({ shape: clampScrew(x, -44, 52, 24), name: `S${i + 1}`, colour: '#2f3337', role: 'hardware' as const })),
    ],
    pose: { rotate: [{ axis: [1, 0, 0], deg: -90 }], move: [0, 120, 0] },
    mount: { name: 'Serrated shank', connection: { standard: 'VDI', size: 40 }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [
      { id: 's1', name: 'Bore, main side', connection: { standard: 'cylindrical', size: 32 }, frame: { origin: [82, 0, 52], z: [1, 0, 0], x: [0, 0, -1] } },
      {
        id: 's2',
        name: 'Bore, counter side',
        connection: { standard: 'cylindrical', size: 32 },
        frame: { origin: [-82, 0, 52], z: [-1, 0, 0], x: [0, 0, -1] },
      },
    ],
    tips: [],
    geometry: [{ target: 'non-cutting', mode: 'auto', tolerance: 0.1 }],
  };
}

/** A block for stations on a rim: a 25 x 25 slot that points at the spindle axis. */
export function slotBlock(): DemoModel {
  let body: Shape3D = makeBaseBox(104, 84, 72).translate([14, -4, 0]);
  body = body.chamfer(3, (e) => e.inDirection('Y')).fuse(serratedShank());
  body = body.cut(
    prismXZ(
      [
        [24, 8],
        [24, 72.001],
        [49.001, 72.001],
        [49.001, 8],
      ],
      60,
      60 + 25,
    ),
  );
  const clamps = [22, 40, 58];
  for (const z of clamps) body = body.cut(hole(4.2, 30, [36.5, -46.001, z], [0, 1, 0]));
  for (const [x, y] of [
    [-28, 28],
    [58, 28],
    [-28, -38],
    [58, -38],
  ])
    body = body.cut(hole(3.4, 80, [x, y, -1], [0, 0, 1])).cut(hole(5.5, 10, [x, y, 63], [0, 0, 1]));
  body = engrave(body, 'H-2041', makePlane('XZ', [-32, -46, 12]), 7, 0.4);
  return {
    file: 'slot-block-40.step',
    unit: 'mm',
    name: 'Slot block 40',
    kind: 'station block',
    bodies: [
      { shape: body, name: 'BLK', colour: '#70767d', role: 'tool body' },
      ...clamps.map((z, i) => ({ shape: clampScrew(36.5, -45, z, 20), name: `S${i + 1}`, colour: '#2f3337', role: 'hardware' as const })),
    ],
    pose: { rotate: [{ axis: [0, 1, 0], deg: 180 }], move: [40, -20, 310] },
    mount: { name: 'Serrated shank', connection: { standard: 'VDI', size: 40 }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [{ id: 's1', name: 'Slot', connection: { standard: 'square', size: '25x25' }, frame: { origin: [24, 0, 72], z: [0, 0, 1], x: [1, 0, 0] } }],
    tips: [],
    geometry: [{ target: 'non-cutting', mode: 'auto', tolerance: 0.1 }],
  };
}
