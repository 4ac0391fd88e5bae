// Makes the reading corpus: npm run corpus. Seeded, so that it comes out the same each time; the files are committed with truth.json.
import { mkdirSync, rmSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import init from 'replicad-opencascadejs';
import { exportSTEP, setOC, type Shape3D } from 'replicad';
import { move, roundTo, type Vec3 } from '#core/math';
import { joinMeshes, type TriMesh, writeStl } from '#core/mesh';
import { stationBlock } from './blocks.ts';
import type { CorpusKind, CorpusModel, CorpusTruth } from './corpus-model.ts';
import { groovingTool, threadingTool } from './grooving.ts';
import { FILE_AXES, motionOf, type Pose, placeIn, posed, tidy } from './pose.ts';
import { Random } from './random.ts';
import { adapter, cutter, rotatingHolder } from './rotating.ts';
import { boringBar, turningTool } from './turning.ts';

const MAKERS: Record<CorpusKind, { make: (r: Random, fused: boolean) => CorpusModel; count: number; fusable: boolean }> = {
  turning: { make: turningTool, count: 12, fusable: true },
  boring: { make: boringBar, count: 9, fusable: true },
  grooving: { make: groovingTool, count: 6, fusable: true },
  threading: { make: threadingTool, count: 6, fusable: true },
  holder: { make: rotatingHolder, count: 12, fusable: false },
  cutter: { make: cutter, count: 6, fusable: false },
  block: { make: stationBlock, count: 9, fusable: false },
  adapter: { make: adapter, count: 6, fusable: false },
};

const folder = join(import.meta.dirname, 'models');
// A pose as vendors leave it: as drawn, by quarter turns, or anyhow.
function poseOf(r: Random): Pose {
  const kind = r.pick(['drawn', 'quarter', 'quarter', 'any']);
  const by: [number, number, number] = r.chance(0.4) ? [0, 0, 0] : [r.round(-200, 200), r.round(-200, 200), r.round(-200, 200)];
  if (kind === 'drawn') return { steps: [], by };
  const steps = [0, 1].map(() => ({ deg: kind === 'quarter' ? 90 * r.whole(0, 3) : r.round(-180, 180), axis: r.pick(FILE_AXES) }));
  return { steps, by };
}

function meshOf(shape: Shape3D, tolerance: number, angularTolerance: number): TriMesh {
  const m = shape.mesh({ tolerance, angularTolerance });
  return { positions: Float64Array.from(m.vertices), triangles: Uint32Array.from(m.triangles) };
}

async function main() {
  setOC(await init({ print: () => undefined, printErr: () => undefined }));
  const only = process.argv[2];
  if (!only) rmSync(folder, { recursive: true, force: true });
  mkdirSync(folder, { recursive: true });
  const truths: CorpusTruth[] = [];
  // The second batch is held back whole, half of it meshes: it was made after reading had been worked on with the first.
  for (const batch of [1, 2]) {
    let seed = batch * 100;
    for (const [kind, { make, count, fusable }] of Object.entries(MAKERS) as [CorpusKind, (typeof MAKERS)[CorpusKind]][]) {
      for (let i = 0; i < (batch === 1 ? count : Math.ceil(count / 2)); i++) {
        seed++;
        const name = batch === 1 ? `${kind}-${i + 1}` : `${kind}-b${i + 1}`;
        if (only && !name.startsWith(only)) continue;
        const r = new Random(seed);
        const fused = fusable && (batch === 1 ? i % 4 === 3 : i % 3 === 2);
        const format = (batch === 1 ? i % 3 === 1 : i % 2 === 1) ? 'stl' : 'step';
        const lengthUnit = r.chance(0.25) && format === 'step' ? 'inch' : 'mm';
        const from = performance.now();
        const model = make(r, fused);
        const pose = poseOf(r);
        const fileFromMount = motionOf(pose);
        const shapes = model.bodies.map((b) => ({
          shape: posed(b.shape, pose),
          name: b.name,
          color: b.colour,
        }));
        const file = `${name}.${format}`;
        let bytes: Uint8Array;
        if (format === 'step') {
          const text = await exportSTEP(shapes, { unit: lengthUnit === 'inch' ? 'INCH' : 'MM', modelUnit: 'MM' }).text();
          bytes = new TextEncoder().encode(text.replace(/FILE_NAME\([^;]*;/, "FILE_NAME('','2026-03-02T08:00:00',(''),(''),'','','');"));
        } else {
          const [chord, angle] = r.pick([
            [0.05, 0.3],
            [0.02, 0.2],
            [0.01, 0.12],
          ]);
          bytes = writeStl(joinMeshes(shapes.map((s) => meshOf(s.shape, chord, angle))));
        }
        writeFileSync(join(folder, file), bytes);
        truths.push({
          file,
          seed,
          kind,
          format,
          unit: lengthUnit,
          fused,
          heldBack: batch === 2 || i % 3 === 2,
          bodies: shapes.map(({ shape }, k) => {
            const { volume, centre } = massOf(shape);
            return { role: model.bodies[k].role, volume: roundTo(volume, 4), centroid: tidy(centre) };
          }),
          mount: placeIn(fileFromMount, model.mount),
          seats: model.seats.map((p) => placeIn(fileFromMount, p)),
          tips: model.tips.map((t) => ({ ...t, noseCentre: tidy(move(fileFromMount, t.noseCentre)) })),
          note: model.note,
        });
        console.log(`${file}: ${model.note}${fused ? ', fused' : ''}: ${Math.round(bytes.length / 1000)} kB, ${Math.round(performance.now() - from)} ms`);
      }
    }
  }
  if (!only) writeFileSync(join(import.meta.dirname, 'truth.json'), `${JSON.stringify(truths, null, 1)}\n`);
}

// Volume and its centre from a fine mesh: enough to tell bodies apart.
function massOf(shape: Shape3D): { volume: number; centre: Vec3 } {
  const { positions: p, triangles: t } = meshOf(shape, 0.02, 0.2);
  let volume = 0;
  let sum: Vec3 = [0, 0, 0];
  for (let i = 0; i < t.length; i += 3) {
    const [a, b, c] = [0, 1, 2].map((k): Vec3 => [p[3 * t[i + k]], p[3 * t[i + k] + 1], p[3 * t[i + k] + 2]]);
    const v = (a[0] * (b[1] * c[2] - b[2] * c[1]) + a[1] * (b[2] * c[0] - b[0] * c[2]) + a[2] * (b[0] * c[1] - b[1] * c[0])) / 6;
    volume += v;
    sum = [0, 1, 2].map((k) => sum[k] + ((a[k] + b[k] + c[k]) / 4) * v) as unknown as Vec3;
  }
  return { volume, centre: sum.map((v) => v / volume) as unknown as Vec3 };
}

await main();
