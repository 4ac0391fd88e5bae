import { describe, expect, it } from '@jest/globals';
import { compose, distance, move, normalize, rotationAbout, translation, turn, type Vec3 } from '#core/math';
import { modelFromMeshes, moveBody, neighbourFaces, type TriMesh, withoutRim } from './index.ts';

const box: TriMesh = {
  positions: Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? 2 : 0, i & 2 ? 4 : 0, i & 4 ? 6 : 0])),
  triangles: Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]),
};
const made = modelFromMeshes({ format: 'stl', unit: 'mm', unitScale: 1, objects: [{ name: 'box', mesh: box }] }, 'box.stl');
if (!made.ok) throw new Error(made.issues[0].code);
const [body] = made.value.model.bodies;

describe('a body in another place', () => {
  it('has its faces, edges, corners and middle there, and the same size', () => {
    const motion = compose(translation([31, -12, 25]), rotationAbout([5, 6, 7], normalize([1, -2, 0.5]), 1.234));
    const there = moveBody(motion, body);
    expect([there.volume, there.area, there.faces.length]).toEqual([body.volume, body.area, 6]);
    expect(distance(there.centroid, move(motion, body.centroid))).toBeLessThan(1e-12);
    there.faces.forEach((f, i) => {
      const was = body.faces[i].surface;
      if (f.surface.kind !== 'plane' || was.kind !== 'plane') throw new Error('a box has planes');
      expect(distance(f.surface.normal, turn(motion, was.normal))).toBeLessThan(1e-12);
    });
    there.edges.forEach((e, i) => expect(distance(e.start, move(motion, body.edges[i].start))).toBeLessThan(1e-12));
    const corner: Vec3 = [there.corners[0], there.corners[1], there.corners[2]];
    expect(distance(corner, move(motion, [body.corners[0], body.corners[1], body.corners[2]]))).toBeLessThan(1e-12);
    expect(there.bbox.min[0]).toBeGreaterThan(0);
  });
});

describe('faces that grow and shrink', () => {
  it('a face of a box has four neighbours; with them it has no rim but theirs', () => {
    const near = neighbourFaces(body, [0]);
    expect(near).toHaveLength(4);
    expect(withoutRim(body, [0, ...near])).toEqual([0]);
    expect(withoutRim(body, [0])).toEqual([]);
    expect(neighbourFaces(body, [0, 1, 2, 3, 4, 5])).toEqual([]);
  });
});
