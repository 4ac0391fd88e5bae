import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type Frame, fromZAndX, IDENTITY_FRAME, isOrthonormal, moveFrame, rotationAbout, translation, compose, type Vec3, yOf } from '#core/math';
import { mirroredSeat, repeatedSeats } from './index.ts';

const near = (f: Frame) => ({
  origin: f.origin.map((v) => expect.closeTo(v, 9)),
  z: f.z.map((v) => expect.closeTo(v, 9)),
  x: f.x.map((v) => expect.closeTo(v, 9)),
});

describe('more seats like one', () => {
  const seat: Frame = { origin: [82, 0, 52], z: [1, 0, 0], x: [0, 0, -1] };
  it('on the other side of a block it points the other way, its X as it was', () => {
    // The demo's double bore block, by its drawing.
    expect(mirroredSeat(seat, IDENTITY_FRAME)).toEqual(near({ origin: [-82, 0, 52], z: [-1, 0, 0], x: [0, 0, -1] }));
    // What lies over the turning plane stays over it.
    expect(mirroredSeat({ ...seat, origin: [82, 3, 52] }, IDENTITY_FRAME).origin).toEqual([-82, 3, 52]);
  });
  it('about the mount it stands in even steps', () => {
    const four = repeatedSeats(seat, IDENTITY_FRAME, 4);
    expect(four.map((f) => f.origin)).toEqual([
      [0, 82, 52].map((v) => expect.closeTo(v, 9)),
      [-82, 0, 52].map((v) => expect.closeTo(v, 9)),
      [0, -82, 52].map((v) => expect.closeTo(v, 9)),
    ]);
    expect(four[1].z).toEqual([-1, 0, 0].map((v) => expect.closeTo(v, 9)));
    expect(repeatedSeats(seat, IDENTITY_FRAME, 1)).toEqual([]);
  });
  it('whatever the mount: twice mirrored is as it was, frames stay right-handed, and all of it turns with the mount', () => {
    const number = fc.double({ min: -50, max: 50, noNaN: true });
    const point = fc.tuple(number, number, number) as fc.Arbitrary<Vec3>;
    const frame = fc
      .tuple(point, point, point)
      .filter(([, z, x]) => Math.hypot(...z) > 1 && Math.hypot(z[1] * x[2] - z[2] * x[1], z[2] * x[0] - z[0] * x[2], z[0] * x[1] - z[1] * x[0]) > 1)
      .map(([o, z, x]) => fromZAndX(o, z, x));
    fc.assert(
      fc.property(frame, frame, number, fc.integer({ min: 2, max: 12 }), (s, mount, angle, count) => {
        const mirrored = mirroredSeat(s, mount);
        expect(isOrthonormal(mirrored)).toBe(true);
        expect(mirroredSeat(mirrored, mount)).toEqual(near(s));
        // Y is what mirroring alone would have turned round.
        expect(yOf(mirrored).every(Number.isFinite)).toBe(true);
        const motion = compose(translation([1, 2, 3]), rotationAbout([0, 0, 0], [1, 1, 2], angle));
        expect(mirroredSeat(moveFrame(motion, s), moveFrame(motion, mount))).toEqual(near(moveFrame(motion, mirrored)));
        const all = repeatedSeats(s, mount, count);
        expect(all).toHaveLength(count - 1);
        for (const f of all) expect(isOrthonormal(f)).toBe(true);
        // Once more from the last comes back to the first.
        expect(repeatedSeats(all[all.length - 1], mount, count)[0]).toEqual(near(s));
      }),
    );
  });
});
