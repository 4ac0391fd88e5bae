import { describe, expect, it } from '@jest/globals';
import type { FlatPoint, PathPiece } from '#core/outline';
import type { CuttingOutline, StraightSide } from './cut/cutting-outline.ts';
import { tooDeep } from './too-deep.ts';

const line = (dz: number, dx: number): PathPiece => ({ kind: 'line', from: [0, 20], to: [dz, 20 + dx] });
// A main side that stands at `kapr` to the way along the axis towards the chuck, and leads there.
function mainSide(kapr: number, length: number): StraightSide {
  const [c, s] = [Math.cos((kapr * Math.PI) / 180), Math.sin((kapr * Math.PI) / 180)];
  return { along: [-c, s], out: [-s, -c], length };
}
const outline = (sides: readonly StraightSide[]): CuttingOutline => ({ points: [] as FlatPoint[], heights: new Float64Array(0), mostHeight: 0, sides });

describe('how deep an edge may cut', () => {
  it.each([90, 75, 45])('along the axis at %d degrees: its side times the sine, and the noses at its ends', (kapr) => {
    const edge = outline([mainSide(kapr, 10)]);
    const reaches = 10 * Math.sin((kapr * Math.PI) / 180) + 2 * 0.4;
    expect(tooDeep(edge, 0.4, line(-30, 0), reaches)).toBeUndefined();
    const deep = tooDeep(edge, 0.4, line(-30, 0), reaches + 1);
    expect(deep?.over).toBeCloseTo(1, 9);
    expect(deep?.length).toBeCloseTo(reaches, 9);
  });
  it('along an arc: where it reaches most, of what lies outside of the arc at least', () => {
    // A quarter of a circle of 20 towards the chuck, from along X to along Z: a side of 6 square to Z reaches all of it at the end, with its noses.
    const edge = outline([mainSide(90, 6)]);
    const arc: PathPiece = { kind: 'arc', from: [0, 20], to: [-20, 40], centre: [-20, 20], ccw: true };
    const reaches = 6 + 2 * 0.4;
    // A ring of that width about the arc is on the average as much along it as this.
    const asWideAs = (w: number) => ((20 + w) ** 2 - 20 ** 2) / (2 * 20);
    expect(tooDeep(edge, 0.4, arc, asWideAs(reaches))).toBeUndefined();
    const deep = tooDeep(edge, 0.4, arc, asWideAs(reaches + 1));
    expect([deep?.over, deep?.length, deep?.depth]).toEqual([expect.closeTo(1, 9), expect.closeTo(reaches, 9), expect.closeTo(reaches + 1, 9)]);
    // The other way round the side follows all along.
    expect(tooDeep(edge, 0.4, { ...arc, from: arc.to, to: arc.from, ccw: false }, 50)).toBeUndefined();
  });
  it('where nothing leads, or with nothing known, nothing is said', () => {
    const edge = outline([mainSide(90, 10)]);
    expect(tooDeep(edge, 0.4, line(30, 0), 50)).toBeUndefined();
    expect(tooDeep(outline([]), 0.4, line(-30, 0), 50)).toBeUndefined();
    expect(tooDeep({ points: [], heights: new Float64Array(0), mostHeight: 0 }, 0.4, line(-30, 0), 50)).toBeUndefined();
    expect(tooDeep(edge, 0.4, line(0, 0), 50)).toBeUndefined();
  });
});
