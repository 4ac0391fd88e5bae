import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, readSolids, writePlainStep, writeStepPart } from '#core/kernel';
import {
  angleBetweenRad,
  compose,
  degFromRad,
  distance,
  IDENTITY,
  type Motion,
  move,
  normalize,
  rotationAbout,
  translation,
  turn,
  type Vec3,
} from '#core/math';
import type { Model } from '#core/mesh';
import { proposeReading, type Reading } from './index.ts';

// The demo's models with the truth that their recipe carries, as they are filed and in another pose.
interface Truth {
  readonly key: string;
  readonly file: string;
  readonly roles: Record<string, string>;
  readonly mount: { connection: { standard: string; size: number | string }; frame: { origin: Vec3; z: Vec3; x: Vec3 } };
  readonly seats: { connection: { standard: string; size: number | string }; frame: { origin: Vec3; z: Vec3 } }[];
  readonly tips: { noseRadius: number; noseCentre: Vec3 }[];
}
const demo = join(import.meta.dirname, '../../../demo');
const truths = (JSON.parse(readFileSync(join(demo, 'hub-station.json'), 'utf8')) as { components: Truth[] }).components;
const pose = compose(translation([31, -12, 250]), rotationAbout([5, 6, 7], normalize([1, -2, 0.5]), 1.234));

let kernel: Kernel;
const models = new Map<string, Model>();
const readModel = (bytes: Uint8Array, file: string): Model => {
  const r = readSolids(kernel, bytes, file);
  if (!r.ok) throw new Error(`${file} did not open`);
  return r.value.model;
};
beforeAll(async () => {
  kernel = await loadKernel();
  for (const t of truths) {
    const bytes = new Uint8Array(readFileSync(join(demo, t.file)));
    const here = readModel(bytes, t.file);
    models.set(t.key, here);
    const moved = writeStepPart(kernel, { bytes, file: t.file, bodies: here.bodies.map((b) => ({ id: b.id, name: '' })), targetFromFile: pose });
    if (!moved.ok) throw new Error('not moved');
    models.set(`${t.key} moved`, readModel(moved.value, t.file));
  }
});

const cases: [string, string, Motion][] = truths.flatMap((t): [string, string, Motion][] => [
  [t.key, t.key, IDENTITY],
  [t.key, `${t.key} moved`, pose],
]);
const truthOf = (key: string) => truths.find((t) => t.key === key) as Truth;
const reading = (name: string): Reading => proposeReading(models.get(name) as Model);
const offDeg = (a: Vec3, b: Vec3) => degFromRad(angleBetweenRad(a, b));

describe.each(cases)('%s as %s', (key, name, motion) => {
  const truth = truthOf(key);
  it('gets every role right', () => {
    // A moved file lists the same bodies in the same order.
    expect(Object.fromEntries(reading(name).roles.map((r) => [r.body, r.role]))).toEqual(truth.roles);
  });
  it('gets its mount: standard, size, reference plane within 0.01 mm, Z within 0.01 degrees', () => {
    const { mount } = reading(name);
    expect(mount?.connection).toEqual(truth.mount.connection);
    expect(distance(mount?.frame.origin ?? [0, 0, 0], move(motion, truth.mount.frame.origin))).toBeLessThan(0.01);
    expect(offDeg(mount?.frame.z ?? [0, 0, 1], turn(motion, truth.mount.frame.z))).toBeLessThan(0.01);
    if (truth.tips.length > 0) expect(offDeg(mount?.frame.x ?? [0, 0, 1], turn(motion, truth.mount.frame.x))).toBeLessThan(0.01);
  });
  it('gets its tip within 0.01 mm, or none', () => {
    const { tips } = reading(name);
    expect(tips).toHaveLength(truth.tips.length);
    truth.tips.forEach((t, i) => {
      expect(Math.abs(tips[i].noseRadius - t.noseRadius)).toBeLessThan(0.01);
      expect(distance(tips[i].noseCentre, move(motion, t.noseCentre))).toBeLessThan(0.01);
      expect([tips[i].enteringAngle, tips[i].includedAngle].map((v) => Math.round(v * 10) / 10)).toEqual([95, 80]);
    });
  });
  it('gets its first seat, or none', () => {
    const { seats } = reading(name);
    const [want] = truth.seats;
    if (!want) return expect(seats).toEqual([]);
    const found = seats.find((s) => s.connection.standard === want.connection.standard);
    expect(found?.connection).toEqual(want.connection);
    expect(offDeg(found?.frame.z ?? [0, 0, 1], turn(motion, want.frame.z))).toBeLessThan(0.01);
  });
  it('is surer of what is right than of what is not', () => {
    for (const r of reading(name).roles) expect(r.confidence).toBeGreaterThan(0.6);
    expect(reading(name).mount?.confidence).toBeGreaterThan(0.9);
  });
});

describe('hand', () => {
  it('is left for the left-hand holder and right for the bar', () => {
    expect(reading('hub-face-holder-25').tips[0].hand).toBe('left');
    expect(reading('hub-bore-bar-16-inch').tips[0].hand).toBe('right');
  });
});

describe('what has nothing to read', () => {
  it('a cube: says so, proposes no mount and no tip', () => {
    const model = readModel(writePlainStep(kernel, [{ solid: { kind: 'box', size: [33, 37, 41] }, name: 'cube', fileFromSolid: IDENTITY }]), 'cube.step');
    const { mount, tips, seats, warnings } = proposeReading(model);
    expect({ mount, tips, seats }).toEqual({ mount: undefined, tips: [], seats: [] });
    expect(warnings.map((w) => w.code)).toContain('no-shank');
  });
  it('a plain pin: a shank, but not surely, and no tip', () => {
    const model = readModel(writePlainStep(kernel, [{ solid: { kind: 'cylinder', radius: 10, height: 80 }, name: 'pin', fileFromSolid: pose }]), 'pin.step');
    const { mount, tips } = proposeReading(model);
    expect(mount?.connection).toEqual({ standard: 'cylindrical', size: 20 });
    expect(mount?.confidence).toBeLessThan(0.8);
    expect(tips).toEqual([]);
  });
});
