import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import {
  axisAngleOf,
  bringFrame,
  compose,
  distance,
  fromZAndX,
  frameFromWorld,
  IDENTITY,
  invert,
  isOrthonormal,
  isRigid,
  type Motion,
  move,
  moveFrame,
  normalize,
  rotationAbout,
  rotationBetween,
  translation,
  turn,
  type Vec3,
  worldFromFrame,
  yOf,
} from './index.ts';

const coordinate = fc.double({ min: -500, max: 500, noNaN: true });
const point = fc.tuple(coordinate, coordinate, coordinate);
const direction = point.filter((p) => Math.hypot(...p) > 1e-3).map((p) => normalize(p));
const angle = fc.double({ min: -7, max: 7, noNaN: true });
const motion = fc.tuple(point, direction, angle, point).map(([p, d, a, t]): Motion => compose(translation(t), rotationAbout(p, d, a)));
const near = (a: Vec3, b: Vec3, within = 1e-7) => expect(distance(a, b)).toBeLessThan(within);

describe('rigid motions', () => {
  it('keep distances', () => {
    fc.assert(fc.property(motion, point, point, (m, a, b) => Math.abs(distance(move(m, a), move(m, b)) - distance(a, b)) < 1e-8));
  });
  it('are undone by their inverse', () => {
    fc.assert(fc.property(motion, point, (m, p) => distance(move(invert(m), move(m, p)), p) < 1e-7));
  });
  it('compose in the order of their names', () => {
    fc.assert(fc.property(motion, motion, point, (a, b, p) => distance(move(compose(a, b), p), move(a, move(b, p))) < 1e-7));
  });
  it('stay rigid after a hundred compositions', () => {
    let m = IDENTITY;
    for (let i = 0; i < 100; i++) m = compose(rotationAbout([1, 2, 3], normalize([1, i, 2]), 0.1 * i), m);
    expect(isRigid(m)).toBe(true);
  });
  it('turn by a quarter without rounding', () => {
    expect(move(rotationAbout([0, 0, 0], [0, 0, 1], Math.PI / 2), [10, 0, 5])).toEqual([0, 10, 5]);
  });
});

describe('rotationBetween', () => {
  it('turns one direction into the other, also the opposite one', () => {
    fc.assert(fc.property(direction, direction, (a, b) => distance(turn(rotationBetween([0, 0, 0], a, b), a), b) < 1e-7));
    near(turn(rotationBetween([1, 2, 3], [0, 0, 1], [0, 0, -1]), [0, 0, 1]), [0, 0, -1]);
  });
  it('turns into what is nearly the opposite', () => {
    fc.assert(
      fc.property(direction, direction, fc.integer({ min: 4, max: 9 }), (a, off, power) => {
        const b = normalize([0, 1, 2].map((i) => -a[i] + off[i] * 10 ** -power) as unknown as Vec3);
        near(turn(rotationBetween([0, 0, 0], a, b), a), b, 1e-8);
      }),
    );
  });
  it('does nothing for equal directions', () => {
    expect(rotationBetween([1, 2, 3], [0, 1, 0], [0, 1, 0])).toEqual(IDENTITY);
  });
});

describe('frames', () => {
  it('made from any Z and X wish are orthonormal, with Y as Z cross X', () => {
    fc.assert(fc.property(point, direction, direction, (o, z, x) => isOrthonormal(fromZAndX(o, z, x))));
    expect(yOf({ origin: [0, 0, 0], z: [0, 0, 1], x: [1, 0, 0] })).toEqual([0, 1, 0]);
  });
  it('choose some X where the wish lies along Z', () => {
    expect(isOrthonormal(fromZAndX([0, 0, 0], [0, 0, 1], [0, 0, 5]))).toBe(true);
  });
  it('measure their own origin as zero and their axes as units', () => {
    fc.assert(
      fc.property(point, direction, direction, (o, z, x) => {
        const f = fromZAndX(o, z, x);
        near(move(frameFromWorld(f), f.origin), [0, 0, 0]);
        near(turn(worldFromFrame(f), [0, 0, 1]), f.z);
        near(turn(worldFromFrame(f), [1, 0, 0]), f.x);
      }),
    );
  });
  it('are brought onto each other', () => {
    fc.assert(
      fc.property(point, direction, direction, point, direction, direction, (o, z, x, o2, z2, x2) => {
        const [a, b] = [fromZAndX(o, z, x), fromZAndX(o2, z2, x2)];
        const moved = moveFrame(bringFrame(a, b), a);
        near(moved.origin, b.origin, 1e-6);
        near(moved.z, b.z);
        near(moved.x, b.x);
      }),
    );
  });
});

describe('axis and angle', () => {
  it('give the turn back, also of half a turn and of none', () => {
    fc.assert(
      fc.property(motion, point, (m, p) => {
        const { axis, angleRad } = axisAngleOf(m);
        expect(distance(turn(rotationAbout([0, 0, 0], axis, angleRad), p), turn(m, p))).toBeLessThan(1e-5);
      }),
      { seed: 5, numRuns: 300 },
    );
    for (const axis of [normalize([1, 2, -3]), normalize([0, 0, 1]), normalize([-1, 0, 1])]) {
      const half = axisAngleOf(rotationAbout([0, 0, 0], axis, Math.PI));
      expect(half.angleRad).toBeCloseTo(Math.PI, 9);
      expect(Math.abs(half.axis[0] * axis[0] + half.axis[1] * axis[1] + half.axis[2] * axis[2])).toBeCloseTo(1, 9);
    }
    expect(axisAngleOf(translation([1, 2, 3])).angleRad).toBe(0);
  });
});
