import { describe, expect, it } from '@jest/globals';
import { compose, distance, type Motion, move, normalize, rotationAbout, translation, turn, type Vec3 } from '#core/math';
import { locate, type LocatingPair } from './index.ts';

// A plate's floor, side and end, and the pocket's, which look at them; the plate was taken out by a motion that has to be found again.
const out: Motion = compose(translation([13, -7, 22]), rotationAbout([1, 2, 3], normalize([1, 2, -0.5]), 0.9));
const faces: [Vec3, Vec3][] = [
  [
    [0, 0, 0],
    [0, 0, -1],
  ],
  [
    [-5, 0, 1],
    [-1, 0, 0],
  ],
  [[2, -4, 1.5], normalize([0.3, -1, 0])],
];
const pairOf = ([origin, direction]: [Vec3, Vec3]): LocatingPair => ({
  kind: 'face',
  moving: { origin: move(out, origin), direction: turn(out, direction) },
  fixed: { origin, direction: [-direction[0], -direction[1], -direction[2]] },
});
const corner = (p: Vec3): LocatingPair => ({ kind: 'corner', moving: move(out, p), fixed: p });
const probe: Vec3 = [3, 1, 2];

describe('bringing a body into its place', () => {
  it('three faces: back where it came from, with nothing left', () => {
    const { motion, left } = locate(faces.map(pairOf));
    expect(distance(move(motion, move(out, probe)), probe)).toBeLessThan(1e-9);
    for (const l of left) expect([l.gap, l.angleDeg].map((v) => v < 1e-6)).toEqual([true, true]);
  });
  it('a floor, a side and a corner do as well', () => {
    const { motion } = locate([pairOf(faces[0]), pairOf(faces[1]), corner([4, 4, 0])]);
    expect(distance(move(motion, move(out, probe)), probe)).toBeLessThan(1e-9);
  });
  it('three corners do as well; one corner only shifts', () => {
    const three = locate(
      (
        [
          [0, 0, 0],
          [4, 0, 0],
          [1, 3, 1],
        ] as Vec3[]
      ).map(corner),
    );
    expect(distance(move(three.motion, move(out, probe)), probe)).toBeLessThan(1e-9);
    const one = locate([corner([1, 1, 1])]);
    expect(one.motion.r).toEqual([1, 0, 0, 0, 1, 0, 0, 0, 1]);
    expect(distance(move(one.motion, move(out, [1, 1, 1])), [1, 1, 1])).toBeLessThan(1e-12);
  });
  it('an axis on an axis: what is on it stays on it, whichever way it pointed', () => {
    for (const sense of [1, -1]) {
      const fixed = { origin: [5, 6, 0] as Vec3, direction: [0, 0, sense] as Vec3 };
      const { motion, left } = locate([{ kind: 'axis', moving: { origin: move(out, [0, 0, 9]), direction: turn(out, [0, 0, 1]) }, fixed }]);
      const [x, y] = move(motion, move(out, [0, 0, -30]));
      expect(Math.hypot(x - 5, y - 6)).toBeLessThan(1e-9);
      expect(left[0].gap).toBeLessThan(1e-9);
    }
  });
  it('a face that looks the same way as the other one is turned right over', () => {
    const { motion } = locate([{ kind: 'face', moving: { origin: [0, 0, 4], direction: [0, 0, 1] }, fixed: { origin: [0, 0, 0], direction: [0, 0, 1] } }]);
    expect(turn(motion, [0, 0, 1])[2]).toBeCloseTo(-1, 12);
  });
  it('where pairs contradict each other the first one holds, and what is left of the others is said', () => {
    const wrong: LocatingPair = { kind: 'face', moving: { origin: [0, 0, 0.25], direction: [0, 0, 1] }, fixed: { origin: [0, 0, 0], direction: [0, 0, -1] } };
    const { left } = locate([
      { kind: 'face', moving: { origin: [0, 0, 0], direction: [0, 0, 1] }, fixed: { origin: [0, 0, 0], direction: [0, 0, -1] } },
      wrong,
    ]);
    expect(left.map((l) => l.gap)).toEqual([0, 0.25]);
  });
});
