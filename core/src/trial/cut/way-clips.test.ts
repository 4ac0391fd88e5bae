import { describe, expect, it } from '@jest/globals';
import fc from 'fast-check';
import type { FlatPoint, PathPiece } from '#core/outline';
import { Region } from '../region/region.ts';
import type { CuttingOutline } from './cutting-outline.ts';
import { clipsBetween } from './way-clips.ts';

const edge = (height: number): CuttingOutline => {
  const points: FlatPoint[] = [
    [0, 0],
    [3, 0.4],
    [3, 30],
    [-0.5, 30],
  ];
  return { points, heights: Float64Array.from(points, () => height), mostHeight: height };
};
// The same without a lean.
const square: CuttingOutline = {
  points: [
    [0, 0],
    [3, 0],
    [3, 30],
    [0, 30],
  ],
  heights: new Float64Array(4),
  mostHeight: 0,
};
const bar = (): Region =>
  Region.ofLoops([
    [
      [-60, 0],
      [0, 0],
      [0, 20],
      [-60, 20],
    ],
  ]);
const PATHS: Readonly<Record<string, PathPiece>> = {
  'along the axis': { kind: 'line', from: [5, 17], to: [-30, 17] },
  'on a slope': { kind: 'line', from: [2, 12], to: [-25, 19] },
  'to the axis': { kind: 'line', from: [-20, 22], to: [-20, 1] },
  'on an arc': { kind: 'arc', from: [0, 12], to: [-8, 20], centre: [-8, 12], ccw: true },
};

describe('a way in pieces', () => {
  it.each(Object.keys(PATHS))('%s: takes what the whole way takes, wherever it is parted', (name) => {
    const path = PATHS[name];
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 999 }), fc.constantFrom(0, 0.3), (thousandths, height) => {
        const share = thousandths / 1000;
        const [whole, parted] = [bar(), bar()];
        whole.cut(clipsBetween(edge(height), path, undefined, 0, 1));
        const first = parted.cut(clipsBetween(edge(height), path, undefined, 0, share)).area;
        const second = parted.cut(clipsBetween(edge(height), path, undefined, share, 1)).area;
        expect(parted.area).toBeCloseTo(whole.area, 3);
        expect(first + second).toBeCloseTo(60 * 20 - parted.area, 3);
      }),
      { seed: 5, numRuns: 25 },
    );
  });
  it('a piece takes what lies on it, and the edge where it stands at its start', () => {
    const region = bar();
    // From Z -12.5 to -30 at radius 17, the edge 3 wide: its own width more than the way.
    const { area } = region.cut(clipsBetween(square, PATHS['along the axis'], undefined, 0.5, 1));
    expect(area).toBeCloseTo((17.5 + 3) * 3, 4);
    // The way before it, from 5 in front of the bar on: less what the edge has covered already.
    expect(region.cut(clipsBetween(square, PATHS['along the axis'], undefined, 0, 0.5)).area).toBeCloseTo((12.5 - 3) * 3, 4);
  });
  it('a thread’s turns are each in one piece', () => {
    const path: PathPiece = { kind: 'line', from: [2, 19], to: [-22, 19] };
    const counts = [0, 1, 2, 3, 4, 5].map((i) => clipsBetween(edge(0), path, 4, i / 6 + 1e-6, (i + 1) / 6 - (i === 5 ? 0 : 1e-6)).length);
    // Between the turns nothing; at the end it stands once more where it is drawn back.
    expect(counts.slice(0, 5)).toEqual([0, 0, 0, 0, 0]);
    expect(clipsBetween(edge(0), path, 4, 0, 0.5)).toHaveLength(4);
  });
});
