import { describe, expect, it } from '@jest/globals';
import { move, rotationAbout, turn, type Vec3 } from '#core/math';
import type { BodyGeometry } from '#core/mesh';
import type { Corner } from './corner.ts';
import { compareTiltedEdge } from './tilted-edge.ts';

const mount = { origin: [0, 0, 0] as Vec3, z: [0, 0, 1] as Vec3, x: [1, 0, 0] as Vec3 };
// A 90 degree corner with radius 0.8, its furthest point at (20, 0, 100), pointing along Z.
const h = Math.SQRT1_2;
const flat: Corner = {
  body: {} as BodyGeometry,
  edges: [0],
  radius: 0.8,
  centre: [20, 0, 99.2],
  towards: [0, 0, 1],
  rake: [0, 1, 0],
  includedDeg: 90,
  legs: [
    [h, 0, -h],
    [-h, 0, -h],
  ],
  legLengths: [5, 5],
  legEdges: [0, 1],
  flank: 0,
  top: 0,
};
const moved = (by: Vec3): Corner => ({ ...flat, centre: [flat.centre[0] + by[0], flat.centre[1] + by[1], flat.centre[2] + by[2]] });
const tilted = (deg: number): Corner => {
  const m = rotationAbout([20, 0, 100], [1, 0, 0], (deg * Math.PI) / 180);
  return {
    ...flat,
    centre: move(m, flat.centre),
    towards: turn(m, flat.towards),
    rake: turn(m, flat.rake),
    legs: [turn(m, flat.legs[0]), turn(m, flat.legs[1])],
  };
};
const worst = (c: Corner, d: number) => Math.max(...compareTiltedEdge(c, mount, 'square', d).map((e) => Math.abs(e.difference)));

describe('a tilted edge against the flat one', () => {
  it('a flat edge at the centre height cuts what it is', () => {
    for (const shank of ['square', 'round'] as const)
      expect(Math.max(...compareTiltedEdge(flat, mount, shank, 40).map((e) => Math.abs(e.difference)))).toBeLessThan(1e-12);
  });
  it('a centre height error h leaves sqrt(R2 + h2) - R at the tip, about h2 / D', () => {
    const at = compareTiltedEdge(moved([0, -0.5, 0]), mount, 'square', 40).find((e) => e.along === 0);
    // The flat nose is a polyline of half a degree's steps.
    expect(at?.difference).toBeCloseTo(Math.hypot(20, 0.5) - 20, 5);
    expect(at?.difference).toBeCloseTo(0.25 / 40, 5);
  });
  it('nothing at the tip, more with the tilt and away from the tip, and on a large work what foreshortening alone makes', () => {
    const edge = compareTiltedEdge(tilted(-6), mount, 'square', 40);
    expect(Math.abs(edge.find((e) => e.along === 0)?.difference ?? 1)).toBeLessThan(1e-9);
    const ends = [edge[0], edge[edge.length - 1]].map((e) => Math.abs(e.difference));
    // 1.65 mm behind the tip the edge lies 0.172 below it and is seen shorter by 1 - cos 6.
    expect(Math.min(...ends)).toBeGreaterThan(1e-3);
    expect(worst(tilted(-12), 40)).toBeGreaterThan(2 * worst(tilted(-6), 40));
    // On a plane the leg is seen at atan(cos 6) instead of 45 degrees: (1 - cos 6) / 2 of its length, and a little from the nose.
    const shorter = 1 - Math.cos((6 * Math.PI) / 180);
    expect(worst(tilted(-6), 1e6)).toBeGreaterThan(shorter);
    expect(worst(tilted(-6), 1e6)).toBeLessThan(1.4 * shorter);
  });
});
