import { describe, expect, it } from '@jest/globals';
import { sampledMesh } from '#core/kernel';
import type { TriMesh } from '#core/mesh';
import { type BoreChoice, loopThrough, type ProfilePoint } from '#core/outline';
import type { Axis } from '../axis.ts';
import { emptyStretches, keptBores, windingNumber } from './bores.ts';
import { revolveToMesh } from '../index.ts';

const axis: Axis = { origin: [2, 3, -5], direction: [0, 0.6, 0.8] };
const turned = (corners: readonly ProfilePoint[], about = axis) => sampledMesh(revolveToMesh([loopThrough(corners)], about, 24));
const at = (z: number): [number, number, number] => [axis.origin[0], axis.origin[1] + 0.6 * z, axis.origin[2] + 0.8 * z];

// A bar of 80 with a bore of 12 from its left end to 30 and one of 8 from 50 to its right end.
const bar: ProfilePoint[] = [
  [0, 6],
  [30, 6],
  [30, 0],
  [50, 0],
  [50, 4],
  [80, 4],
  [80, 15],
  [0, 15],
];

describe('where the axis is outside', () => {
  it('is beyond the ends and along the bores', () => {
    const stretches = emptyStretches([turned(bar)], axis);
    expect(stretches).toHaveLength(2);
    expect(stretches[0]).toEqual([-Infinity, expect.closeTo(30, 6)]);
    expect(stretches[1]).toEqual([expect.closeTo(50, 6), Infinity]);
  });
  it('is not where another body fills a bore; a hollow inside counts', () => {
    const plug = turned([
      [10, 0],
      [20, 0],
      [20, 5],
      [10, 5],
    ]);
    const both = emptyStretches([turned(bar), plug], axis);
    expect(both.map((s) => s.map((z) => (Number.isFinite(z) ? Math.round(z) : z)))).toEqual([
      [-Infinity, 10],
      [20, 30],
      [50, Infinity],
    ]);
  });
  it('is everywhere for a body beside the axis', () => {
    const aside = { origin: [40, 3, -5] as const, direction: axis.direction };
    expect(emptyStretches([turned(bar, aside)], axis)).toEqual([[-Infinity, Infinity]]);
  });
});

describe('how often a mesh winds around a place', () => {
  it('is 1 in the material, 0 in a bore and outside, 2 where two bodies overlap, -1 inside out', () => {
    const { mesh } = turned(bar);
    const winds = (m: TriMesh, z: number) => Math.round(windingNumber(m, ...at(z)) * 1000) / 1000 + 0;
    expect([winds(mesh, 40), winds(mesh, 15), winds(mesh, 65), winds(mesh, 90)]).toEqual([1, 0, 0, 0]);
    const twice = { positions: mesh.positions, triangles: Uint32Array.from([...mesh.triangles, ...mesh.triangles]) };
    expect(winds(twice, 40)).toBe(2);
    const inverted = { positions: mesh.positions, triangles: mesh.triangles.map((_, i, t) => t[i % 3 === 1 ? i + 1 : i % 3 === 2 ? i - 1 : i]) };
    expect(winds(inverted, 40)).toBe(-1);
  });
});

describe('bores that stay', () => {
  // A bore through, narrowest in the middle: 12, 6, 10 across; r is counted downwards.
  const through: ProfilePoint[] = [
    [0, -6],
    [20, -6],
    [20, -3],
    [40, -3],
    [40, -5],
    [60, -5],
  ];
  const kept = (keep: BoreChoice, closeBelow = 0, inner = [through], empty: [number, number][] = [[-Infinity, Infinity]]) =>
    keptBores(inner, empty, [0, 60], { keep, closeBelow });

  it('are none, or all that open to an end, or those that open to one of them up to their narrowest place', () => {
    expect(kept('closed')).toEqual([]);
    expect(kept('open')).toEqual([through.map(([z, r]) => [z, -r])]);
    expect(kept('work')).toEqual([
      [
        [30, 3],
        [40, 3],
        [40, 5],
        [60, 5],
      ],
    ]);
    expect(kept('machine')).toEqual([
      [
        [0, 6],
        [20, 6],
        [20, 3],
        [30, 3],
      ],
    ]);
  });
  it('are closed where they are narrower than is asked for, each part by itself', () => {
    expect(kept('open', 8).map((bore) => [bore[0][0], bore[bore.length - 1][0]])).toEqual([
      [0, 20],
      [40, 60],
    ]);
    expect(kept('open', 11).map((bore) => bore[0][1])).toEqual([6]);
    expect(kept('open', 13)).toEqual([]);
    expect(kept('machine', 11)).toHaveLength(1);
    expect(kept('work', 11)).toHaveLength(0);
  });
  it('of a cone end where it gets too narrow', () => {
    const cone: ProfilePoint[] = [
      [0, -6],
      [60, -1],
    ];
    const [bore] = kept('machine', 6, [cone], [[-Infinity, 60]]);
    expect(bore[bore.length - 1]).toEqual([expect.closeTo(36, 9), 3]);
  });
  it('are none where the axis is in the material, or a hollow has no way out', () => {
    expect(kept('open', 0, [through], [])).toEqual([]);
    const inside = through.slice(1, 5);
    expect(kept('open', 0, [inside], [[20, 40]])).toEqual([]);
  });
});
