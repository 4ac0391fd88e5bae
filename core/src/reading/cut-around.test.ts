import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, NO_WORK, readModelFile, writePlainStep } from '#core/kernel';
import { compose, convexHull, type Motion, move, normalize, rotationAbout, translation } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import { cutAroundFaces } from './index.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
});
const askew: Motion = compose(translation([31, -12, 25]), rotationAbout([5, 6, 7], normalize([1, -2, 0.5]), 1.234));
const step = () => writePlainStep(kernel, [{ solid: { kind: 'box', size: [20, 30, 40] }, name: 'b', fileFromSolid: askew }]);
const bodyOf = async (): Promise<BodyGeometry> => {
  const r = await readModelFile(kernel, step(), 'x.step');
  if (!r.ok) throw new Error('not read');
  return r.value.model.bodies[0];
};
// The face of the box whose corners all have a coordinate at a value, in the box's own frame.
const faceAt = (body: BodyGeometry, axis: number, value: number): number =>
  body.faces.findIndex((_, f) => {
    for (let i = 3 * body.faceStart[f]; i < 3 * body.faceStart[f + 1]; i++) {
      const v = 3 * body.mesh.triangles[i];
      const local = move(back, [body.mesh.positions[v], body.mesh.positions[v + 1], body.mesh.positions[v + 2]]);
      if (Math.abs(local[axis] - value) > 1e-6) return false;
    }
    return true;
  });
const back: Motion = {
  r: [askew.r[0], askew.r[3], askew.r[6], askew.r[1], askew.r[4], askew.r[7], askew.r[2], askew.r[5], askew.r[8]],
  t: [0, 3, 6].map((_, i) => -(askew.r[i] * askew.t[0] + askew.r[3 + i] * askew.t[1] + askew.r[6 + i] * askew.t[2])) as never,
};

describe('a cut around faces', () => {
  it('of the top of a box takes a plate off it: two closed bodies that make the whole', async () => {
    const body = await bodyOf();
    const place = cutAroundFaces(body, [faceAt(body, 2, 40)]);
    if (!place) throw new Error('no place');
    const cut = await readModelFile(kernel, step(), 'x.step', { work: { ...NO_WORK, cuts: [place] }, exactProperties: true });
    if (!cut.ok) throw new Error(cut.issues[0].code);
    const [rest, off] = cut.value.model.bodies;
    expect([rest.closed, off.closed]).toEqual([true, true]);
    expect(rest.volume + off.volume).toBeCloseTo(24000, 3);
    // About a third of the width of its face deep.
    expect(off.volume / (20 * 30)).toBeCloseTo(0.35 * Math.sqrt(600), 0);
  });
  it('of two faces is seen along the larger one, and reaches as deep as both do', async () => {
    const body = await bodyOf();
    const place = cutAroundFaces(body, [faceAt(body, 2, 40), faceAt(body, 0, 0)]);
    expect(place && place.to - place.from).toBeCloseTo(20.04, 2);
  });
  it('needs faces, and faces that are seen as more than a line', async () => {
    const body = await bodyOf();
    expect(cutAroundFaces(body, [])).toBeUndefined();
    const top = faceAt(body, 2, 40);
    const s = body.faces[faceAt(body, 0, 0)].surface;
    expect(s.kind === 'plane' && cutAroundFaces(body, [top], s.normal)).toBeUndefined();
  });
});

describe('a convex hull', () => {
  it('keeps the corners, counter-clockwise, and leaves out what lies within or on its sides', () => {
    expect(
      convexHull([
        [0, 0],
        [2, 0],
        [4, 0],
        [4, 3],
        [2, 1],
        [0, 3],
        [0, 1],
      ]),
    ).toEqual([
      [0, 0],
      [4, 0],
      [4, 3],
      [0, 3],
    ]);
    expect(
      convexHull([
        [0, 0],
        [1, 1],
        [2, 2],
      ]).length,
    ).toBeLessThan(3);
  });
});
