import { beforeAll, describe, expect, it } from '@jest/globals';
import { type Kernel, loadKernel, readModelFile } from '#core/kernel';
import { IDENTITY_FRAME } from '#core/math';
import { type BodyGeometry, writeStl } from '#core/mesh';
import { findSpigots } from './arbor-face.ts';

let kernel: Kernel;
beforeAll(async () => {
  kernel = await loadKernel();
}, 60_000);

// Turned about Z from its corners (radius, height), from the axis to the axis, in so many flats.
async function turned(corners: readonly (readonly [number, number])[]): Promise<readonly BodyGeometry[]> {
  const flats = 96;
  const positions: number[] = [];
  const at = (i: number, k: number) => (corners[i][0] === 0 ? i * flats : i * flats + (k % flats));
  for (const [r, h] of corners)
    for (let k = 0; k < flats; k++) positions.push(r * Math.cos((2 * Math.PI * k) / flats), r * Math.sin((2 * Math.PI * k) / flats), h);
  const triangles: number[] = [];
  for (let i = 0; i + 1 < corners.length; i++)
    for (let k = 0; k < flats; k++) {
      if (corners[i][0] > 0) triangles.push(at(i, k), at(i, k + 1), at(i + 1, k));
      if (corners[i + 1][0] > 0) triangles.push(at(i, k + 1), at(i + 1, k + 1), at(i + 1, k));
    }
  const stl = writeStl({ positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) });
  const read = await readModelFile(kernel, stl, 'turned.stl');
  if (!read.ok) throw new Error('the file did not open');
  return read.value.model.bodies;
}

// A body of 40 about Z, its face and what stands on it with a bore of 16.
const onFace = (faceDiameter: number, diameter: number, long: number) =>
  turned([
    [0, -40],
    [20, -40],
    [20, -12],
    [faceDiameter / 2, -12],
    [faceDiameter / 2, 0],
    [diameter / 2, 0],
    [diameter / 2, long],
    [8, long],
    [8, -2],
    [0, -2],
  ]);

describe('the spigot of an arbor', () => {
  // ISO 6462: a spigot of 32 is 24 long, and the cutter lies on a face of 58.
  it.each([
    [58, 32, 24, [32]],
    [48, 27, 21, [27]],
    // A nose with a bore for a shank, on the flange of its taper.
    [46, 32, 25, []],
    // No standard diameter, or much too long.
    [58, 30, 24, []],
    [58, 32, 40, []],
  ])('on a face of %d, %d wide and %d long: %j', async (face, diameter, long, sizes) => {
    const bodies = await onFace(face, diameter, long);
    expect(bodies).toHaveLength(1);
    expect(findSpigots(bodies, IDENTITY_FRAME).map((s) => s.connection.size)).toEqual(sizes);
  });
});
