// Models that neither the demo nor the corpus has: many small faces, faces that bend two ways, several seats with their nuts, ten heavy bodies in one file.
import init from 'replicad-opencascadejs';
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { exportSTEP, importSTEP, makeBaseBox, makeCylinder, makeSphere, setOC, type Shape3D, type Solid } from 'replicad';
import { hole, polygon, screw, turned } from '../demo/shapes.ts';

type Parts = readonly { readonly shape: Shape3D; readonly name: string }[];

function twoColletBlock(): Parts {
  let body: Shape3D = makeBaseBox(110, 90, 70)
    .fillet(4, (e) => e.inDirection('Z'))
    .fillet(2, (e) => e.inPlane('XY', 70));
  for (const x of [-27, 27])
    body = body.cut(hole(16, 90, [x, -45, 35], [0, 1, 0])).cut(
      turned([
        [0, 0],
        [20.5, 0],
        [14, 46],
        [0, 46],
      ])
        .rotate(-90, [0, 0, 0], [1, 0, 0])
        .translate([x, -45, 35]),
    );
  for (let i = 0; i < 8; i++) body = body.cut(hole(3, 30, [-48 + 14 * i, 0, 71], [0, 0, -1])).cut(hole(2, 30, [-48 + 14 * i, 38, 71], [0, 0, -1]));
  const nuts = [-27, 27].map((x, i) => ({
    shape: turned([
      [17, 0],
      [25, 0],
      [25, 18],
      [22, 20],
      [17, 20],
    ])
      .cut(
        Array.from({ length: 12 }, (_, k) =>
          makeCylinder(2.4, 30, [25.6 * Math.cos((k * Math.PI) / 6), 25.6 * Math.sin((k * Math.PI) / 6), -2], [0, 0, 1]),
        ).reduce((a, b) => a.fuse(b)),
      )
      .rotate(90, [0, 0, 0], [1, 0, 0])
      .translate([x, -45, 35]),
    name: `Nut ${i + 1}`,
  }));
  const screws = [-40, 40].map((x, i) => ({
    shape: screw(9, 6, 40, [0, 0, 0]).rotate(90, [0, 0, 0], [1, 0, 0]).translate([x, 30, 70]),
    name: `Screw ${i + 1}`,
  }));
  return [{ shape: body, name: 'Block' }, ...nuts, ...screws];
}

function ballJoint(): Parts {
  let shape: Shape3D = makeSphere(24)
    .cut(makeBaseBox(60, 60, 20).translate([0, 0, -30]))
    .fillet(3, (e) => e.inPlane('XY', -10));
  for (const [x, y] of [[9, 9], [-9, 9], [0, -12]] as const) shape = shape.cut(hole(2.6, 60, [x, y, -12], [0, 0, 1])); // biome-ignore format: pairs
  return [{ shape: shape.cut(hole(6, 60, [-30, 0, 6], [1, 0, 0])), name: 'Ball joint' }];
}

function ribbedPlate(): Parts {
  let body: Shape3D = makeBaseBox(120, 80, 14);
  for (let i = 0; i < 10; i++)
    for (let j = 0; j < 5; j++) body = body.cut(polygon([[0, 0], [7, 0], [7, 9], [3, 11], [0, 9]]).sketchOnPlane('XY', 6 + (j % 3)).extrude(20).translate([-55 + 11 * i, -36 + 14 * j, 0]) as Solid); // biome-ignore format: one outline
  return [{ shape: body, name: 'Plate' }];
}

/** Ten end mills beside each other, each turned in another way: some 200,000 triangles. */
async function tenBodies(): Promise<Parts> {
  const one = (await importSTEP(new Blob([readFileSync(join(import.meta.dirname, '../demo/corpus/models/cutter-4.step'))]))) as Shape3D;
  return Array.from({ length: 10 }, (_, i) => ({
    shape: one
      .clone()
      .rotate(7 * i, [0, 0, 0], [1, 1, 0])
      .translate([150 * (i % 5), 150 * Math.floor(i / 5), 0]),
    name: `Body ${i + 1}`,
  }));
}

const MODELS: Record<string, () => Parts | Promise<Parts>> = { twoColletBlock, ballJoint, ribbedPlate, tenBodies };
export const ODD_MODELS = ['twoColletBlock', 'ballJoint', 'ribbedPlate'] as const;

let isReady = false;

/** The STEP file of an odd model, made now. */
export async function oddModel(name: (typeof ODD_MODELS)[number] | 'tenBodies'): Promise<{ bytes: Uint8Array; file: string }> {
  if (!isReady) setOC(await init({ print: () => undefined, printErr: () => undefined }));
  isReady = true;
  const parts = await MODELS[name]();
  const blob = exportSTEP(parts.map(({ shape, name: called }) => ({ shape, name: called })));
  return { bytes: new Uint8Array(await blob.arrayBuffer()), file: `${name}.step` };
}
