import { expect, it } from '@jest/globals';
import { makeComponent, readWords } from '#core/components';
import { type Kernel, loadKernel, readModelFile, writePlainStep } from '#core/kernel';
import { distance, dot, translation } from '#core/math';
import { shapeFileName, writeSolidShape } from '#core/outline';
import { proposeReading } from '#core/reading';

let kernel: Kernel;
async function readOf(bytes: Uint8Array, file = 'insert.step') {
  kernel ??= await loadKernel();
  const opened = await readModelFile(kernel, bytes, file);
  if (!opened.ok) throw new Error('it did not open');
  return proposeReading(opened.value.model);
}
async function ofData(words: string) {
  const { spec } = readWords(words);
  const made = spec && makeComponent(spec);
  if (!made?.ok) throw new Error(words);
  return { part: made.part, reading: await readOf(writeSolidShape(made.part.shape), shapeFileName(words)) };
}

// Made of data without clearance: which side is up nothing tells, so that nobody is told to be sure.
it.each([
  ['grooving insert 3', 2],
  ['grooving insert 4 r2', 1],
])('%s is read as what it is, by its end and its width', async (words, count) => {
  const { part, reading } = await ofData(words);
  expect(reading.kind).toBe('insert');
  expect(reading.tips).toHaveLength(count);
  expect(reading.mount?.confidence).toBeLessThan(0.7);
  const frame = part.mount?.frame;
  if (!frame) throw new Error('no mount');
  expect(dot(reading.mount?.frame.z ?? [0, 0, 0], frame.z)).toBeCloseTo(1, 9);
  // Along its length it is the same place; top and bottom may be taken for each other.
  expect(dot(reading.mount?.frame.origin ?? [0, 0, 0], frame.z)).toBeCloseTo(dot(frame.origin, frame.z), 6);
  for (const tip of part.tips) {
    const near = reading.tips.map((t) => Math.min(distance(t.noseCentre, tip.noseCentre), distance([t.noseCentre[0], t.noseCentre[1], 0], tip.noseCentre)));
    expect(Math.min(...near)).toBeLessThan(1e-3);
  }
  expect(reading.tips[0].noseRadius).toBeCloseTo(part.tips[0].noseRadius, 4);
});

it('a threading insert with one profile is read by it', async () => {
  const { part, reading } = await ofData('threading insert 16 er 1.5');
  expect([reading.kind, reading.tips.length]).toEqual(['insert', 1]);
  expect(reading.tips[0].includedAngle).toBeCloseTo(60, 2);
  expect(distance(reading.tips[0].noseCentre, part.tips[0].noseCentre)).toBeLessThan(1e-3);
});

it.each([
  ['a block', [30, 8, 8]],
  ['a long bar', [80, 5, 5]],
])('%s is no insert', async (_, size) => {
  kernel ??= await loadKernel();
  const bytes = writePlainStep(kernel, [
    { solid: { kind: 'box', size: size as [number, number, number] }, name: 'body', fileFromSolid: translation([0, 0, 0]) },
  ]);
  expect((await readOf(bytes)).kind).not.toBe('insert');
});
