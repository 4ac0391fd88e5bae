import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { length, subtract, type Vec3 } from '#core/math';
import type { Model, Surface } from '#core/mesh';
import { asSplines } from '../../../demo/corpus/as-splines.ts';
import { type Kernel, loadKernel, readSolids } from './index.ts';
import { recognizeCurve } from './recognize-surface.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const demo = join(import.meta.dirname, '../../../demo');
function read(text: string): Model {
  const made = readSolids(kernel, new TextEncoder().encode(text), 'x.step');
  if (!made.ok) throw new Error(made.issues.map(say).join());
  return made.value.model;
}
const surfacesOf = (model: Model): Surface[] => model.bodies.flatMap((b) => b.faces.map((f) => f.surface));
const near = (a: Vec3, b: Vec3) => length(subtract(a, b));

describe('faces that are written as splines', () => {
  it.each(['corpus/models/holder-1.step', 'models/hub-bore-bar-16-inch.step', 'corpus/models/turning-12.step'])('are what they are: %s', (file) => {
    const step = readFileSync(join(demo, file), 'utf8');
    const { text, counts } = asSplines(step);
    expect(Object.values(counts).reduce((a, b) => a + b, 0)).toBeGreaterThan(10);
    // None is left as it was.
    expect(text).not.toMatch(/=\s*(PLANE|CYLINDRICAL_SURFACE|CONICAL_SURFACE|TOROIDAL_SURFACE)\s*\(/);
    const [plain, splines] = [surfacesOf(read(step)), surfacesOf(read(text))];
    expect(splines).toHaveLength(plain.length);
    const wrong = plain.flatMap((s, i) => (s.kind === splines[i].kind ? [] : [`${i} ${s.kind} ${splines[i].kind}`]));
    expect(wrong).toEqual([]);
    for (const [i, s] of plain.entries()) {
      const t = splines[i];
      if (s.kind === 'plane' && t.kind === 'plane') expect(near(s.normal, t.normal)).toBeLessThan(1e-5);
      if (s.kind === 'cylinder' && t.kind === 'cylinder') {
        expect(Math.abs(s.radius - t.radius)).toBeLessThan(1e-3);
        expect(s.concave).toBe(t.concave);
        expect(Math.abs(s.length - t.length)).toBeLessThan(0.05);
      }
      if (s.kind === 'cone' && t.kind === 'cone') {
        expect(Math.abs(s.radiusLarge - t.radiusLarge) + Math.abs(s.halfAngleRad - t.halfAngleRad)).toBeLessThan(4e-3);
        expect([t.concave, near(s.axis, t.axis) < 1e-3]).toEqual([s.concave, true]);
      }
      if (s.kind === 'torus' && t.kind === 'torus') {
        expect(Math.abs(s.majorRadius - t.majorRadius) + Math.abs(s.minorRadius - t.minorRadius)).toBeLessThan(4e-3);
        expect(t.concave).toBe(s.concave);
      }
      if (s.kind === 'sphere' && t.kind === 'sphere') expect([Math.abs(s.radius - t.radius) < 1e-3, t.concave]).toEqual([true, s.concave]);
    }
  });
});

describe('curves that are written as splines', () => {
  const arc = (radius: number, sweep: number, bump = 0) =>
    recognizeCurve((t): Vec3 => {
      const r = radius + bump * Math.sin(9 * t);
      return [5 + r * Math.cos(0.3 + sweep * t), 2, -r * Math.sin(0.3 + sweep * t)];
    });
  it('are lines and circles where they are, within a micrometre, and nothing where they are not', () => {
    expect(recognizeCurve((t): Vec3 => [1 + 3 * t, 2 * t * 1, 4 - 6 * t])).toEqual({ kind: 'line', length: expect.closeTo(7, 9) });
    for (const sweep of [0.4, 2, 3.5, 6, 2 * Math.PI])
      expect(arc(12, sweep)).toMatchObject({
        kind: 'circle',
        radius: expect.closeTo(12, 9),
        sweepRad: expect.closeTo(sweep, 6),
        centre: [expect.closeTo(5, 9), 2, expect.closeTo(0, 9)],
      });
    expect(arc(12, 2, 0.004)).toBeUndefined();
    expect(recognizeCurve((t): Vec3 => [t, 0.002 * Math.sin(3 * t), 0])?.kind).not.toBe('line');
    expect(recognizeCurve((t): Vec3 => [Math.cos(3 * t), Math.sin(3 * t), t])).toBeUndefined();
  });
});
