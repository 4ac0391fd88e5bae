import { describe, expect, it } from '@jest/globals';
import { isClosedMesh, meshVolume, validateMesh, weld } from '#core/mesh';
import type { FlatPoint } from '#core/outline';
import { turnedModel } from './turned-model.ts';

const tube: FlatPoint[] = [
  [0, 10],
  [30, 10],
  [30, 20],
  [0, 20],
];
const hole: FlatPoint[] = [
  [10, 14],
  [10, 16],
  [20, 16],
  [20, 14],
];
// Flats inscribed in their circles: of 96, less by a factor.
const flats = (96 / (2 * Math.PI)) * Math.sin((2 * Math.PI) / 96);

describe('a turned section to be drawn', () => {
  it.each([
    ['whole', false, 1],
    ['sliced open', true, 0.5],
  ])('%s it is closed, faces outwards and has its volume', (_, isOpen, share) => {
    const { bodies } = turnedModel([tube, hole], isOpen);
    const mesh = weld(bodies[0].mesh, 1e-6);
    expect(isClosedMesh(validateMesh(mesh))).toBe(true);
    const ring = Math.PI * ((400 - 100) * 30 - (256 - 196) * 10);
    expect(meshVolume(mesh)).toBeCloseTo(ring * flats * share, 4);
    expect(bodies[0].faceStart.at(-1)).toBe(bodies[0].mesh.triangles.length / 3);
    // Sliced, nothing is left on the side of the viewer.
    if (isOpen) expect(Math.max(...bodies[0].mesh.positions.filter((_v, i) => i % 3 === 1))).toBeLessThan(1e-6);
  });
  it('what reaches the axis is closed too, and nothing is no body', () => {
    const bar: FlatPoint[] = [
      [0, 0],
      [30, 0],
      [20, 20],
      [0, 20],
    ];
    expect(meshVolume(weld(turnedModel([bar], false).bodies[0].mesh, 1e-6))).toBeCloseTo(Math.PI * (400 * 20 + (400 * 10) / 3) * flats, 3);
    expect(turnedModel([], true).bodies).toEqual([]);
  });
});
