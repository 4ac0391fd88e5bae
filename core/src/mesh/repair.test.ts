import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { pairHalfEdges } from './half-edges.ts';
import { repairMesh } from './repair.ts';
import { isClosedMesh, joinMeshes, meshVolume, type TriMesh, validateMesh } from './tri-mesh.ts';

const box = (x = 30, y = 20, z = 10): TriMesh => ({
  positions: Float64Array.from([0, 1, 2, 3, 4, 5, 6, 7].flatMap((i) => [i & 1 ? x : 0, i & 2 ? y : 0, i & 4 ? z : 0])),
  triangles: Uint32Array.from([0, 2, 1, 1, 2, 3, 4, 5, 6, 5, 7, 6, 0, 1, 4, 1, 5, 4, 2, 6, 3, 3, 6, 7, 0, 4, 2, 2, 4, 6, 1, 3, 5, 3, 7, 5]),
});
// A ball of flat triangles, n rings by 2 n.
function ball(n = 6): TriMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  const at = (i: number, j: number) => (i === 0 ? 0 : i === n ? 1 + (n - 1) * 2 * n : 1 + (i - 1) * 2 * n + (j % (2 * n)));
  for (let i = 0; i <= n; i++)
    for (let j = 0; j < (i === 0 || i === n ? 1 : 2 * n); j++) {
      const [u, v] = [(Math.PI * i) / n, (Math.PI * j) / n];
      positions.push(10 * Math.sin(u) * Math.cos(v), 10 * Math.sin(u) * Math.sin(v), 10 * Math.cos(u));
    }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < 2 * n; j++) {
      if (i > 0) triangles.push(at(i, j), at(i + 1, j), at(i, j + 1));
      if (i < n - 1) triangles.push(at(i, j + 1), at(i + 1, j), at(i + 1, j + 1));
    }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}
const isWhole = (mesh: TriMesh) => isClosedMesh(validateMesh(mesh));
const WITHIN = 1e-5;

describe('a mesh is mended', () => {
  it('not at all where it is closed', () => {
    const mesh = box();
    expect(repairMesh(mesh, WITHIN)).toEqual({ mesh, partner: pairHalfEdges(mesh), joined: 0, turned: 0, filled: 0 });
    expect(repairMesh(mesh, WITHIN).mesh).toBe(mesh);
  });
  it('where triangles face the other way, whichever (seed 8)', () => {
    const mesh = ball();
    const count = mesh.triangles.length / 3;
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(count - 1), { minLength: 1, maxLength: Math.floor(count / 2) - 1 }), (flipped) => {
        const triangles = mesh.triangles.slice();
        for (const f of flipped) [triangles[3 * f + 1], triangles[3 * f + 2]] = [triangles[3 * f + 2], triangles[3 * f + 1]];
        const repaired = repairMesh({ ...mesh, triangles }, WITHIN);
        expect(repaired.turned).toBe(flipped.length);
        expect(repaired.mesh.triangles).toEqual(mesh.triangles);
        expect(repaired.partner).toEqual(pairHalfEdges(mesh));
      }),
      { seed: 8, numRuns: 60 },
    );
  });
  it('where corners lie on edges of others: these are split, and nothing moves', () => {
    // One side of a box in four, its middle corners on the edges of its neighbours.
    const mesh = box(30, 20, 10);
    const positions = Float64Array.from([...mesh.positions, 15, 0, 0, 15, 0, 10, 0, 0, 4, 30, 0, 5, 15, 0, 5]);
    const [south, north, west, east, middle] = [8, 9, 10, 11, 12];
    const others = [...mesh.triangles].filter((_, i) => i < 12 || i >= 18);
    const side = [0, south, middle, 0, middle, west, south, 1, middle, 1, east, middle, east, 5, middle, 5, north, middle, north, 4, middle, 4, west, middle];
    const repaired = repairMesh({ positions, triangles: Uint32Array.from([...others, ...side]) }, WITHIN);
    expect(repaired.joined).toBe(4);
    expect([repaired.turned, repaired.filled]).toEqual([0, 0]);
    expect(isWhole(repaired.mesh)).toBe(true);
    expect(meshVolume(repaired.mesh)).toBeCloseTo(6000, 9);
    expect(validateMesh(repaired.mesh).degenerate).toBe(0);
  });
  it('where a flat piece is missing, of one triangle or many, in several places at once', () => {
    const mesh = box();
    for (const missing of [[0], [0, 1], [0, 3], [0, 1, 2, 3]]) {
      const triangles = mesh.triangles.filter((_, i) => !missing.includes(Math.floor(i / 3)));
      const repaired = repairMesh({ ...mesh, triangles }, WITHIN);
      expect(isWhole(repaired.mesh)).toBe(true);
      expect(meshVolume(repaired.mesh)).toBeCloseTo(6000, 9);
      expect(repaired.filled).toBeGreaterThan(0);
    }
  });
  it('where single triangles are missing, however many of them meet in a corner (seed 12)', () => {
    const mesh = ball();
    const partner = pairHalfEdges(mesh);
    const count = mesh.triangles.length / 3;
    fc.assert(
      fc.property(fc.uniqueArray(fc.nat(count - 1), { minLength: 2, maxLength: 40 }), (wanted) => {
        const missing = new Set<number>();
        for (const f of wanted) if (![0, 1, 2].some((k) => missing.has(Math.floor(partner[3 * f + k] / 3)))) missing.add(f);
        const repaired = repairMesh({ ...mesh, triangles: mesh.triangles.filter((_, i) => !missing.has(Math.floor(i / 3))) }, WITHIN);
        expect([repaired.filled, repaired.turned]).toEqual([missing.size, 0]);
        expect(isWhole(repaired.mesh)).toBe(true);
        expect(meshVolume(repaired.mesh)).toBeCloseTo(meshVolume(mesh), 9);
      }),
      { seed: 12, numRuns: 60 },
    );
  });
  it('where a hole is not flat it is left: what was there nobody knows', () => {
    const mesh = ball();
    const two = mesh.triangles.filter((_, i) => ![20, 21].includes(Math.floor(i / 3)));
    expect(repairMesh({ ...mesh, triangles: two }, WITHIN)).toMatchObject({ filled: 1 });
    const bent = mesh.triangles.filter((_, i) => ![20, 21, 22].includes(Math.floor(i / 3)));
    const left = repairMesh({ ...mesh, triangles: bent }, WITHIN);
    expect([left.filled, isWhole(left.mesh)]).toEqual([0, false]);
  });
  it('never by a second side of what is a loose flat piece', () => {
    const sheet: TriMesh = { positions: Float64Array.of(0, 0, 0, 9, 0, 0, 9, 9, 0, 0, 9, 0), triangles: Uint32Array.of(0, 1, 2, 0, 2, 3) };
    expect(repairMesh(joinMeshes([box(), sheet]), WITHIN)).toMatchObject({ joined: 0, turned: 0, filled: 0 });
  });
  it('piece by piece: one that is whole stays as it is beside one that is not', () => {
    const whole = box();
    const other = box(5, 5, 5);
    for (let i = 0; i < other.positions.length; i += 3) other.positions[i] += 100;
    const torn = { ...other, triangles: other.triangles.slice(3) };
    const repaired = repairMesh(joinMeshes([whole, torn]), WITHIN);
    expect(repaired.filled).toBe(1);
    expect(repaired.mesh.triangles.slice(0, 36)).toEqual(whole.triangles);
    expect(meshVolume(repaired.mesh)).toBeCloseTo(6000 + 125, 9);
  });
});
