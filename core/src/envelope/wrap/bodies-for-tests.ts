// Bodies that tests of wraps begin with.
import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { type Kernel, NO_WORK, type SampledBody, sampleModelFile, sampleSolids, writePlainStep } from '#core/kernel';
import { translation, type Vec3 } from '#core/math';

const corpusModel = (file: string) => new Uint8Array(readFileSync(join(import.meta.dirname, '../../../../demo/corpus/models', file)));

/** A body of a model of the reading corpus. */
export async function corpusBody(kernel: Kernel, file: string, id: string, chordTolerance: number): Promise<SampledBody> {
  const r = await sampleModelFile(kernel, corpusModel(file), file, { chordTolerance, ids: [id] });
  if (!r.ok) throw new Error(r.issues[0].code);
  return r.value[0];
}

/** A plate with pockets cut out of it along prisms; what is left is body b1. */
export function pocketedPlate(kernel: Kernel, pockets: { x: number; y: number; size: number; from: number; to: number }[]): SampledBody {
  const bytes = writePlainStep(kernel, [{ solid: { kind: 'box', size: [60, 40, 10] }, name: 'plate', fileFromSolid: translation([0, 0, 0]) }]);
  const cuts = pockets.map(({ x, y, size, from, to }) => ({
    body: 'b1',
    frame: { origin: [x, y, 0] as Vec3, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 },
    outline: [
      [0, 0],
      [size, 0],
      [size, size],
      [0, size],
    ] as [number, number][],
    from,
    to,
  }));
  const r = sampleSolids(kernel, bytes, 'x', { chordTolerance: 0.02, ids: ['b1'], work: { ...NO_WORK, cuts } });
  if (!r.ok) throw new Error(r.issues[0].code);
  return r.value[0];
}
