import { describe, expect, it } from '@jest/globals';
import { pairHalfEdges, type Surface, type TriMesh } from '#core/mesh';
import { listOpeningLoops } from './opening-loops.ts';
import { isSameSurface } from './same-surface.ts';

/** A ball of radius 20 about the origin whose triangles within an angle of each pole are another face, pushed in along z: a dent with a rim. */
function dentedBall(rings: number, openingDeg: number, depth: number) {
  const around = 24;
  const positions = [0, 0, 20];
  for (let i = 1; i < rings; i++)
    for (let j = 0; j < around; j++) {
      const [u, v] = [(Math.PI * i) / rings, (2 * Math.PI * j) / around];
      positions.push(20 * Math.sin(u) * Math.cos(v), 20 * Math.sin(u) * Math.sin(v), 20 * Math.cos(u));
    }
  positions.push(0, 0, -20);
  const at = (i: number, j: number) => (i === 0 ? 0 : i === rings ? positions.length / 3 - 1 : 1 + (i - 1) * around + (j % around));
  const triangles: number[] = [];
  const faces: number[] = [];
  const rim = Math.round((openingDeg / 180) * rings);
  const add = (face: number, ...t: number[]) => {
    triangles.push(...t);
    faces.push(face);
  };
  for (let i = 0; i < rings; i++)
    for (let j = 0; j < around; j++) {
      const face = i < rim ? 1 : i >= rings - rim ? 2 : 0;
      if (i > 0) add(face, at(i, j), at(i + 1, j), at(i, j + 1));
      if (i < rings - 1) add(face, at(i, j + 1), at(i + 1, j), at(i + 1, j + 1));
    }
  for (let v = 0; v < positions.length / 3; v++) {
    const angle = (Math.acos(positions[3 * v + 2] / 20) * 180) / Math.PI;
    if (angle < (180 * (rim - 0.5)) / rings) positions[3 * v + 2] -= depth;
  }
  return { mesh: { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) } satisfies TriMesh, faces };
}
const sphere: Surface = { kind: 'sphere', centre: [0, 0, 0], radius: 20, concave: false };
const SURFACES: readonly Surface[] = [sphere, { kind: 'free' }, { kind: 'free' }];

describe('the openings of a ball', () => {
  const { mesh, faces } = dentedBall(36, 15, 4);
  const loops = (most: number, surfaces = SURFACES) => listOpeningLoops(mesh, pairHalfEdges(mesh), faces, surfaces, most);
  const width = 2 * 20 * Math.sin((15 * Math.PI) / 180);

  it('are the rims of what is set in it, seen from the ball alone, with their width', () => {
    const found = loops(30);
    // Both ends of the ball; the caps see their own rim as their outer border.
    expect(found).toHaveLength(2);
    for (const loop of found) {
      expect(loop.isInFace).toBe(false);
      expect(loop.width).toBeCloseTo(width, 6);
      expect(loop.halves).toHaveLength(24);
      expect(loop.halves.every((h) => faces[(h - (h % 3)) / 3] === 0)).toBe(true);
      // A rim in one plane: no corner above another.
      expect(loop.out - loop.least).toBeLessThan(1e-9);
    }
    // Each looks out of the ball at its own end.
    const outwards = found.map(({ unroller }) => [unroller.at([0, 0, 25]).out, unroller.at([0, 0, -25]).out]);
    expect(outwards.map(([up, down]) => Math.sign(up - down)).sort()).toEqual([-1, 1]);
  });
  it('are none where they are wider than is asked for', () => {
    expect(loops(width - 0.01)).toHaveLength(0);
    expect(loops(width + 0.01)).toHaveLength(2);
  });
  it('are none where the rim bends too far out of one plane', () => {
    const bent = mesh.positions.slice();
    const rim = new Set(loops(30).flatMap((l) => l.halves.map((h) => mesh.triangles[h])));
    for (const v of rim) bent[3 * v + 2] += bent[3 * v] > 0 ? 2 : -2;
    const moved = { ...mesh, positions: bent };
    expect(listOpeningLoops(moved, pairHalfEdges(moved), faces, SURFACES, 30)).toHaveLength(0);
  });
});

describe('the openings of a cylinder that a file has in two halves', () => {
  // A tube wall of 36 flats and 12 rings; a square of them across the seam is a pocket of its own.
  const [around, rings] = [36, 12];
  const positions: number[] = [];
  const triangles: number[] = [];
  const faces: number[] = [];
  const isPocket = (i: number, j: number) => i >= 4 && i < 7 && (j >= around - 2 || j < 1);
  for (let i = 0; i <= rings; i++)
    for (let j = 0; j < around; j++) {
      const angle = (2 * Math.PI * j) / around;
      const inside = i === 5 && j === around - 1 ? 17 : 20;
      positions.push(inside * Math.cos(angle), inside * Math.sin(angle), 3 * i);
    }
  for (let i = 0; i < rings; i++)
    for (let j = 0; j < around; j++) {
      const at = (k: number, l: number) => k * around + (l % around);
      triangles.push(at(i, j), at(i, j + 1), at(i + 1, j + 1), at(i, j), at(i + 1, j + 1), at(i + 1, j));
      const face = isPocket(i, j) ? 2 : j < around / 2 ? 0 : 1;
      faces.push(face, face);
    }
  const mesh: TriMesh = { positions: Float64Array.from(positions), triangles: Uint32Array.from(triangles) };
  const half = (length: number, axis: 1 | -1): Surface => ({
    kind: 'cylinder',
    origin: [0, 0, 5 * axis],
    axis: [0, 0, axis],
    radius: 20,
    length,
    concave: false,
  });

  it('are those of one face: the pocket across its seam, laid flat', () => {
    const found = listOpeningLoops(mesh, pairHalfEdges(mesh), faces, [half(36, 1), half(30, -1), { kind: 'free' }], 20);
    expect(found.map((l) => [l.isInFace, l.halves.length])).toEqual([[true, 12]]);
    const along = found[0].flat.map(([s]) => s);
    expect(Math.max(...along) - Math.min(...along)).toBeCloseTo((3 * 2 * Math.PI * 20) / around, 6);
  });
  it('on two cylinders are looked at across both', () => {
    const other: Surface = { ...half(36, 1), radius: 20.5 } as Surface;
    const found = listOpeningLoops(mesh, pairHalfEdges(mesh), faces, [half(36, 1), other, { kind: 'free' }], 20);
    expect(found.map((l) => [l.isInFace, l.halves.length])).toEqual([[false, 12]]);
  });
});

describe('one surface', () => {
  const cone = (from: number, radiusLarge: number, halfAngleRad = 0.2): Surface => ({
    kind: 'cone',
    origin: [0, 0, from],
    axis: [0, 0, -1],
    halfAngleRad,
    radiusLarge,
    radiusSmall: 1,
    length: 10,
    concave: false,
  });
  const plane = (z: number, normal: 1 | -1): Surface => ({ kind: 'plane', origin: [3, 4, z], normal: [0, 0, normal] });
  it('is the same plane or cone, seen from the same side, wherever its faces begin', () => {
    expect(isSameSurface(plane(5, 1), { kind: 'plane', origin: [-9, 2, 5], normal: [0, 0, 1] })).toBe(true);
    expect(isSameSurface(plane(5, 1), plane(5.001, 1))).toBe(false);
    expect(isSameSurface(plane(5, 1), plane(5, -1))).toBe(false);
    expect(isSameSurface(cone(0, 20), cone(-10, 20 - 10 * Math.tan(0.2)))).toBe(true);
    expect(isSameSurface(cone(0, 20), cone(-10, 20))).toBe(false);
    expect(isSameSurface(cone(0, 20), cone(0, 20, 0.3))).toBe(false);
    expect(isSameSurface(sphere, sphere)).toBe(false);
  });
});
