import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, readSolids, writePlainStep } from '#core/kernel';
import { distance, dot, IDENTITY, isOrthonormal, translation, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import { describePick } from '../../../scene/describe.ts';
import type { PickRef } from '../../../scene/picks.ts';
import { axisOfPick, frameFromPicks, guessConnection, noseFromPick, planeOfPick, pointOfPick } from './pick-frames.ts';

// A pin of diameter 16 and length 60 standing on the origin, and a block 20 x 30 x 10 beside it.
let kernel: Kernel;
let model: Model;
const open = (bytes: Uint8Array): Model => {
  const r = readSolids(kernel, bytes, 'x.step');
  if (!r.ok) throw new Error('not read');
  return r.value.model;
};
beforeAll(async () => {
  kernel = await loadKernel();
  model = open(
    writePlainStep(kernel, [
      { solid: { kind: 'cylinder', radius: 8, height: 60 }, name: 'pin', fileFromSolid: IDENTITY },
      { solid: { kind: 'box', size: [20, 30, 10] }, name: 'block', fileFromSolid: translation([50, 0, 0]) },
    ]),
  );
});

const pickOf = (body: string, kind: PickRef['kind'], index: number): PickRef => ({ item: 'k', body, kind, index });
const pin = () => model.bodies[0];
const faceWhere = (kind: string, test: (p: Vec3) => boolean = () => true): PickRef =>
  pickOf(
    'b1',
    'face',
    pin().faces.findIndex((f, i) => f.surface.kind === kind && test(pointOfPick(model, pickOf('b1', 'face', i)) as Vec3)),
  );
const circleAt = (z: number): PickRef =>
  pickOf(
    'b1',
    'edge',
    pin().edges.findIndex((e) => e.curve.kind === 'circle' && Math.abs(e.curve.centre[2] - z) < 1e-6),
  );
const near = (a: Vec3 | undefined, b: Vec3) => expect(distance(a as Vec3, b)).toBeLessThan(1e-5);

describe('what a pick stands for', () => {
  it('a cylinder: its axis, no plane', () => {
    const pick = faceWhere('cylinder');
    expect(Math.abs(axisOfPick(model, pick)?.direction[2] ?? 0)).toBeCloseTo(1, 9);
    expect(planeOfPick(model, pick)).toBeUndefined();
  });
  it('a circle: axis, plane and centre', () => {
    near(pointOfPick(model, circleAt(60)), [0, 0, 60]);
    near(planeOfPick(model, circleAt(60))?.origin, [0, 0, 60]);
    near(axisOfPick(model, circleAt(60))?.origin, [0, 0, 60]);
  });
  it('a flat face: the middle of its own box, and a line: its middle', () => {
    const top = model.bodies[1].faces.findIndex((f) => f.surface.kind === 'plane' && f.surface.normal[2] > 0.9);
    near(pointOfPick(model, pickOf('b2', 'face', top)), [60, 15, 10]);
    const line = model.bodies[1].edges.findIndex(
      (e) => Math.abs(e.start[2] - 10) < 1e-9 && Math.abs(e.end[2] - 10) < 1e-9 && Math.abs(e.start[0] - e.end[0]) > 19,
    );
    expect(pointOfPick(model, pickOf('b2', 'edge', line))?.[0]).toBeCloseTo(60, 6);
  });
  it('nothing where the body is not there', () => {
    expect(pointOfPick(model, pickOf('b9', 'face', 0))).toBeUndefined();
    expect(axisOfPick(model, pickOf('b9', 'edge', 0))).toBeUndefined();
  });
});

describe('frames from picks', () => {
  const alone = (): Model => ({ ...model, bodies: [pin()] });
  it('a mount looks into the component, a seat out of it', () => {
    for (const z of [0, 60]) {
      const inward = z === 0 ? 1 : -1;
      const mount = frameFromPicks(alone(), [circleAt(z)], 'mount');
      const seat = frameFromPicks(alone(), [circleAt(z)], 'seat');
      near(mount?.origin, [0, 0, z]);
      expect(mount?.z[2]).toBeCloseTo(inward, 9);
      expect(seat?.z[2]).toBeCloseTo(-inward, 9);
      expect(mount && isOrthonormal(mount)).toBe(true);
    }
  });
  it('a cylinder needs the face where it ends', () => {
    expect(frameFromPicks(alone(), [faceWhere('cylinder')], 'mount')).toBeUndefined();
    const frame = frameFromPicks(alone(), [faceWhere('cylinder'), faceWhere('plane', (p) => p[2] < 1)], 'mount');
    near(frame?.origin, [0, 0, 0]);
    expect(frame?.z[2]).toBeCloseTo(1, 9);
  });
  it('a face along the axis is no end', () => {
    const side = model.bodies[1].faces.findIndex((f) => f.surface.kind === 'plane' && f.surface.normal[0] > 0.9);
    expect(frameFromPicks(model, [faceWhere('cylinder'), pickOf('b2', 'face', side)], 'mount')).toBeUndefined();
  });
  it('X leans to where the tip is', () => {
    const frame = frameFromPicks(alone(), [circleAt(0)], 'mount', [0, -11, 150]);
    expect(dot(frame?.x as Vec3, [0, -1, 0])).toBeCloseTo(1, 9);
  });
  it('the connection is guessed from the diameter', () => {
    expect(guessConnection(model, [faceWhere('cylinder')])).toEqual({ standard: 'cylindrical', size: 16 });
    expect(guessConnection(model, [circleAt(0)])).toEqual({ standard: 'cylindrical', size: 16 });
    expect(guessConnection(model, [pickOf('b2', 'face', 0)]).standard).toBe('square');
  });
});

describe('a nose from a pick', () => {
  it('of an insert: radius, centre, and where the corner points', () => {
    const bar = open(new Uint8Array(readFileSync(join(import.meta.dirname, '../../../../../demo/models/hub-bore-bar-16-inch.step'))));
    const insert = bar.bodies[1];
    const index = insert.edges.findIndex((e) => e.curve.kind === 'circle' && distance(e.curve.centre, [149.6, 0, -10.6]) < 1e-3);
    const nose = noseFromPick(bar, pickOf('b2', 'edge', index));
    expect(nose?.noseRadius).toBeCloseTo(0.4, 6);
    // The corner points between +X and -Z of the file.
    const l = Math.hypot(...(nose?.outward ?? [0, 0, 0]));
    expect((nose?.outward[0] ?? 0) / l).toBeCloseTo(Math.SQRT1_2, 5);
    expect((nose?.outward[2] ?? 0) / l).toBeCloseTo(-Math.SQRT1_2, 5);
    const straight = insert.edges.findIndex((e) => e.curve.kind === 'line');
    expect(noseFromPick(bar, pickOf('b2', 'edge', straight))).toBeUndefined();
    expect(noseFromPick(bar, pickOf('b2', 'corner', 0))).toBeUndefined();
  });
});

describe('what is under the pointer, in words', () => {
  it('names kind and numbers, in the unit that is shown', () => {
    expect(describePick(pin(), faceWhere('cylinder'), IDENTITY, 'mm')).toBe('cylinder, diameter 16.000, length 60.000, axis parallel to Z');
    expect(describePick(pin(), faceWhere('cylinder'), IDENTITY, 'inch')).toBe('cylinder, diameter 0.6299, length 2.3622, axis parallel to Z');
    expect(describePick(pin(), circleAt(60), IDENTITY, 'mm')).toBe('circle, diameter 16.000, axis parallel to Z');
    expect(describePick(pin(), faceWhere('plane'), IDENTITY, 'mm')).toBe('plane, normal parallel to Z');
  });
});
