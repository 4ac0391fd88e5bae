import { describe, expect, it } from '@jest/globals';
import { fromZAndX, rotationAbout } from '#core/math';
import { moveMesh, type TriMesh } from '#core/mesh';
import {
  depthInProfile,
  type HalfProfile,
  listPieces,
  loopArea,
  loopThrough,
  profileDepthFinder,
  profileVolume,
  sectionMesh,
  validateProfile,
} from './index.ts';

// Counter-clockwise: along the axis, and back over the outside.
const cylinder: HalfProfile = [
  loopThrough([
    [0, 0],
    [20, 0],
    [20, 5],
    [0, 5],
  ]),
];
// A ball of radius 6 about z 10 with a bore of radius 2 from behind, up to its middle.
const bored: HalfProfile = (() => {
  const back = 10 - Math.sqrt(32);
  return [
    [
      { kind: 'line', from: [back, 2], to: [10, 2] },
      { kind: 'line', from: [10, 2], to: [10, 0] },
      { kind: 'line', from: [10, 0], to: [16, 0] },
      { kind: 'arc', from: [16, 0], to: [back, 2], centre: [10, 0], ccw: true },
    ],
  ];
})();

describe('half profiles', () => {
  it('have the volumes of formulas', () => {
    expect(profileVolume(cylinder)).toBeCloseTo(Math.PI * 25 * 20, 9);
    const cone = loopThrough([
      [0, 0],
      [9, 0],
      [0, 6],
    ]);
    expect(profileVolume([cone])).toBeCloseTo((Math.PI * 36 * 9) / 3, 9);
    expect(listPieces(cylinder)).toHaveLength(3);
    // Half a ball, and the other half with a bore: a cylinder and a cap less (height h of the cap: 6 - sqrt 32).
    const h = 6 - Math.sqrt(32);
    const bore = Math.PI * 4 * Math.sqrt(32) + (Math.PI * h * h * (18 - h)) / 3;
    expect(profileVolume(bored)).toBeCloseTo((4 / 3) * Math.PI * 216 - bore, 8);
    // A ring of round section about the axis (Pappus).
    const ring: HalfProfile = [
      [
        { kind: 'arc', from: [3, 10], to: [-3, 10], centre: [0, 10], ccw: true },
        { kind: 'arc', from: [-3, 10], to: [3, 10], centre: [0, 10], ccw: true },
      ],
    ];
    expect(validateProfile(ring)).toEqual([]);
    expect(profileVolume(ring)).toBeCloseTo(2 * Math.PI * 10 * Math.PI * 9, 8);
  });
  it('know how deep a point lies, positive inside; the axis is no surface', () => {
    expect(depthInProfile(cylinder, [10, 3])).toBeCloseTo(2, 12);
    expect(depthInProfile(cylinder, [10, 0])).toBeCloseTo(5, 12);
    expect(depthInProfile(cylinder, [1, 1])).toBeCloseTo(1, 12);
    expect(depthInProfile(cylinder, [10, 5.5])).toBeCloseTo(-0.5, 12);
    expect(depthInProfile(cylinder, [23, 9])).toBeCloseTo(-5, 12);
    expect(depthInProfile(cylinder, [10, 5])).toBeCloseTo(0, 12);
    const depth = profileDepthFinder(bored);
    expect(depth(8, 1)).toBeCloseTo(-1, 9);
    expect(depth(8, 3)).toBeCloseTo(1, 9);
    expect(depth(13, 0)).toBeCloseTo(3, 9);
    expect(depth(10 + 5 * Math.SQRT1_2, 5 * Math.SQRT1_2)).toBeCloseTo(1, 9);
  });
  it('say what is wrong with them', () => {
    expect(validateProfile(cylinder)).toEqual([]);
    expect(validateProfile(bored)).toEqual([]);
    expect(validateProfile([])).toEqual(['it has no loop']);
    const through = (...points: [number, number][]) => validateProfile([loopThrough(points)]).join();
    expect(through([0, 0], [20, 0], [20, -5], [0, 5])).toMatch(/wrong side of the axis at z 20/);
    expect(through([0, 0], [0, 5], [20, 5], [20, 0])).toMatch(/material on the wrong side/);
    expect(through([0, 0], [20, 0], [5, 8], [15, 8])).toMatch(/crosses itself at z 10.000, r 5.333/);
    expect(through([0, 0], [20, 0], [20, Number.NaN])).toMatch(/not finite/);
    expect(validateProfile([[...cylinder[0].slice(0, 3), { kind: 'line', from: [0, 5], to: [0, 1] }]]).join()).toMatch(/a gap at z 0.000, r 1.000/);
    expect(validateProfile([[...cylinder[0].slice(0, 3), { kind: 'arc', from: [0, 5], to: [0, 0], centre: [0, 1], ccw: true }]]).join()).toMatch(
      /not on one circle/,
    );
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
