import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { loadKernel, readModelFile } from '#core/kernel';
import { compose, distance, dot, type Motion, move, normalize, rotationAbout, translation, turn, type Vec3 } from '#core/math';
import { type Model, moveBody } from '#core/mesh';
import { proposeReading, type Reading } from './index.ts';

// What is read of a model must not hang on where it lies in its file, in which order its bodies stand there, or what they are called.
const FILES = [
  'boring-4.stl',
  'turning-11.step',
  'head-5.step',
  'indexable-2.stl',
  'solid-cutter-5.step',
  'holder-7.step',
  'block-4.stl',
  'block-1.step',
  'collet-4.stl',
];
const folder = join(import.meta.dirname, '../../../demo/corpus/wild/models');
const models = new Map<string, Model>();
beforeAll(async () => {
  const kernel = await loadKernel();
  for (const file of FILES) {
    const r = await readModelFile(kernel, new Uint8Array(readFileSync(join(folder, file))), file);
    if (!r.ok) throw new Error(`${file} did not open`);
    models.set(file, r.value.model);
  }
}, 60_000);
const modelOf = (file: string) => models.get(file) as Model;

// Words and sizes of a reading, without places; places of its faces are named by number.
const sizesOf = ({ kind, roles, mount, seats, tips, splits, warnings }: Reading) => ({
  kind,
  roles: roles.map((r) => [r.body, r.role]).sort(),
  mount: mount?.connection,
  seats: seats.map((s) => JSON.stringify(s.connection)).sort(),
  tips: tips.map((t) => [t.hand, t.kind, Math.round(t.noseRadius * 1e4), Math.round(t.enteringAngle * 100), Math.round(t.includedAngle * 100)]),
  splits: splits?.map((s) => [s.body, s.role, Math.round((s.to - s.from) * 1000)]),
  warnings: warnings.map((w) => w.code),
});
const MOTIONS: readonly Motion[] = [
  compose(translation([300, -120, 7]), rotationAbout([0, 0, 0], normalize([1, 2, 3]), 1.234)),
  rotationAbout([10, 20, 30], normalize([-3, 1, 0.2]), 2.6),
  rotationAbout([0, 0, 0], [0, 1, 0], Math.PI / 2),
];

describe.each(FILES)('%s', (file) => {
  it.each([0, 1, 2])('is read the same in another pose (%i), its places moved with it', (i) => {
    const model = modelOf(file);
    const motion = MOTIONS[i];
    const there = { ...model, bodies: model.bodies.map((b) => moveBody(motion, b)) };
    const [a, b] = [proposeReading(model), proposeReading(there)];
    expect(sizesOf(b)).toEqual(sizesOf(a));
    expect(a.mount).toBeDefined();
    const near = (p: Vec3 | undefined, q: Vec3 | undefined) => expect(p && q && distance(move(motion, p), q)).toBeLessThan(1e-3);
    near(a.mount?.frame.origin, b.mount?.frame.origin);
    expect(dot(turn(motion, a.mount?.frame.z as Vec3), b.mount?.frame.z as Vec3)).toBeCloseTo(1, 6);
    const nearest = (list: readonly Vec3[], p: Vec3) => Math.min(...list.map((q) => distance(q, move(motion, p))));
    for (const s of a.seats)
      expect(
        nearest(
          b.seats.map((t) => t.frame.origin),
          s.frame.origin,
        ),
      ).toBeLessThan(1e-3);
    for (const t of a.tips)
      expect(
        nearest(
          b.tips.map((o) => o.noseCentre),
          t.noseCentre,
        ),
      ).toBeLessThan(1e-3);
  });
  it('is read the same with its bodies in another order and with other names', () => {
    const model = modelOf(file);
    const other = { ...model, bodies: [...model.bodies].reverse().map((b, i) => ({ ...b, name: ['Import', '本体', '', 'Part 7'][i % 4] })) };
    expect(sizesOf(proposeReading(other))).toEqual(sizesOf(proposeReading(model)));
  });
});
