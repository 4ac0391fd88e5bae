import { describe, expect, it } from '@jest/globals';
import type { Surface } from '#core/mesh';
import { coordinatesAt, polesOf } from './face-poles.ts';
import type { PutPoint } from './surface-points.ts';

const ball: Surface = { kind: 'sphere', centre: [0, 0, 0], radius: 10, concave: false };
const onBall: PutPoint = (u, v, out, at) => out.set([10 * Math.cos(v) * Math.cos(u), 10 * Math.cos(v) * Math.sin(u), 10 * Math.sin(v)], at);
// As a cone that narrows upwards to its tip at a height of 5.
const onCone: PutPoint = (u, v, out, at) => out.set([(5 - v) * Math.cos(u), (5 - v) * Math.sin(u), v], at);

// So many nodes each way, row by row of v.
const grid = (us: readonly number[], vs: readonly number[]) => Float64Array.from(vs.flatMap((v) => us.flatMap((u) => [u, v])));
const TURN = [0, 1, 2, 3, 4, 5, 6].map((i) => (i * Math.PI) / 3);

describe('where one coordinate of a face does not matter', () => {
  it('is at both ends of a ball, and nowhere else on it', () => {
    const vs = [-Math.PI / 2, -1, 0, 0.7, Math.PI / 2];
    expect([...polesOf(onBall, ball, grid(TURN, vs))]).toEqual(vs.flatMap((_, row) => TURN.map(() => (row === 0 || row === 4 ? 1 : 0))));
  });
  it('is nowhere on a belt of a ball, and not on a cylinder', () => {
    expect(polesOf(onBall, ball, grid(TURN, [-1, 0, 1])).some((p) => p !== 0)).toBe(false);
    const cylinder: Surface = { kind: 'cylinder', origin: [0, 0, 0], axis: [0, 0, 1], radius: 3, length: 4, concave: false };
    expect(polesOf(onBall, cylinder, grid(TURN, [-Math.PI / 2, 0])).some((p) => p !== 0)).toBe(false);
  });
  it('is at the tip of a cone, where a node may be off the end of its range by rounding', () => {
    const found = polesOf(
      onCone,
      { kind: 'free' },
      grid(TURN, [0, 2, 5]).map((x, i) => (i === 2 * (2 * TURN.length + 3) + 1 ? x - 1e-12 : x)),
    );
    expect([...found]).toEqual([0, 0, 1].flatMap((p) => TURN.map(() => p)));
  });
  it('is told of the second coordinate too', () => {
    const turned: PutPoint = (u, v, out, at) => onCone(v, u, out, at);
    expect([...polesOf(turned, { kind: 'free' }, grid([0, 5], [0, 1, 2]))]).toEqual([0, 2, 0, 2, 0, 2]);
  });
  it('is where the others of a triangle are: at a tip between two nodes, in the middle of them', () => {
    const uv = Float64Array.of(0, 5, 1, 0, 2, 0);
    const poles = Uint8Array.of(1, 0, 0);
    expect(coordinatesAt(uv, poles, 0, 2, 4, 0)).toEqual([1.5, 1, 2]);
    expect(coordinatesAt(uv, poles, 0, 2, 4, 1)).toEqual([5, 0, 0]);
  });
});
