import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { isClosedMesh, meshVolume, PLANE_SIZE, SignedDistance, type TriMesh, TriangleTree, validateMesh } from '#core/mesh';
import { CollapseBound } from './collapse-bound.ts';
import { CollapsePlace } from './collapse-place.ts';
import { ChangedTriangles, HullMesh, triangleAt } from './hull-mesh.ts';

// A ball of n rings by 2 n corners, a little uneven.
function ball(n = 7, seed = 3): TriMesh {
  let state = seed;
  const random = () => (state = (state * 16807) % 2147483647) / 2147483647;
  const positions: number[] = [];
  const triangles: number[] = [];
  const at = (i: number, j: number) => (i === 0 ? 0 : i === n ? 1 + (n - 1) * 2 * n : 1 + (i - 1) * 2 * n + (j % (2 * n)));
  for (let i = 0; i <= n; i++)
    for (let j = 0; j < (i === 0 || i === n ? 1 : 2 * n); j++) {
      const [u, v, r] = [(Math.PI * i) / n, (Math.PI * j) / n, 10 + 0.6 * random()];
      positions.push(r * Math.sin(u) * Math.cos(v), r * Math.sin(u) * Math.sin(v), r * Math.cos(u));
    }
  for (let i = 0; i < n; i++)
    for (let j = 0; j < 2 * n; j++) {
      if (i > 0) triangles.push(at(i, j), at(i + 1, j), at(i, j + 1));
      if (i < n - 1) triangles.push(at(i, j + 1), at(i + 1, j), at(i + 1, j + 1));
    }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}
const edgeOf = (mesh: HullMesh, pick: number): [number, number] => {
  const alive = Array.from(mesh.t, (_, h) => h).filter((h) => mesh.alive[triangleAt(h)] === 1);
  const h = alive[pick % alive.length];
  return [mesh.t[h], mesh.t[h % 3 === 2 ? h - 2 : h + 1]];
};
const nothing = new ChangedTriangles();

describe('a mesh whose edges collapse', () => {
  it('stays closed, with two triangles less each time, as long as edges are linked (seed 31)', () => {
    fc.assert(
      fc.property(fc.array(fc.nat(1e6), { minLength: 1, maxLength: 60 }), (picks) => {
        const mesh = new HullMesh(ball());
        let left = mesh.left;
        for (const pick of picks) {
          const [a, b] = edgeOf(mesh, pick);
          if (!mesh.isLinked(a, b)) continue;
          const place = Float64Array.from([0, 1, 2].map((k) => (mesh.p[3 * a + k] + mesh.p[3 * b + k]) / 2));
          mesh.collapse(a, b, place, nothing);
          left -= 2;
          expect(mesh.left).toBe(left);
          expect(mesh.now(b)).toBe(a);
          expect(mesh.touched[a]).toBe(mesh.time);
          expect(mesh.first(b)).toBe(-1);
        }
        const { mesh: compact, outside } = mesh.compact();
        expect(compact.triangles.length / 3).toBe(left);
        expect(outside.length).toBe(left);
        expect(isClosedMesh(validateMesh(compact))).toBe(true);
        // Each corner's chain has its triangles, each once.
        for (let v = 0; v < mesh.p.length / 3; v++) {
          const chain: number[] = [];
          for (let h = mesh.first(v); h >= 0; h = mesh.following(h)) chain.push(h);
          expect(chain.sort((x, y) => x - y)).toEqual(Array.from(mesh.t, (_, h) => h).filter((h) => mesh.alive[triangleAt(h)] === 1 && mesh.t[h] === v));
        }
      }),
      { seed: 31, numRuns: 25 },
    );
  });
  it('an edge of a tetrahedron is not linked: nothing would be left', () => {
    const mesh = new HullMesh({
      positions: Float64Array.of(0, 0, 0, 9, 0, 0, 0, 9, 0, 0, 0, 9),
      triangles: Uint32Array.of(0, 2, 1, 0, 1, 3, 1, 2, 3, 0, 3, 2),
    });
    // All its corners are neighbours of both ends: two across the edge, and the ends.
    expect(mesh.isLinked(0, 1)).toBe(true);
    const [p] = [Float64Array.of(1, 1, 1)];
    mesh.collapse(0, 1, p, nothing);
    expect(mesh.left).toBe(2);
    expect(mesh.isLinked(0, 2)).toBe(false);
  });
});

describe('the place that an edge collapses to', () => {
  it('is outside of all planes around it, adds what its cost says, and the solid loses nothing (seed 32)', () => {
    fc.assert(
      fc.property(fc.nat(1e6), fc.integer({ min: 1, max: 50 }), (pick, seed) => {
        const source = ball(6, seed);
        const mesh = new HullMesh(source);
        const [a, b] = edgeOf(mesh, pick);
        const search = new CollapsePlace(mesh);
        const cost = search.find(a, b);
        if (cost === Infinity || !mesh.isLinked(a, b)) return;
        const [x, y, z] = search.place;
        for (let i = 0; i < search.count; i++) {
          const at = PLANE_SIZE * i;
          const above = search.planes[at] * x + search.planes[at + 1] * y + search.planes[at + 2] * z - search.planes[at + 3];
          expect(above).toBeGreaterThan(-2e-9);
        }
        const long = Math.hypot(...[0, 1, 2].map((k) => mesh.p[3 * a + k] - mesh.p[3 * b + k]));
        const before = meshVolume(source);
        mesh.collapse(a, b, search.place, nothing);
        const after = mesh.compact().mesh;
        expect(meshVolume(after) - before).toBeCloseTo(cost - 1e-7 * long ** 3, 6);
        const signed = new SignedDistance(after);
        for (let i = 0; i < source.positions.length; i += 3)
          expect(signed.at(source.positions[i], source.positions[i + 1], source.positions[i + 2])).toBeLessThan(1e-7);
      }),
      { seed: 32, numRuns: 80 },
    );
  });
  it('on a flat stretch is one of its ends, for nothing', () => {
    // A square of 10 in four triangles about its middle, on a pyramid below.
    const mesh = new HullMesh({
      positions: Float64Array.of(0, 0, 0, 10, 0, 0, 10, 10, 0, 0, 10, 0, 5, 5, 0, 5, 5, -8),
      triangles: Uint32Array.of(0, 1, 4, 1, 2, 4, 2, 3, 4, 3, 0, 4, 1, 0, 5, 2, 1, 5, 3, 2, 5, 0, 3, 5),
    });
    const search = new CollapsePlace(mesh);
    const cost = search.find(4, 2);
    expect(Array.from(search.place)).toEqual([10, 10, 0]);
    expect(cost).toBeLessThan(1e-4);
  });
});

describe('how far a collapse stands out', () => {
  it('is never told less than it is, at any place of the new triangles (seed 33)', () => {
    let told = 0;
    fc.assert(
      fc.property(fc.nat(1e6), fc.integer({ min: 1, max: 50 }), (pick, seed) => {
        const source = ball(8, seed);
        const tree = new TriangleTree(source);
        const mesh = new HullMesh(source);
        const [a, b] = edgeOf(mesh, pick);
        const search = new CollapsePlace(mesh);
        if (search.find(a, b) === Infinity) return;
        search.gather(a, b);
        const bound = new CollapseBound(mesh, search);
        bound.prepare();
        const [px, py, pz] = search.place;
        const made: { u: number[]; w: number[]; most: number }[] = [];
        for (const v of [a, b])
          for (let h = mesh.first(v); h >= 0; h = mesh.following(h)) {
            const f = triangleAt(h);
            if (mesh.has(f, v === a ? b : a)) continue;
            const k = h - 3 * f;
            const [c, d] = [3 * mesh.t[3 * f + ((k + 1) % 3)], 3 * mesh.t[3 * f + ((k + 2) % 3)]];
            const [u, w] = [c, d].map((q) => [mesh.p[q] - px, mesh.p[q + 1] - py, mesh.p[q + 2] - pz]);
            const n = [u[1] * w[2] - u[2] * w[1], u[2] * w[0] - u[0] * w[2], u[0] * w[1] - u[1] * w[0]];
            const twice = Math.hypot(...n) || 1;
            made.push({ u, w, most: bound.of(c, d, n[0] / twice, n[1] / twice, n[2] / twice) });
          }
        // One that cannot be told says that of all of them.
        if (made.some((m) => m.most === Infinity)) return;
        for (const { u, w, most } of made) {
          told++;
          for (let i = 0; i <= 6; i++)
            for (let j = 0; i + j <= 6; j++) {
              tree.nearest(px + (i * u[0] + j * w[0]) / 6, py + (i * u[1] + j * w[1]) / 6, pz + (i * u[2] + j * w[2]) / 6);
              expect(tree.distance).toBeLessThanOrEqual(most + 1e-6);
            }
        }
      }),
      { seed: 33, numRuns: 60 },
    );
    expect(told).toBeGreaterThan(100);
  });
});
