import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { addScaled, type Frame, yOf } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { loopArea, sectionMesh } from '#core/outline';
import { proposeReading } from './index.ts';

const models = join(import.meta.dirname, '../../../demo/corpus/models');
let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

async function read(file: string) {
  const opened = await readModelFile(kernel, new Uint8Array(readFileSync(join(models, file))), file);
  if (!opened.ok) throw new Error(file);
  const { model } = opened.value;
  return { body: model.bodies[0], reading: proposeReading(model) };
}

// A second way: how much of a whole circle is left of the section at a height of the mount.
function shareAt(body: BodyGeometry, mount: Frame, z: number, radius: number): number {
  const across: Frame = { origin: addScaled(mount.origin, mount.z, z), z: mount.x, x: yOf(mount) };
  const area = sectionMesh(body.mesh, across).reduce((sum, loop) => sum + Math.abs(loopArea(loop)), 0);
  return area / (Math.PI * radius ** 2);
}

describe('a cutter of one solid', () => {
  it.each(['cutter-1.step', 'cutter-3.step', 'cutter-6.step', 'cutter-b1.step', 'cutter-b3.step', 'cutter-2.stl', 'cutter-b2.stl'])(
    '%s cuts from where its flutes begin to its end: before it is round, behind it is not',
    async (file) => {
      const { body, reading } = await read(file);
      const [split] = reading.splits ?? [];
      const mount = reading.mount?.frame;
      if (!mount || !split) throw new Error(`${file}: no split`);
      const radius = Math.sqrt(shareAt(body, mount, split.from - 0.4, 1));
      expect(shareAt(body, mount, split.from - 0.4, radius)).toBeCloseTo(1, 9);
      // As round in front of it, and a good part less behind.
      expect(shareAt(body, mount, split.from - 1.2, radius)).toBeCloseTo(1, 2);
      expect(shareAt(body, mount, split.from + 0.4, radius)).toBeLessThan(0.95);
      expect(split.confidence).toBeGreaterThan(0.7);
    },
  );
  it.each(['turning-1.step', 'holder-1.step', 'block-1.step'])('is no %s', async (file) => expect((await read(file)).reading.splits).toBeUndefined());
});
