import { beforeAll, describe, expect, it } from '@jest/globals';
import { locate } from '#core/assembly';
import { loadKernel, readSolids, writePlainStep } from '#core/kernel';
import { dot, move, translation, type Vec3 } from '#core/math';
import type { Model } from '#core/mesh';
import type { PickRef } from '../../../scene/picks.ts';
import { pairingOf } from './pairing.ts';

// A plate that hovers over a block, and a pin.
let model: Model;
beforeAll(async () => {
  const kernel = await loadKernel();
  const r = readSolids(
    kernel,
    writePlainStep(kernel, [
      { solid: { kind: 'box', size: [10, 10, 3] }, name: 'plate', fileFromSolid: translation([2, 4, 27]) },
      { solid: { kind: 'box', size: [40, 30, 20] }, name: 'block', fileFromSolid: translation([0, 0, 0]) },
      { solid: { kind: 'cylinder', radius: 4, height: 20 }, name: 'pin', fileFromSolid: translation([90, 0, 0]) },
    ]),
    'x.step',
  );
  if (!r.ok) throw new Error('not read');
  model = r.value.model;
});
const pick = (body: string, kind: PickRef['kind'], index: number): PickRef => ({ item: 'k', body, kind, index });
const face = (body: number, normal: Vec3) =>
  pick(
    `b${body}`,
    'face',
    model.bodies[body - 1].faces.findIndex((f) => f.surface.kind === 'plane' && dot(f.surface.normal, normal) > 0.99),
  );

describe('pairs of picks', () => {
  it('lay the plate on the block and against its stop, by two pairs of faces', () => {
    const pairing = pairingOf(model, [face(1, [0, 0, -1]), face(2, [0, 0, 1]), face(1, [-1, 0, 0]), face(2, [1, 0, 0])]);
    expect(pairing?.body).toBe('b1');
    expect(pairing?.pairs.map((p) => p.kind)).toEqual(['face', 'face']);
    const { motion, left } = locate(pairing?.pairs ?? []);
    const under = move(motion, [2, 4, 27]);
    expect(under[2]).toBeCloseTo(20, 9);
    expect(under[0]).toBeCloseTo(40, 9);
    for (const l of left) expect(l.gap).toBeLessThan(1e-9);
  });
  it('are none where something has no partner, or one of another kind', () => {
    expect(pairingOf(model, [])).toBeUndefined();
    expect(pairingOf(model, [face(1, [0, 0, -1])])).toBeUndefined();
    expect(pairingOf(model, [face(1, [0, 0, -1]), face(2, [0, 0, 1]), face(1, [-1, 0, 0])])).toBeUndefined();
    const round = pick(
      'b3',
      'face',
      model.bodies[2].faces.findIndex((f) => f.surface.kind === 'cylinder'),
    );
    expect(pairingOf(model, [face(1, [0, 0, -1]), round])).toBeUndefined();
    expect(pairingOf(model, [round, face(1, [0, 0, -1])])).toBeUndefined();
    expect(pairingOf(model, [pick('b1', 'corner', 0), pick('b2', 'corner', 0)])?.pairs[0].kind).toBe('corner');
  });
});
