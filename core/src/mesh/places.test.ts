import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import type { Vec3 } from '#core/math';
import { climbOnTriangle, eachPlace } from './places.ts';
import { meshArea, type TriMesh } from './tri-mesh.ts';

// A strip along x of so many flats side by side, each of two long triangles.
function strips(count: number, long = 20, wide = 0.5): TriMesh {
  const positions: number[] = [];
  const triangles: number[] = [];
  for (let i = 0; i <= count; i++) positions.push(0, wide * i, 0, long, wide * i, 0);
  for (let i = 0; i < count; i++) triangles.push(2 * i, 2 * i + 1, 2 * i + 3, 2 * i, 2 * i + 3, 2 * i + 2);
  return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
}

const cornerOf = ({ positions: p, triangles: t }: TriMesh, h: number) => [p[3 * t[h]], p[3 * t[h] + 1], p[3 * t[h] + 2]] as const;

// Of the three triangles from a place to the sides of one: as much as that has where the place lies on it.
function areaAround(mesh: TriMesh, f: number, x: number, y: number, z: number): number {
  const corners = [0, 1, 2].flatMap((k) => cornerOf(mesh, 3 * f + k));
  return meshArea({ positions: Float64Array.of(...corners, x, y, z), triangles: Uint32Array.of(0, 1, 3, 1, 2, 3, 2, 0, 3) });
}

describe('places spread over a mesh', () => {
  it('lie on their triangles, stand for all of its area, and are about as many as were asked for (seed 41)', () => {
    const corner = fc.tuple(...[0, 1, 2].map(() => fc.integer({ min: -50, max: 50 })));
    fc.assert(
      fc.property(fc.array(corner, { minLength: 9, maxLength: 30 }), (corners) => {
        const positions = Float64Array.from(corners.flat());
        const all = Array.from({ length: Math.floor(corners.length / 3) }, (_, f) => [3 * f, 3 * f + 1, 3 * f + 2]);
        const good = all.filter((t) => meshArea({ positions, triangles: Uint32Array.from(t) }) > 1);
        const count = good.length;
        fc.pre(count > 0);
        const mesh: TriMesh = { positions, triangles: Uint32Array.from(good.flat()) };
        let [area, places] = [0, 0];
        eachPlace(mesh, 2000, (x, y, z, part, f) => {
          area += part;
          places++;
          expect(areaAround(mesh, f, x, y, z) / areaAround(mesh, f, ...cornerOf(mesh, 3 * f))).toBeCloseTo(1, 5);
        });
        expect(area / meshArea(mesh)).toBeCloseTo(1, 9);
        expect(places).toBeGreaterThanOrEqual(3 * count);
        expect(places).toBeLessThan(6000);
      }),
      { seed: 41, numRuns: 20, endOnFailure: true },
    );
  });
  it('leave no stretch of long thin triangles unlooked at: across all of them, each tenth of a millimetre along', () => {
    const seen = new Set<number>();
    eachPlace(strips(300), 12_000, (x) => seen.add(Math.min(199, Math.floor(10 * x))));
    expect(seen.size).toBe(200);
  });
  it('are all corners too, and nothing for a mesh of nothing', () => {
    const mesh = strips(2);
    const corners = new Set<string>();
    let between = 0;
    eachPlace(mesh, 400, (x, y, z, _area, _triangle, corner) => {
      if (corner < 0) between++;
      else expect([...mesh.positions.slice(3 * corner, 3 * corner + 3)]).toEqual([x, y, z]);
      if (corner >= 0) corners.add([x, y, z].join());
    });
    expect(between).toBeGreaterThan(100);
    for (let v = 0; v < mesh.positions.length; v += 3) expect(corners.has(mesh.positions.slice(v, v + 3).join())).toBe(true);
    eachPlace({ positions: new Float64Array(0), triangles: new Uint32Array(0) }, 10, () => {
      throw new Error('a place of nothing');
    });
  });
});

describe('a walk on a triangle to where something is greatest', () => {
  it('ends there, within it or at its rim, and never lower than it began', () => {
    const corners: [Vec3, Vec3, Vec3] = [
      [0, 0, 0],
      [20, 0, 0],
      [20, 10, 0],
    ];
    // Within, beyond a side, beyond a corner.
    for (const [top, end] of [
      [
        [12, 2],
        [12, 2],
      ],
      [
        [12, -3],
        [12, 0],
      ],
      [
        [30, -4],
        [20, 0],
      ],
    ]) {
      const height = (x: number, y: number) => 5 - Math.hypot(x - top[0], 2 * (y - top[1]));
      const { value, at } = climbOnTriangle(corners, [9, 3, 0], 1, height);
      expect(at[0]).toBeCloseTo(end[0], 1);
      expect(at[1]).toBeCloseTo(end[1], 1);
      expect(value).toBeCloseTo(height(end[0], end[1]), 1);
      expect(value).toBeGreaterThan(height(9, 3));
    }
  });
});
