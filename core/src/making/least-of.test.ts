import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { computeExactGeometry, leastOfWrap } from '#core/envelope';
import { say } from '#core/issues';
import { type Kernel, loadKernel, OpenModel } from '#core/kernel';
import type { Frame } from '#core/math';
import { triangleCount } from '#core/mesh';
import { proposeReading } from '#core/reading';
import { type GeometryResult, makeGeometry } from './index.ts';
import { leastOfExact } from './least-of-exact.ts';

// Forms that are not made because they cannot win: with each made all the same, `auto` takes the one with the fewest triangles, and the bounds hold.
const corpus = join(import.meta.dirname, '../../../demo/corpus/models');
let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

async function inEachForm(name: string, tolerance: number) {
  const bytes = new Uint8Array(readFileSync(join(corpus, name)));
  const opened = await OpenModel.open(kernel, bytes, name);
  if (!opened.ok) throw new Error(opened.issues.map(say).join());
  const read = opened.value.read();
  if (!read.ok) throw new Error(read.issues.map(say).join());
  const frame: Frame = proposeReading(read.value.model).mount?.frame ?? { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] };
  const make = async (mode: 'auto' | 'exact' | 'revolved' | 'wrap', bodies: readonly string[]): Promise<GeometryResult> => {
    const made = await makeGeometry(kernel, { bytes, file: name, opened: opened.value, bodies, mode, tolerance, frame, spins: true });
    if (!made.ok) throw new Error(made.issues.map(say).join());
    return made.value;
  };
  return { model: opened.value, make };
}

describe.each([
  ['holder-3.step', true],
  ['adapter-b3.step', false],
  // Its wrap is lighter.
  ['cutter-3.step', false],
  ['holder-12.step', true],
] as const)('of %s, which spins,', (name, isBounded) => {
  it('auto has no more triangles than any form alone, and says which it did not make', async () => {
    const { model, make } = await inEachForm(name, 0.1);
    const ids = model.bodyIds;
    const auto = await make('auto', ids);
    const turned = await make('revolved', ids);
    const wrapped = await make('wrap', ids);
    expect(auto.trianglesOut).toBeLessThanOrEqual(Math.min(turned.trianglesOut, wrapped.trianglesOut));
    // Where the losing form was bounded, not made.
    const bound = /one by one take more than ([\d,]+)/.exec(auto.parts[0].why)?.[1].replaceAll(',', '');
    expect(bound !== undefined).toBe(isBounded);
    if (bound) expect(Number(bound)).toBeLessThanOrEqual(wrapped.trianglesOut);
    model.close();
  });
});

describe.each(['block-7.step', 'turning-3.step', 'cutter-b1.step'])('of each body of %s', (name) => {
  it('wrap and exact geometry have at least what their bounds say', async () => {
    const tolerance = 0.05;
    const { model, make } = await inEachForm(name, tolerance);
    const sampled = model.sample({ chordTolerance: 0.2 * tolerance });
    if (!sampled.ok) throw new Error('not sampled');
    for (const body of sampled.value) {
      const exact = computeExactGeometry(body);
      const wrap = await make('wrap', [body.id]);
      expect(leastOfWrap(body, exact, tolerance, 14)).toBeLessThanOrEqual(wrap.trianglesOut);
      const finer = await make('exact', [body.id]);
      expect(leastOfExact(body, 0.45 / 0.2)).toBeLessThanOrEqual(finer.trianglesOut);
      // With the same chords they are those that there are.
      expect(leastOfExact(body, 1)).toBeLessThanOrEqual(triangleCount(body.mesh));
    }
    model.close();
  });
});
