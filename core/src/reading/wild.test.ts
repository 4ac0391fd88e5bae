import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, readModelFile, readSolids, writePlainStep } from '#core/kernel';
import { addScaled, distance, type Frame, IDENTITY } from '#core/math';
import type { Model } from '#core/mesh';
import { judge, type Truth } from '../../../demo/corpus/judge.ts';
import { proposeReading } from './index.ts';
import { findShanks } from './shanks.ts';

// Models of the wild corpus, one for each thing that was once read wrong; npm run bench:reading judges all of them. Everything that is asked of one has to be right.
const FILES: readonly (readonly [string, string])[] = [
  ['turning-5.step', 'a wiper beside the nose, tilted, on a shank by the inch, all faces splines'],
  ['turning-1.step', 'one solid, tilted, a face missing'],
  ['turning-11.step', 'a round insert in patches'],
  ['turning-13.step', 'a round insert whose rim is two arcs, one of more than half a turn'],
  ['boring-4.stl', 'a chip breaker over the nose, as a mesh'],
  ['boring-8.stl', 'three corners of a triangle stand out'],
  ['boring-7.step', 'of a rhomb the acute corner cuts'],
  ['grooving-5.step', 'a thread’s profile, an assembly of parts with splinters for faces'],
  ['head-1.step', 'a head on a lobed taper; no arc is left of its nose'],
  ['head-5.step', 'a tilted square on a taper'],
  ['head-4.stl', 'the same as a mesh'],
  ['indexable-2.stl', 'five inserts about an arbor bore'],
  ['indexable-11.step', 'one insert and one screw that an assembly uses four times, parts in inches and in mm'],
  ['indexable-5.step', 'a drill with two inserts and a collar, of loose faces'],
  ['solid-cutter-7.step', 'flutes in patches'],
  ['solid-cutter-14.stl', 'flutes in the same cylinder as the shank: their facets are no teeth of a VDI shank'],
  ['solid-cutter-15.step', 'a ball end in patches: a border where a flute runs out is no nose of a bar'],
  ['fine-cutter-8.stl', 'a thread mill: its lands are as wide as its shank, the flanks of its teeth no drill’s point'],
  ['fine-cutter-5.step', 'another one in patches of splines, in inches'],
  ['solid-cutter-5.step', 'a head that is wider than its shank'],
  ['holder-7.step', 'the drawbar has a bore of the seat’s size'],
  ['adapter-7.step', 'lobes in one spline, a face missing, screws and a coolant bore'],
  ['adapter-11.step', 'where a face is gone an edge is left that is shorter than what faces are sewn within'],
  ['collet-2.stl', 'a collar in a coarse mesh'],
  ['block-1.step', 'a pocket that a wedge closes'],
  ['block-4.stl', 'bolts and a key stand out of the foot, which a slot parts'],
  ['block-7.step', 'a foot in patches'],
  ['block-8.stl', 'a driven spindle opposite to the foot'],
  ['insert-7.step', 'a stick that grooves, alone, one corner ahead, in splines'],
  ['insert-8.stl', 'another one as a mesh, with a breaker, grooved below'],
  ['insert-4.stl', 'a wide one: its top is told by its clearance'],
  ['insert-2.stl', 'a narrow one: its sides are told from few strips of the mesh'],
  ['insert-13.step', 'a full radius in splines: the way forward is told by its sides'],
  ['insert-14.stl', 'its sides lean, as a mesh'],
  ['insert-16.stl', 'a full radius whose arcs are parted by strips of the mesh'],
  ['insert-17.step', 'a plate in patches that part its noses: its blunt corners are no tips'],
  ['insert-19.step', 'a small triangle with a thread’s profile and a large countersink'],
];
const folder = join(import.meta.dirname, '../../../demo/corpus/wild');
const truths = JSON.parse(readFileSync(join(folder, 'truth.json'), 'utf8')) as Truth[];
const truthOf = (file: string) => truths.find((t) => t.file === file) as Truth;

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
}, 60_000);
async function open(file: string): Promise<{ model: Model; warnings: string[] }> {
  const r = await readModelFile(kernel, new Uint8Array(readFileSync(join(folder, 'models', file))), file);
  if (!r.ok) throw new Error(`${file} did not open`);
  return { model: r.value.model, warnings: r.value.warnings.map((w) => w.code) };
}

describe('models that were drawn in another way', () => {
  it.each(FILES)('%s: %s', async (file) => {
    const truth = truthOf(file);
    expect(truth.heldBack).toBe(false);
    const { model } = await open(file);
    const answers = judge(truth, model, proposeReading(model));
    expect(answers.length).toBeGreaterThan(4);
    expect(answers.filter((a) => !a.right).map((a) => `${a.what}: ${a.text}`)).toEqual([]);
  });
});

it('the length of a reamer is told to its end on the axis, 30 mm in front of where its edges begin, before that is cut off', async () => {
  const { mount, cutsFrom } = truthOf('solid-cutter-8.stl');
  const { model } = await open('solid-cutter-8.stl');
  const { tips, splits } = proposeReading(model);
  expect(splits).toHaveLength(1);
  expect(tips).toHaveLength(1);
  const { origin, z } = (mount as { frame: Frame }).frame;
  expect(distance(tips[0].noseCentre, addScaled(origin, z, (cutsFrom?.at ?? 0) + 30))).toBeLessThan(0.01);
});

describe('what is not sure', () => {
  it.each([
    [58, 0.5, 0.7],
    [28.6, 0.5, 0.7],
    [20, 0.85, 1],
    [19.05, 0.85, 1],
  ])('a plain rod of %d mm is as sure a shank as its diameter is usual', (diameter, least, most) => {
    const rod = writePlainStep(kernel, [{ solid: { kind: 'cylinder', radius: diameter / 2, height: 6 * diameter }, name: 'rod', fileFromSolid: IDENTITY }]);
    const read = readSolids(kernel, rod, 'rod.step');
    const [shank] = read.ok ? findShanks(read.value.model.bodies) : [];
    expect(shank?.confidence).toBeGreaterThan(least);
    expect(shank?.confidence).toBeLessThan(most);
  });
  it('loose faces that were sewn, and a body that stays open, are said', async () => {
    expect((await open('block-11.step')).warnings).toContain('step.sewn');
    // What cannot be closed by a plane stays open.
    expect((await open('turning-1.step')).warnings).toContain('step.open-body');
  });
});
