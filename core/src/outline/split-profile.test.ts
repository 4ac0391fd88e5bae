import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import { type HalfProfile, loopThrough, profileVolume, splitProfile, stretchOfProfile, validateProfile } from './index.ts';

// A shaft of 10 by 20 with a step to 6 by 10, and a ball of radius 3 at its end: z from 0 to 33.
const SHAFT: HalfProfile = [
  [
    { kind: 'line', from: [0, 0], to: [30, 0] },
    { kind: 'line', from: [30, 0], to: [33, 0] },
    { kind: 'arc', from: [33, 0], to: [30, 3], centre: [30, 0], ccw: true },
    { kind: 'line', from: [30, 3], to: [20, 3] },
    { kind: 'line', from: [20, 3], to: [20, 5] },
    { kind: 'line', from: [20, 5], to: [0, 5] },
    { kind: 'line', from: [0, 5], to: [0, 0] },
  ],
];
const WHOLE = Math.PI * (25 * 20 + 9 * 10 + 18);

describe('a half profile cut in two', () => {
  it('is what it was: each side good, both volumes together the whole', () => {
    expect(profileVolume(SHAFT)).toBeCloseTo(WHOLE, 9);
    fc.assert(
      fc.property(fc.double({ min: 0.01, max: 32.99, noNaN: true }), (at) => {
        const { below, above } = splitProfile(SHAFT, at);
        expect([...validateProfile(below), ...validateProfile(above)]).toEqual([]);
        expect(profileVolume(below) + profileVolume(above)).toBeCloseTo(WHOLE, 6);
        // Cylinder, step, ball: by formula.
        const ball = (h: number) => Math.PI * (9 * h - h ** 3 / 3);
        const expected = at <= 20 ? Math.PI * 25 * at : at <= 30 ? Math.PI * (500 + 9 * (at - 20)) : Math.PI * 590 + ball(at - 30);
        expect(profileVolume(below)).toBeCloseTo(expected, 6);
      }),
    );
  });
  it('along a shoulder takes the shoulder with the side that has its material', () => {
    const { below, above } = splitProfile(SHAFT, 20);
    expect(profileVolume(below)).toBeCloseTo(Math.PI * 500, 9);
    expect(profileVolume(above)).toBeCloseTo(WHOLE - Math.PI * 500, 9);
    expect(below[0]).toHaveLength(4);
  });
  it('keeps bores, and what stands apart as loops of their own', () => {
    // A fork: a tube 10 to 6 of 20, whose wall is slotted between r 7 and r 8 from z 12 on.
    const fork = [
      loopThrough([
        [0, 6],
        [20, 6],
        [20, 7],
        [12, 7],
        [12, 8],
        [20, 8],
        [20, 10],
        [0, 10],
      ]),
    ];
    expect(validateProfile(fork)).toEqual([]);
    const { below, above } = splitProfile(fork, 15);
    expect([below.length, above.length]).toEqual([1, 2]);
    expect(profileVolume(above)).toBeCloseTo(Math.PI * 5 * (49 - 36 + 100 - 64), 9);
    expect(profileVolume(below) + profileVolume(above)).toBeCloseTo(profileVolume(fork), 9);
  });
  it('beside it leaves one side empty; a stretch is what lies between', () => {
    expect(splitProfile(SHAFT, -1)).toEqual({ below: [], above: SHAFT });
    expect(splitProfile(SHAFT, 33).above).toEqual([]);
    expect(profileVolume(stretchOfProfile(SHAFT, 18, 25))).toBeCloseTo(Math.PI * (25 * 2 + 9 * 5), 9);
  });
});
