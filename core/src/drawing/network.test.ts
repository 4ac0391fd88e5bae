import { describe, expect, it } from '@jest/globals';
import { areaOfPath, type FlatPoint, lengthOfPiece, loopThrough, type PathPiece } from '#core/outline';
import { cutWhereTheyMeet, Network } from './network.ts';

const NEAR = 1e-3;
const line = (from: FlatPoint, to: FlatPoint): PathPiece => ({ kind: 'line', from, to });
const square = (x: number, y: number, size: number): PathPiece[] =>
  loopThrough([
    [x, y],
    [x + size, y],
    [x + size, y + size],
    [x, y + size],
  ]);
const network = (pieces: readonly PathPiece[]) => new Network(cutWhereTheyMeet(pieces, NEAR).strands, NEAR);
const circle = (x: number, y: number, r: number): PathPiece[] => [
  { kind: 'arc', from: [x - r, y], to: [x + r, y], centre: [x, y], ccw: true },
  { kind: 'arc', from: [x + r, y], to: [x - r, y], centre: [x, y], ccw: true },
];

describe('pieces that are cut where they meet', () => {
  it('a cross makes four, a T three, and ends on ends none more', () => {
    expect(cutWhereTheyMeet([line([-5, 0], [5, 0]), line([0, -5], [0, 5])], NEAR).strands).toHaveLength(4);
    expect(cutWhereTheyMeet([line([-5, 0], [5, 0]), line([0, 0], [0, 5])], NEAR).strands).toHaveLength(3);
    expect(cutWhereTheyMeet(square(0, 0, 10), NEAR).strands).toHaveLength(4);
  });
  it('keep their length and what they are parts of', () => {
    const pieces = [line([0, 0], [10, 0]), line([3, -1], [3, 1]), line([7, -1], [7, 1])];
    const { strands, doubles } = cutWhereTheyMeet(pieces, NEAR);
    expect(doubles).toEqual([]);
    expect(strands.filter((s) => s.of === 0).map((s) => lengthOfPiece(s.piece))).toEqual([3, 4, 3].map((v) => expect.closeTo(v, 9)));
  });
  it('what lies on another one goes, whole or in part, whichever way it runs', () => {
    const whole = cutWhereTheyMeet([line([0, 0], [10, 0]), line([10, 0], [0, 0])], NEAR);
    expect([whole.strands.length, whole.doubles.length]).toEqual([1, 1]);
    const part = cutWhereTheyMeet([line([0, 0], [10, 0]), line([4, 0.0005], [6, 0.0005])], NEAR);
    expect([part.strands.length, part.doubles.length]).toEqual([3, 1]);
    const beyond = cutWhereTheyMeet([line([0, 0], [10, 0]), line([8, 0], [14, 0])], NEAR);
    expect(beyond.strands.reduce((s, x) => s + lengthOfPiece(x.piece), 0)).toBeCloseTo(14, 9);
    // Of the same ends an arc is no double of a line.
    expect(cutWhereTheyMeet([line([-5, 0], [5, 0]), circle(0, 0, 5)[0]], NEAR).doubles).toEqual([]);
  });
});

describe('the way around what hangs together', () => {
  it('goes along the outside, counter-clockwise, whatever is within', () => {
    const [{ outer }] = network([...square(0, 0, 10), line([5, 0], [5, 10]), line([0, 5], [10, 5])]).components();
    expect(outer?.area).toBeCloseTo(100, 9);
    expect(outer && areaOfPath(outer.pieces)).toBeCloseTo(100, 9);
    expect(outer?.pieces).toHaveLength(8);
  });
  it('leaves out what hangs loose, and what only joins closed parts: the largest of these is it', () => {
    const loose = [line([10, 10], [14, 14]), line([14, 14], [14, 20])];
    expect(network([...square(0, 0, 10), ...loose]).components()[0].outer?.area).toBeCloseTo(100, 9);
    const [joined] = network([...square(0, 0, 10), line([10, 5], [20, 5]), ...square(20, 3, 4)]).components();
    expect(joined.outer?.area).toBeCloseTo(100, 9);
  });
  it('is that of two overlapping shapes together', () => {
    const [{ outer }] = network([...square(0, 0, 10), ...square(5, 5, 10)]).components();
    expect(outer?.area).toBeCloseTo(175, 9);
    const [both] = network([...circle(0, 0, 5), ...circle(5, 0, 5)]).components();
    // Two discs of radius r, r apart, share r2 (2 pi / 3 - root 3 / 2).
    expect(both.outer?.area).toBeCloseTo(2 * Math.PI * 25 - 25 * ((2 * Math.PI) / 3 - Math.sqrt(3) / 2), 6);
  });
  it('follows an arc that leaves in the same direction as a line, on its own side', () => {
    // A bump on a straight side, tangent to it at both ends.
    const bump: PathPiece[] = [
      { kind: 'arc', from: [0, 0], to: [2, 2], centre: [0, 2], ccw: true },
      { kind: 'arc', from: [2, 2], to: [4, 0], centre: [4, 2], ccw: true },
    ];
    const [{ outer }] = network([line([0, 0], [4, 0]), ...bump]).components();
    expect(outer?.area).toBeCloseTo(8 - 2 * Math.PI, 9);
  });
  it('is told apart for things that do not touch, with their loose ends', () => {
    const parts = network([...square(0, 0, 10), ...square(30, 0, 5), line([50, 0], [60, 0])]).components();
    expect(parts.map((c) => c.outer?.area ?? 0)).toEqual([100, 25, 0].map((v) => expect.closeTo(v, 9)));
    expect(parts.map((c) => c.looseEnds.length)).toEqual([0, 0, 2]);
    expect(network([line([0, 0], [5, 0]), line([5, 0.0004], [5, 5])]).looseEnds()).toHaveLength(2);
  });
  it('closes nothing in a tree of lines', () => {
    expect(network([line([0, 0], [10, 0]), line([5, 0], [5, 5]), line([5, 5], [9, 9])]).components()[0].outer).toBeUndefined();
  });
});
