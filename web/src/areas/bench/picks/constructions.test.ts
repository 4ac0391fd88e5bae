import { beforeAll, describe, expect, it } from '@jest/globals';
import { loadKernel, readSolids, writePlainStep } from '#core/kernel';
import { distance, dot, IDENTITY, IDENTITY_FRAME, isOrthonormal, normalize, rotationAbout, translation, type Vec3 } from '#core/math';
import { cornerOf, type Model } from '#core/mesh';
import type { PickRef } from '../../../scene/picks.ts';
import { circleThrough, directionsFrom, frameAt, noseBetween, nosesFrom, pointsFrom } from './constructions.ts';

// A block 20 x 30 x 10 with a corner at the origin, and a pin of radius 8 along X at (100, 50, 40).
let model: Model;
beforeAll(async () => {
  const kernel = await loadKernel();
  const along = rotationAbout([0, 0, 0], [0, 1, 0], Math.PI / 2);
  const r = readSolids(
    kernel,
    writePlainStep(kernel, [
      { solid: { kind: 'box', size: [20, 30, 10] }, name: 'block', fileFromSolid: IDENTITY },
      { solid: { kind: 'cylinder', radius: 8, height: 60 }, name: 'pin', fileFromSolid: { r: along.r, t: [100, 50, 40] } },
    ]),
    'x.step',
  );
  if (!r.ok) throw new Error('not read');
  model = r.value.model;
});
const pick = (body: string, kind: PickRef['kind'], index: number): PickRef => ({ item: 'k', body, kind, index });
const block = () => model.bodies[0];
const corner = (p: Vec3) =>
  pick('b1', 'corner', Array.from({ length: block().corners.length / 3 }, (_, i) => i).find((i) => distance(cornerOf(block(), i), p) < 1e-6) as number);
const line = (from: Vec3, to: Vec3) =>
  pick(
    'b1',
    'edge',
    block().edges.findIndex((e) => Math.min(distance(e.start, from) + distance(e.end, to), distance(e.start, to) + distance(e.end, from)) < 1e-6),
  );
const plane = (normal: Vec3) =>
  pick(
    'b1',
    'face',
    block().faces.findIndex((f) => f.surface.kind === 'plane' && dot(f.surface.normal, normal) > 0.99),
  );
const pinFace = () =>
  pick(
    'b2',
    'face',
    model.bodies[1].faces.findIndex((f) => f.surface.kind === 'cylinder'),
  );
const point = (picks: PickRef[], name: string) => pointsFrom(model, picks, IDENTITY_FRAME).find((p) => p.name.startsWith(name))?.point;
const near = (a: Vec3 | undefined, b: Vec3) => expect(distance(a as Vec3, b)).toBeLessThan(1e-6);

describe('points', () => {
  it('of one pick: corner, ends and middle of an edge, middle of a face, both ends of an axis', () => {
    near(point([corner([20, 30, 10])], 'corner'), [20, 30, 10]);
    const edge = line([0, 0, 0], [20, 0, 0]);
    near(point([edge], 'middle'), [10, 0, 0]);
    expect([point([edge], 'start')?.[0], point([edge], 'end')?.[0]].sort()).toEqual([0, 20]);
    near(point([plane([0, 0, 1])], 'middle of the face'), [10, 15, 10]);
    const ends = pointsFrom(model, [pinFace()], IDENTITY_FRAME).filter((p) => p.name.startsWith('axis'));
    expect(ends.map((e) => Math.round(e.point[0])).sort((a, b) => a - b)).toEqual([100, 160]);
  });
  it('corners of the box around a face, in the frame that is given', () => {
    near(point([plane([0, 0, 1])], 'box corner +X'), [20, 30, 10]);
    const turned = { origin: [0, 0, 0] as Vec3, z: [0, 0, 1] as Vec3, x: normalize([1, 1, 0]) };
    const far = pointsFrom(model, [plane([0, 0, 1])], turned).find((p) => p.name.startsWith('box corner +X +Y'));
    // Along (1,1,0) the face reaches 50/sqrt 2, along (-1,1,0) 30/sqrt 2.
    near(far?.point, [(50 - 30) / 2, (50 + 30) / 2, 10]);
  });
  it('of two: their middle, the crossing of lines, the middle line of parallel ones, a line through a plane', () => {
    near(point([corner([0, 0, 0]), corner([20, 30, 10])], 'middle of the two'), [10, 15, 5]);
    near(point([line([0, 0, 0], [20, 0, 0]), line([0, 0, 10], [0, 30, 10])], 'nearest point'), [0, 0, 5]);
    near(point([line([0, 0, 0], [20, 0, 0]), line([0, 0, 0], [0, 30, 0])], 'crossing'), [0, 0, 0]);
    const middle = point([line([0, 0, 0], [20, 0, 0]), line([0, 30, 0], [20, 30, 0])], 'middle line');
    expect(middle?.[1]).toBeCloseTo(15, 9);
    near(point([pinFace(), plane([1, 0, 0])], 'where the line meets'), [20, 50, 40]);
  });
  it('of three: a circle through corners, the meeting of planes', () => {
    near(point([corner([0, 0, 0]), corner([20, 0, 0]), corner([0, 30, 0])], 'centre of the circle'), [10, 15, 0]);
    near(point([plane([1, 0, 0]), plane([0, 1, 0]), plane([0, 0, 1])], 'where the three planes'), [20, 30, 10]);
  });
  it('nothing of nothing', () => {
    expect([pointsFrom(model, [], IDENTITY_FRAME), directionsFrom(model, []), nosesFrom(model, [], 1)]).toEqual([[], [], []]);
  });
});

describe('directions', () => {
  const direction = (picks: PickRef[], name: string) => directionsFrom(model, picks).find((d) => d.name.startsWith(name))?.direction;
  it('edge, axis, face, two points, two planes, three points', () => {
    expect(Math.abs(direction([line([0, 0, 0], [20, 0, 0])], 'along the edge')?.[0] ?? 0)).toBeCloseTo(1, 9);
    expect(Math.abs(direction([pinFace()], 'axis')?.[0] ?? 0)).toBeCloseTo(1, 9);
    near(direction([plane([0, 1, 0])], 'square to the face'), [0, 1, 0]);
    near(direction([corner([0, 0, 0]), corner([0, 30, 0])], 'from the first'), [0, 1, 0]);
    expect(Math.abs(direction([plane([1, 0, 0]), plane([0, 1, 0])], 'along both')?.[2] ?? 0)).toBeCloseTo(1, 9);
    expect(Math.abs(direction([corner([0, 0, 0]), corner([20, 0, 0]), corner([0, 30, 0])], 'square to the three')?.[2] ?? 0)).toBeCloseTo(1, 9);
  });
});

describe('frames and noses', () => {
  it('a mount looks into the model, a seat out of it; reversed when asked', () => {
    for (const [kind, flip, z] of [
      ['mount', false, 1],
      ['mount', true, -1],
      ['seat', false, -1],
    ] as const) {
      const f = frameAt({ ...model, bodies: [block()] }, [10, 15, 0], [0, 0, 1], kind, flip, [1, 0, 0]);
      expect(f.z[2]).toBe(z);
      expect(isOrthonormal(f)).toBe(true);
    }
  });
  it('a nose between two edges touches both: radius / sin of half the angle from their corner', () => {
    const nose = noseBetween(
      [
        [0, 0, 0],
        [20, 0, 0],
      ],
      [
        [0, 0, 0],
        [0, 30, 0],
      ],
      0.8,
    );
    near(nose?.noseCentre, [0.8, 0.8, 0]);
    expect(dot(normalize(nose?.outward as Vec3), normalize([-1, -1, 0]))).toBeCloseTo(1, 9);
    const found = nosesFrom(model, [line([0, 0, 0], [20, 0, 0]), line([0, 0, 0], [0, 30, 0])], 0.8);
    near(found.find((n) => n.name.startsWith('between'))?.noseCentre, [0.8, 0.8, 0]);
    expect(
      noseBetween(
        [
          [0, 0, 0],
          [1, 0, 0],
        ],
        [
          [0, 0, 5],
          [0, 1, 5],
        ],
        1,
      ),
    ).toBeUndefined();
  });
  it('a circle through three points in space, none through a line', () => {
    const m = translation([3, 4, 5]);
    const c = circleThrough(
      [
        [2, 0, 0],
        [0, 2, 0],
        [-2, 0, 0],
      ].map((p) => [p[0] + m.t[0], p[1] + m.t[1], p[2] + m.t[2]] as Vec3) as [Vec3, Vec3, Vec3],
    );
    near(c?.centre, [3, 4, 5]);
    expect(c?.radius).toBeCloseTo(2, 12);
    expect(
      circleThrough([
        [0, 0, 0],
        [1, 1, 1],
        [2, 2, 2],
      ]),
    ).toBeUndefined();
  });
});
