// Opening a large STL: welding, shells, faces by fitting, edges; and reading it.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { loadKernel, readModelFile, sampleSolids } from '#core/kernel';
import { joinMeshes, readStl, weld, writeStl } from '#core/mesh';
import { proposeReading } from '#core/reading';
import { type BenchRow, medianMs } from './measure.ts';

export async function benchMesh(): Promise<BenchRow[]> {
  const kernel = await loadKernel();
  const file = 'collet-chuck-63-32.step';
  const bytes = new Uint8Array(readFileSync(join(import.meta.dirname, '../demo/models', file)));
  const sampled = sampleSolids(kernel, bytes, file, { chordTolerance: 0.0009 });
  if (!sampled.ok) throw new Error(sampled.issues[0].code);
  const stl = writeStl(joinMeshes(sampled.value.map((b) => b.mesh)));
  const triangles = (stl.length - 84) / 50;
  const open = async () => {
    const r = await readModelFile(kernel, stl, 'large.stl');
    if (!r.ok) throw new Error(r.issues[0].code);
    return r.value.model;
  };
  const opening = await medianMs(open, { rounds: 3, warm: 1 });
  const model = await open();
  const reading = await medianMs(() => proposeReading(structuredClone(model)), { rounds: 3, warm: 1 });
  const bare = await medianMs(
    () => {
      const r = readStl(stl, 'large.stl');
      if (r.ok) weld(r.value, 1e-4);
    },
    { rounds: 3, warm: 1 },
  );
  const faces = model.bodies.reduce((n, b) => n + b.faces.length, 0);
  return [
    { what: `opening an STL of ${triangles} triangles as ${faces} faces, per 200,000`, value: (opening * 200_000) / triangles, unit: 'ms', limit: 1500 },
    { what: 'the same against reading and welding it alone', value: opening / bare, unit: 'x' },
    { what: 'reading that model', value: reading, unit: 'ms' },
  ];
}
