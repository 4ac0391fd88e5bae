import { describe, expect, it } from '@jest/globals';
import { distanceToTriangle, findSelfCrossings, joinMeshes, outsideFinder, SignedDistance, type TriMesh, TriangleTree, weld } from './index.ts';
import { boxMesh, moved, octahedron } from './test-shapes.ts';

// A bumpy torus: convex and concave everywhere, with its exact inside.
function ring(major: number, minor: number, n: number, m: number, wave = 0): TriMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let i = 0; i < n; i++)
    for (let j = 0; j < m; j++) {
      const [u, v] = [(2 * Math.PI * i) / n, (2 * Math.PI * j) / m];
      const r = minor * (1 + wave * Math.sin(5 * u) * Math.cos(3 * v));
      positions.push((major + r * Math.cos(v)) * Math.cos(u), (major + r * Math.cos(v)) * Math.sin(u), r * Math.sin(v));
      const at = (k: number, l: number) => ((i + k) % n) * m + ((j + l) % m);
      triangles.push(at(0, 0), at(1, 0), at(1, 1), at(0, 0), at(1, 1), at(0, 1));
    }
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}
let seed = 7;
const random = () => (seed = (seed * 16807) % 2147483647) / 2147483647;
const somewhere = (reach: number) => [0, 0, 0].map(() => (2 * random() - 1) * reach) as [number, number, number];
const mesh = ring(20, 6, 40, 24, 0.3);

describe('a tree of triangles', () => {
  it('finds the same nearest distance as looking at every triangle', () => {
    const tree = new TriangleTree(mesh);
    for (let i = 0; i < 300; i++) {
      const p = somewhere(30);
      let least = Infinity;
      for (let t = 0; t < mesh.triangles.length; t += 3) least = Math.min(least, distanceToTriangle(mesh, t, p));
      expect(tree.nearest(...p)).toBe(true);
      expect(Math.abs(tree.distance - least)).toBeLessThan(1e-9);
    }
  });
  it('finds the place on a given triangle too, as far as it is near, and goes on from there', () => {
    const tree = new TriangleTree(mesh);
    for (let i = 0; i < 200; i++) {
      const p = somewhere(30);
      const t = Math.floor((random() * mesh.triangles.length) / 3);
      const away = distanceToTriangle(mesh, 3 * t, p);
      expect(tree.nearestOf(t, ...p, 0.999 * away)).toBe(false);
      expect(tree.nearestOf(t, ...p, 1.001 * away)).toBe(true);
      expect(tree.triangle).toBe(t);
      expect(tree.distance).toBeCloseTo(away, 9);
      expect(Math.hypot(...p.map((v, k) => v - tree.point[k]))).toBeCloseTo(away, 9);
      const corners = [0, 1, 2].map((k) => mesh.triangles[3 * t + k]);
      for (let k = 0; k < 3; k++) expect(corners.reduce((sum, v, j) => sum + tree.weights[j] * mesh.positions[3 * v + k], 0)).toBeCloseTo(tree.point[k], 9);
      expect(Math.sqrt(tree.fromLastSq(...p))).toBeCloseTo(away, 9);
    }
  });
  it('is exact on a needle', () => {
    const needle: TriMesh = { positions: Float64Array.of(10, 20, 30, 70, 20, 30, 40.3, 20.0001, 30), triangles: Uint32Array.of(0, 1, 2) };
    const tree = new TriangleTree(needle);
    for (const [s, r] of [
      [0.24, 0.24],
      [0.1, 0.7],
      [0.6, 0.3],
    ]) {
      expect(tree.nearest(10 + 60 * s + 30.3 * r, 20 + 0.0001 * r, 30.5)).toBe(true);
      expect(tree.distance).toBeCloseTo(0.5, 12);
      expect(tree.point[0]).toBeCloseTo(10 + 60 * s + 30.3 * r, 7);
    }
  });
  it('finds nothing beyond its limit', () => {
    expect(new TriangleTree(mesh).nearest(0, 0, 0, 3)).toBe(false);
  });
  it('gives all triangles whose boxes meet a box', () => {
    const found = new Set<number>();
    new TriangleTree(mesh).inBox([10, 0, -5], [30, 2, 5], 0, (f) => found.add(f));
    const { positions: p, triangles: t } = mesh;
    for (let f = 0; f < t.length / 3; f++) {
      const isIn = [0, 1, 2].some((k) => {
        const v = 3 * t[3 * f + k];
        return p[v] >= 10 && p[v] <= 30 && p[v + 1] >= 0 && p[v + 1] <= 2 && Math.abs(p[v + 2]) <= 5;
      });
      if (isIn) expect(found.has(f)).toBe(true);
    }
  });
});

describe('signed distances', () => {
  it('have the sign of the winding of a ray, at edges and corners too', () => {
    const signed = new SignedDistance(mesh);
    const outside = outsideFinder(mesh);
    for (let i = 0; i < 400; i++) {
      const p = somewhere(30);
      expect(signed.at(...p) > 0).toBe(outside(p) > 0);
    }
    // Straight out of and into corners and edge middles.
    for (let v = 0; v < mesh.positions.length; v += 33) {
      const p = mesh.positions.subarray(v - (v % 3), v - (v % 3) + 3);
      const [x, y, z] = p;
      const d = Math.hypot(x, y);
      const [ox, oy, oz] = [x - (20 * x) / d, y - (20 * y) / d, z];
      const l = Math.hypot(ox, oy, oz);
      expect(signed.at(x + (0.01 * ox) / l, y + (0.01 * oy) / l, z + (0.01 * oz) / l)).toBeGreaterThan(0);
      expect(signed.at(x - (0.01 * ox) / l, y - (0.01 * oy) / l, z - (0.01 * oz) / l)).toBeLessThan(0);
    }
  });
  it('are those of a box to the last digit', () => {
    const box = weld(boxMesh(2, 4, 6));
    const signed = new SignedDistance(box);
    expect(signed.at(1, 2, 3)).toBe(-1);
    expect(signed.at(-3, 2, 3)).toBe(3);
    expect(signed.at(5, 8, 6)).toBeCloseTo(5, 12);
    expect(signed.at(-1, -2, -2)).toBeCloseTo(3, 12);
  });
});

describe('a mesh that crosses itself', () => {
  it('is found with the place; one that only touches itself is not', () => {
    expect(findSelfCrossings(new TriangleTree(mesh))).toEqual({ count: 0, places: [] });
    const other = { ...boxMesh(4, 4, 4), positions: boxMesh(4, 4, 4).positions.map((v, i) => v + [18, 1, 3.1][i % 3]) };
    const crossed = findSelfCrossings(new TriangleTree(joinMeshes([mesh, other])));
    expect(crossed.count).toBeGreaterThan(0);
    expect(crossed.places.length).toBe(crossed.count);
    for (const at of crossed.places) expect(Math.abs(new SignedDistance(mesh).at(...at))).toBeLessThan(1e-6);
    const beside = joinMeshes([boxMesh(4, 4, 4), { ...boxMesh(4, 4, 4), positions: boxMesh(4, 4, 4).positions.map((v, i) => v + [4, 1, 1][i % 3]) }]);
    expect(findSelfCrossings(new TriangleTree(beside)).count).toBe(0);
  });

  const crossingsOf = (...bodies: TriMesh[]) => findSelfCrossings(new TriangleTree(joinMeshes(bodies))).count;
  const cube = boxMesh(4, 4, 4);

  it('is found where edges meet edges exactly, all of them', () => {
    // Faces in the same planes above and below, all crossings at edges.
    expect(crossingsOf(cube, moved(cube, [2, 2, 0]))).toBeGreaterThan(0);
    // One through the other, edges in the middle of edges.
    expect(crossingsOf(cube, moved(boxMesh(8, 4, 2), [-2, 2, 1]))).toBeGreaterThan(0);
  });

  it('is found where corners lie in faces exactly; a tip that touches a face from outside is none', () => {
    const inFace = octahedron([4, 2.1, 1.7]);
    expect(crossingsOf(cube, inFace)).toBeGreaterThan(0);
    expect(crossingsOf(inFace, cube)).toBeGreaterThan(0);
    expect(crossingsOf(cube, octahedron([5, 2.1, 1.7]))).toBe(0);
    // From inside: all of it is within, also where it touches.
    expect(crossingsOf(cube, octahedron([3, 2.1, 1.7]))).toBe(0);
  });

  it('is found beside triangles without area too', () => {
    // A needle along an edge of the cube, as a cone's tip leaves one.
    const needle: TriMesh = { positions: Float64Array.of(4, 1, 4, 4, 3, 4, 4, 2, 4), triangles: Uint32Array.of(0, 1, 2, 0, 2, 1) };
    expect(crossingsOf(cube, needle, moved(cube, [2, 2, 0]))).toBeGreaterThan(0);
    expect(crossingsOf(cube, needle)).toBe(0);
  });

  it('is none where ridges touch crosswise, and is one where they pass', () => {
    const tilted = (m: TriMesh, k: 0 | 1): TriMesh => {
      const out = m.positions.slice();
      for (let i = 0; i < out.length; i += 3) {
        const [a, z] = [out[i + k], out[i + 2]];
        out[i + k] = (a - z) * Math.SQRT1_2;
        out[i + 2] = (a + z) * Math.SQRT1_2;
      }
      return { positions: out, triangles: m.triangles };
    };
    // Two bars on edge, one along y and one along x above it.
    const below = moved(tilted(boxMesh(2, 8, 2), 0), [0, -4, -2 * Math.SQRT2]);
    const above = moved(tilted(boxMesh(8, 2, 2), 1), [-4, 0, 0]);
    expect(crossingsOf(below, above)).toBe(0);
    expect(crossingsOf(below, moved(above, [0, 0, -0.5]))).toBeGreaterThan(0);
  });
});
