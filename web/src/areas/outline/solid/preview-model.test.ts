import { describe, expect, it } from '@jest/globals';
import { isClosedMesh, meshVolume, validateMesh, weld } from '#core/mesh';
import { type HalfProfile, loopThrough, profileVolume, type RevolvedShape } from '#core/outline';
import { previewModel } from './preview-model.ts';

const shape = (profile: HalfProfile): RevolvedShape => ({
  format: 'ruota-shape',
  version: 1,
  form: 'revolved',
  bodies: [{ name: 'b', role: 'tool body', profile }],
});
const BALL: HalfProfile = [
  [
    { kind: 'line', from: [0, 0], to: [25, 0] },
    { kind: 'arc', from: [25, 0], to: [20, 5], centre: [20, 0], ccw: true },
    { kind: 'line', from: [20, 5], to: [0, 5] },
    { kind: 'line', from: [0, 5], to: [0, 0] },
  ],
];
const TUBE: HalfProfile = [
  loopThrough([
    [0, 6],
    [30, 6],
    [30, 10],
    [0, 12],
  ]),
];

describe('the preview of what is turned', () => {
  it('is closed, looks outwards, and has the volume that it will have', () => {
    for (const profile of [BALL, TUBE]) {
      const [body] = previewModel(shape(profile)).bodies;
      const mesh = weld(body.mesh, 1e-6);
      expect(isClosedMesh(validateMesh(mesh))).toBe(true);
      // Positive: its faces look outwards; a little less than true, as chords are.
      const ratio = meshVolume(mesh) / profileVolume(profile);
      expect(ratio).toBeGreaterThan(0.99);
      expect(ratio).toBeLessThanOrEqual(1);
    }
  });
  it('has a face for each piece, and a circle for each corner that is off the axis', () => {
    const [ball] = previewModel(shape(BALL)).bodies;
    expect(ball.faces).toHaveLength(3);
    expect(ball.faceStart[3]).toBe(ball.mesh.triangles.length / 3);
    expect(ball.edges.map((e) => e.curve.kind === 'circle' && e.curve.radius).sort()).toEqual([5, 5]);
    expect(ball.edgeStart[2] * 3).toBe(ball.edgePoints.length);
    const [tube] = previewModel(shape(TUBE)).bodies;
    expect([tube.faces.length, tube.edges.length]).toEqual([4, 4]);
    expect(tube.bbox.max[2] - tube.bbox.min[2]).toBe(30);
  });
  it('numbers the loops of all its bodies one after the other', () => {
    const two = { ...shape(BALL), bodies: [...shape(BALL).bodies, ...shape([...TUBE, ...BALL]).bodies] };
    expect(previewModel(two).bodies.map((b) => b.id)).toEqual(['b1', 'b2', 'b3']);
  });
});
