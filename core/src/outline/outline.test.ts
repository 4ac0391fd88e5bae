import { describe, expect, it } from '@jest/globals';
import { fromZAndX, rotationAbout } from '#core/math';
import { moveMesh, type TriMesh } from '#core/mesh';
import { depthInProfile, listPieces, loopArea, type OuterProfile, profileDepthFinder, profileVolume, sectionMesh, validateProfile } from './index.ts';

const cylinder: OuterProfile = [
  [
    [0, 0],
    [0, 5],
    [20, 5],
    [20, 0],
  ],
];

describe('outer profiles', () => {
  it('of a cylinder and a cone have the volumes of formulas', () => {
    expect(profileVolume(cylinder)).toBeCloseTo(Math.PI * 25 * 20, 9);
    expect(
      profileVolume([
        [
          [0, 0],
          [0, 6],
          [9, 0.0],
          [9, 0],
        ],
      ]),
    ).toBeCloseTo((Math.PI * 36 * 9) / 3, 9);
    expect(listPieces(cylinder)).toHaveLength(3);
  });
  it('know how deep a point lies, positive inside', () => {
    expect(depthInProfile(cylinder, [10, 3])).toBeCloseTo(2, 12);
    expect(depthInProfile(cylinder, [1, 1])).toBeCloseTo(1, 12);
    expect(depthInProfile(cylinder, [10, 5.5])).toBeCloseTo(-0.5, 12);
    expect(depthInProfile(cylinder, [23, 9])).toBeCloseTo(-5, 12);
    expect(depthInProfile(cylinder, [10, 5])).toBe(0);
  });
  it('are measured the same by the fast way and the slow one', () => {
    const stepped: OuterProfile = [
      [
        [0, 0],
        [0, 5],
        [4, 5],
        [4, 9],
        [6, 7],
        [11, 7],
        [11, 2],
        [15, 2],
        [15, 0],
      ],
      [
        [20, 0],
        [22, 6],
        [30, 0],
      ],
    ];
    const find = profileDepthFinder(stepped);
    for (let z = -3; z < 34; z += 0.37) for (let r = 0; r < 12; r += 0.29) expect(find(z, r)).toBeCloseTo(depthInProfile(stepped, [z, r]), 12);
  });
  it('say what is wrong with them', () => {
    expect(validateProfile(cylinder)).toEqual([]);
    expect(validateProfile([])).toEqual(['it has no run']);
    expect(
      validateProfile([
        [
          [0, 0],
          [0, 5],
          [-1, 5],
          [-1, 0],
        ],
      ])[0],
    ).toMatch(/runs back/);
    expect(
      validateProfile([
        [
          [0, 0],
          [0, -5],
          [2, 5],
          [2, 0],
        ],
      ])[0],
    ).toMatch(/wrong side/);
    expect(
      validateProfile([
        [
          [0, 1],
          [0, 5],
          [2, 5],
          [2, 0],
        ],
      ])[0],
    ).toMatch(/off the axis/);
    expect(
      validateProfile([
        [
          [0, 0],
          [0, Number.NaN],
          [2, 5],
          [2, 0],
        ],
      ]).join(),
    ).toMatch(/not finite/);
  });
});

describe('sectionMesh', () => {
  const n = 64;
  // A tube along Z: outer radius 10, inner 4, length 30.
  const tube = ((): TriMesh => {
    const positions: number[] = [];
    const triangles: number[] = [];
    const at = (k: number, r: number, z: number) => positions.push(r * Math.cos((2 * Math.PI * k) / n), r * Math.sin((2 * Math.PI * k) / n), z) / 3 - 1;
    const quad = (a: number, b: number, c: number, d: number) => triangles.push(a, b, c, a, c, d);
    for (let k = 0; k < n; k++) {
      const [o0, o1, p0, p1] = [at(k, 10, 0), at(k + 1, 10, 0), at(k, 10, 30), at(k + 1, 10, 30)];
      const [i0, i1, j0, j1] = [at(k, 4, 0), at(k + 1, 4, 0), at(k, 4, 30), at(k + 1, 4, 30)];
      quad(o0, o1, p1, p0);
      quad(i1, i0, j0, j1);
      quad(p0, p1, j1, j0);
      quad(o1, o0, i0, i1);
    }
    return { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
  })();
  const frame = fromZAndX([0, 0, 0], [0, 0, 1], [1, 0, 0]);

  it('cuts a tube into two closed rectangles of the right area', () => {
    const loops = sectionMesh(tube, frame, 0.001);
    expect(loops.map((l) => l.closed)).toEqual([true, true]);
    for (const loop of loops) expect(loopArea(loop)).toBeCloseTo(180, 0);
  });
  it('is the same in any pose of mesh and frame together', () => {
    const motion = rotationAbout([5, -3, 2], [0.2, 0.5, 0.84], 1.1);
    const moved = sectionMesh(
      moveMesh(motion, tube),
      { origin: moveMeshPoint(motion, frame.origin), z: turnOf(motion, frame.z), x: turnOf(motion, frame.x) },
      0.001,
    );
    expect(moved.map((l) => Math.round(loopArea(l) * 100) / 100)).toEqual(sectionMesh(tube, frame, 0.001).map((l) => Math.round(loopArea(l) * 100) / 100));
  });
  it('is empty where the plane misses', () => {
    expect(sectionMesh(tube, frame, 11)).toEqual([]);
  });
});

type V = readonly [number, number, number];
const moveMeshPoint = (m: Parameters<typeof moveMesh>[0], p: V): V => {
  const q = moveMesh(m, { positions: Float64Array.from(p), triangles: new Uint32Array(0) }).positions;
  return [q[0], q[1], q[2]];
};
const turnOf = (m: Parameters<typeof moveMesh>[0], d: V): V => moveMeshPoint({ r: m.r, t: [0, 0, 0] }, d);
