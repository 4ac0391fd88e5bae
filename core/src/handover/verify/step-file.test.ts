import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { say } from '#core/issues';
import { type Kernel, loadKernel, OpenModel, readSolids, writeRevolvedStep } from '#core/kernel';
import { compose, frameFromWorld, IDENTITY, move, type Motion, radFromDeg, rotationAbout, translation, type Vec3 } from '#core/math';
import type { BodyGeometry, Model, Surface } from '#core/mesh';
import { type HalfProfile, loopThrough } from '#core/outline';
import { sameBodiesFault, turnedStepFault } from './step-file.ts';

const corpus = join(import.meta.dirname, '../../../../demo/corpus/models');
const place = compose(translation([180, -75, 260]), rotationAbout([1, 2, 3], [0.48, 0.6, 0.64], radFromDeg(143)));
let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});

function modelOf(bytes: Uint8Array, chordTolerance?: number): Model {
  const read = readSolids(kernel, bytes, 'x.step', chordTolerance === undefined ? {} : { chordTolerance });
  if (!read.ok) throw new Error(read.issues.map(say).join());
  return read.value.model;
}

// A vendor's file, and its bodies as a package holds them, in another place.
async function written(name: string, motion: Motion): Promise<{ vendor: readonly BodyGeometry[]; packed: Model }> {
  const bytes = new Uint8Array(readFileSync(join(corpus, name)));
  const opened = await OpenModel.open(kernel, bytes, name);
  if (!opened.ok) throw new Error(opened.issues.map(say).join());
  const read = opened.value.read();
  const step = opened.value.writeStep({ bodies: opened.value.bodyIds.map((id) => ({ id, name: id })), targetFromFile: motion });
  opened.value.close();
  if (!read.ok || !step?.ok) throw new Error('not written');
  return { vendor: read.value.model.bodies, packed: modelOf(step.value) };
}

describe('bodies as they came, in another place', () => {
  // Splines, cones and tori; many bodies; inches.
  it.each(['cutter-3.step', 'block-7.step', 'turning-9.step', 'boring-7.step', 'adapter-6.step'])('are found to be the same: %s', async (name) => {
    const { vendor, packed } = await written(name, place);
    expect(sameBodiesFault(packed, vendor, place)).toBeUndefined();
  });
  it('but not where they stand 0.01 mm beside, are fewer, or are others', async () => {
    const { vendor, packed } = await written('block-7.step', place);
    const beside = compose(translation([0.006, 0, 0.008]), place);
    expect(sameBodiesFault(packed, vendor, beside)?.text).toMatch(/0\.0\d+ mm/);
    expect(sameBodiesFault(packed, vendor, compose(place, rotationAbout([0, 0, 0], [0, 0, 1], 1e-4)))).toBeDefined();
    expect(sameBodiesFault({ ...packed, bodies: packed.bodies.slice(1) }, vendor, place)?.text).toMatch(/bodies instead of/);
    expect(sameBodiesFault({ ...packed, bodies: [...packed.bodies].reverse() }, vendor, place)).toBeDefined();
  });
  it('nor where one of their surfaces is another, whichever kind it is of, and the fault lies on that face', async () => {
    const { vendor, packed } = await written('adapter-6.step', IDENTITY);
    const wider = (s: Surface): Surface => {
      switch (s.kind) {
        case 'cylinder':
        case 'sphere':
          return { ...s, radius: s.radius + 0.01 };
        case 'cone':
          return { ...s, radiusLarge: s.radiusLarge + 0.01 };
        case 'torus':
          return { ...s, minorRadius: s.minorRadius + 0.01 };
        case 'plane':
          return { ...s, origin: move(translation([0.01 * s.normal[0], 0.01 * s.normal[1], 0.01 * s.normal[2]]), s.origin) };
        case 'free':
          return { kind: 'sphere', centre: [0, 0, 0], radius: 1, concave: false };
      }
    };
    const [body] = packed.bodies;
    const kinds = new Set<string>();
    for (const [f, face] of body.faces.entries()) {
      if (kinds.has(face.surface.kind)) continue;
      kinds.add(face.surface.kind);
      const faces = body.faces.map((g, i) => (i === f ? { ...g, surface: wider(g.surface) } : g));
      const fault = sameBodiesFault({ ...packed, bodies: [{ ...body, faces }, ...packed.bodies.slice(1)] }, vendor, IDENTITY);
      expect(fault?.text).toMatch(/face of/);
      const own = new Set([...body.mesh.triangles.slice(3 * body.faceStart[f], 3 * body.faceStart[f + 1])]);
      const isOn = [...own].some((v) => [0, 1, 2].every((k) => body.mesh.positions[3 * v + k] === (fault?.at as Vec3)[k]));
      expect(isOn).toBe(true);
    }
    expect([...kinds]).toEqual(expect.arrayContaining(['plane', 'cylinder', 'cone']));
  });
});

describe('a turned STEP file', () => {
  const profile: HalfProfile = [
    [
      { kind: 'line', from: [0, 3], to: [50, 3] },
      { kind: 'line', from: [50, 3], to: [50, 4] },
      { kind: 'arc', from: [50, 4], to: [44, 10], centre: [44, 4], ccw: true },
      { kind: 'line', from: [44, 10], to: [10, 18] },
      { kind: 'line', from: [10, 18], to: [0, 18] },
      { kind: 'line', from: [0, 18], to: [0, 3] },
    ],
  ];
  const frame = { origin: [20, -310, 45], z: [0, 0.6, 0.8], x: [1, 0, 0] } as const;
  it('of a bore, a taper and an arc lies on its profile; one of another profile does not, and where is said', () => {
    const model = modelOf(writeRevolvedStep(kernel, profile, frame, 'part'), 0.05);
    expect(turnedStepFault(model, frameFromWorld(frame), profile)).toBeUndefined();
    const wider = profile.map((loop) =>
      loop.map((p) => ({ ...p, from: p.from[1] === 18 ? [p.from[0], 18.01] : p.from, to: p.to[1] === 18 ? [p.to[0], 18.01] : p.to })),
    );
    const fault = turnedStepFault(model, frameFromWorld(frame), wider as unknown as HalfProfile);
    expect(fault?.text).toMatch(/mm off the profile/);
    const [, , z] = move(frameFromWorld(frame), fault?.at as Vec3);
    expect(z).toBeGreaterThan(-1e-3);
    expect(z).toBeLessThan(44.1);
  });
  it('of a point with a speck on the axis, shorter than the kernel makes edges, is written and lies on its profile', () => {
    const point: HalfProfile = [
      loopThrough([
        [0, 0],
        [58, 0],
        [58, 3.2e-8],
        [55, 9],
        [0, 9],
      ]),
    ];
    const model = modelOf(writeRevolvedStep(kernel, point, frame, 'part'), 0.05);
    expect(model.bodies).toMatchObject([{ closed: true, valid: true }]);
    expect(turnedStepFault(model, frameFromWorld(frame), point)).toBeUndefined();
  });
  it('that lacks one of two bodies is found by its volume', () => {
    const two: HalfProfile = [
      loopThrough([
        [0, 0],
        [10, 0],
        [10, 5],
        [0, 5],
      ]),
      loopThrough([
        [20, 0],
        [30, 0],
        [30, 5],
        [20, 5],
      ]),
    ];
    const model = modelOf(writeRevolvedStep(kernel, two, frame, 'part'), 0.05);
    expect(turnedStepFault(model, frameFromWorld(frame), two)).toBeUndefined();
    expect(turnedStepFault({ ...model, bodies: model.bodies.slice(1) }, frameFromWorld(frame), two)?.text).toMatch(/volume/);
  });
});
