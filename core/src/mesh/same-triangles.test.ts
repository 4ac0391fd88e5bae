import { describe, expect, it } from '@jest/globals';
import { meshDifference, precisionOf } from './same-triangles.ts';
import { boxMesh } from './test-shapes.ts';
import type { TriMesh } from './tri-mesh.ts';

const box = boxMesh(10, 8, 6);
const soup = ({ positions: p, triangles: t }: TriMesh): TriMesh => ({
  positions: Float64Array.from([...t].flatMap((v) => [p[3 * v], p[3 * v + 1], p[3 * v + 2]])),
  triangles: Uint32Array.from({ length: t.length }, (_, i) => i),
});

describe('two meshes are the same triangles', () => {
  it('in any order, each beginning at any of its corners, joined or not, rounded to single precision', () => {
    const { positions, triangles } = soup(box);
    const turned = Uint32Array.from({ length: triangles.length }, (_, i) => triangles[triangles.length - 3 - (i - (i % 3)) + ((i + 1) % 3)]);
    expect(meshDifference(box, { positions: positions.map((v) => Math.fround(v)), triangles: turned })).toBeUndefined();
    expect(meshDifference(box, { positions: box.positions.map((v) => (v === 0 ? -0 : v)), triangles: box.triangles })).toBeUndefined();
  });
  it('unless a corner has moved, by however little single precision tells: how far, and where', () => {
    const moved = soup(box);
    moved.positions[3] += 0.01;
    const found = meshDifference(box, moved);
    expect(found).toMatchObject({ kind: 'corner moved', onlyFirst: 1, onlySecond: 1 });
    expect(found?.by).toBeCloseTo(0.01, 9);
    const least = soup(box);
    least.positions[box.positions.findIndex((v) => v === 10)] += 1e-6;
    expect(meshDifference(box, least)).toBeDefined();
  });
  it('unless one is missing, twice there, or turned over', () => {
    expect(meshDifference(box, { ...box, triangles: box.triangles.slice(3) })).toMatchObject({ kind: 'missing', onlyFirst: 1, onlySecond: 0 });
    const twice = Uint32Array.from([...box.triangles, ...box.triangles.slice(0, 3)]);
    expect(meshDifference(box, { ...box, triangles: twice })).toMatchObject({ kind: 'missing', onlyFirst: 0, onlySecond: 1 });
    const [a, b, c, ...rest] = box.triangles;
    expect(meshDifference(box, { ...box, triangles: Uint32Array.from([a, c, b, ...rest]) })).toMatchObject({ kind: 'turned over' });
  });
  it('within a precision that grows with the largest coordinate', () => {
    expect(precisionOf(box)).toBeCloseTo(10 * 2 ** -22, 12);
    expect(precisionOf({ positions: new Float64Array(0), triangles: new Uint32Array(0) })).toBe(2 ** -22);
  });
});
