import { describe, expect, it } from '@jest/globals';
import { cornerOfProfile, type HalfProfile, loopThrough, moveCorner, type PathPiece, removeCorner, straightenPiece, validateProfile } from './index.ts';

// A shaft with a slanting end: along the axis, up the end, back over the outside.
const shaft: HalfProfile = [
  loopThrough([
    [0, 0],
    [40, 0],
    [41, 10],
    [20, 10],
    [18, 12],
    [0, 12.5],
  ]),
];
const corners = (profile: HalfProfile) => profile[0].map((p) => p.from);

describe('a profile changed by hand', () => {
  it('moves a corner with both of its pieces; what is on the axis stays there', () => {
    const moved = moveCorner(shaft, { loop: 0, corner: 3 }, [22, 11]);
    expect(cornerOfProfile(moved, { loop: 0, corner: 3 })).toEqual([22, 11]);
    expect(moved[0][2].to).toEqual([22, 11]);
    expect(corners(moveCorner(shaft, { loop: 0, corner: 1 }, [44, 3]))[1]).toEqual([44, 0]);
    expect(cornerOfProfile(shaft, { loop: 0, corner: 3 })).toEqual([20, 10]);
  });
  it('takes a corner away, but not the last ones', () => {
    const fewer = removeCorner(shaft, { loop: 0, corner: 4 });
    expect(corners(fewer ?? [])).toEqual([
      [0, 0],
      [40, 0],
      [41, 10],
      [20, 10],
      [0, 12.5],
    ]);
    expect(validateProfile(fewer ?? [])).toEqual([]);
    expect(
      removeCorner(
        [
          loopThrough([
            [0, 0],
            [5, 0],
            [5, 5],
          ]),
        ],
        { loop: 0, corner: 1 },
      ),
    ).toBeUndefined();
  });
  it('straightens a slanting line on the side of more material, outside, at an end and in a bore', () => {
    expect(corners(straightenPiece(shaft, 0, 4)).slice(4)).toEqual([
      [18, 12.5],
      [0, 12.5],
    ]);
    expect(corners(straightenPiece(shaft, 0, 1)).slice(1, 3)).toEqual([
      [41, 0],
      [41, 10],
    ]);
    const tube: HalfProfile = [
      loopThrough([
        [0, 5],
        [30, 5.2],
        [30, 9],
        [0, 9],
      ]),
    ];
    expect(corners(straightenPiece(tube, 0, 0)).slice(0, 2)).toEqual([
      [0, 5],
      [30, 5],
    ]);
  });
  it('an arc becomes its chord; its end takes it along', () => {
    const arc: PathPiece = { kind: 'arc', from: [10, 4], to: [6, 8], centre: [6, 4], ccw: true };
    const round: HalfProfile = [
      [
        { kind: 'line', from: [0, 0], to: [10, 0] },
        { kind: 'line', from: [10, 0], to: [10, 4] },
        arc,
        { kind: 'line', from: [6, 8], to: [0, 8] },
        { kind: 'line', from: [0, 8], to: [0, 0] },
      ],
    ];
    // Pulled all but straight it is a line, not an arc about a centre far away.
    expect(moveCorner(round, { loop: 0, corner: 3 }, [7.6568, 9.657])[0][2].kind).toBe('line');
    expect(straightenPiece(round, 0, 2)[0][2]).toEqual({ kind: 'line', from: [10, 4], to: [6, 8] });
    const moved = moveCorner(round, { loop: 0, corner: 3 }, [5, 8]);
    expect(validateProfile(moved)).toEqual([]);
    const [, , piece] = moved[0];
    if (piece.kind !== 'arc') throw new Error('no arc any more');
    // Still through its old middle.
    expect(Math.hypot(6 + 4 * Math.SQRT1_2 - piece.centre[0], 4 + 4 * Math.SQRT1_2 - piece.centre[1])).toBeCloseTo(
      Math.hypot(5 - piece.centre[0], 8 - piece.centre[1]),
      9,
    );
  });
});
