import type { Kernel } from '#core/kernel';
import { writeStepPart } from '#core/kernel';
import { compose, type Motion, normalize, rotationAbout, translation, type Vec3 } from '#core/math';
import { joinMeshes, type Model, moveMesh, writeStl } from '#core/mesh';
import { Random } from '../demo/corpus/random.ts';

/** A model file in another pose, by a seeded turn and way: a STEP file of its solids, or an STL file of its triangles. */
export function movedModel(kernel: Kernel, bytes: Uint8Array, file: string, model: Model, seed: number): { bytes: Uint8Array; file: string } {
  const motion = randomMotion(seed);
  if (model.format !== 'step') return { bytes: writeStl(moveMesh(motion, joinMeshes(model.bodies.map((b) => b.mesh)))), file: `${file}.stl` };
  const moved = writeStepPart(kernel, { bytes, file, bodies: model.bodies.map(({ id, name }) => ({ id, name })), targetFromFile: motion });
  if (!moved.ok) throw new Error(`${file}: ${moved.issues[0].code}`);
  return { bytes: moved.value, file };
}

function randomMotion(seed: number): Motion {
  const r = new Random(seed);
  const axis: Vec3 = normalize([r.between(-1, 1), r.between(-1, 1), r.between(-1, 1)]);
  const way: Vec3 = [r.between(-200, 200), r.between(-200, 200), r.between(-200, 200)];
  return compose(translation(way), rotationAbout([0, 0, 0], axis, r.between(0, 2 * Math.PI)));
}
