import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { type Kernel, loadKernel, OpenModel } from '#core/kernel';
import { SignedDistance, weldWith } from '#core/mesh';
import { ALONE, type Crew, type GeometryRequest, type GeometryResult, makeGeometry, type Task } from './index.ts';

const demo = join(import.meta.dirname, '../../../demo');
const read = (path: string) => new Uint8Array(readFileSync(join(demo, path)));
const frame = { origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] } as const;

// A crew that tells what it was asked for.
const tasks: Task['kind'][] = [];
const crew: Crew = {
  hands: 1,
  do: (task, onProgress) => {
    tasks.push(task.kind);
    return ALONE.do(task, onProgress);
  },
};

let kernel: Kernel;
const models: OpenModel[] = [];
beforeAll(async () => {
  kernel = await loadKernel();
});
afterAll(() => {
  for (const model of models) model.close();
});
async function open(path: string): Promise<GeometryRequest> {
  const bytes = read(path);
  const model = await OpenModel.open(kernel, bytes, path);
  if (!model.ok) throw new Error(model.issues.map(say).join());
  models.push(model.value);
  return { bytes, file: path, opened: model.value, bodies: model.value.bodyIds, mode: 'auto', tolerance: 0.2, frame, crew };
}
async function made(request: GeometryRequest): Promise<GeometryResult> {
  tasks.length = 0;
  const result = await makeGeometry(kernel, request);
  if (!result.ok) throw new Error(result.issues.map(say).join());
  return result.value;
}
const meshes = (result: GeometryResult) => result.parts.map(({ mode, mesh }) => ({ mode, mesh }));
// Chords that the bodies of an open file are kept with, mm.
const chordsOf = ({ opened, bodies }: GeometryRequest) => new Set(bodies.flatMap((id) => opened?.samplesOf(id).map((b) => b.chordTolerance) ?? []));

describe('geometry with another tolerance', () => {
  it('of a block is shown at once with the chords that are there, and comes out as if nothing had been there', async () => {
    const request = await open('corpus/models/block-6.step');
    await made(request);
    const chords = chordsOf(request);
    const shown: { result: GeometryResult; chords: Set<number> }[] = [];
    const finer = { ...request, tolerance: 0.15 };
    const final = await made({ ...finer, onResult: (result) => shown.push({ result, chords: chordsOf(request) }) });
    // Nothing was sampled yet when the first was shown.
    expect(shown[0].chords).toEqual(chords);
    expect(chordsOf(request).size).toBeGreaterThan(chords.size);
    for (const { result } of shown) {
      expect(result.growth.min).toBeGreaterThanOrEqual(-1e-6);
      expect(result.growth.max).toBeLessThanOrEqual(0.15);
      expect(result.closed).toBe(true);
    }
    const anew = await open('corpus/models/block-6.step');
    expect(meshes(final)).toEqual(meshes(await made({ ...anew, tolerance: 0.15 })));
  });

  it('of what spins likewise; a try of it is made in the form that it was made in last', async () => {
    const request = { ...(await open('corpus/models/holder-12.step')), spins: true };
    await made(request);
    const chords = chordsOf(request);
    const early: GeometryResult[] = [];
    const tried = await made({ ...request, tolerance: 0.25, isTry: true, onResult: (result) => early.push(result) });
    expect(tried.parts.map((p) => p.mode)).toEqual(['revolved']);
    expect(tasks).toEqual(['prove']);
    // It is there at once, and not shown twice.
    expect(early).toEqual([]);
    const shown: { result: GeometryResult; chords: Set<number> }[] = [];
    const final = await made({ ...request, tolerance: 0.3, onResult: (result) => shown.push({ result, chords: chordsOf(request) }) });
    expect(shown[0].chords).toEqual(chords);
    expect(shown[0].result.parts.map((p) => p.mode)).toEqual(['revolved']);
    expect(shown[0].result.growth.max).toBeLessThanOrEqual(0.3);
    const anew = { ...(await open('corpus/models/holder-12.step')), spins: true };
    expect(meshes(final)).toEqual(meshes(await made({ ...anew, tolerance: 0.3 })));
  });

  it('finer than what was made, is tried: seen with the chords that are there before others are taken; what is there as soon in the end is not shown before', async () => {
    const request = await open('corpus/models/block-6.step');
    const first = await made(request);
    // What was made is there at once.
    expect(meshes(await made({ ...request, isTry: true }))).toEqual(meshes(first));
    expect(tasks).toEqual([]);
    const chords = chordsOf(request);
    const shown: { result: GeometryResult; chords: Set<number> }[] = [];
    const tolerance = 0.45 * request.tolerance;
    const tried = await made({ ...request, tolerance, isTry: true, onResult: (result) => shown.push({ result, chords: chordsOf(request) }) });
    expect(shown[0].chords).toEqual(chords);
    expect(chordsOf(request).size).toBeGreaterThan(chords.size);
    for (const { growth, closed } of [...shown.map((s) => s.result), tried]) {
      expect(growth.min).toBeGreaterThanOrEqual(-1e-6);
      expect(growth.max).toBeLessThanOrEqual(tolerance);
      expect(closed).toBe(true);
    }
    expect(tried.trianglesOut).toBeLessThan(shown[0].result.trianglesOut);
    const before = shown.length;
    await made({ ...request, tolerance: 2 * request.tolerance, isTry: true, onResult: (result) => shown.push({ result, chords }) });
    expect(tasks).toContain('lighten');
    expect(shown).toHaveLength(before);
  });

  it('much finer, is tried with coarse chords of its own, seen first as it is, and made in earnest as if nothing had been there', async () => {
    const request = await open('corpus/models/block-6.step');
    const before = chordsOf(request);
    const tolerance = 0.015;
    const shown: { result: GeometryResult; chords: number[] }[] = [];
    const chords = () => [...chordsOf(request)].filter((c) => !before.has(c));
    const tried = await made({ ...request, tolerance, isTry: true, onResult: (result) => shown.push({ result, chords: chords() }) });
    // One sampling served what was seen first, and the last.
    expect(shown[0].chords).toHaveLength(1);
    expect(chords()).toEqual(shown[0].chords);
    expect(shown[0].chords[0]).toBeGreaterThan(0.3 * tolerance);
    for (const { growth, closed } of [...shown.map((s) => s.result), tried]) {
      expect(growth.min).toBeGreaterThanOrEqual(-1e-6);
      expect(growth.max).toBeLessThanOrEqual(tolerance);
      expect(closed).toBe(true);
    }
    expect(tried.trianglesOut).toBeLessThan(shown[0].result.trianglesOut);
    const anew = await open('corpus/models/block-6.step');
    expect(meshes(await made({ ...request, tolerance }))).toEqual(meshes(await made({ ...anew, tolerance })));
  });

  it('is tried by making a finer wrap lighter: never inside the tool, within the tolerance, and forgotten when it is made in earnest', async () => {
    const request = await open('corpus/models/turning-3.step');
    const first = await made({ ...request, tolerance: 0.05 });
    expect(tasks).toContain('wrap');
    const tried = await made({ ...request, tolerance: 0.3, isTry: true });
    expect(tasks).toContain('lighten');
    expect(tasks).not.toContain('wrap');
    expect(tried.trianglesOut).toBeLessThan(first.trianglesOut);
    expect(tried.growth.max).toBeLessThanOrEqual(0.3);
    // By another way than the proof: no corner of the finest wrap's bodies lies outside.
    for (const part of tried.parts) {
      const around = new SignedDistance(weldWith(part.mesh, 1e-7).mesh);
      const bodies = request.opened?.sample({ chordTolerance: 0.011, ids: part.bodies });
      if (!bodies?.ok) throw new Error('it is open');
      for (const { skin } of bodies.value) for (let i = 0; i < skin.length; i += 3) expect(around.at(skin[i], skin[i + 1], skin[i + 2])).toBeLessThan(1e-6);
    }
    const final = await made({ ...request, tolerance: 0.3 });
    expect(tasks).toContain('wrap');
    const anew = await open('corpus/models/turning-3.step');
    expect(meshes(final)).toEqual(meshes(await made({ ...anew, tolerance: 0.3 })));
  });
});
