import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, writePlainStep } from '#core/kernel';
import { IDENTITY, translation } from '#core/math';
import { encodeModel } from '#core/mesh';
import { hashBytes } from '#core/records';
import { componentFromFile } from '#core/sources';
import { makeRecordGeometry, mapGrowth } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

describe('the map of growth', () => {
  it.each(['exact', 'wrap', 'revolved'] as const)('of a %s pin and block covers the made geometry, and never exceeds what was reported', async (mode) => {
    const bytes = writePlainStep(kernel, [
      { solid: { kind: 'cylinder', radius: 8, height: 40 }, name: 'pin', fileFromSolid: IDENTITY },
      { solid: { kind: 'box', size: [20, 20, 10] }, name: 'block', fileFromSolid: translation([-10, -10, 40]) },
    ]);
    const opened = await componentFromFile(kernel, { bytes, fileName: 'x.step', id: 'c', now: '', modelBlobOf: (m) => hashBytes(encodeModel(m)) });
    if (!opened.ok) throw new Error('not opened');
    const { record } = opened.value;
    const choice = { mode, tolerance: 0.05, closeBelow: 14, overrides: {}, bores: 'closed' as const, bridge: 0, drawn: null };
    const made = await makeRecordGeometry(kernel, record, bytes, 'non-cutting', choice);
    if (!made.ok) throw new Error(made.issues[0].code);
    const { geometry, blob } = made.value;
    const map = await mapGrowth(kernel, record, geometry, bytes, blob);
    if (!map.ok) throw new Error(map.issues[0].code);
    const { positions, triangles, growth, greatest } = map.value;
    expect(growth.length).toBe(positions.length / 3);
    expect(triangles.every((v) => v < growth.length)).toBe(true);
    expect(growth.every((g) => g >= 0)).toBe(true);
    expect(greatest).toBeGreaterThan(1e-4);
    // The original's own chords lie inside of it by up to a tenth of the tolerance.
    expect(greatest).toBeLessThan(geometry.growth.max + 0.1 * choice.tolerance);
    // Fine triangles cover what was made.
    let area = 0;
    for (let i = 0; i < triangles.length; i += 3) {
      const [a, b, c] = [0, 1, 2].map((k) => [0, 1, 2].map((j) => positions[3 * triangles[i + k] + j]));
      const [u, v] = [b.map((x, j) => x - a[j]), c.map((x, j) => x - a[j])];
      area += Math.hypot(u[1] * v[2] - u[2] * v[1], u[2] * v[0] - u[0] * v[2], u[0] * v[1] - u[1] * v[0]) / 2;
    }
    expect(area / geometry.parts.reduce((s, p) => s + p.area, 0)).toBeCloseTo(1, 3);
    for (const p of geometry.parts) expect(p.histogram.reduce((a, b) => a + b, 0)).toBeCloseTo(1, 6);
  });
  it('shows no growth of a pin where it is in a block, and the block alone where the pin is all in it', async () => {
    const mapped = async (radius: number, sunk: number) => {
      const bytes = writePlainStep(kernel, [
        { solid: { kind: 'box', size: [30, 30, 30] }, name: 'block', fileFromSolid: IDENTITY },
        { solid: { kind: 'cylinder', radius, height: 20 }, name: 'pin', fileFromSolid: translation([15, 15, 30 - sunk]) },
      ]);
      const opened = await componentFromFile(kernel, { bytes, fileName: 'x.step', id: 'c', now: '', modelBlobOf: (m) => hashBytes(encodeModel(m)) });
      if (!opened.ok) throw new Error('not opened');
      const { record } = opened.value;
      const choice = { mode: 'auto' as const, tolerance: 0.2, closeBelow: 14, overrides: {}, bores: 'closed' as const, bridge: 0, drawn: null };
      const made = await makeRecordGeometry(kernel, record, bytes, 'non-cutting', choice);
      if (!made.ok) throw new Error(made.issues[0].code);
      const map = await mapGrowth(kernel, record, made.value.geometry, bytes, made.value.blob);
      if (!map.ok) throw new Error(map.issues[0].code);
      return { parts: made.value.geometry.parts, map: map.value };
    };
    const half = await mapped(6, 10);
    expect(half.parts.map((p) => p.inside)).toEqual([[], []]);
    const { positions, growth } = half.map;
    const above = Array.from(growth).filter((_, i) => positions[3 * i + 2] > 30.001);
    const below = Array.from(growth).filter((_, i) => positions[3 * i + 2] < 29.999);
    expect(Math.max(...below)).toBeLessThan(1e-6);
    expect(Math.max(...above)).toBeGreaterThan(0.02);
    const whole = await mapped(6, 25);
    expect(whole.parts.map((p) => [p.bodies, p.inside])).toEqual([[['b1'], ['b2']]]);
    expect(whole.map.greatest).toBeLessThan(1e-6);
  });
});
