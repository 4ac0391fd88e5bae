import { describe, expect, it } from '@jest/globals';
import { type BodyGeometry, modelFromMeshes, type TriMesh } from '#core/mesh';
import { faceGeometry, gpuBodyOf } from './gpu-geometry.ts';

const bodyOf = (mesh: TriMesh): BodyGeometry => {
  const made = modelFromMeshes({ format: 'stl', unit: 'mm', unitScale: 1, objects: [{ name: 'b', mesh }] }, 'b.stl');
  if (!made.ok) throw new Error(made.issues[0].code);
  return made.value.model.bodies[0];
};
const box: TriMesh = {
  positions: Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? 2 : 0, i & 2 ? 4 : 0, i & 4 ? 6 : 0])),
  triangles: Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]),
};
// The places of the triangles of a face as they are drawn, sorted.
function drawn(body: BodyGeometry, face: number): string[] {
  const geometry = faceGeometry(body, [face]);
  const [position, index] = [geometry.getAttribute('position'), geometry.getIndex()];
  return Array.from({ length: index?.count ?? 0 }, (_, i) => (index ? [0, 1, 2].map((k) => position.getComponent(index.getX(i), k)).join() : '')).sort();
}
const expected = ({ mesh, faceStart }: BodyGeometry, face: number): string[] =>
  [...mesh.triangles.subarray(3 * faceStart[face], 3 * faceStart[face + 1])].map((v) => [0, 1, 2].map((k) => mesh.positions[3 * v + k]).join()).sort();

describe('what the GPU gets', () => {
  it('of a body with edges: shared corners, and the triangles of a face', () => {
    const body = bodyOf(box);
    expect(body.edges.length).toBe(12);
    expect(gpuBodyOf(body).surface.getIndex()).not.toBeNull();
    for (const [f] of body.faces.entries()) expect(drawn(body, f)).toEqual(expected(body, f));
  });
  it('of made geometry, which has none: sharp where it is sharp, and still the triangles of a face', () => {
    const body = { ...bodyOf(box), edges: [], edgeStart: Uint32Array.of(0), edgePoints: new Float64Array(0) };
    const { surface } = gpuBodyOf(body);
    // Every corner has the normal of its own triangle: a box is sharp all over.
    const [position, normal] = [surface.getAttribute('position'), surface.getAttribute('normal')];
    for (let i = 0; i < position.count; i++) expect(Math.max(...[0, 1, 2].map((k) => Math.abs(normal.getComponent(i, k))))).toBeCloseTo(1, 6);
    for (const [f] of body.faces.entries()) expect(drawn(body, f)).toEqual(expected(body, f));
  });
});
