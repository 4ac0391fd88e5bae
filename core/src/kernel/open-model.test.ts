import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { meshVolume } from '#core/mesh';
import { type Kernel, liveHandleCount, loadKernel, NO_WORK, OpenModel, sampleModelFile } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const corpus = (file: string) => new Uint8Array(readFileSync(join(import.meta.dirname, '../../../demo/corpus/models', file)));
const open = async (file = 'cutter-3.step'): Promise<OpenModel> => {
  const opened = await OpenModel.open(kernel, corpus(file), file, NO_WORK);
  if (!opened.ok) throw new Error(opened.issues[0].code);
  return opened.value;
};
const sample = (model: OpenModel, chordTolerance: number, good?: (chord: number) => boolean) => {
  const sampled = model.sample({ chordTolerance, ids: ['b1'], good });
  if (!sampled.ok) throw new Error(sampled.issues[0].code);
  return sampled.value[0];
};

describe('a file that stays open', () => {
  it('gives what was sampled again, and the same as a file that is opened for it, whatever was done before', async () => {
    const model = await open();
    const coarse = sample(model, 0.1);
    const fine = sample(model, 0.02);
    expect(sample(model, 0.1)).toBe(coarse);
    const read = model.read();
    if (!read.ok) throw new Error('not read');
    const again = await sampleModelFile(kernel, corpus('cutter-3.step'), 'cutter-3.step', { chordTolerance: 0.02, ids: ['b1'] });
    if (!again.ok) throw new Error('not sampled');
    expect(fine.mesh.positions).toEqual(again.value[0].mesh.positions);
    expect(fine.skin).toEqual(again.value[0].skin);
    // A coarser one is not what a finer tessellation has left.
    expect(sample(model, 0.5).mesh.triangles.length).toBeLessThan(coarse.mesh.triangles.length);
    model.close();
  });
  it('serves a try with chords that are there and good enough, the coarsest of them', async () => {
    const model = await open();
    const [coarse, fine] = [sample(model, 0.05), sample(model, 0.02)];
    expect(sample(model, 0.03, (chord) => chord <= 0.04)).toBe(fine);
    expect(sample(model, 0.03, (chord) => chord <= 0.06)).toBe(coarse);
    // What is there is told without making anything: the coarsest that is good, or nothing.
    expect(model.sampledBefore(['b1'], (chord) => chord <= 0.06)).toEqual([coarse]);
    expect(model.sampledBefore(['b1'], (chord) => chord < 0.01)).toBeUndefined();
    expect(model.samplesOf('b1')).toHaveLength(2);
    // None is good: it is made, and says what it is.
    expect(sample(model, 0.03, (chord) => chord < 0.01).chordTolerance).toBe(0.03);
    model.close();
  });
  it('gives back all it took, once, and cannot be asked then', async () => {
    const before = liveHandleCount();
    const model = await open();
    sample(model, 0.1);
    expect(liveHandleCount()).toBeGreaterThan(before);
    model.close();
    model.close();
    expect(liveHandleCount()).toBe(before);
    expect(() => sample(model, 0.1)).toThrow('a model that is open');
  });
  it('of a mesh is its triangles, with whatever chords', async () => {
    const model = await open('boring-8.stl');
    const body = sample(model, 0.1);
    expect(sample(model, 0.01)).toBe(body);
    expect([body.chordTolerance, body.points.length]).toEqual([0, 0]);
    expect(body.volume).toBeCloseTo(meshVolume(body.mesh), 6);
    model.close();
  });
});
