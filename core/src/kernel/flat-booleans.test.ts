import { beforeAll, describe, expect, it } from '@jest/globals';
import { areaOfPolygon, type FlatPoint } from '#core/outline';
import { type FlatBooleans, loadFlatBooleans } from './index.ts';

let flat: FlatBooleans;
beforeAll(async () => {
  flat = await loadFlatBooleans({});
});
const square = (x: number, y: number, side: number): FlatPoint[] => [
  [x, y],
  [x + side, y],
  [x + side, y + side],
  [x, y + side],
];
const area = (polygons: readonly (readonly FlatPoint[])[]) => polygons.reduce((a, p) => a + areaOfPolygon(p), 0);

describe('booleans on flat polygons', () => {
  it('unite what overlaps, keep apart what does not, and holes with their sense', () => {
    expect(area(flat.unite([square(0, 0, 10), square(5, 5, 10)]))).toBeCloseTo(175, 6);
    expect(flat.unite([square(0, 0, 10), square(20, 0, 10)])).toHaveLength(2);
    const hole = [...square(2, 2, 4)].reverse();
    const pierced = flat.unite([square(0, 0, 10), hole]);
    expect(pierced.map(areaOfPolygon).sort((a, b) => a - b)).toEqual([expect.closeTo(-16, 6), expect.closeTo(100, 6)]);
    // A second layer over the hole closes it: what counts is that something winds around the place.
    expect(flat.unite([square(0, 0, 10), hole, square(1, 1, 8)])).toHaveLength(1);
  });
  it('keep the corners of large polygons to a hundredth of a micrometre', () => {
    const far = square(-4123.456789, 3987.654321, 250.123456);
    const [united] = flat.unite([far]);
    for (const p of far) expect(Math.min(...united.map((q) => Math.hypot(p[0] - q[0], p[1] - q[1])))).toBeLessThan(1e-5);
  });
  it('grow by a way, corners kept sharp, and close slits without moving anything else', () => {
    expect(area(flat.grow([square(0, 0, 10)], 1))).toBeCloseTo(144, 5);
    const slit: FlatPoint[] = [
      [0, 0],
      [10, 0],
      [10, 10],
      [5.00001, 10],
      [5.00001, 3],
      [5, 3],
      [5, 10],
      [0, 10],
    ];
    const closed = flat.closeSlits([slit], 5e-5);
    expect(closed).toHaveLength(1);
    expect(closed[0]).toHaveLength(4);
    expect(area(closed)).toBeCloseTo(100, 5);
    // A groove of a tenth is none.
    const groove = slit.map(([x, y]): FlatPoint => [x === 5.00001 ? 5.1 : x, y]);
    expect(area(flat.closeSlits([groove], 5e-5))).toBeCloseTo(100 - 0.7, 5);
  });
});
