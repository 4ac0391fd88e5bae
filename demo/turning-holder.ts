import { makeCylinder, makePlane, type Shape3D, type Solid } from 'replicad';
import { layOut, rhombicInsert, type RhombicInsert } from './inserts.ts';
import type { DemoModel } from './model.ts';
import { engrave, hole, type P2, polygon, prismXZ, screw } from './shapes.ts';

const insert: RhombicInsert = { tip: [32, 150], angleDeg: 80, inscribedCircle: 12.7, thickness: 4.76, noseRadius: 0.8, holeDiameter: 5.16, clearanceDeg: 7 };
const SHIM = 3.18;

/** The left-hand one, for facing the hub's flange. */
export const turningHolder = (): DemoModel => holder('left', { file: 'hub-face-holder-25.step', name: 'Hub-face holder 25 L', engraved: 'HF-25L' });

/** Its right-hand twin, for turning along. */
export const rightHolder = (): DemoModel => holder('right', { file: 'hub-turning-holder-25.step', name: 'Hub-turning holder 25 R', engraved: 'HT-25R' });

/** An outside turning holder, 25 x 25 shank, entering angle 95: five bodies. Mount on the back side, at the rear, at tip height. */
function holder(hand: 'left' | 'right', { file, name, engraved }: { file: string; name: string; engraved: string }): DemoModel {
  const handed = (shape: Solid): Solid => (hand === 'left' ? shape.mirror('XZ') : shape);
  const { e1, e2, sharp, corners, centre, noseCentre } = layOut(insert);
  const at = (a: number, b: number): P2 => [sharp[0] + a * e1[0] + b * e2[0], sharp[1] + a * e1[1] + b * e2[1]];
  const inner = at(1.4, 1.4);
  const outline: P2[] = [[0, 0], [25, 0], [25, 108], [at(26, 1.4)[0], 121], inner, at(1.4, 27), [0, 141]];
  let body: Shape3D = prismXZ(outline, 0, 25);
  body = body.chamfer(1.2, (e) => e.inDirection('Z'));
  // The pocket is the insert's own outline down to the shim's foot, opened towards the tip, with relief at the inner corner.
  const pocket = prismXZ([at(-9, -9), at(12.9, -9), at(12.9, 0), corners[2], at(0, 12.9), at(-9, 12.9)], 1, 1 + insert.thickness + SHIM);
  body = body.cut(pocket);
  body = body.cut(makeCylinder(1.1, insert.thickness + SHIM, [corners[2][0], 0, corners[2][1]], [0, -1, 0]));
  body = body.cut(hole(2.3, 16, [centre[0], 0, centre[1]], [0, -1, 0]));
  body = body.cut(hole(3, 12, [8, 0.5, 124], [0, -1, 0]));
  body = body.cut(hole(2.5, 118, [12.5, -17, -0.5], [0, 0, 1])).cut(hole(4.1, 12, [12.5, -17, -0.5], [0, 0, 1]));
  // Drawn right-handed so far: of a left-hand tool everything is mirrored, and the letters come after.
  body = handed(body);
  const letters = hand === 'left' ? 8 : -17;
  body = engrave(body, engraved, makePlane('YZ', [25, letters, 30]), 6, 0.3);
  body = engrave(body, '2525-150', makePlane('YZ', [25, letters, 62]), 5, 0.25);
  // Well inside of the insert's foot: what stands below the tip is farther from the axis than it looks from above, and would rub beside the edge.
  const inset = insert.thickness * Math.tan((7 * Math.PI) / 180) + 0.6;
  const factor = 1 - (2 * inset) / insert.inscribedCircle;
  const shim = (
    polygon(corners.map(([x, z]): P2 => [centre[0] + (x - centre[0]) * factor, centre[1] + (z - centre[1]) * factor]))
      .sketchOnPlane('XZ', [0, -insert.thickness, 0])
      .extrude(SHIM) as Solid
  )
    .fillet(1.2, (e) => e.inDirection('Y'))
    .cut(makeCylinder(2.4, 8, [centre[0], 0, centre[1]], [0, -1, 0]));
  const clampOutline: P2[] = [
    [3.5, 119],
    [12.5, 119],
    [centre[0] + 1.5, centre[1] - 1.5],
    [centre[0] - 2, centre[1] + 2.5],
    [3.5, 130],
  ];
  const clamp = prismXZ(clampOutline, 5.4, 5.3)
    .fillet(1, (e) => e.inPlane('XZ', -5.4))
    .cut(hole(3.1, 12, [8, 8, 124], [0, -1, 0]));
  return {
    file,
    unit: 'mm',
    name,
    kind: 'turning tool',
    bodies: [
      { shape: body, name: 'Body2', colour: '#8a8f96', role: 'tool body' },
      { shape: handed(rhombicInsert(insert)), name: 'SOLID-14', colour: '#c9a227', role: 'cutting' },
      { shape: handed(shim), name: '9923-A', colour: '#9aa0a6', role: 'hardware' },
      { shape: handed(clamp), name: 'Boss-Extrude7', colour: '#777d84', role: 'hardware' },
      { shape: handed(screw(8.4, 6, 16, [8, 7.2, 124])), name: 'DIN-x', colour: '#55595e', role: 'hardware' },
    ],
    pose: {
      rotate: [
        { axis: [1, 0, 0], deg: 90 },
        { axis: [0, 0, 1], deg: 180 },
      ],
      move: [118.5, -42.25, 12],
    },
    mount: { name: 'Shank', connection: { standard: 'square', size: '25x25' }, frame: { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } },
    seats: [],
    tips: [{ id: 't1', name: 'Corner', noseRadius: 0.8, noseCentre: [noseCentre[0], 0, noseCentre[1]] }],
    geometry: [
      { target: 'cutting', mode: 'exact', tolerance: 0.01 },
      { target: 'non-cutting', mode: 'auto', tolerance: 0.1 },
    ],
  };
}
