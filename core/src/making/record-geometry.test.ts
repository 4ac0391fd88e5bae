import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, writePlainStep } from '#core/kernel';
import { normalize, rotationAbout } from '#core/math';
import { type ComponentRecord, DEFAULT_CHOICE, freshGeometry } from '#core/records';
import { failed, done } from '#core/issues';
import { findTolerance } from './find-tolerance.ts';
import { componentFromFile } from '#core/sources';
import { makeRecordGeometry, makeRecordGeometryWithin } from './index.ts';

let kernel: Kernel;
let bytes: Uint8Array;
let record: ComponentRecord;
beforeAll(async () => {
  kernel = await loadKernel();
  // A leaning pin, so that a revolved envelope has curves to approximate.
  bytes = writePlainStep(kernel, [
    { solid: { kind: 'cylinder', radius: 4, height: 10 }, name: 'pin', fileFromSolid: rotationAbout([0, 0, 5], normalize([1, 0.3, 0]), 0.3) },
  ]);
  const opened = await componentFromFile(kernel, { bytes, fileName: 'pin.step', id: 'c', now: '', modelBlobOf: () => 'a'.repeat(64) });
  if (!opened.ok) throw new Error('not opened');
  record = opened.value.record;
});
const choice = (mode: 'wrap', tolerance: number) => ({ ...DEFAULT_CHOICE, mode, tolerance, overrides: {}, drawn: null });
const within = (mode: 'wrap', budget: number, onProgress?: (share: number, text: string) => void) =>
  makeRecordGeometryWithin(kernel, record, bytes, 'non-cutting', choice(mode, 0.2), budget, { onProgress });

describe('geometry within a budget of triangles', () => {
  it.each([['wrap', [50]]] as const)('%s: keeps it, at nearly the least tolerance, with its proof', async (mode, budgets) => {
    for (const budget of budgets) {
      const shares: number[] = [];
      const r = await within(mode, budget, (share) => shares.push(share));
      if (!r.ok) throw new Error(r.issues[0].code);
      const { geometry } = r.value;
      expect(geometry.trianglesOut).toBeLessThanOrEqual(budget);
      expect(geometry.growth.min).toBeGreaterThanOrEqual(-1e-6);
      expect(geometry.growth.max).toBeLessThanOrEqual(geometry.tolerance);
      // It is what this tolerance gives, and three quarters of it would give too many.
      expect(freshGeometry({ ...record, geometry: [geometry] }, 'non-cutting')).toBeDefined();
      const finer = await makeRecordGeometry(kernel, record, bytes, 'non-cutting', choice(mode, 0.75 * geometry.tolerance));
      expect(finer.ok && finer.value.geometry.trianglesOut).toBeGreaterThan(budget);
      // Progress never goes backwards.
      expect(shares.length).toBeGreaterThan(5);
      shares.forEach((share, i) => expect(share).toBeGreaterThanOrEqual((shares[i - 1] ?? 0) - 1e-9));
      expect(shares.at(-1)).toBeLessThanOrEqual(1);
    }
  });
  it('refuses what no closed mesh has', async () => {
    expect(await within('wrap', 3)).toMatchObject({ ok: false, issues: [{ code: 'envelope.bad-budget' }] });
  });
});

describe('the search for a tolerance', () => {
  // As chords go: their number falls with the root of the tolerance.
  const count = (tolerance: number) => Math.ceil(100 / Math.sqrt(tolerance));
  const search = async (first: number, budget: number, tried: number[] = []) =>
    findTolerance(first, budget, (tolerance) => {
      tried.push(tolerance);
      return Promise.resolve(done({ triangles: count(tolerance), value: tolerance }));
    });
  it('ends near the least one, from whatever it begins with, in few steps', async () => {
    for (const budget of [60, 150, 400, 1500])
      for (const first of [0.002, 0.05, 1]) {
        const tried: number[] = [];
        const found = await search(first, budget, tried);
        if (!found.ok) throw new Error('not found');
        expect(count(found.value)).toBeLessThanOrEqual(budget);
        expect(found.value / (100 / budget) ** 2).toBeLessThan(1.2);
        expect(tried.length).toBeLessThan(14);
      }
  });
  it('takes the finest there is where that is light enough', async () => {
    expect(await search(0.05, 1e6)).toEqual(done(0.001));
  });
  it('says how many it takes at least where the budget is too small, and passes on what went wrong', async () => {
    expect(await search(0.05, 20)).toMatchObject({ ok: false, issues: [{ code: 'envelope.budget-too-small', values: { triangles: 20, least: 45 } }] });
    expect(await findTolerance(0.05, 100, () => Promise.resolve(failed('envelope.no-bodies')))).toEqual(failed('envelope.no-bodies'));
  });
});
