import { beforeAll, describe, expect, it } from '@jest/globals';
import { OrthographicCamera, Vector3 } from 'three';
import { loadKernel, readSolids, writePlainStep } from '#core/kernel';
import { compose, IDENTITY, type Motion, move, normalize, rotationAbout, translation, type Vec3 } from '#core/math';
import type { BodyGeometry, Model } from '#core/mesh';
import { pickAt } from './picking.ts';
import type { StageItem } from './picks.ts';

let model: Model;
beforeAll(async () => {
  const kernel = await loadKernel();
  const r = readSolids(
    kernel,
    writePlainStep(kernel, [
      { solid: { kind: 'box', size: [20, 20, 20] }, name: 'near', fileFromSolid: translation([-10, -10, -10]) },
      { solid: { kind: 'cylinder', radius: 6, height: 10 }, name: 'behind', fileFromSolid: translation([0, 0, -60]) },
    ]),
    'x.step',
  );
  if (!r.ok) throw new Error('not read');
  model = r.value.model;
});

// Looking down Z: one millimetre is ten pixels, the origin in the middle of 600 x 400.
const view = () => {
  const camera = new OrthographicCamera(-30, 30, 20, -20, -500, 500);
  camera.position.set(0, 0, 100);
  camera.up.set(0, 1, 0);
  camera.lookAt(0, 0, 0);
  camera.updateMatrixWorld();
  camera.updateProjectionMatrix();
  return { camera, width: 600, height: 400 };
};
const items = (stageFromModel: Motion = IDENTITY, hidden: string[] = []): StageItem[] => [
  { key: 'k', model, stageFromModel, roles: {}, hidden: new Set(hidden) },
];
const at = (x: number, y: number, given = items()) => pickAt(given, view(), 300 + 10 * x, 200 - 10 * y);

describe('pickAt', () => {
  it('names the nearest face first, then what lies behind it', () => {
    const found = at(1, 1);
    expect(found[0]).toMatchObject({ body: 'b1', kind: 'face' });
    expect(found[0].point[2]).toBeCloseTo(10, 5);
    expect(found.map((c) => c.body)).toContain('b2');
    const depths = found.filter((c) => c.kind === 'face').map((c) => c.point[2]);
    expect([...depths].sort((a, b) => b - a)).toEqual(depths);
  });
  it('prefers a corner to an edge and an edge to a face, close to them', () => {
    expect(at(9.8, 9.8)[0].kind).toBe('corner');
    expect(at(9.7, 2)[0].kind).toBe('edge');
    expect(at(7, 2)[0].kind).toBe('face');
  });
  it('finds an edge that the pointer just misses, and nothing far away', () => {
    expect(at(10.4, 3)[0]).toMatchObject({ kind: 'edge', body: 'b1' });
    expect(at(25, 15)).toEqual([]);
  });
  it('does not see hidden bodies', () => {
    expect(at(1, 1, items(IDENTITY, ['b1']))[0].body).toBe('b2');
  });
  it('follows the pose: the same face in another place', () => {
    const pose = compose(translation([5, 3, 0]), rotationAbout([0, 0, 0], [0, 0, 1], Math.PI / 2));
    const here = at(1, 1)[0];
    const [x, y] = move(pose, here.point);
    const there = pickAt(items(pose), view(), 300 + 10 * x, 200 - 10 * y)[0];
    expect(there).toMatchObject({ body: here.body, kind: here.kind, index: here.index });
  });
  it('finds the same nearest face as walking all triangles (seed 3)', () => {
    let seed = 3;
    const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
    const pose = rotationAbout([0, 0, 0], normalize([1, 2, 0.3]), 0.8);
    for (let i = 0; i < 60; i++) {
      const [x, y] = [random() * 24 - 12, random() * 24 - 12];
      const slow = nearestFace(pose, x, y);
      const fast = pickAt(items(pose), view(), 300 + 10 * x, 200 - 10 * y).find((c) => c.kind === 'face');
      expect(fast && `${fast.body} ${fast.index}`).toBe(slow);
    }
  });
});

// The nearest face along -Z by trying every triangle.
function nearestFace(pose: Motion, x: number, y: number): string | undefined {
  let best: { z: number; name: string } | undefined;
  for (const body of model.bodies)
    for (let f = 0; f < body.faces.length; f++)
      for (let t = body.faceStart[f]; t < body.faceStart[f + 1]; t++) {
        const z = heightAt(body, t, pose, x, y);
        if (z !== undefined && (!best || z > best.z)) best = { z, name: `${body.id} ${f}` };
      }
  return best?.name;
}
function heightAt(body: BodyGeometry, t: number, pose: Motion, x: number, y: number): number | undefined {
  const corner = (k: number): Vector3 => {
    const i = 3 * body.mesh.triangles[3 * t + k];
    return new Vector3(...move(pose, [body.mesh.positions[i], body.mesh.positions[i + 1], body.mesh.positions[i + 2]] as Vec3));
  };
  const [a, b, c] = [corner(0), corner(1), corner(2)];
  const area = (b.x - a.x) * (c.y - a.y) - (b.y - a.y) * (c.x - a.x);
  if (Math.abs(area) < 1e-9) return undefined;
  const u = ((b.x - x) * (c.y - y) - (b.y - y) * (c.x - x)) / area;
  const v = ((c.x - x) * (a.y - y) - (c.y - y) * (a.x - x)) / area;
  const w = 1 - u - v;
  return u < 0 || v < 0 || w < 0 ? undefined : u * a.z + v * b.z + w * c.z;
}
