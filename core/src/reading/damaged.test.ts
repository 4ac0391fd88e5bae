import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { dot, length } from '#core/math';
import { proposeReading } from './index.ts';

// Whatever lies in a file, reading it ends with an answer: what is not told is not told.
const FILES = [
  'insert-2.stl',
  'insert-8.stl',
  'insert-4.stl',
  'turning-2.stl',
  'boring-2.stl',
  'head-4.stl',
  'adapter-2.stl',
  'solid-cutter-2.stl',
  'fine-cutter-8.stl',
];
const folder = join(import.meta.dirname, '../../../demo/corpus/wild/models');
const HEADER = 84;
const FACET = 50;

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
}, 60_000);

interface Damage {
  /** Share of the triangles that are gone, and that look the other way. */
  readonly gone: number;
  readonly turned: number;
  /** mm, by which each corner of some is off. */
  readonly off: number;
  /** Share of the length, along a coordinate, beyond which nothing is left. */
  readonly cut: number;
  readonly axis: number;
  readonly seed: number;
}

// The facets of a binary STL, damaged: numbers by a plain congruence, so that the same seed gives the same.
function damaged(stl: Buffer, { gone, turned, off, cut, axis, seed }: Damage): Uint8Array {
  let state = seed >>> 0 || 1;
  const chance = () => (state = (Math.imul(state, 1664525) + 1013904223) >>> 0) / 2 ** 32;
  const facets = Array.from({ length: stl.readUInt32LE(80) }, (_, i) => Buffer.from(stl.subarray(HEADER + FACET * i, HEADER + FACET * (i + 1))));
  const at = (f: Buffer, corner: number, k: number) => f.readFloatLE(12 + 12 * corner + 4 * k);
  const all = facets.map((f) => at(f, 0, axis));
  const limit = Math.min(...all) + cut * (Math.max(...all) - Math.min(...all));
  const left = facets.filter((f) => at(f, 0, axis) <= limit && chance() >= gone);
  for (const f of left) {
    if (off > 0 && chance() < 0.3) for (let k = 0; k < 9; k++) f.writeFloatLE(f.readFloatLE(12 + 4 * k) + off * (chance() - 0.5), 12 + 4 * k);
    if (chance() < turned) {
      const first = Buffer.from(f.subarray(12, 24));
      f.copy(f, 12, 24, 36);
      first.copy(f, 24);
    }
  }
  const header = Buffer.from(stl.subarray(0, HEADER));
  header.writeUInt32LE(left.length, 80);
  return new Uint8Array(Buffer.concat([header, ...left]));
}

it('a damaged mesh is read to an end, with confidences and frames that are some', async () => {
  const share = (max: number) => fc.oneof(fc.constant(0), fc.double({ min: 0, max, noNaN: true }));
  const damage = fc.record({
    gone: share(0.4),
    turned: share(0.5),
    off: share(0.2),
    cut: fc.oneof(fc.constant(1), fc.double({ min: 0.2, max: 1, noNaN: true })),
    axis: fc.integer({ min: 0, max: 2 }),
    seed: fc.integer(),
  });
  const opened = { count: 0 };
  await fc.assert(
    fc.asyncProperty(fc.constantFrom(...FILES), damage, async (file, how) => {
      const read = await readModelFile(kernel, damaged(readFileSync(join(folder, file)), how), file);
      if (!read.ok) return;
      opened.count++;
      const { roles, mount, seats, tips } = proposeReading(read.value.model);
      for (const { confidence } of [...roles, ...(mount ? [mount] : []), ...seats]) {
        expect(confidence).toBeGreaterThanOrEqual(0);
        expect(confidence).toBeLessThanOrEqual(1);
      }
      for (const { frame } of [...(mount ? [mount] : []), ...seats]) {
        expect(length(frame.z)).toBeCloseTo(1, 6);
        expect(dot(frame.z, frame.x)).toBeCloseTo(0, 6);
      }
      for (const { noseCentre, noseRadius } of tips) for (const v of [...noseCentre, noseRadius]) expect(Number.isFinite(v)).toBe(true);
    }),
    { numRuns: 40 },
  );
  // Most open, or nothing was tried.
  expect(opened.count).toBeGreaterThan(12);
});
