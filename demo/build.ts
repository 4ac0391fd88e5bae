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
import { stationBlock } from './station-block.ts';
import { turningHolder } from './turning-holder.ts';

const folder = join(import.meta.dirname, 'models');
const only = process.argv[2];

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
  for (const make of [stationBlock, reductionSleeve, boringBar, turningHolder, colletChuck]) {
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
  const recipe = {
    name: 'Hub shell station',
    components,
    pieces: [
      { id: 'block', component: 'station-block-40', parent: null, stickOut: 0, rollDeg: 0 },
      { id: 'face-holder', component: 'hub-face-holder-25', parent: { piece: 'block', seat: 's2' }, stickOut: -52, rollDeg: 0 },
      { id: 'sleeve', component: 'sleeve-32-16', parent: { piece: 'block', seat: 's1' }, stickOut: 0, rollDeg: 0 },
      { id: 'bar', component: 'hub-bore-bar-16-inch', parent: { piece: 'sleeve', seat: 's1' }, stickOut: -90, rollDeg: 0 },
    ],
  };
  writeFileSync(join(import.meta.dirname, 'hub-station.json'), `${JSON.stringify(recipe, null, 2)}\n`);
}

await main();
