import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, readSolids, writePlainStep } from '#core/kernel';
import { dot, type Frame, IDENTITY, subtract } from '#core/math';
import { outsideFinder } from '#core/mesh';
import { profileDistance } from '#core/outline';
import { proposeReading } from '#core/reading';
import { type GeometryRequest, makeGeometry } from './index.ts';

// On vendor-like files: what is promised, enclosure and tolerance, at several tolerances.
const demo = join(import.meta.dirname, '../../../demo/models');
let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const sleeveFrame: Frame = { origin: [0, 70, 300], z: [0, 1, 0], x: [1, 0, 0] };
const barFrame: Frame = { origin: [0, 0, 0], z: [1, 0, 0], x: [0, 0, -1] };

// Made once for all tests.
const known = new Map<string, Promise<Awaited<ReturnType<typeof makeNow>>>>();
const make = (...given: Parameters<typeof makeNow>) => {
  const key = JSON.stringify(given);
  const made = known.get(key) ?? makeNow(...given);
  known.set(key, made);
  return made;
};
const makeNow = async (file: string, frame: Frame, mode: 'exact' | 'revolved', tolerance: number, bodies: string[]) => {
  const bytes = new Uint8Array(readFileSync(join(demo, file)));
  const r = await makeGeometry(kernel, { bytes, file, bodies, mode, tolerance, frame });
  if (!r.ok) throw new Error(r.issues[0].code);
  return { ...r.value, bytes };
};

describe.each([
  ['hub-bore-bar-16-inch.step', barFrame, 'exact', ['b1']],
  ['hub-bore-bar-16-inch.step', barFrame, 'revolved', ['b1', 'b2', 'b3']],
  ['sleeve-32-16.step', sleeveFrame, 'revolved', ['b1']],
] as const)('%s (frame %o), %s', (file, frame, mode, bodies) => {
  it('is closed, never inside, and within each tolerance; a wider one is never heavier', async () => {
    let triangles = Infinity;
    for (const tolerance of [0.1, 0.2]) {
      const made = await make(file, frame, mode, tolerance, [...bodies]);
      expect(made.closed).toBe(true);
      expect(made.growth.min).toBeGreaterThanOrEqual(-1e-6);
      expect(made.growth.max).toBeLessThanOrEqual(tolerance + 1e-9);
      expect(made.growth.mean).toBeLessThanOrEqual(made.growth.max);
      expect(made.volumeOut).toBeGreaterThan(made.volumeIn);
      expect(made.trianglesOut).toBeLessThanOrEqual(triangles);
      triangles = made.trianglesOut;
    }
  });
  it('encloses the corners and the drawn mesh of the source, by another method', async () => {
    const { mesh, bytes } = await make(file, frame, mode, 0.2, [...bodies]);
    const outside = outsideFinder(mesh);
    const source = readSolids(kernel, bytes, file);
    if (!source.ok) throw new Error('not read');
    let most = 0;
    for (const body of source.value.model.bodies.filter((b) => (bodies as readonly string[]).includes(b.id)))
      for (let i = 0; i < body.mesh.positions.length; i += 3 * 17) {
        const p = [body.mesh.positions[i], body.mesh.positions[i + 1], body.mesh.positions[i + 2]] as const;
        most = Math.max(most, outside(p));
      }
    // The drawn mesh has single precision.
    expect(most).toBeLessThan(3e-5);
  });
});

describe('making geometry', () => {
  it('ends where it is told to, at whatever step, and says so', async () => {
    const file = 'turning-12.step';
    const bytes = new Uint8Array(readFileSync(join(demo, '../corpus/models', file)));
    let asked = 0;
    let stopAt = Infinity;
    const run = () => {
      asked = 0;
      const goesOn = () => Promise.resolve(++asked < stopAt);
      return makeGeometry(kernel, { bytes, file, bodies: ['b1'], mode: 'auto', tolerance: 0.5, frame: sleeveFrame, goesOn });
    };
    expect((await run()).ok).toBe(true);
    const steps = asked;
    expect(steps).toBeGreaterThan(2);
    for (stopAt = 1; stopAt <= steps; stopAt++) {
      expect(await run()).toMatchObject({ ok: false, issues: [{ code: 'envelope.stopped' }] });
      expect(asked).toBe(stopAt);
    }
  });
});

describe('bodies of a tool that stands still', () => {
  const made = async (file: string, more: Partial<GeometryRequest> = {}) => {
    const bytes = new Uint8Array(readFileSync(join(demo, '../corpus/models', file)));
    const read = readSolids(kernel, bytes, file);
    if (!read.ok) throw new Error('not read');
    const { bodies } = read.value.model;
    const r = await makeGeometry(kernel, { bytes, file, bodies: bodies.map((b) => b.id), mode: 'auto', tolerance: 0.2, frame: barFrame, ...more });
    if (!r.ok) throw new Error(r.issues[0].code);
    return { ...r.value, source: bodies };
  };
  it('that lie in another one’s part need nothing of their own, and are enclosed all the same', async () => {
    const shares: number[] = [];
    const { parts, mesh, closed, growth, source, trianglesIn } = await made('block-1.step', { onProgress: (share) => shares.push(share) });
    for (let i = 1; i < shares.length; i++) expect(shares[i]).toBeGreaterThanOrEqual(shares[i - 1] - 1e-9);
    expect(shares[shares.length - 1]).toBeLessThanOrEqual(1);
    expect(parts.map((p) => [p.bodies, p.inside])).toEqual([[['b1'], ['b2', 'b3']]]);
    expect([closed, growth.min >= -1e-6, growth.max <= 0.2]).toEqual([true, true, true]);
    const outside = outsideFinder(mesh);
    for (const { mesh: own } of source)
      for (let i = 0; i < own.positions.length; i += 3 * 7) expect(outside([own.positions[i], own.positions[i + 1], own.positions[i + 2]])).toBeLessThan(3e-5);
    // One that a person wants made another way is made.
    const apart = await made('block-1.step', { overrides: { b2: 'exact' } });
    expect(apart.parts.map((p) => [p.bodies, p.inside, p.mode])).toEqual([
      [['b1'], ['b3'], 'wrap'],
      [['b2'], [], 'exact'],
    ]);
    expect(apart.trianglesIn).toBeGreaterThan(trianglesIn / 2);
  });
  it('that lie in another one’s part for the most part are coarse there: a screw with its thread', async () => {
    const whole = await made('turning-3.step');
    const [, , screw] = whole.parts;
    expect(screw.why).toMatch(/[78]\d % of it hidden in other parts/);
    const alone = await made('turning-3.step', { bodies: screw.bodies });
    expect(screw.mesh.triangles.length).toBeLessThan(0.5 * alone.mesh.triangles.length);
    expect(whole.parts.map((p) => p.bodies)).toEqual([['b1'], ['b2'], ['b3']]);
    for (const { growth, proof } of whole.parts) {
      expect(growth.min).toBeGreaterThan(-1e-6);
      expect(growth.max).toBeLessThanOrEqual(0.2);
      expect([proof.closed, proof.crossings]).toEqual([true, 0]);
    }
    // No place of all of it that is seen is further from the vendor's than the tolerance, openings that were closed apart.
    expect(whole.volumeOut).toBeGreaterThan(whole.volumeIn);
  });
  it('exact geometry leaves nothing out', async () => {
    const { parts } = await made('block-1.step', { mode: 'exact' });
    expect(parts.map((p) => [p.bodies, p.inside.length])).toEqual([
      [['b1'], 0],
      [['b2'], 0],
      [['b3'], 0],
    ]);
  });
});

describe('a revolved envelope’s mesh', () => {
  it.each([0.002, 0.01, 0.05, 0.2])('within %f mm of a plain cylinder has the fewest flats that can be around it, almost', async (tolerance) => {
    const bytes = writePlainStep(kernel, [{ solid: { kind: 'cylinder', radius: 20, height: 50 }, name: 'pin', fileFromSolid: IDENTITY }]);
    const made = await makeGeometry(kernel, {
      bytes,
      file: 'pin.step',
      bodies: ['b1'],
      mode: 'revolved',
      tolerance,
      frame: { ...barFrame, z: [0, 0, 1], x: [1, 0, 0] },
    });
    if (!made.ok) throw new Error(made.issues[0].code);
    const { growth, trianglesOut } = made.value;
    // n flats stand out by r / cos(pi / n) - r; each side is two triangles, each end one for each flat.
    const fewest = Math.ceil(Math.PI / Math.acos(20 / (20 + tolerance)));
    expect(trianglesOut / 4).toBeGreaterThanOrEqual(fewest);
    expect(trianglesOut / 4).toBeLessThan(1.04 * fewest + 1);
    expect(growth.max).toBeLessThanOrEqual(tolerance);
    expect(growth.max).toBeGreaterThan(0.9 * tolerance);
  });
});

describe('the mount and the seat of a collet chuck', () => {
  it('stay exact at whatever tolerance: taper and collet bore to a micrometre’s thousandth', async () => {
    const file = 'collet-chuck-63-32.step';
    const bytes = new Uint8Array(readFileSync(join(demo, file)));
    const read = readSolids(kernel, bytes, file);
    if (!read.ok) throw new Error('not read');
    const { model } = read.value;
    const { mount, seats } = proposeReading(model);
    if (!mount) throw new Error('no mount');
    const { frame } = mount;
    const made = await makeGeometry(kernel, { bytes, file, bodies: model.bodies.map((b) => b.id), mode: 'revolved', tolerance: 0.5, frame, bores: 'work' });
    if (!made.ok || !made.value.profile) throw new Error('no profile');
    const profile = profileDistance(made.value.profile);
    let looked = 0;
    for (const { faces } of [mount, ...seats])
      for (const { body, face } of faces ?? []) {
        const surface = model.bodies.find((b) => b.id === body)?.faces[face].surface;
        if (surface?.kind !== 'cone') continue;
        const sense = dot(surface.axis, frame.z);
        for (let share = 0.1; share < 0.95; share += 0.1) {
          const z = dot(subtract(surface.origin, frame.origin), frame.z) + sense * share * surface.length;
          expect(Math.abs(profile.depth(z, surface.radiusLarge + share * (surface.radiusSmall - surface.radiusLarge)))).toBeLessThan(1e-6);
          looked++;
        }
      }
    expect(looked).toBeGreaterThanOrEqual(18);
  });
});
