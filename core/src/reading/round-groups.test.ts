import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, type PlainSolid, readSolids, writePlainStep } from '#core/kernel';
import { compose, dot, IDENTITY, type Motion, normalize, rotationAbout, translation } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { lookAtFaces, planesOf, reachAlong } from './face-table.ts';
import { groupRound } from './round-groups.ts';
import { plateOf, roundness } from './roles.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const bodiesOf = (...solids: [PlainSolid, Motion][]): readonly BodyGeometry[] => {
  const r = readSolids(
    kernel,
    writePlainStep(
      kernel,
      solids.map(([solid, fileFromSolid], i) => ({ solid, name: `s${i}`, fileFromSolid })),
    ),
    'x.step',
  );
  if (!r.ok) throw new Error('not read');
  return r.value.model.bodies;
};
const pose = compose(translation([40, 3, -9]), rotationAbout([1, 0, 2], normalize([1, 1, -2]), 2.1));

describe('lookAtFaces', () => {
  it('gives areas, centres and outward normals of a box in any pose', () => {
    for (const motion of [IDENTITY, pose]) {
      const [box] = bodiesOf([{ kind: 'box', size: [10, 20, 30] }, motion]);
      const planes = planesOf(lookAtFaces(box));
      expect(planes.map((f) => Math.round(f.area)).sort((a, b) => a - b)).toEqual([200, 200, 300, 300, 600, 600]);
      // Each looks away from the middle, by half of the box.
      for (const f of planes) expect(f.offset - dot(box.centroid, f.outward)).toBeGreaterThan(4.99);
      expect(reachAlong(box, planes[0].outward)[1]).toBeCloseTo(planes[0].offset, 4);
    }
  });
  it('is made once for a body', () => {
    const [box] = bodiesOf([{ kind: 'box', size: [1, 2, 3] }, IDENTITY]);
    expect(lookAtFaces(box)).toBe(lookAtFaces(box));
  });
});

describe('groupRound', () => {
  it('puts faces of one axis together, and keeps parallel axes apart', () => {
    const bodies = bodiesOf(
      [{ kind: 'cylinder', radius: 8, height: 40 }, pose],
      [{ kind: 'cylinder', radius: 5, height: 20 }, compose(pose, translation([0, 0, 40]))],
      [{ kind: 'cylinder', radius: 3, height: 20 }, compose(pose, translation([30, 0, 0]))],
    );
    const groups = groupRound(bodies.flatMap(lookAtFaces));
    expect(groups.map((g) => g.cylinders.map((c) => Math.round(c.radius * 1000) / 1000))).toEqual([[8, 5], [3]]);
    const [large] = groups[0].cylinders;
    expect(large.to - large.from).toBeCloseTo(40, 3);
    expect(large.cover).toBeGreaterThan(0.99);
    expect(large.concave).toBe(false);
  });
});

describe('shapes of bodies', () => {
  it('a thin box is a plate with its thickness, a cube and a long bar are none', () => {
    const [plate, cube, bar] = bodiesOf(
      [{ kind: 'box', size: [12, 12, 4] }, pose],
      [{ kind: 'box', size: [9, 9, 9] }, IDENTITY],
      [{ kind: 'box', size: [5, 5, 60] }, pose],
    );
    expect(plateOf(plate)?.thickness).toBeCloseTo(4, 4);
    expect(plateOf(cube)).toBeUndefined();
    expect(plateOf(bar)).toBeUndefined();
  });
  it('a pin is round, a box is not', () => {
    const [pin, box] = bodiesOf([{ kind: 'cylinder', radius: 2, height: 12 }, pose], [{ kind: 'box', size: [4, 5, 6] }, IDENTITY]);
    expect(roundness(pin)).toBeCloseTo(1, 6);
    expect(roundness(box)).toBe(0);
  });
});
