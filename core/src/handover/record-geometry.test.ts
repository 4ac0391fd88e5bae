import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, writePlainStep } from '#core/kernel';
import { normalize, rotationAbout } from '#core/math';
import { type ComponentRecord, DEFAULT_CHOICE, freshGeometry, type MadeGeometry } from '#core/records';
import { componentFromFile, makeRecordGeometry, makeRecordGeometryWithin } from './index.ts';

let kernel: Kernel;
let bytes: Uint8Array;
let record: ComponentRecord;
beforeAll(async () => {
  kernel = await loadKernel();
  // A leaning pin, so that a revolved envelope has curves to approximate.
  bytes = writePlainStep(kernel, [
    { solid: { kind: 'cylinder', radius: 12, height: 30 }, name: 'pin', fileFromSolid: rotationAbout([0, 0, 15], normalize([1, 0.3, 0]), 0.3) },
  ]);
  const opened = await componentFromFile(kernel, { bytes, fileName: 'pin.step', id: 'c', now: '', modelBlobOf: () => 'a'.repeat(64) });
  if (!opened.ok) throw new Error('not opened');
  record = opened.value.record;
});
const choice = (mode: 'revolved' | 'wrap' | 'exact', tolerance = 0.05) => ({ ...DEFAULT_CHOICE, mode, tolerance, overrides: {}, drawn: null });
const within = (mode: 'revolved' | 'wrap', budget: number, onProgress?: (share: number, text: string) => void, from = 0.2) =>
  makeRecordGeometryWithin(kernel, record, bytes, 'non-cutting', choice(mode, from), budget, onProgress);

describe('geometry within a budget of triangles', () => {
  it.each([
    ['revolved', [700]],
    ['wrap', [150, 60]],
  ] as const)('%s: keeps it, at nearly the least tolerance, with its proof; a smaller budget needs a larger tolerance', async (mode, budgets) => {
    const made: MadeGeometry[] = [];
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
      made.push(geometry);
      // Progress never goes backwards.
      expect(shares.length).toBeGreaterThan(5);
      shares.forEach((share, i) => expect(share).toBeGreaterThanOrEqual((shares[i - 1] ?? 0) - 1e-9));
      expect(shares.at(-1)).toBeLessThanOrEqual(1);
    }
    made.slice(1).forEach((m, i) => expect(m.tolerance).toBeGreaterThan(made[i].tolerance));
  });
  it('says how many it takes at least where there are too few, and refuses what no closed mesh has', async () => {
    expect(await within('revolved', 20, undefined, 5)).toMatchObject({ ok: false, issues: [{ code: 'envelope.budget-too-small', values: { triangles: 20 } }] });
    expect(await within('wrap', 3)).toMatchObject({ ok: false, issues: [{ code: 'envelope.bad-budget' }] });
  });
});
