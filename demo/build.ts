// Builds the demo's vendor-like STEP files and their recipes: npm run demo. The results are committed.
import { mkdirSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import init from 'replicad-opencascadejs';
import { exportSTEP, setOC, type Shape3D } from 'replicad';
import { compose, type Frame, IDENTITY, type Motion, move, moveFrame, radFromDeg, rotationAbout, roundTo, translation, type Vec3 } from '#core/math';
import { boringBar, reductionSleeve } from './boring.ts';
import { colletChuck } from './collet-chuck.ts';
import { grooveCutterDrawing } from './groove-cutter.ts';
import type { DemoModel } from './model.ts';
import { doubleBoreBlock, slotBlock } from './rim-blocks.ts';
import { stationBlock } from './station-block.ts';
import { rightHolder, turningHolder } from './turning-holder.ts';

const folder = join(import.meta.dirname, 'models');
const only = process.argv[2];

const piece = (id: string, component: string, on: [piece: string, seat: string] | null = null, stickOut = 0) => ({
  id,
  component,
  parent: on && { piece: on[0], seat: on[1] },
  stickOut,
  rollDeg: 0,
});

const RECIPES = [
  {
    file: 'hub-station.json',
    name: 'Hub shell station',
    pieces: [
      piece('block', 'station-block-40'),
      piece('face-holder', 'hub-face-holder-25', ['block', 's2'], -52),
      piece('sleeve', 'sleeve-32-16', ['block', 's1']),
      piece('bar', 'hub-bore-bar-16-inch', ['sleeve', 's1'], -90),
    ],
  },
  {
    file: 'hub-turning.json',
    name: 'Hub turning',
    pieces: [piece('block', 'slot-block-40'), piece('holder', 'hub-turning-holder-25', ['block', 's1'], -63)],
  },
  {
    file: 'hub-boring.json',
    name: 'Hub boring, both spindles',
    pieces: [
      piece('block', 'double-bore-block-40'),
      piece('main-sleeve', 'sleeve-32-16', ['block', 's1']),
      piece('main-bar', 'hub-bore-bar-16-inch', ['main-sleeve', 's1'], -90),
      piece('counter-sleeve', 'sleeve-32-16', ['block', 's2']),
      piece('counter-bar', 'hub-bore-bar-16-inch', ['counter-sleeve', 's1'], -90),
    ],
  },
];

function poseOf(model: DemoModel): Motion {
  const turned = model.pose.rotate.reduce((m, { axis, deg }) => compose(rotationAbout([0, 0, 0], axis, radFromDeg(deg)), m), IDENTITY);
  return compose(translation(model.pose.move), turned);
}

function posed(shape: Shape3D, model: DemoModel): Shape3D {
  let out = shape;
  for (const { axis, deg } of model.pose.rotate) out = out.rotate(deg, [0, 0, 0], [...axis]);
  return out.translate([...model.pose.move]);
}

const tidy = (v: Vec3): Vec3 => [roundTo(v[0], 9), roundTo(v[1], 9), roundTo(v[2], 9)];
const tidyFrame = (f: Frame): Frame => ({ origin: tidy(f.origin), z: tidy(f.z), x: tidy(f.x) });

function componentOf(model: DemoModel) {
  const fileFromMount = poseOf(model);
  return {
    key: model.file.replace('.step', ''),
    file: `models/${model.file}`,
    name: model.name,
    kind: model.kind,
    roles: Object.fromEntries(model.bodies.map((b, i) => [`b${i + 1}`, b.role])),
    mount: { name: model.mount.name, connection: model.mount.connection, frame: tidyFrame(moveFrame(fileFromMount, model.mount.frame)) },
    seats: model.seats.map((s) => ({ id: s.id, name: s.name, connection: s.connection, frame: tidyFrame(moveFrame(fileFromMount, s.frame)) })),
    tips: model.tips.map((t) => ({ ...t, noseCentre: tidy(move(fileFromMount, t.noseCentre)), corner: { x: 1, z: 1 } })),
    geometry: model.geometry,
  };
}

async function main() {
  writeFileSync(join(folder, 'seal-groove-cutter.dxf'), grooveCutterDrawing());
  setOC(await init({ print: () => undefined, printErr: () => undefined }));
  mkdirSync(folder, { recursive: true });
  const components = [];
  for (const make of [stationBlock, reductionSleeve, boringBar, turningHolder, colletChuck, rightHolder, slotBlock, doubleBoreBlock]) {
    if (only && make.name !== only) continue;
    const start = performance.now();
    const model = make();
    const shapes = model.bodies.map((b) => ({ shape: posed(b.shape, model), name: b.name, color: b.colour }));
    // The file's length unit is the vendor's; the shapes are in mm.
    const blob = exportSTEP(shapes, { unit: model.unit === 'inch' ? 'INCH' : 'MM', modelUnit: 'MM' });
    const text = (await blob.text()).replace(/FILE_NAME\([^;]*;/, "FILE_NAME('','2026-03-02T08:00:00',(''),(''),'','','');");
    writeFileSync(join(folder, model.file), text);
    components.push(componentOf(model));
    console.log(`${model.file}: ${(text.length / 1e6).toFixed(2)} MB, ${Math.round(performance.now() - start)} ms`);
  }
  if (only) return;
  for (const { file, name, pieces } of RECIPES) {
    const used = new Set(pieces.map((p) => p.component));
    // The station's recipe also describes what nothing of it uses: the application shows it on the Shelf.
    const described = file === 'hub-station.json' ? components.slice(0, 5) : components.filter((c) => used.has(c.key));
    writeFileSync(join(import.meta.dirname, file), `${JSON.stringify({ name, components: described, pieces }, null, 2)}\n`);
  }
}

await main();
